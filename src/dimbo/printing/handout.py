"""The hand-out of one week: order, dose in words, pulse train, cues, faults and cautions; readable in black and white."""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from xml.sax.saxutils import escape

from pypdf import PdfWriter
from pypdf.generic import BooleanObject, DictionaryObject, NameObject
from pypdf.xmp import XmpInformation
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import BaseDocTemplate, Flowable, Frame, KeepTogether, PageTemplate, Paragraph, Spacer, Table, TableStyle

from dimbo.core.exercises.dose_in_words import in_words
from dimbo.core.exercises.figure import words
from dimbo.core.exercises.pulse_train import Train, pulse_train
from dimbo.core.safety.cautions import STANDING_LINE
from dimbo.core.sessions.timeline import Item
from dimbo.core.text import clock

PAPERS = {"a4": A4, "letter": letter}
_FONTS = Path(__file__).parent / "fonts"
_INK = "#1c1420"

CARE = (
    "Pain means stop, and less pressure next time. Breathe through every hold, teeth apart. Fingers hold still; skin is never "
    "dragged or stretched. More than this page says does not get there sooner."
)


@dataclass(frozen=True)
class Sheet:
    """One session of a week as it is printed."""

    heading: str
    items: tuple[Item, ...]
    seconds: float


@dataclass(frozen=True, kw_only=True)
class Handout:
    """Everything on the paper. ``eased`` names why an exercise is done in its eased version, by exercise."""

    practice: str
    client: str
    title: str
    week: int
    weeks: int
    days: str
    sheets: tuple[Sheet, ...]
    habits: tuple[tuple[str, str, str], ...]
    """Name, how often, and words of the habit tasks."""
    expectations: str
    cautions: tuple[str, ...]
    eased: dict[str, str]
    pace_s: float
    signs: tuple[tuple[str, tuple[str, ...]], ...] = ()
    """What to do, and the sudden signs that ask for it."""


def _register() -> None:
    for name in ("text", "text-bold", "head"):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(_FONTS / f"{name}.ttf")))
    pdfmetrics.registerFontFamily("text", normal="text", bold="text-bold", italic="text", boldItalic="text-bold")


def _style(name: str, size: float, font: str = "text", **more: float) -> ParagraphStyle:
    return ParagraphStyle(name, fontName=font, bulletFontName=font, fontSize=size, leading=size * 1.28, textColor=_INK, **more)


def _styles() -> dict[str, ParagraphStyle]:
    return {
        "title": _style("title", 20, "head"),
        "lead": _style("lead", 10),
        "stage": _style("stage", 8.5, "text-bold"),
        "name": _style("name", 12.5, "text-bold"),
        "dose": _style("dose", 11),
        "body": _style("body", 9.5, leftIndent=10, bulletIndent=0),
        "fault": _style("fault", 8.8),
        "time": _style("time", 9.5, alignment=TA_RIGHT),
        "care": _style("care", 8.4),
    }


STROKE_S = 2.5
"""A timed stretch of strokes, circles or taps has no count; it is drawn as so many of this length."""
_TIMED = frozenset({"strokes", "circles", "tap", "press"})


