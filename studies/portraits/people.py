"""Who is portrayed: invented identities, and the states of expression each is rendered in."""

from __future__ import annotations

from collections.abc import Mapping

Weights = Mapping[str, float]


def base_shape(sex: str, old: float, blend: Mapping[str, float], **shape: float) -> dict[str, float]:
    """Identity weights from a blend of shape families and an age share, plus named shape targets."""
    out: dict[str, float] = {}
    for age, share in (("young", 1 - old), ("old", old)):
        if share:
            out[f"macrodetails/universal-{sex}-{age}-averagemuscle-averageweight"] = share
            for family, weight in blend.items():
                out[f"macrodetails/{family}-{sex}-{age}"] = share * weight
    for side in "lr":
        out[f"eyes/{side}-eye-scale-incr"] = 0.32
    return out | {name.replace("__", "/").replace("_", "-"): value for name, value in shape.items()}


IDENTITIES: dict[str, dict[str, float]] = {
    "aster": base_shape(
        "female",
        0.0,
        {"caucasian": 1},
        head__head_oval=0.5,
        head__head_scale_horiz_decr=0.35,
        mouth__mouth_upperlip_volume_incr=0.25,
        nose__nose_scale_horiz_decr=0.15,
    ),
    "birch": base_shape("male", 0.0, {"caucasian": 0.45, "african": 0.55}, head__head_scale_horiz_decr=0.25),
    "cedar": base_shape("female", 0.45, {"caucasian": 0.35, "asian": 0.65}, head__head_oval=0.3, head__head_scale_horiz_decr=0.25),
    "dahlia": base_shape(
        "female",
        0.1,
        {"african": 0.9, "caucasian": 0.1},
        head__head_oval=0.4,
        head__head_scale_horiz_decr=0.3,
        mouth__mouth_scale_horiz_incr=0.2,
    ),
    "elder": base_shape(
        "male",
        0.5,
        {"caucasian": 0.9, "asian": 0.1},
        head__head_rectangular=0.4,
        head__head_scale_horiz_decr=0.2,
        nose__nose_hump_incr=0.3,
        chin__chin_prominent_incr=0.2,
    ),
    "fern": base_shape(
        "female",
        0.3,
        {"asian": 0.35, "african": 0.3, "caucasian": 0.35},
        head__head_round=0.35,
        head__head_scale_horiz_decr=0.2,
        nose__nose_point_up=0.3,
    ),
    "gorse": base_shape(
        "female",
        0.6,
        {"caucasian": 1},
        head__head_invertedtriangular=0.3,
        head__head_scale_horiz_decr=0.25,
        nose__nose_point_down=0.25,
        eyebrows__eyebrows_angle_up=0.4,
    ),
    "hazel": base_shape(
        "female",
        0.2,
        {"asian": 1},
        head__head_square=0.2,
        head__head_oval=0.3,
        head__head_scale_horiz_decr=0.25,
        nose__nose_scale_vert_decr=0.2,
    ),
}

STYLES: dict[str, dict[str, object]] = {
    "aster": {"bun": 1.0, "skin": (228, 184, 160), "hair": (60, 38, 25), "cloth": (88, 110, 118), "freckles": 0.18},
    "birch": {
        "skin": (150, 106, 82),
        "lips": (142, 88, 80),
        "hair": (22, 19, 18),
        "brow": (26, 20, 18),
        "cloth": (104, 96, 84),
        "bg": (176, 180, 186),
        "blush": 0.5,
        "iris": (70, 45, 28),
        "hairvol": 0.35,
        "brow_density": 1.25,
    },
    "cedar": {
        "bun": 0.85,
        "skin": (220, 182, 152),
        "lips": (176, 104, 98),
        "hair": (112, 106, 102),
        "brow": (84, 74, 68),
        "cloth": (120, 92, 98),
        "bg": (190, 186, 180),
        "fold_l": 0.28,
        "fold_r": 0.28,
        "undereye": 1.7,
        "iris": (62, 46, 34),
    },
    "dahlia": {
        "bun": 1.1,
        "skin": (116, 78, 60),
        "lips": (128, 70, 66),
        "hair": (20, 16, 15),
        "brow": (22, 17, 15),
        "cloth": (150, 118, 72),
        "bg": (182, 178, 172),
        "blush": 0.4,
        "iris": (52, 34, 24),
    },
    "elder": {
        "skin": (222, 178, 156),
        "lips": (176, 108, 100),
        "hair": (150, 146, 142),
        "brow": (112, 100, 92),
        "cloth": (70, 82, 98),
        "bg": (178, 184, 184),
        "fold_l": 0.42,
        "fold_r": 0.36,
        "undereye": 1.9,
        "iris": (92, 112, 128),
        "hairvol": 0.3,
        "hairline": -0.08,
        "brow_density": 1.15,
    },
    "fern": {
        "bun": 0.9,
        "skin": (186, 138, 108),
        "lips": (160, 90, 82),
        "hair": (38, 26, 20),
        "brow": (40, 28, 22),
        "cloth": (96, 112, 88),
        "bg": (188, 184, 176),
        "fold_l": 0.2,
        "fold_r": 0.24,
        "undereye": 1.3,
        "iris": (78, 54, 34),
    },
    "gorse": {
        "bun": 0.8,
        "skin": (234, 194, 174),
        "lips": (184, 106, 102),
        "hair": (186, 178, 168),
        "brow": (140, 124, 110),
        "cloth": (116, 96, 122),
        "bg": (186, 188, 190),
        "fold_l": 0.4,
        "fold_r": 0.46,
        "undereye": 1.9,
        "iris": (104, 124, 108),
        "freckles": 0.1,
    },
    "hazel": {
        "bun": 1.0,
        "skin": (230, 192, 162),
        "lips": (188, 106, 102),
        "hair": (30, 24, 22),
        "brow": (38, 30, 26),
        "cloth": (142, 88, 76),
        "bg": (182, 186, 182),
        "iris": (58, 42, 32),
    },
}

