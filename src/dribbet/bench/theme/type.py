"""The shipped typeface. Never the system's: figures must be tabular and codes unmistakable."""

from __future__ import annotations

from functools import cache, lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtGui import QFont, QFontDatabase, QFontMetricsF

if TYPE_CHECKING:
    from PyQt6.QtCore import QRectF

FONTS: Final = Path(__file__).parent / "fonts"
TEXT: Final = "Atkinson Hyperlegible Next"
CODE: Final = "Atkinson Hyperlegible Mono"
SMALLEST_PX: Final = 14


@cache
def load_fonts() -> tuple[str, ...]:
    """Register every shipped font; returns the families found."""
    families: list[str] = []
    for path in sorted(FONTS.glob("*.ttf")):
        number = QFontDatabase.addApplicationFont(str(path))
        families += QFontDatabase.applicationFontFamilies(number)
    return tuple(dict.fromkeys(families))


@cache
def font(px: int, weight: int = 400, *, code: bool = False) -> QFont:
    """Return the typeface at a size in px; tabular figures, no hinting, grey antialiasing only."""
    load_fonts()
    made = QFont(CODE if code else TEXT)
    made.setPixelSize(max(px, SMALLEST_PX))
    made.setWeight(QFont.Weight(weight))
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    made.setStyleStrategy(QFont.StyleStrategy.PreferAntialias | QFont.StyleStrategy.NoSubpixelAntialias)
    if not code:
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


@lru_cache(maxsize=8192)
def width(text: str, px: int, weight: int = 400, *, code: bool = False) -> float:
    """Advance width of a text in px."""
    return QFontMetricsF(font(px, weight, code=code)).horizontalAdvance(text)


def fitting_px(text: str, room: QRectF, most_px: int, weight: int = 800) -> int:
    """Largest size up to `most_px` at which a text fits a rectangle's width and cap height."""
    metrics = QFontMetricsF(font(most_px, weight))
    scale = min(1.0, room.width() / max(metrics.horizontalAdvance(text), 1.0), room.height() / max(metrics.capHeight() * 1.12, 1.0))
    return max(SMALLEST_PX, int(most_px * scale))
