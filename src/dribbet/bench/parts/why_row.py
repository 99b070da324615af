"""Why a panel is left out: five reasons to press, or one to type. Stands above the keys while it is asked."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from dribbet.bench.parts.base import Words
from dribbet.bench.parts.keys import Key, KeyButton
from dribbet.bench.theme.inks import PAPER, Inks

if TYPE_CHECKING:
    from collections.abc import Sequence

COLUMNS = 3


class WhyRow(QWidget):
    """The question, its answers, and a field."""

    said = pyqtSignal(str)

    def __init__(self, field: QLineEdit, reasons: Sequence[str], inks: Inks = PAPER) -> None:
        super().__init__()
        self.reasons = tuple(reasons)
        self.field = field
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.setSpacing(6)
        self.head = Words("", 18, 700, inks=inks)
        column.addWidget(self.head)
        row = QGridLayout()
        row.setSpacing(10)
        for number, reason in enumerate(self.reasons, start=1):
            button = KeyButton(inks)
            button.set_key(Key(str(number), reason))
            button.clicked.connect(lambda _=False, why=reason: self.said.emit(why))
            row.addWidget(button, (number - 1) // COLUMNS, (number - 1) % COLUMNS)
        column.addLayout(row)
        line = QHBoxLayout()
        line.addWidget(field)
        line.addWidget(Words("or type why, and press Enter. Esc leaves it as it was.", 15, role="note", inks=inks), 1, Qt.AlignmentFlag.AlignVCenter)
        column.addLayout(line)
        field.returnPressed.connect(lambda: self.said.emit(field.text()))
        self.hide()

    def ask(self, code: str) -> None:
        """Ask about a panel."""
        self.head.say(f"Why is {code} left out?")
        self.field.clear()
        self.show()

    def choose(self, number: int) -> bool:
        """Answer by its digit."""
        if not 1 <= number <= len(self.reasons):
            return False
        self.said.emit(self.reasons[number - 1])
        return True