SEEDS = {name: 11 + i for i, name in enumerate(IDENTITIES)}

REST: Weights = {"mouthSmileLeft": 0.10, "mouthSmileRight": 0.10}
"""Relaxed lips are not quite flat in the base mesh; this small lift reads as neutral."""

# Which side of each identity is the lower one, so that no test can pass by always answering "right".
LOWER_SIDE = {name: ("Right", "Left")[i % 2] for i, name in enumerate(IDENTITIES)}


def _both(weights: Mapping[str, float]) -> dict[str, float]:
    return {f"{unit}{side}": weight for unit, weight in weights.items() for side in ("Left", "Right")}


EXPRESSIONS: dict[str, dict[str, float]] = {
    "smile": _both({"mouthSmile": 0.58, "cheekSquint": 0.4, "eyeSquint": 0.25, "mouthDimple": 0.2}),
    "full": _both({"mouthSmile": 0.95, "cheekSquint": 0.7, "eyeSquint": 0.4, "mouthDimple": 0.3, "mouthUpperUp": 0.12}),
    "raised": {"browInnerUp": 0.9, **_both({"browOuterUp": 1.0, "eyeWide": 0.3, "mouthSmile": 0.0})},
    "wide": _both({"eyeWide": 1.0, "mouthSmile": 0.0}),
    "closed": _both({"eyeBlink": 1.0, "mouthSmile": 0.0}),
    "pressed": {"mouthRollLower": 0.55, "mouthRollUpper": 0.5, **_both({"mouthPress": 0.8, "mouthSmile": 0.0})},
}
"""Even faces with an expression, as the photo protocol asks for them."""

TURNS: dict[str, tuple[float, float, float]] = {
    "quarter_left": (-45, 0, 0),
    "quarter_right": (45, 0, 0),
    "profile_left": (-90, 0, 0),
    "profile_right": (90, 0, 0),
    "chin_up": (0, -25, 0),
}
"""Even faces seen from elsewhere: yaw toward the client's left, pitch downward, roll, in degrees. The left profile shows the left side."""


def state_weights(lower: str, state: str) -> dict[str, float]:
    """Face-unit weights of a state: even, uneven (the ``lower`` side, "Left" or "Right", hangs), eased (half as uneven), or an expression.

    A state may carry a turn after an @, such as ``uneven@4`` for four degrees to the client's left, or be one of TURNS.
    """
    if state in EXPRESSIONS:
        return {name: weight + REST.get(name, 0.0) for name, weight in EXPRESSIONS[state].items()}
    share = {"eased": 0.5, "uneven": 1.0}.get(state.split("@")[0], 0.0)
    lowered = {f"eyeBlink{lower}": 0.17, f"browDown{lower}": 0.30, f"mouthFrown{lower}": 0.34}
    out = dict(REST)
    for name, weight in lowered.items():
        out[name] = out.get(name, 0.0) + share * weight
    return out


def turn_of(state: str) -> tuple[float, float, float]:
    """How the head of a state is turned, in degrees."""
    if "@" in state:
        return float(state.split("@")[1]), 0.0, 0.0
    return TURNS.get(state, (0.0, 0.0, 0.0))


STATES = ("even", "eased", "uneven", *EXPRESSIONS, *TURNS)