class TrainDrawing(Flowable):  # type: ignore[misc]
    """A pulse train in black: right above the line filled, left below it in outline, both together around it."""

    def __init__(self, train: Train, width: float, seconds: float, height: float = 13) -> None:
        super().__init__()
        self.train, self.width, self.height, self.seconds = train, width, height, seconds

    def draw(self) -> None:
        c, scale, middle = self.canv, self.width / max(self.seconds, 1.0), self.height / 2
        c.setStrokeColor(_INK)
        c.setFillColor(_INK)
        c.setLineWidth(0.4)
        c.line(0, middle, self.train.total_s * scale, middle)
        now = 0.0
        for number, run in enumerate(self.train.runs):
            now += self.train.rest_s if number else 0.0
            for phase in self.train.phases:
                each = phase.lead_s + phase.hold_s + phase.release_s
                if phase.kind in ("pause", "times"):
                    now += each
                    continue
                drawn = max(1, round(each / STROKE_S)) if phase.reps == 1 and phase.kind in _TIMED else phase.reps
                share = phase.reps / drawn
                lead, hold, release = (t * share * scale for t in (phase.lead_s, phase.hold_s, phase.release_s))
                for _ in range(drawn * phase.directions):
                    self._pulse(now * scale, lead=lead, hold=hold, release=release, run=run, kind=phase.kind)
                    now += each * share

    def _pulse(self, x: float, lead: float, hold: float, release: float, run: str, kind: str) -> None:
        c, middle = self.canv, self.height / 2
        up = 0.0 if run == "left" else middle - 0.6
        down = 0.0 if run == "right" else middle - 0.6
        if kind in ("tap", "press"):
            at = x + (lead + hold + release) / 2
            c.line(at, middle - down * 0.8, at, middle + up * 0.8)
            return
        soft = kind in ("strokes", "circles", "breaths")
        path = c.beginPath()
        path.moveTo(x, middle)
        path.lineTo(x + lead, middle + up)
        path.lineTo(x + lead + hold, middle + up)
        path.lineTo(x + lead + hold + release * 0.7, middle)
        path.lineTo(x + lead + hold, middle - down)
        path.lineTo(x + lead, middle - down)
        path.close()
        c.drawPath(path, stroke=1, fill=0 if soft or run == "left" else 1)


def _item(place: int, item: Item, made: Handout, styles: dict[str, ParagraphStyle], width: float, longest: float) -> Flowable:
    card = item.card
    train = pulse_train(item.dose, made.pace_s)
    body: list[Flowable] = [
        Paragraph(f"{place}. {escape(card.name)}", styles["name"]),
        Paragraph(escape(in_words(item.dose, made.pace_s)), styles["dose"]),
        Spacer(1, 2),
        TrainDrawing(train, width - 34 * mm, longest),
        Spacer(1, 3),
    ]
    needs = f" With: {escape(', '.join(card.needs))}." if card.needs else ""
    body.append(Paragraph(f"{escape(card.position)}{needs}", styles["fault"]))
    body.append(Paragraph(escape(" ".join(words(card.figure))), styles["fault"]))
    body.append(Spacer(1, 3))
    body += [Paragraph(escape(cue), styles["body"], bulletText=str(n)) for n, cue in enumerate(card.cues, start=1)]
    body.append(Spacer(1, 3))
    faults = " ".join(f"<b>{escape(f)}?</b> {escape(r)}" for f, r in card.faults[:2])
    body.append(Paragraph(faults, styles["fault"]))
    if item.line.note:
        body.append(Paragraph(f"<b>From your coach:</b> {escape(item.line.note)}", styles["fault"]))
    if card.id in made.eased:
        how = "this is the eased version." if card.is_eased else escape(card.eased)
        body.append(Paragraph(f"<b>Eased for you ({escape(made.eased[card.id])}):</b> {how}", styles["fault"]))
    body.append(Paragraph(escape(" ".join((card.stop_rule, *card.care))), styles["fault"]))
    seconds = train.total_s + card.setup_s + card.settle_s
    side = [Paragraph(escape(item.line.stage.value), styles["time"]), Paragraph(clock(seconds), styles["time"])]
    table = Table([[body, side]], colWidths=[width - 26 * mm, 26 * mm])
    table.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, -1), "text"),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("RIGHTPADDING", (0, 0), (-1, -1), 0),
                ("LINEABOVE", (0, 0), (-1, 0), 0.5, _INK),
                ("TOPPADDING", (0, 0), (-1, -1), 4),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 7),
            ]
        )
    )
    return KeepTogether([table])


