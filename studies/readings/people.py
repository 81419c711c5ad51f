"""The made-up heads of the study: six to tune the refinement on, twelve that it is never tuned on.

Half of each have dark skin; among them are long lashes and hardly any, hooded and narrow eyes, full and thin lips, beards and the
marks of glasses. Rendered by ``studies.portraits.render`` (see the README there); the product never sees them.
"""

from __future__ import annotations

from studies.portraits.people import base_shape

Colour = tuple[int, int, int]


def _eyes(**shape: float) -> dict[str, float]:
    """Shape targets of both eyes alike."""
    return {f"eyes__{side}_eye_{name}": value for name, value in shape.items() for side in "lr"}


def _style(skin: Colour, lips: Colour, hair: Colour, brow: Colour, iris: Colour, **more: object) -> dict[str, object]:
    return {"skin": skin, "lips": lips, "hair": hair, "brow": brow, "iris": iris, "cloth": (108, 104, 96), "bg": (184, 184, 182)} | more


_FAIR, _OLIVE, _BROWN, _DARK = (232, 190, 168), (206, 164, 132), (142, 98, 74), (98, 66, 52)
_BLACK, _ASH, _GREY = (24, 20, 18), (92, 72, 58), (156, 150, 146)

TUNING = {
    "basalt": (
        base_shape("male", 0.2, {"african": 1}, head__head_rectangular=0.2, **_eyes(height2_decr=0.3)),
        _style(_DARK, (116, 66, 62), _BLACK, _BLACK, (50, 32, 22), beard=0.5, hairvol=0.3, lash=0.8),
    ),
    "chert": (
        base_shape("female", 0.5, {"caucasian": 0.7, "asian": 0.3}, **_eyes(eyefold_down=0.6)),
        _style(_FAIR, (186, 112, 106), _ASH, _ASH, (96, 116, 110), bun=0.9, lash=1.5, fold_l=0.3, fold_r=0.3, undereye=1.6),
    ),
    "flint": (
        base_shape("female", 0.1, {"asian": 0.85, "caucasian": 0.15}, **_eyes(epicanthus_in=0.4, height2_decr=0.4)),
        _style(_OLIVE, (180, 98, 94), _BLACK, (40, 30, 26), (52, 36, 28), bun=1.0, lash=0.35),
    ),
    "gneiss": (
        base_shape("female", 0.3, {"african": 0.7, "caucasian": 0.3}, mouth__mouth_lowerlip_volume_incr=0.4),
        _style(_BROWN, (132, 74, 72), _BLACK, _BLACK, (62, 42, 28), bun=1.0, lash=1.7, marks=0.8),
    ),
    "marl": (
        base_shape("male", 0.7, {"caucasian": 1}, mouth__mouth_upperlip_volume_decr=0.4, **_eyes(bag_incr=0.4)),
        _style((224, 180, 158), (176, 116, 108), _GREY, (120, 108, 100), (98, 112, 126), hairvol=0.3, lash=0.2, beard=0.3, undereye=2.0),
    ),
    "slate": (
        base_shape("female", 0.2, {"african": 0.5, "asian": 0.5}, **_eyes(eyefold_down=0.4)),
        _style((120, 82, 62), (128, 72, 70), _BLACK, _BLACK, (48, 32, 24), bun=1.0, lash=1.2),
    ),
}
"""Shape weights and style of the heads that the refinement may be tuned on."""

