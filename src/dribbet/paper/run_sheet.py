"""The run sheet of a series: question, what is held, the pouring order by lot with room to write, and a label for each panel."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Frame, NextPageTemplate, PageBreak, PageTemplate, Spacer, Table, TableStyle
from reportlab.platypus.doctemplate import BaseDocTemplate

from dribbet.paper import fonts
from dribbet.paper.labels import SIZES, PanelLabel, draw_sheet, draw_symbol, sheets_of
from dribbet.paper.words import paragraph

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas


SYMBOL_MM: Final = 28  # room beside the heading for the series' symbol
LABELS: Final = SIZES["70 x 37"]
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
    recipes: tuple[tuple[str, ...], ...]
    """What each recipe is: recipe, flow, paint share and cost side by side; the first row is the head."""
    amounts: tuple[tuple[str, ...], ...]
    looks: tuple[str, ...]
    seed: str
    labels: tuple[PanelLabel, ...]


def run_sheet_pdf(sheet: RunSheet) -> bytes:
    """Draw the run sheet, then the labels."""
    fonts.register()
    body = ParagraphStyle("body", fontName=fonts.REGULAR, fontSize=10.5, leading=14)
    small = ParagraphStyle("small", parent=body, fontSize=9, leading=11.5)
    code = ParagraphStyle("code", parent=body, fontName=fonts.CODE, fontSize=11)
    head = ParagraphStyle("head", parent=body, fontName=fonts.BOLD, fontSize=13, leading=17, spaceBefore=8, spaceAfter=3, keepWithNext=1)
    title = ParagraphStyle("title", parent=head, fontSize=20, leading=25, rightIndent=SYMBOL_MM * mm)
    beside = ParagraphStyle("beside", parent=body, rightIndent=SYMBOL_MM * mm)
    story: list[Any] = [paragraph(sheet.title, title), paragraph(sheet.question, beside)]
    if sheet.prediction:
        story.append(paragraph(sheet.prediction, beside))
    story.append(paragraph("Held, as numbers", head))
    story += [paragraph("• " + line, body) for line in sheet.held]
    if sheet.cautions:
        story.append(paragraph("Mind", head))
        story += [paragraph("• " + line, body) for line in sheet.cautions]
    story += [paragraph("Pour in this order", head), *_order(sheet, body, small, code)]
    if len(sheet.recipes) > 2:
        story += [paragraph("What is equal between the recipes, and what is not", head), _plain(sheet.recipes, small)]
    if sheet.amounts:
        story += [paragraph("To mix, from one batch", head), _plain(sheet.amounts, small)]
    if sheet.looks:
        story.append(paragraph("Looks", head))
        story += [paragraph("• " + line, body) for line in sheet.looks]
    story += [Spacer(1, 6), paragraph(sheet.seed, small)]
    labels = sheets_of(sheet.labels, LABELS)
    for _ in labels:
        story += [NextPageTemplate("labels"), PageBreak(), Spacer(1, 1)]
    left = iter(labels)
    out = io.BytesIO()

    def stamp(canvas: Canvas, document: BaseDocTemplate) -> None:
        if document.page == 1:
            draw_symbol(canvas, sheet.title.split(":")[0], A4[0] - 38 * mm, A4[1] - 12 * mm, 22 * mm)

    def label_page(canvas: Canvas, _: object) -> None:
        draw_sheet(canvas, next(left), LABELS)

    document = BaseDocTemplate(out, pagesize=A4, title=sheet.title, author="Dribbet", invariant=1)
    room = (16 * mm, 14 * mm, A4[0] - 32 * mm, A4[1] - 28 * mm)
    document.addPageTemplates(
        [
            PageTemplate(id="plain", frames=[Frame(*room, id="page")], onPage=stamp),
            PageTemplate(id="labels", frames=[Frame(*room, id="label")], onPage=label_page),
        ]
    )
    document.build(story)
    return out.getvalue()


def _order(sheet: RunSheet, body: ParagraphStyle, small: ParagraphStyle, code: ParagraphStyle) -> list[Any]:
    """The pours in their order, with room to write; the cup once where it is the same in all."""
    cups = {r.cup for r in sheet.rows}
    same = len(cups) == 1
    heads = ["", "panel", "recipe", *([] if same else ["cup, from below"]), "rack", *TO_WRITE]
    widths = [9, 24, 58, 12, 19, 19, 33] if same else [9, 22, 34, 40, 12, 17, 19, 21]
    rows: list[list[Any]] = [[paragraph(f"\x02{w}\x03", small) for w in heads]]
    for r in sheet.rows:
        middle = [] if same else [paragraph(r.cup, small)]
        rows.append([paragraph(r.place, body), paragraph(r.code, code), paragraph(r.words, small), *middle, paragraph(r.slot, body), "", "", ""])
    look = TableStyle([("GRID", (0, 0), (-1, -1), 0.4, "#8C8C8C"), ("VALIGN", (0, 0), (-1, -1), "MIDDLE"), ("LEFTPADDING", (0, 0), (-1, -1), 3)])
    table = Table(rows, colWidths=[w * mm for w in widths], rowHeights=[7 * mm] + [None] * len(sheet.rows), style=look, repeatRows=1, hAlign="LEFT")
    return [paragraph(f"Every cup, from below: {cups.pop()}.", body), Spacer(1, 4), table] if same else [table]


def _plain(rows: tuple[tuple[str, ...], ...], style: ParagraphStyle) -> Table:
    cells = [[paragraph(f"\x02{c}\x03" if i == 0 else c, style) for c in row] for i, row in enumerate(rows)]
    look = TableStyle(
        [("LINEBELOW", (0, 0), (-1, 0), 1, "#121212"), ("LINEBELOW", (0, 1), (-1, -1), 0.25, "#BFBFBF"), ("TOPPADDING", (0, 0), (-1, -1), 1.5)]
    )
    return Table(cells, style=look, hAlign="LEFT", colWidths=[174 * mm / max(len(rows[0]), 1)] * len(rows[0]))