def _story(made: Handout, width: float) -> list[Flowable]:
    styles = _styles()
    out: list[Flowable] = [
        Paragraph(escape(made.title), styles["title"]),
        Spacer(1, 4),
        Paragraph(
            f"<b>{escape(made.client)}</b>, week {made.week} of {made.weeks}, {escape(made.days)}. {escape(made.practice)}.", styles["lead"]
        ),
    ]
    if made.expectations:
        out += [Spacer(1, 4), Paragraph(escape(made.expectations), styles["lead"])]
    out += [Paragraph(f"<b>Mind:</b> {escape(text)}", styles["lead"]) for text in made.cautions]
    for sheet in made.sheets:
        longest = max((pulse_train(i.dose, made.pace_s).total_s for i in sheet.items), default=1.0)
        out += [Spacer(1, 10), Paragraph(f"{escape(sheet.heading)}, {clock(sheet.seconds)} in all", styles["name"]), Spacer(1, 4)]
        out += [_item(n, item, made, styles, width, longest=longest) for n, item in enumerate(sheet.items, start=1)]
    if made.habits:
        out += [Spacer(1, 8), Paragraph("Through the day", styles["name"])]
        out += [Paragraph(f"<b>{escape(n)}</b>, {escape(often)}. {escape(text)}", styles["lead"]) for n, often, text in made.habits]
    for what, names in made.signs:
        said = Paragraph(f"<b>{escape(what)}</b> {escape('; '.join(names))}.", styles["fault"])
        out += [Spacer(1, 8), KeepTogether([said])]
    return out


def handout_pdf(made: Handout, at: datetime, paper: str = "a4") -> bytes:
    """The hand-out as PDF on A4 or Letter, made at a moment (UTC). The same input gives the same bytes. Raises KeyError for another
    paper."""
    _register()
    size = PAPERS[paper]
    margin, foot = 18 * mm, 24 * mm
    width = size[0] - 2 * margin
    styles = _styles()

    def footer(canvas: Canvas, document: BaseDocTemplate) -> None:
        canvas.saveState()
        care = Paragraph(f"{CARE} {STANDING_LINE}", styles["care"])
        _, height = care.wrap(width - 14 * mm, foot)
        care.drawOn(canvas, margin, foot - height - 2)
        canvas.setFont("text", 8.4)
        canvas.setFillColor(_INK)
        canvas.drawRightString(size[0] - margin, foot - 10, str(document.page))
        canvas.restoreState()

    out = io.BytesIO()
    document = BaseDocTemplate(
        out, pagesize=size, leftMargin=margin, rightMargin=margin, topMargin=16 * mm, bottomMargin=foot, invariant=1,
        title=f"{made.title}, week {made.week}", author=made.practice, lang="en", initialFontName="text",
    )  # fmt: skip
    frame = Frame(margin, foot, width, size[1] - 16 * mm - foot, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0)
    document.addPageTemplates([PageTemplate(frames=[frame], onPage=footer)])
    document.build(_story(made, width))
    return _described(out, made, at)


def _described(plain: io.BytesIO, made: Handout, at: datetime) -> bytes:
    """A PDF with what its readers and archives ask for: a title to show, its language, and when it was made."""
    writer = PdfWriter(clone_from=plain)
    moment = f"D:{at:%Y%m%d%H%M%S}Z"
    writer.add_metadata({"/CreationDate": moment, "/ModDate": moment, "/Creator": "Dimbo", "/Producer": "Dimbo"})
    said = XmpInformation.create()
    said.dc_title = {"x-default": f"{made.title}, week {made.week}"}
    said.dc_creator, said.dc_language = [made.practice], ["en"]
    said.xmp_create_date = said.xmp_modify_date = at.replace(tzinfo=None)
    said.xmp_creator_tool = "Dimbo"
    writer.xmp_metadata = said
    writer.root_object[NameObject("/ViewerPreferences")] = DictionaryObject({NameObject("/DisplayDocTitle"): BooleanObject(True)})
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()
