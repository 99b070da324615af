"""The key strip: one slab that does the next thing, and up to four framed keys."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from dribbet.bench.parts.base import draw_focus
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, PAPER, Inks
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.bench.theme.type import font, width

if TYPE_CHECKING:
    from collections.abc import Sequence

GAP_PX = 10
FLASH_MS = 150
BENCH_PX = (24, 22, 20, 19)  # sizes of bench type, the largest at which all keys stay in one row


@dataclass(frozen=True, slots=True)
class Key:
    """A key to offer: what is printed on its cap, what happens, and whether it may be pressed."""

    cap: str
    words: str
    busy: bool = False
    hand: bool = False
    twin: bool = False
    """Whether it weighs as much as the other key so marked: then neither is the one key."""
    quiet: bool = False
    """Whether it is never the one key: what is asked is answered on the page."""
    why_not: str = ""
    """Why it is disabled; empty where it may be pressed."""


class KeyButton(QAbstractButton):
    """One key of the strip."""

    def __init__(self, inks: Inks = PAPER, *, one: bool = False, bench: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.inks, self.one, self.bench = inks, one, bench
        self.key = Key("", "")
        self._flash = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.clicked.connect(self._flashed)

    def set_key(self, key: Key) -> None:
        """Offer another key."""
        self.key = key
        self.setEnabled(not key.why_not)
        self.setAccessibleName(f"{key.cap}: {key.words}" if key.cap else key.words)
        self.setAccessibleDescription(key.why_not)
        self.setToolTip("")
        self.updateGeometry()
        self.update()

    def px(self) -> int:
        if not self.bench:
            return 18
        strip = self.parentWidget()
        return strip.type_px if isinstance(strip, KeyStrip) else BENCH_PX[0]

    def least_width(self) -> int:
        """Width at which nothing is cut."""
        cap = self._cap_width() + 12 if self.key.cap else 0
        return round(16 + cap + width(self.key.words, self.px(), 700 if self.one else 500)) + 6

    def natural_width(self) -> int:
        """Width at which it stands well: as much room behind its words as before them."""
        return self.least_width() + 16

    def _cap_width(self) -> float:
        return max(26.0 if not self.bench else 34.0, width(self.key.cap, self.px() - 2, 600) + 20)

    def sizeHint(self) -> QSize:
        return QSize(self.natural_width(), 84 if self.bench else 60)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter presses the key in focus; all else goes to the window, so that Space is the same key everywhere."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        elif event is not None:
            event.ignore()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None:
            event.ignore()

    def _flashed(self) -> None:
        self._flash = True
        self.update()
        QTimer.singleShot(FLASH_MS, self._unflash)

    def _unflash(self) -> None:
        self._flash = False
        self.update()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect())
        inks, text = self.inks, self.inks.ink
        off = not self.isEnabled()
        if off:
            p.setPen(dashed(inks.off, 2))
            p.drawRect(room.adjusted(1, 1, -1, -1))
            text = inks.off
        elif self.key.hand:
            draw_strip(p, room.adjusted(1, 1, -1, -1), self.key.words, inks.tape, inks.crepe)
            text = BLACK
        elif self.one != self._flash:
            p.fillRect(room, inks.busy if self.key.busy else inks.slab)
            text = inks.slab_text
        else:
            p.fillRect(room, inks.ground if inks.wall else inks.sheet if self._flash else inks.ground)
            p.setPen(solid(inks.ink, 2))
            p.drawRect(room.adjusted(1, 1, -1, -1))
        x = 16.0
        if self.key.cap:
            cap = QRectF(x, room.center().y() - (17 if self.bench else 13.5), self._cap_width(), 34 if self.bench else 27)
            p.setPen(dashed(text, 1.5) if off else solid(text, 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(cap)
            p.setFont(font(self.px() - 2, 600))
            p.drawText(cap, int(Qt.AlignmentFlag.AlignCenter), self.key.cap)
            x = cap.right() + 12
        p.setPen(text)
        p.setFont(font(self.px(), 700 if self.one else 500))
        p.drawText(QRectF(x, 0, room.width() - x - 4, room.height()), int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft), self.key.words)
        if self.hasFocus():
            draw_focus(p, room.adjusted(4, 4, -4, -4), Inks(**{**vars(inks), "ink": text}))
        p.end()


class KeyStrip(QWidget):
    """All keys of a page; wraps into two rows rather than cut a word."""

    def __init__(self, inks: Inks = PAPER, *, bench: bool = False) -> None:
        super().__init__()
        self.inks, self.bench = inks, bench
        self.buttons: list[KeyButton] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._height = 84 if bench else 60
        self.type_px = BENCH_PX[0]

    def offer(self, keys: Sequence[Key]) -> None:
        """Show these keys; the first is the one key, unless two weigh alike."""
        twins = any(key.twin for key in keys)
        while len(self.buttons) < len(keys):
            button = KeyButton(self.inks, one=not self.buttons, bench=self.bench, parent=self)
            self.buttons.append(button)
        for i, (button, key) in enumerate(zip(self.buttons, keys, strict=False)):
            button.one = (key.twin if twins else i == 0) and not key.quiet
            if button.key != key:
                button.set_key(key)
            button.show()
        for button in self.buttons[len(keys) :]:
            button.hide()
            button.key = Key("", "")
        self._place()

    def set_inks(self, inks: Inks) -> None:
        self.inks = inks
        for button in self.buttons:
            button.inks = inks
            button.update()

    def button_for(self, cap: str) -> KeyButton | None:
        """Return the key with this cap, if it is offered."""
        return next((b for b in self.buttons if b.isVisibleTo(self) and b.key.cap.lower() == cap.lower()), None)

    def _shown(self) -> list[KeyButton]:
        return [b for b in self.buttons if b.key.words]

    def _rows(self) -> list[list[KeyButton]]:
        shown = self._shown()
        rows: list[list[KeyButton]] = [[]]
        used = 0.0
        for button in shown:
            need = button.natural_width()
            if rows[-1] and used + GAP_PX + need > self.width():
                rows.append([])
                used = 0.0
            used += need + (GAP_PX if rows[-1] else 0)
            rows[-1].append(button)
        if len(rows) > 1 and len(rows[-1]) == 1 and len(rows[-2]) > 2:  # no key stands on a line of its own
            rows[-1].insert(0, rows[-2].pop())
        return rows

    def _fit_type(self) -> None:
        for px in BENCH_PX:
            self.type_px = px
            if len(self._rows()) == 1:
                return

    def _place(self) -> None:
        self._fit_type()
        rows = self._rows()
        height = 84 if self.bench else 60
        if len(rows) > 1:
            height = 72 if self.bench else 50
        y = 0
        for row in rows:
            spare = self.width() - sum(b.natural_width() for b in row) - GAP_PX * (len(row) - 1)
            ones = max(sum(b.one for b in row), 1)
            x = 0.0
            for i, button in enumerate(row):
                grow = (
                    min(spare * (0.6 / ones if button.one else 0.4 / max(len(row) - ones, 1)), 220.0 if not button.one else 9e9) if spare > 0 else 0
                )
                wide = button.natural_width() + grow
                if i == len(row) - 1 and len(row) > 1:
                    wide = min(wide + 400, self.width() - x)
                button.setGeometry(round(x), y, round(wide), height)
                x += wide + GAP_PX
            y += height + 8
        total = max(y - 8, height)
        if total != self._height or self.minimumHeight() != total:
            self._height = total
            self.setFixedHeight(total)

    def resizeEvent(self, event: object) -> None:
        self._place()
        for button in self.buttons:
            button.update()

    def sizeHint(self) -> QSize:
        return QSize(400, self._height)
