"""The shipped typeface, for PDF."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FONTS = Path(__file__).parent.parent / "bench" / "theme" / "fonts"
REGULAR, BOLD, CODE = "Next", "NextBold", "Code"


@cache
def register() -> None:
    """Make the typeface known to the PDF writer; once."""
    pdfmetrics.registerFont(TTFont(REGULAR, FONTS / "AtkinsonHyperlegibleNext_400Regular.ttf"))
    pdfmetrics.registerFont(TTFont(BOLD, FONTS / "AtkinsonHyperlegibleNext_700Bold.ttf"))
    pdfmetrics.registerFont(TTFont(CODE, FONTS / "AtkinsonHyperlegibleMono_600SemiBold.ttf"))
    pdfmetrics.registerFontFamily(REGULAR, normal=REGULAR, bold=BOLD, italic=REGULAR, boldItalic=BOLD)
