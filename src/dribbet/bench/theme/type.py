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
GROWN: Final = 1.18
"""How much larger type is in a large window, which is looked at from as far away."""
LARGE_PX: Final = (1700, 950)
_growth = 1.0


def set_growth(width_px: int, height_px: int) -> bool:
    """Let type grow with the window; True where its size is another one now."""
    global _growth
    wanted = GROWN if width_px >= LARGE_PX[0] and height_px >= LARGE_PX[1] else 1.0
    changed, _growth = wanted != _growth, wanted
    return changed


def grown(px: int) -> int:
    """A length that goes with the type in it."""
    return round(px * _growth)


@cache
def load_fonts() -> tuple[str, ...]:
    """Register every shipped font; returns the families found."""
    families: list[str] = []
    for path in sorted(FONTS.glob("*.ttf")):
        number = QFontDatabase.addApplicationFont(str(path))
        families += QFontDatabase.applicationFontFamilies(number)
    return tuple(dict.fromkeys(families))


def font(px: int, weight: int = 400, *, code: bool = False) -> QFont:
    """Return the typeface at a size in px, grown with the window; tabular figures, no hinting, grey antialiasing only."""
    return _font(grown(max(px, SMALLEST_PX)), weight, code)


@cache
def _font(px: int, weight: int, code: bool) -> QFont:
    load_fonts()
    made = QFont(CODE if code else TEXT)
    made.setPixelSize(px)
    made.setWeight(QFont.Weight(weight))
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    made.setStyleStrategy(QFont.StyleStrategy.PreferAntialias | QFont.StyleStrategy.NoSubpixelAntialias)
    if not code:
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


def width(text: str, px: int, weight: int = 400, *, code: bool = False) -> float:
    """Advance width of a text in px, at the size it has in this window."""
    return _width(text, grown(max(px, SMALLEST_PX)), weight, code)


@lru_cache(maxsize=8192)
def _width(text: str, px: int, weight: int, code: bool) -> float:
    return QFontMetricsF(_font(px, weight, code)).horizontalAdvance(text)


def fitting_px(text: str, room: QRectF, most_px: int, weight: int = 800) -> int:
    """Largest size up to `most_px` at which a text fits a rectangle's width and cap height."""
    metrics = QFontMetricsF(font(most_px, weight))
    scale = min(1.0, room.width() / max(metrics.horizontalAdvance(text), 1.0), room.height() / max(metrics.capHeight() * 1.12, 1.0))
    return max(SMALLEST_PX, int(most_px * scale))
