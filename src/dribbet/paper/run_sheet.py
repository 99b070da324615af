"""The run sheet of a series: question, what is held, the pouring order by lot with room to write, and a label for each panel."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Frame, PageTemplate, Paragraph, Spacer, Table, TableStyle
from reportlab.platypus.doctemplate import BaseDocTemplate

from dribbet.paper import fonts
from dribbet.paper.labels import SIZES, PanelLabel, draw_symbol, labels_on

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

    from dribbet.records import Report

TO_WRITE: Final = ("bare, g", "poured, g", "remark")


@dataclass(frozen=True, slots=True)
class RunRow:
    """One pour: its place in the order, its code, what it is, where it dries."""

    place: str
    code: str
    words: str
    cup: str
    slot: str


@dataclass(frozen=True, slots=True)
class RunSheet:
    """Everything that stands on the sheet, in words already."""

    title: str
    question: str
    prediction: str
    held: tuple[str, ...]
    cautions: tuple[str, ...]
    rows: tuple[RunRow, ...]
    amounts: tuple[tuple[str, ...], ...]
    looks: tuple[str, ...]
    seed: str
    labels: tuple[PanelLabel, ...]


def run_sheet_pdf(sheet: RunSheet, report: Report) -> bytes:
    """Draw the run sheet, then the labels; `report` is told of the parts."""
    fonts.register()
    report(0, 2)
    body = ParagraphStyle("body", fontName=fonts.REGULAR, fontSize=10.5, leading=14)
    small = ParagraphStyle("small", parent=body, fontSize=9, leading=11.5)
    code = ParagraphStyle("code", parent=body, fontName=fonts.CODE, fontSize=11)
    head = ParagraphStyle("head", parent=body, fontName=fonts.BOLD, fontSize=13, leading=17, spaceBefore=8, spaceAfter=3)
    title = ParagraphStyle("title", parent=head, fontSize=20, leading=25)
    story: list[Any] = [Paragraph(sheet.title, title), Paragraph(sheet.question, body)]
    if sheet.prediction:
        story.append(Paragraph(sheet.prediction, body))
    story.append(Paragraph("Held, as numbers", head))
    story += [Paragraph("• " + line, body) for line in sheet.held]
    if sheet.cautions:
        story.append(Paragraph("Mind", head))
        story += [Paragraph("• " + line, body) for line in sheet.cautions]
    story.append(Paragraph("Pour in this order", head))
    rows: list[list[Any]] = [[Paragraph(f"<b>{w}</b>", small) for w in ("", "panel", "recipe", "cup, from below", "rack", *TO_WRITE)]]
    rows += [
        [Paragraph(r.place, body), Paragraph(r.code, code), Paragraph(r.words, small), Paragraph(r.cup, small), Paragraph(r.slot, body), "", "", ""]
        for r in sheet.rows
    ]
    widths = [9, 22, 34, 40, 12, 17, 19, 21]
    grid = TableStyle([("GRID", (0, 0), (-1, -1), 0.4, "#8C8C8C"), ("VALIGN", (0, 0), (-1, -1), "MIDDLE"), ("LEFTPADDING", (0, 0), (-1, -1), 3)])
    story.append(Table(rows, colWidths=[w * mm for w in widths], style=grid, repeatRows=1, hAlign="LEFT"))
    if sheet.amounts:
        story += [Paragraph("To mix, from one batch", head), _plain(sheet.amounts, small)]
    if sheet.looks:
        story.append(Paragraph("Looks", head))
        story += [Paragraph("• " + line, body) for line in sheet.looks]
    story += [Spacer(1, 6), Paragraph(sheet.seed, small)]
    out = io.BytesIO()

    def stamp(canvas: Canvas, _: object) -> None:
        draw_symbol(canvas, sheet.title.split(":")[0], A4[0] - 34 * mm, A4[1] - 10 * mm, 20 * mm)

    document = _WithLabels(out, sheet, pagesize=A4, title=sheet.title, author="Dribbet", invariant=1)
    frame = Frame(16 * mm, 14 * mm, A4[0] - 32 * mm, A4[1] - 28 * mm, id="page")
    document.addPageTemplates([PageTemplate(id="plain", frames=[frame], onPage=stamp)])
    document.build(story)
    report(2, 2)
    return out.getvalue()


class _WithLabels(BaseDocTemplate):
    """A document that ends with sheets of labels."""

    def __init__(self, out: io.BytesIO, sheet: RunSheet, **kept: Any) -> None:
        super().__init__(out, **kept)
        self._sheet = sheet

    def _endBuild(self) -> None:
        if self._sheet.labels:
            labels_on(self.canv, self._sheet.labels, SIZES["70 x 37"])
        super()._endBuild()


def _plain(rows: tuple[tuple[str, ...], ...], style: ParagraphStyle) -> Table:
    cells = [[Paragraph(f"<b>{c}</b>" if i == 0 else c, style) for c in row] for i, row in enumerate(rows)]
    look = TableStyle(
        [("LINEBELOW", (0, 0), (-1, 0), 1, "#121212"), ("LINEBELOW", (0, 1), (-1, -1), 0.25, "#BFBFBF"), ("TOPPADDING", (0, 0), (-1, -1), 1.5)]
    )
    return Table(cells, style=look, hAlign="LEFT", colWidths=[174 * mm / max(len(rows[0]), 1)] * len(rows[0]))
