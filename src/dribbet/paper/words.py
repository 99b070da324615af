"""Paragraphs on paper: what a person typed stands there as typed; nothing in it is markup."""

from __future__ import annotations

from typing import Final
from xml.sax.saxutils import escape

from reportlab.platypus import Paragraph

BOLD: Final = ("\x02", "\x03")
"""Marks between which words are bold; nobody can type them."""


def paragraph(text: str, style: object) -> Paragraph:
    """Paragraph of words as they stand, bold between the marks."""
    return Paragraph(escape(text).replace(BOLD[0], "<b>").replace(BOLD[1], "</b>").replace("\n", "<br/>"), style)
