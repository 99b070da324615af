"""The honest margin: plain sentences with a bar for caution or stop, behind a double rule."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from dribbet.bench.parts.base import DrawnPart, Words, unmarked
from dribbet.bench.theme.inks import PAPER, Inks
from dribbet.bench.theme.patterns import hatch, solid
from dribbet.words.parts import Remark, Weight

if TYPE_CHECKING:
    from PyQt6.QtGui import QPainter


class Bar(DrawnPart):
    """Hatched for caution, solid for stop."""

    def __init__(self, weight: Weight, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.weight = weight
        self.setFixedWidth(10)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.name(weight.value)

    def draw(self, p: QPainter) -> None:
        room = QRectF(self.rect())
        if self.weight is Weight.STOP:
            p.fillRect(room, self.inks.ink)
        else:
            hatch(p, room, self.inks.ink, gap=5)


class RemarkRow(QWidget):
    """One remark, with its bar."""

    def __init__(self, remark: Remark, inks: Inks = PAPER, px: int = 15) -> None:
        super().__init__()
        self.remark, self.px = remark, px
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        if remark.weight is not Weight.PLAIN:
            row.addWidget(Bar(remark.weight, inks))
        column = QVBoxLayout()
        column.setSpacing(2)
        self._head = Words(remark.head, px, 700, inks=inks) if remark.head else None
        self._body = Words(remark.body, px, 400, inks=inks) if remark.body else None
        for words in (self._head, self._body):
            if words is not None:
                column.addWidget(words)
        row.addLayout(column, 1)
        self._name()

    def show_remark(self, remark: Remark) -> bool:
        """Say another remark of the same build; False where the row must be made anew."""
        now = self.remark
        if (remark.weight, bool(remark.head), bool(remark.body)) != (now.weight, bool(now.head), bool(now.body)):
            return False
        if remark != now:
            self.remark = remark
            if self._head is not None:
                self._head.say(remark.head)
            if self._body is not None:
                self._body.say(remark.body)
            self._name()
        return True

    def _name(self) -> None:
        r = self.remark
        said = unmarked(f"{r.head} {r.body}")
        self.setAccessibleName(f"{r.weight.value}: {said}" if r.weight is not Weight.PLAIN else said)


class DoubleRule(DrawnPart):
    """Two lines between the page and its right column."""

    def __init__(self, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.setFixedWidth(8)

    def draw(self, p: QPainter) -> None:
        p.setPen(solid(self.inks.ink, 1.5))
        for x in (1.0, 5.5):
            p.drawLine(QPointF(x, 0), QPointF(x, self.height()))


def clear(layout: QVBoxLayout | QHBoxLayout) -> None:
    """Take everything out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        assert item is not None
        if (widget := item.widget()) is not None:
            widget.hide()
            widget.deleteLater()
        elif (inner := item.layout()) is not None:
            clear(inner)  # type: ignore[arg-type]
