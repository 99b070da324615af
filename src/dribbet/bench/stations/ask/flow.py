"""The sentence on the page: words and parts in lines, as a sentence breaks."""

from __future__ import annotations

import itertools
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from dribbet.bench.parts.base import draw_focus, draw_text
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER
from dribbet.bench.theme.patterns import hatch, polyline, solid
from dribbet.bench.theme.type import font, width

if TYPE_CHECKING:
    from dribbet.words.parts import Part


class SentenceLines(QWidget):
    """Words in lines, as a sentence breaks; its parts are buttons of their own, its fixed words are painted."""

    opened = pyqtSignal(object)
    """The part's button, when it is pressed."""

    def __init__(self) -> None:
        super().__init__()
        self.buttons: list[PartButton] = []
        self._pieces: list[str | PartButton] = []
        self._px, self._lead = 30, 46
        self._shown: tuple[object, ...] = ()
        self._places: list[tuple[str, float, float]] = []
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def say(self, words: tuple[str | Part, ...], *, px: int, lead: int, hand: str, fixed: bool) -> None:
        """Show another sentence; parts that stay where they were keep their button and the focus."""
        key = (words, px, lead, hand, fixed)
        if key == self._shown:
            return
        self._shown, self._px, self._lead = key, px, lead
        free = {b.part.id: b for b in self.buttons}
        self._pieces, self.buttons = [], []
        for piece in words:
            if isinstance(piece, str):
                self._pieces += [w + " " for w in piece.split(" ") if w]
                continue
            button = free.pop(piece.id, None)
            if button is None:
                button = PartButton(piece, px, hand=False, fixed=fixed)
                button.setParent(self)
                button.clicked.connect(partial(self._press, button))
                button.show()
            button.set_part(piece, px, hand=piece.id == hand, fixed=fixed)
            self.buttons.append(button)
            self._pieces.append(button)
        for button in free.values():
            button.hide()
            button.deleteLater()
        for one, after in itertools.pairwise(self.buttons):
            QWidget.setTabOrder(one, after)
        self.setAccessibleName("".join(p if isinstance(p, str) else p.text for p in words))
        self.updateGeometry()
        self._arrange()
        self.update()

    def _press(self, button: PartButton, _: bool = False) -> None:
        self.opened.emit(button)

    def _walk(self, room: int) -> tuple[list[tuple[str | PartButton, float, int, float]], int]:
        """Where each piece goes: piece, left, line, width; and how many lines there are."""
        x, line = 0.0, 0
        placed = []
        for i, piece in enumerate(self._pieces):
            wide = width(piece, self._px) if isinstance(piece, str) else float(piece.natural_width())
            after = self._pieces[i + 1] if i + 1 < len(self._pieces) else None
            # a comma or question mark stays with the part before it
            need = wide + (width(after, self._px) if isinstance(after, str) and after.strip() in (",", "?", ".") else 0.0)
            if x and x + need - 6 > room and not (isinstance(piece, str) and piece.strip() in (",", "?", ".")):
                x, line = 0.0, line + 1
            placed.append((piece, x, line, min(wide, float(room))))
            x += wide
        return placed, line + 1

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, room: int) -> int:
        return self._walk(room)[1] * self._lead

    def sizeHint(self) -> QSize:
        return QSize(600, self.heightForWidth(self.width() or 600))

    def minimumSizeHint(self) -> QSize:
        return QSize(200, self.heightForWidth(self.width() or 600))

    def _arrange(self) -> None:
        placed, lines = self._walk(self.width())
        self._places = []
        for piece, x, line, wide in placed:
            if isinstance(piece, str):
                self._places.append((piece, x, float(line * self._lead)))
            else:
                piece.setGeometry(round(x), line * self._lead, round(wide), self._lead)
        if self.minimumHeight() != lines * self._lead:
            self.setFixedHeight(lines * self._lead)

    def resizeEvent(self, event: object) -> None:
        self._arrange()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        for text, x, y in self._places:
            draw_text(p, QRectF(x, y, self.width(), self._lead), text, self._px, 400, BLACK)
        p.end()


class PartButton(QAbstractButton):
    """A part of the sentence that can be chosen."""

    def __init__(self, part: Part, px: int, *, hand: bool, fixed: bool) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.set_part(part, px, hand=hand, fixed=fixed)

    def set_part(self, part: Part, px: int, *, hand: bool, fixed: bool) -> None:
        """Show another part, or another text of it."""
        self.part, self.px, self.hand, self.fixed = part, px, hand, fixed
        self.setAccessibleName(f"{part.id}: {part.text}")
        self.setAccessibleDescription(part.trouble)
        self.setEnabled(not fixed)
        self.update()

    def natural_width(self) -> int:
        """Width at which nothing is cut."""
        return round(width(self.part.text, self.px, 700)) + (6 if self.fixed else 38)

    def sizeHint(self) -> QSize:
        return QSize(self.natural_width(), 48)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Down):
            self.click()
        elif event is not None:
            event.ignore()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        if self.hand and not self.fixed:
            draw_strip(p, room, self.part.id, PAPER.tape, PAPER.crepe)
        p.setFont(font(self.px, 700))
        p.setPen(BLACK)
        text = QRectF(self.rect().left() if self.fixed else room.left() + 5, room.top(), room.width(), room.height() - 2)
        cut = text.adjusted(0, 0, 0 if self.fixed else -24, 0)  # a text that is longer than its room is read when opened
        words = QFontMetricsF(p.font()).elidedText(self.part.text, Qt.TextElideMode.ElideRight, cut.width() + 1)
        p.drawText(text, int(Qt.AlignmentFlag.AlignVCenter), words)
        if not self.fixed:
            right = room.right() - 6
            p.setPen(solid(BLACK, 2.6))
            y = room.center().y()
            polyline(p, [QPointF(right - 14, y - 3), QPointF(right - 8, y + 4), QPointF(right - 2, y - 3)])
            p.setPen(solid(BLACK, 2))
            p.drawLine(QPointF(room.left() + 5, room.bottom() - 3), QPointF(right, room.bottom() - 3))
        if self.part.trouble:  # something else was typed here and could not be taken
            hatch(p, QRectF(room.left() + 5, room.bottom() - 7, room.width() - 12, 6), BLACK, gap=5)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()
