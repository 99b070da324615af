"""Photo card and drip card as PDF at true size."""

from __future__ import annotations

import io
from typing import Final

from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from dribbet.paper import fonts
from dribbet.records.cards import (
    DRIP_CARD,
    MARKER_MM,
    PATCH_LIGHTNESS,
    PATCH_MM,
    PATCH_X_MM,
    PATCH_Y_MM,
    PHOTO_CARD,
    START_LINE_MM,
    CardFace,
    patch_reflectance,
)

LANES: Final = 6


def _marker_cells(marker: int) -> list[list[bool]]:
    """Squares of an ArUco DICT_4X4_50 marker with its black border, True where black."""
    import cv2

    drawn = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50), marker, 60)
    return [[bool(drawn[row * 10 + 5, column * 10 + 5] < 128) for column in range(6)] for row in range(6)]


def _grey(lightness: float) -> float:
    reflect = patch_reflectance(lightness)
    return 1.055 * reflect ** (1 / 2.4) - 0.055 if reflect > 0.0031308 else 12.92 * reflect


def _card(canvas: Canvas, left: float, top: float, face: CardFace) -> None:
    canvas.setLineWidth(0.2)
    canvas.setStrokeGray(0.6)
    canvas.rect(left * mm, (top - face.height_mm) * mm, face.width_mm * mm, face.height_mm * mm)
    canvas.setFillGray(0.0)
    cell = MARKER_MM / 6
    for marker, (x, y) in face.markers.items():
        for row, line in enumerate(_marker_cells(marker)):
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
    face = PHOTO_CARD if kind == "photo" else DRIP_CARD
    _card(canvas, 30.0, top, face)
    if kind == "photo":
        for x, lightness in zip(PATCH_X_MM, PATCH_LIGHTNESS, strict=True):
            canvas.setFillGray(_grey(lightness))
            canvas.rect((30.0 + x - PATCH_MM / 2) * mm, (top - PATCH_Y_MM - PATCH_MM / 2) * mm, PATCH_MM * mm, PATCH_MM * mm, stroke=0, fill=1)
        words = ["Print at 100 %, on matt white paper. Glue it to something flat.", "Lay it beside the panel, in the panel's plane."]
    else:
        canvas.setLineWidth(0.3)
        canvas.setStrokeGray(0.75)
        y = (top - START_LINE_MM) * mm
        canvas.line((30.0 + 21.0) * mm, y, (30.0 + 129.0) * mm, y)
        words = [
            "Print at 100 %. Lay it flat, set equal drops with their lower edge on the line, then stand it upright.",
            "Photograph it after the same time for every colour.",
        ]
    canvas.setFillGray(0.0)
    canvas.setFont(fonts.REGULAR, 11)
    for i, text in enumerate(words):
        canvas.drawString(30.0 * mm, (top - face.height_mm - 10.0 - 6.0 * i) * mm, text)
    base = (top - face.height_mm - 34.0) * mm
    canvas.setLineWidth(0.5)
    canvas.setStrokeGray(0.0)
    canvas.line(30.0 * mm, base, 130.0 * mm, base)
    for i in range(11):
        canvas.line((30.0 + 10 * i) * mm, base, (30.0 + 10 * i) * mm, base + (4 if i % 5 == 0 else 2.5) * mm)
    canvas.drawString(30.0 * mm, base - 6.0 * mm, "This line is 100 mm long. Measure it; if it is not, the printer has scaled the page.")
    canvas.showPage()
    canvas.save()
    return out.getvalue()
