"""The report of a series as PDF: question, verdicts with intervals, what else differed, pictures, recipes, ledger."""

from __future__ import annotations

import io
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, PageBreak, SimpleDocTemplate, Spacer, Table, TableStyle

from dribbet.paper import fonts
from dribbet.paper.words import paragraph

if TYPE_CHECKING:
    from collections.abc import Sequence


@dataclass(frozen=True, slots=True)
class ReportPicture:
    """A panel's picture as JPEG, with its code and a line of words."""

    jpeg: bytes
    code: str
    words: str
    width_mm: float
    height_mm: float


@dataclass(frozen=True, slots=True)
class JudgedLine:
    """One response: difference, interval, word; in units of the noise band for drawing."""

    name: str
    words: str
    word: str
    interval_words: str
    middle: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class ReportPlot:
    """One response over one thing varied: a point for each panel, a line through the means of each level."""

    head: str
    axis: str
    levels: tuple[tuple[float, str], ...]
    """(place 0..1, words)."""
    points: tuple[tuple[float, float], ...]
    lines: tuple[tuple[str, tuple[tuple[float, float], ...]], ...]
    ticks: tuple[float, ...]
    """Values that the axis names."""


@dataclass(frozen=True, slots=True)
class SeriesReport:
    """Everything that stands in the report, in words already."""

    title: str
    question: str
    verdict: str
    compared: str
    judged: tuple[JudgedLine, ...]
    differs: tuple[str, ...]
    prediction: str
    held: str
    recipes: tuple[tuple[str, ...], ...]
    """Rows of a table: recipe, and the share of each ingredient; the first row is the head."""
    results: tuple[tuple[str, ...], ...]
    ledger: tuple[tuple[str, ...], ...]
    pictures: tuple[ReportPicture, ...]
    made: str
    answers: tuple[tuple[str, ...], ...] = ()
    """Rows of a table: every pair of levels and every product, response by response; the first row is the head."""
    plots: tuple[ReportPlot, ...] = ()
    picked: tuple[str, ...] = ()
    """What blind picks and points said."""
    next_pours: tuple[tuple[str, ...], ...] = ()
    """Rows of a table: what could be poured next; the first row is the head."""


class Strip(Flowable):  # type: ignore[misc]
    """An interval against the band of measuring noise."""

    def __init__(self, judged: JudgedLine) -> None:
        super().__init__()
        self.judged = judged
        self.width, self.height = 70 * mm, 6 * mm

    def draw(self) -> None:
        """Draw the noise band, the interval and its middle."""
        c, j = self.canv, self.judged
        unit, middle, y = self.width / 8, self.width / 2, self.height / 2
        c.setFillGray(0.86)
        c.rect(middle - unit, 0, 2 * unit, self.height, stroke=0, fill=1)
        c.setLineWidth(0.6)
        c.setDash(1, 2)
        c.line(middle, 0, middle, self.height)
        if j.middle is None:
            return

        def x(v: float) -> float:
            return float(min(max(middle + v * unit, 2), self.width - 2))

        real = j.word == "real"
        c.setDash() if j.low is not None else c.setDash(2, 2)
        c.setLineWidth(2.4 if real else 1.0)
        c.setStrokeGray(0.0)
        if j.low is not None and j.high is not None:
            c.line(x(j.low), y, x(j.high), y)
        c.setDash()
        c.setFillGray(0.0 if real else 1.0)
        c.circle(x(j.middle), y, 1.6 * mm, stroke=1, fill=1)


class Plot(Flowable):  # type: ignore[misc]
    """A response over what was varied."""

    def __init__(self, plot: ReportPlot) -> None:
        super().__init__()
        self.plot = plot
        self.width, self.height = 82 * mm, 52 * mm

    def draw(self) -> None:
        """Draw axis, points and means."""
        c, p = self.canv, self.plot
        left, bottom, top = 13 * mm, 9 * mm, self.height - 12 * mm
        values = [y for _, y in p.points] or [0.0, 1.0]
        low, high = min([*values, *p.ticks]), max([*values, *p.ticks])
        span = max(high - low, 1e-9)

        def at(x: float, y: float) -> tuple[float, float]:
            wide = self.width - left - 12 * mm
            return left + 6 * mm + x * wide, bottom + (y - low) / span * (top - bottom)

        c.setFillGray(0.0)
        c.setFont(fonts.BOLD, 9)
        c.drawString(0, self.height - 4 * mm, p.head)
        c.setFont(fonts.REGULAR, 8)
        c.drawString(0, self.height - 8 * mm, p.axis)
        c.setLineWidth(0.3)
        for tick in p.ticks:
            _, y = at(0.0, tick)
            c.setStrokeGray(0.75)
            c.line(left, y, self.width, y)
            c.drawRightString(left - 2 * mm, y - 3, f"{tick:g}")
        c.setStrokeGray(0.0)
        for place, words in p.levels:
            c.drawCentredString(at(place, low)[0], 3 * mm, words)
        for i, (name, means) in enumerate(p.lines):
            c.setDash() if i == 0 else c.setDash(3, 2)
            c.setLineWidth(1.2)
            for (x0, y0), (x1, y1) in pairwise(means):
                c.line(*at(x0, y0), *at(x1, y1))
            if name and means:
                x, y = at(*means[-1])
                c.drawString(x + 2 * mm, y - 2, name)
        c.setDash()
        c.setLineWidth(0.8)
        for x, y in p.points:
            c.circle(*at(x, y), 1.1 * mm, stroke=1, fill=0)


