"""The small set of inks that is handed down to every part: paper for planning and pouring, wall for photographs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from PyQt6.QtGui import QColor


@dataclass(frozen=True)
class Inks:
    """Colours of one surround."""

    ground: QColor
    sheet: QColor
    card: QColor
    ink: QColor
    note: QColor
    rule: QColor
    off: QColor
    slab: QColor
    slab_text: QColor
    busy: QColor
    tape: QColor
    crepe: QColor
    other_tape: QColor
    other_crepe: QColor
    wall: bool


def _c(value: str) -> QColor:
    return QColor(value)


TAPE: Final = _c("#F2CE55")
CREPE: Final = _c("#DFB83C")
BLACK: Final = _c("#121212")
WHITE: Final = _c("#FFFFFF")
PLATE: Final = _c("#F5F5F5")
"""Under words on a photograph."""
WAVE: Final = _c("#6A6A6A")
"""Waves of water and thinner."""
MIDDLE: Final = _c("#9A9A9A")
STICK_REST: Final = _c("#CDCDCD")
EDGE: Final = _c("#8C8C8C")
AIM: Final = _c("#E3E3E3")
PIT: Final = _c("#383838")
CHANCE: Final = _c("#6E6E6E")
CHANCE_HATCH: Final = _c("#5E5E5E")
STICK_MEDIUM: Final = _c("#9B9B9B")
DRYING: Final = tuple(_c(h) for h in ("#1C1C1C", "#5C5C5C", "#9A9A9A", "#CDCDCD", "#FFFFFF"))

PAPER: Final = Inks(
    ground=_c("#EDEDED"), sheet=_c("#FAFAFA"), card=_c("#FFFFFF"), ink=BLACK, note=_c("#4A4A4A"), rule=_c("#BFBFBF"), off=_c("#6A6A6A"),
    slab=BLACK, slab_text=_c("#FFFFFF"), busy=_c("#6A6A6A"), tape=TAPE, crepe=CREPE, other_tape=_c("#D2D2D2"), other_crepe=_c("#BDBDBD"), wall=False,
)  # fmt: skip
WALL: Final = Inks(
    ground=_c("#4A4A4A"), sheet=_c("#383838"), card=_c("#FFFFFF"), ink=_c("#F5F5F5"), note=_c("#CFCFCF"), rule=_c("#7A7A7A"), off=_c("#A0A0A0"),
    slab=_c("#FFFFFF"), slab_text=BLACK, busy=_c("#9A9A9A"), tape=TAPE, crepe=CREPE, other_tape=_c("#9A9A9A"), other_crepe=_c("#8A8A8A"), wall=True,
)  # fmt: skip
