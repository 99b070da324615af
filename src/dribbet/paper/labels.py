"""Labels for the backs of panels: the code as text and as a symbol that a phone reads, and a mark for the corner that is up."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from dribbet.paper import fonts

if TYPE_CHECKING:
    from collections.abc import Sequence


@dataclass(frozen=True, slots=True)
class LabelSize:
    """A sheet of labels on A4, all in mm."""

    width_mm: float
    height_mm: float
    columns: int
    rows: int
    left_mm: float
    top_mm: float


SIZES: Final = {  # common self-adhesive sheets on A4
    "70 x 37": LabelSize(70.0, 37.0, 3, 8, 0.0, 0.5),
    "99 x 38": LabelSize(99.1, 38.1, 2, 7, 4.65, 15.15),
    "52 x 30": LabelSize(52.5, 29.7, 4, 10, 0.0, 0.0),
}
QUIET: Final = 2  # modules left white round the symbol


@dataclass(frozen=True, slots=True)
class PanelLabel:
    """What stands on one label."""

    code: str
    lines: tuple[str, ...]


def symbol(text: str) -> list[list[bool]]:
    """Squares of the QR symbol (ISO/IEC 18004) of a text, True where dark; without its quiet zone."""
    import segno

    return [[bool(cell) for cell in row] for row in segno.make(text, error="m", micro=False).matrix]


def draw_symbol(canvas: Canvas, text: str, left: float, top: float, side: float) -> None:
    """Draw a symbol with its quiet zone into a square (points, from its upper left)."""
    cells = symbol(text)
    cell = side / (len(cells) + 2 * QUIET)
    canvas.setFillGray(0.0)
    for y, row in enumerate(cells):
        for x, dark in enumerate(row):
            if dark:  # a hair larger, so that no white seam shows
                canvas.rect(left + (x + QUIET) * cell, top - (y + QUIET + 1) * cell, cell + 0.03, cell + 0.03, stroke=0, fill=1)


def sheets_of(labels: Sequence[PanelLabel], size: LabelSize) -> list[Sequence[PanelLabel]]:
    """Labels sheet by sheet."""
    each = size.columns * size.rows
    return [labels[i : i + each] for i in range(0, len(labels), each)]


def draw_sheet(canvas: Canvas, labels: Sequence[PanelLabel], size: LabelSize) -> None:
    """Draw one sheet of labels onto the page in hand."""
    for i, label in enumerate(labels):
        row, column = divmod(i, size.columns)
        left = (size.left_mm + column * size.width_mm) * mm
        top = A4[1] - (size.top_mm + row * size.height_mm) * mm
        _one(canvas, label, left, top, size)


def _one(canvas: Canvas, label: PanelLabel, left: float, top: float, size: LabelSize) -> None:
    wide, tall = size.width_mm * mm, size.height_mm * mm
    canvas.setStrokeGray(0.75)
    canvas.setLineWidth(0.3)
    canvas.rect(left, top - tall, wide, tall)
    side = min(tall - 8 * mm, 26 * mm)
    draw_symbol(canvas, label.code, left + wide - side - 4 * mm, top - 4 * mm, side)
    canvas.setFillGray(0.0)
    corner = canvas.beginPath()  # this corner of the back lies at the top left of the face's mirror image: keep it up
    corner.moveTo(left + 4 * mm, top - 4 * mm)
    corner.lineTo(left + 9 * mm, top - 4 * mm)
    corner.lineTo(left + 4 * mm, top - 9 * mm)
    corner.close()
    canvas.drawPath(corner, stroke=0, fill=1)
    room = wide - side - 12 * mm
    px = 22.0
    while px > 9 and canvas.stringWidth(label.code, fonts.CODE, px) > room:
        px -= 1
    canvas.setFont(fonts.CODE, px)
    canvas.drawString(left + 5 * mm, top - 17 * mm, label.code)
    canvas.setFont(fonts.REGULAR, 7.5)
    y = top - 22 * mm
    lines = [part for line in label.lines for part in simpleSplit(line, fonts.REGULAR, 7.5, room)]
    for text in lines[: int((y - (top - tall) - 1 * mm) // (3.4 * mm)) + 1]:
        canvas.drawString(left + 5 * mm, y, text)
        y -= 3.4 * mm


def labels_pdf(labels: Sequence[PanelLabel], title: str, size: str = "70 x 37") -> bytes:
    """Sheets of labels for panels, in pouring order."""
    fonts.register()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    canvas.setTitle(title)
    canvas.setAuthor("Dribbet")
    for sheet in sheets_of(labels, SIZES[size]):
        draw_sheet(canvas, sheet, SIZES[size])
        canvas.showPage()
    canvas.save()
    return out.getvalue()