def report_pdf(series: SeriesReport) -> bytes:
    """Draw the report."""
    fonts.register()
    body = ParagraphStyle("body", fontName=fonts.REGULAR, fontSize=10.5, leading=14)
    small = ParagraphStyle("small", parent=body, fontSize=8.5, leading=11)
    head = ParagraphStyle("head", parent=body, fontName=fonts.BOLD, fontSize=13, leading=17, spaceBefore=10, spaceAfter=4, keepWithNext=1)
    title = ParagraphStyle("title", parent=head, fontSize=22, leading=27)
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=18 * mm, rightMargin=18 * mm, topMargin=16 * mm, bottomMargin=16 * mm, title=series.title, author="Dribbet"
    )
    story: list[Any] = [paragraph(series.title, title), paragraph(series.question, body), Spacer(1, 6)]
    story += [paragraph(series.verdict, ParagraphStyle("verdict", parent=title, fontSize=16, leading=20)), paragraph(series.prediction, body)]
    story.append(paragraph(f"What is real: {series.compared}", head))
    rows = [
        [
            paragraph(f"\x02{j.name}\x03", body),
            Strip(j),
            paragraph(j.words, body),
            paragraph(f"\x02{j.word}\x03" if j.word == "real" else j.word, body),
        ]
        for j in series.judged
    ]
    if rows:
        story.append(Table(rows, colWidths=[30 * mm, 72 * mm, 38 * mm, 34 * mm], style=TableStyle([("VALIGN", (0, 0), (-1, -1), "MIDDLE")])))
        story += [paragraph(f"{j.name}: {j.interval_words}", small) for j in series.judged]
        story.append(
            paragraph("The grey band is the measuring noise: the same panel photographed again. A difference inside it is never called real.", small)
        )
    if len(series.answers) > 1:
        story.append(KeepTogether([paragraph("All that was asked", head), _table(series.answers, small)]))
    if series.plots:
        story.append(paragraph("What each thing did", head))
        cells: list[Any] = [Plot(p) for p in series.plots]
        cells += [""] * (len(cells) % 2)
        story.append(Table([cells[i : i + 2] for i in range(0, len(cells), 2)], colWidths=[87 * mm, 87 * mm]))
    if series.picked:
        story.append(paragraph("Chosen blind", head))
        story += [paragraph(words, body) for words in series.picked]
    story.append(paragraph("What else differed", head))
    story += [paragraph("• " + d, body) for d in series.differs] or [paragraph("Nothing that Dribbet can compute or was told of.", body)]
    story += [paragraph("Held", head), paragraph(series.held, body)]
    for name, table in (("Recipes", series.recipes), ("Results", series.results)):
        if len(table) > 1:
            story.append(KeepTogether([paragraph(name, head), _table(table, small)]))
    if len(series.next_pours) > 1:
        story.append(KeepTogether([paragraph("What to pour next", head), _table(series.next_pours, small)]))
    if series.pictures:
        story += [PageBreak(), paragraph("Panels", head)]
        story += _pictures(series.pictures, small)
    if len(series.ledger) > 1:
        story += [paragraph("Ledger", head), paragraph("What was really weighed in.", body), _table(series.ledger, small)]
    story += [Spacer(1, 8), paragraph(series.made, small)]
    document.build(story)
    return out.getvalue()


def _table(rows: Sequence[Sequence[str]], style: ParagraphStyle) -> Table:
    cells = [[paragraph(f"\x02{c}\x03" if i == 0 else c, style) for c in row] for i, row in enumerate(rows)]
    look = TableStyle(
        [
            ("LINEBELOW", (0, 0), (-1, 0), 1, colors.black),
            ("LINEBELOW", (0, 1), (-1, -1), 0.25, colors.Color(0.75, 0.75, 0.75)),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ]
    )
    return Table(cells, style=look, repeatRows=1, hAlign="LEFT", colWidths=[174 * mm / max(len(rows[0]), 1)] * len(rows[0]))


def _pictures(pictures: Sequence[ReportPicture], style: ParagraphStyle) -> list[Any]:
    """Pictures two to a row, all at one scale."""
    scale = 82 * mm / max(p.width_mm for p in pictures)
    cells: list[Any] = []
    for p in pictures:
        picture = Image(io.BytesIO(p.jpeg), width=p.width_mm * scale, height=p.height_mm * scale)
        cells.append([picture, paragraph(f"\x02{p.code}\x03 {p.words}", style)])
    if len(cells) % 2:
        cells.append("")
    rows = [cells[i : i + 2] for i in range(0, len(cells), 2)]
    return [Table(rows, colWidths=[87 * mm, 87 * mm], style=TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)]))]