UNSEEN = {
    "avocet": (
        base_shape("female", 0.0, {"african": 1}, mouth__mouth_upperlip_volume_incr=0.4, mouth__mouth_lowerlip_volume_incr=0.3),
        _style(_DARK, (122, 64, 64), _BLACK, _BLACK, (46, 30, 22), bun=1.0, lash=1.6),
    ),
    "curlew": (
        base_shape("male", 0.6, {"african": 0.8, "caucasian": 0.2}, head__head_oval=0.2, **_eyes(bag_incr=0.3)),
        _style((112, 76, 58), (116, 70, 66), (96, 92, 88), (60, 54, 50), (54, 38, 28), hairvol=0.3, lash=0.3, beard=0.6, undereye=1.6),
    ),
    "dunlin": (
        base_shape("female", 0.3, {"african": 0.6, "asian": 0.4}, **_eyes(height2_decr=0.5)),
        _style(_BROWN, (136, 78, 74), _BLACK, _BLACK, (58, 40, 28), bun=0.9, lash=0.9, marks=0.7),
    ),
    "egret": (
        base_shape("female", 0.1, {"caucasian": 1}, head__head_oval=0.4, mouth__mouth_upperlip_volume_decr=0.3),
        _style((236, 198, 180), (190, 112, 110), (190, 158, 120), (150, 122, 96), (110, 136, 150), bun=1.0, lash=0.5, freckles=0.2),
    ),
    "fulmar": (
        base_shape("male", 0.3, {"caucasian": 0.6, "asian": 0.4}, head__head_square=0.3, **_eyes(eyefold_down=0.5)),
        _style(_OLIVE, (168, 104, 96), _BLACK, (38, 28, 22), (74, 54, 38), hairvol=0.3, lash=0.8, beard=0.5),
    ),
    "gannet": (
        base_shape("female", 0.7, {"caucasian": 0.9, "african": 0.1}, **_eyes(eyefold_down=0.7, bag_incr=0.3)),
        _style(
            (228, 188, 168),
            (180, 112, 106),
            _GREY,
            (132, 118, 108),
            (92, 104, 92),
            bun=0.8,
            lash=0.6,
            fold_l=0.4,
            fold_r=0.44,
            undereye=1.9,
        ),
    ),
    "heron": (
        base_shape("male", 0.1, {"african": 0.9, "asian": 0.1}, head__head_scale_horiz_decr=0.2, **_eyes(height2_decr=0.3)),
        _style((86, 58, 46), (108, 62, 60), _BLACK, _BLACK, (44, 30, 22), hairvol=0.3, lash=1.2),
    ),
    "merlin": (
        base_shape("female", 0.2, {"asian": 1}, **_eyes(epicanthus_in=0.5, height2_decr=0.3)),
        _style((230, 192, 164), (186, 104, 100), _BLACK, (40, 32, 28), (54, 38, 28), bun=1.0, lash=1.3),
    ),
    "osprey": (
        base_shape("male", 0.5, {"caucasian": 1}, chin__chin_prominent_incr=0.3, nose__nose_hump_incr=0.3),
        _style(
            (218, 172, 150), (172, 108, 100), (120, 100, 84), (96, 78, 66), (88, 104, 120), hairvol=0.3, lash=0.2, marks=0.9, undereye=1.5
        ),
    ),
    "petrel": (
        base_shape("female", 0.4, {"african": 0.5, "caucasian": 0.5}, head__head_round=0.3, mouth__mouth_scale_horiz_incr=0.2),
        _style((132, 92, 70), (134, 78, 74), (34, 26, 22), (36, 26, 20), (66, 46, 32), bun=1.0, lash=1.5, fold_l=0.2, fold_r=0.2),
    ),
    "snipe": (
        base_shape("female", 0.5, {"asian": 0.6, "caucasian": 0.4}, **_eyes(eyefold_down=0.3)),
        _style((214, 174, 146), (176, 102, 98), (60, 52, 48), (62, 52, 46), (60, 44, 32), bun=0.8, lash=0.7, undereye=1.5),
    ),
    "whimbrel": (
        base_shape("female", 0.6, {"african": 0.85, "caucasian": 0.15}, mouth__mouth_lowerlip_volume_decr=0.2, **_eyes(bag_incr=0.3)),
        _style((104, 70, 54), (112, 66, 64), (110, 104, 100), (64, 56, 52), (48, 34, 26), bun=0.8, lash=0.9, fold_l=0.3, fold_r=0.26),
    ),
}
"""Shape weights and style of the heads that nothing is tuned on. Six have dark skin."""
DARK = frozenset({"basalt", "gneiss", "slate", "avocet", "curlew", "dunlin", "heron", "petrel", "whimbrel"})
STATES = ("even", "uneven", "smile", "raised", "wide", "closed")
