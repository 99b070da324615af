"""Photo card and drip card as PDF at true size."""

from __future__ import annotations

import io
from typing import Final

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from dribbet.paper import fonts

PHOTO_MM: Final = (100.0, 60.0)
DRIP_MM: Final = (150.0, 100.0)
MARKER_MM: Final = 15.0
INSET_MM: Final = 4.0
PATCH_MM: Final = 11.0
PATCH_X_MM: Final = (15.0, 29.0, 43.0, 57.0, 71.0, 85.0)
PATCH_LIGHTNESS: Final = (95.0, 80.0, 65.0, 50.0, 35.0, 20.0)
START_MM: Final = 25.0
LANES: Final = 6


def _marker_cells(marker: int) -> list[list[bool]]:
    """Squares of an ArUco DICT_4X4_50 marker with its black border, True where black."""
    import cv2

    drawn = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50), marker, 60)
    return [[bool(drawn[row * 10 + 5, column * 10 + 5] < 128) for column in range(6)] for row in range(6)]


def _grey(lightness: float) -> float:
    reflect = ((lightness + 16.0) / 116.0) ** 3
    return 1.055 * reflect ** (1 / 2.4) - 0.055 if reflect > 0.0031308 else 12.92 * reflect


def _card(canvas: Canvas, left: float, top: float, size: tuple[float, float], first: int) -> None:
    width, height = size
    canvas.setLineWidth(0.2)
    canvas.setStrokeGray(0.6)
    canvas.rect(left * mm, (top - height) * mm, width * mm, height * mm)
    places = [
        (INSET_MM, INSET_MM),
        (width - INSET_MM - MARKER_MM, INSET_MM),
        (width - INSET_MM - MARKER_MM, height - INSET_MM - MARKER_MM),
        (INSET_MM, height - INSET_MM - MARKER_MM),
    ]
    canvas.setFillGray(0.0)
    cell = MARKER_MM / 6
    for number, (x, y) in enumerate(places):
        for row, line in enumerate(_marker_cells(first + number)):
            for column, black in enumerate(line):
                if black:  # a hair larger, so that no white seam shows between squares
                    canvas.rect(
                        (left + x + column * cell) * mm, (top - y - (row + 1) * cell) * mm, (cell + 0.02) * mm, (cell + 0.02) * mm, stroke=0, fill=1
                    )


def card_pdf(kind: str) -> bytes:
    """PDF of the `photo` or the `drip` card on A4, true size, with a ruler to check the printer by."""
    fonts.register()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, invariant=1)
    canvas.setTitle(f"Dribbet {kind} card")
    top = 270.0
    size = PHOTO_MM if kind == "photo" else DRIP_MM
    _card(canvas, 30.0, top, size, 10 if kind == "photo" else 20)
    if kind == "photo":
        for x, lightness in zip(PATCH_X_MM, PATCH_LIGHTNESS, strict=True):
            canvas.setFillGray(_grey(lightness))
            canvas.rect((30.0 + x - PATCH_MM / 2) * mm, (top - 30.0 - PATCH_MM / 2) * mm, PATCH_MM * mm, PATCH_MM * mm, stroke=0, fill=1)
        words = ["Print at 100 %, on matt white paper. Glue it to something flat.", "Lay it beside the panel, in the panel's plane."]
    else:
        canvas.setLineWidth(0.3)
        canvas.setStrokeGray(0.75)
        y = (top - START_MM) * mm
        canvas.line((30.0 + 21.0) * mm, y, (30.0 + 129.0) * mm, y)
        words = [
            "Print at 100 %. Lay it flat, set equal drops with their lower edge on the line, then stand it upright.",
            "Photograph it after the same time for every colour.",
        ]
    canvas.setFillGray(0.0)
    canvas.setFont(fonts.REGULAR, 11)
    for i, text in enumerate(words):
        canvas.drawString(30.0 * mm, (top - size[1] - 10.0 - 6.0 * i) * mm, text)
    base = (top - size[1] - 34.0) * mm
    canvas.setLineWidth(0.5)
    canvas.setStrokeGray(0.0)
    canvas.line(30.0 * mm, base, 130.0 * mm, base)
    for i in range(11):
        canvas.line((30.0 + 10 * i) * mm, base, (30.0 + 10 * i) * mm, base + (4 if i % 5 == 0 else 2.5) * mm)
    canvas.drawString(30.0 * mm, base - 6.0 * mm, "This line is 100 mm long. Measure it; if it is not, the printer has scaled the page.")
    canvas.showPage()
    canvas.save()
    return out.getvalue()
