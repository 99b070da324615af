"""The list, or the field, under a part of the sentence; open only while it is used, and open as long as what was typed cannot be taken."""

from __future__ import annotations

import math
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QHBoxLayout, QLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field
from dribbet.bench.parts.base import Words, draw_focus, draw_text
from dribbet.bench.parts.margin import Bar, clear
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER
from dribbet.bench.theme.type import width
from dribbet.records import DribbetError
from dribbet.words.parts import Weight

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.words.parts import Part

CLOSE_PX = 15  # of five columns, which then fit a small screen
ROWS_MOST = 12  # more choices than that stand in columns
WIDEST_PX = 430  # longer choices take two lines
FIELD_PX = 420


class ChoiceRow(QAbstractButton):
    """One thing a part may become."""

    def __init__(self, words: str, current: bool, px: int = 18) -> None:
        super().__init__()
        self.words, self.current, self.px = words, current, px
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(words)
        self.setMinimumHeight(44)

    def sizeHint(self) -> QSize:
        natural = round(width(self.words, self.px, 700)) + (36 if self.px > CLOSE_PX else 22)
        return QSize(min(natural, WIDEST_PX), 44 if natural <= WIDEST_PX else 64)

    def enterEvent(self, event: object) -> None:
        self.setFocus()  # one line is marked: the one that the next press takes

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Down)
        else:
            event.ignore()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(4, 4, -4, -4)
        if self.current:
            draw_strip(p, room, self.words, PAPER.other_tape, PAPER.other_crepe)
        draw_text(p, room.adjusted(10, 0, -4, 0), self.words, self.px, 700 if self.current else 500, BLACK, wrap=True)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class Chooser(QWidget):
    """The list under a part. `attempt` takes the choice or raises; then the words stand here and what was typed stays."""

    chosen = pyqtSignal(str, str)

    def __init__(self, parent: QWidget, part: Part, attempt: Callable[[str, str], None] | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.part, self._attempt = part, attempt
        self.setObjectName("chooser")
        self.setStyleSheet("#chooser { background: #FAFAFA; border: 2px solid #121212; }")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.setSizeConstraint(QLayout.SizeConstraint.SetFixedSize)  # as large as what stands in it, whenever that changes
        column.setSpacing(4)
        self.field: Field | None = None
        self.said = QVBoxLayout()
        if part.choices:
            grid = QGridLayout()
            grid.setSpacing(2)
            rows = math.ceil(len(part.choices) / math.ceil(len(part.choices) / ROWS_MOST))
            for i, (value, words) in enumerate(part.choices):
                button = ChoiceRow(
                    words, words == part.text, 18 if len(part.choices) <= 2 * ROWS_MOST else 16 if len(part.choices) <= 4 * ROWS_MOST else CLOSE_PX
                )
                button.clicked.connect(partial(self._choose, value))
                grid.addWidget(button, i % rows, i // rows)
            column.addLayout(grid)
        else:
            if part.hint:
                column.addWidget(Words(part.hint, 16, 400, role="note"))
            self.field = Field(part.id, width_px=FIELD_PX)
            self.field.setText(part.typed)
            self.field.selectAll()
            self.field.returnPressed.connect(lambda: self._choose(self.field.text() if self.field else ""))
            column.addWidget(self.field)
        column.addLayout(self.said)
        if part.trouble:
            self._say(part.trouble)

    def _choose(self, value: str, _: bool = False) -> None:
        if self._attempt is not None:
            try:
                self._attempt(self.part.id, value)
            except DribbetError as error:
                self._say(str(error))
                return
        self.close()
        self.chosen.emit(self.part.id, value)

    def _say(self, words: str) -> None:
        """Say at the place why this cannot be."""
        clear(self.said)
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 4, 0, 2)
        line.addWidget(Bar(Weight.STOP))
        text = Words(words, 16)
        wide = max(FIELD_PX, self.width() - 20) - 30
        text.setFixedSize(wide, text.heightForWidth(wide))  # a popup takes no height for a width by itself
        line.addWidget(text)
        row.setFixedHeight(text.height() + 6)
        self.said.addWidget(row)
        row.show()  # counted in the height from now on, not from the next round of events

    def trouble(self) -> str:
        """Words that stand under the field now."""
        rows = [self.said.itemAt(i).widget() for i in range(self.said.count())]  # type: ignore[union-attr]
        return " ".join(w.text() for row in rows if row is not None for w in row.findChildren(Words) if w.text())

    def open_at(self, at: QPoint) -> None:
        """Show, and keep on the screen."""
        self.adjustSize()
        screen = QGuiApplication.screenAt(at) or QGuiApplication.primaryScreen()
        if screen is not None:
            room = screen.availableGeometry()
            at = QPoint(min(at.x(), room.right() - self.width()), max(room.top(), min(at.y(), room.bottom() - self.height())))
        self.move(at)
        self.show()
        choices = self.findChildren(ChoiceRow)
        target = self.field or next((c for c in choices if c.current), choices[0] if choices else None)
        if target is not None:
            target.setFocus()
