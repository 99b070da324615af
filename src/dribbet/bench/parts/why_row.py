"""Why a panel is left out: five reasons to press, or one to type. Lies over the lower part of its page while it is asked."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, QPointF, pyqtSignal
from PyQt6.QtGui import QPainter, QPalette
from PyQt6.QtWidgets import QGridLayout, QLineEdit, QVBoxLayout, QWidget

from dribbet.bench.parts.base import Words
from dribbet.bench.parts.keys import Key, KeyButton
from dribbet.bench.theme.inks import PAPER, Inks
from dribbet.bench.theme.patterns import solid
from dribbet.words import window as window_words

if TYPE_CHECKING:
    from collections.abc import Sequence

COLUMNS = 3
MARGINS_PX = (22, 18, 24, 20)


class WhyRow(QWidget):
    """The question, its answers, and a field."""

    said = pyqtSignal(str)

    def __init__(self, page: QWidget, field: QLineEdit, reasons: Sequence[str], inks: Inks = PAPER) -> None:
        super().__init__(page)
        self.inks = inks
        page.installEventFilter(self)
        self.setAutoFillBackground(True)
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.Window, inks.ground)
        self.setPalette(palette)
        self.reasons = tuple(reasons)
        self.field = field
        column = QVBoxLayout(self)
        column.setContentsMargins(*MARGINS_PX)
        column.setSpacing(10)
        self.head = Words("", 18, 700, inks=inks)
        column.addWidget(self.head)
        row = QGridLayout()
        row.setSpacing(10)
        for number, reason in enumerate(self.reasons, start=1):
            button = KeyButton(inks)
            button.set_key(Key(str(number), reason))
            button.clicked.connect(lambda _=False, why=reason: self.said.emit(why))
            row.addWidget(button, (number - 1) // COLUMNS, (number - 1) % COLUMNS)
        field.setMinimumHeight(60)
        row.addWidget(field, len(self.reasons) // COLUMNS, len(self.reasons) % COLUMNS)
        for at in range(COLUMNS):
            row.setColumnStretch(at, 1)
        column.addLayout(row)
        field.returnPressed.connect(lambda: self.said.emit(field.text()))
        self.hide()

    def ask(self, code: str) -> None:
        """Ask about a panel."""
        self.head.say(window_words.WHY_LEFT_OUT(code=code))
        self.field.clear()
        self._place()
        self.show()
        self.raise_()

    def _place(self) -> None:
        page = self.parentWidget()
        if page is not None:
            tall = max(self.heightForWidth(page.width()), self.sizeHint().height())
            self.setGeometry(0, page.height() - tall, page.width(), tall)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Resize and self.isVisible():
            self._place()
        return False

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setPen(solid(self.inks.ink, 1.5))
        for y in (1.0, 5.5):
            p.drawLine(QPointF(22, y), QPointF(self.width() - 24, y))
        p.end()

    def choose(self, number: int) -> bool:
        """Answer by its digit."""
        if not 1 <= number <= len(self.reasons):
            return False
        self.said.emit(self.reasons[number - 1])
        return True
