"""The rack on the page: posts and shelves, rows of cups, codes hanging under them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from dribbet.bench.parts.base import Part as Drawn
from dribbet.bench.parts.base import Words, draw_text
from dribbet.bench.parts.cup import CupGlyph
from dribbet.bench.parts.tape import Tape, TapeLabel
from dribbet.bench.stations.ask.view import AskView
from dribbet.bench.theme.inks import BLACK
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.bench.theme.type import width

if TYPE_CHECKING:
    from dribbet.bench.stations.ask.view import RackCup


LEAST_CUP_PX = 26


class Rack(Drawn):
    """Posts and shelves under rows of cups."""

    def __init__(self) -> None:
        super().__init__()
        self.shelves: list[float] = []

    def draw(self, p: QPainter) -> None:
        p.setPen(solid(self.inks.ink, 6))
        if not self.shelves:
            return
        p.drawLine(QPointF(3, 0), QPointF(3, self.height()))
        p.drawLine(QPointF(self.width() - 3, 0), QPointF(self.width() - 3, self.height()))
        for y in self.shelves:
            p.drawLine(QPointF(0, y), QPointF(self.width(), y))


class RackCell(QWidget):
    """One recipe: its cups, and the codes of its panels."""

    def __init__(self, cup: RackCup, width_px: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.cup = cup
        self.glyph = CupGlyph(cup.view, width_px)
        self.glyph.setParent(self)
        self.glyph.name(cup.codes[0], cup.words)
        shown = cup.codes[:2]
        self.codes = [TapeLabel(code, 15, Tape.OTHER) for code in shown]
        for label in self.codes:
            label.setParent(self)
        self.more = len(cup.codes) - len(shown)
        self.setAccessibleName(cup.words)
        self.setToolTip("")

    def show_cup(self, cup: RackCup) -> bool:
        """Show another cup with the same codes in place; False where the cell must be made anew."""
        if cup.codes != self.cup.codes or bool(cup.view.stick) != bool(self.cup.view.stick):
            return False
        if cup != self.cup:
            self.cup = cup
            self.glyph.view = cup.view
            self.glyph.name(cup.codes[0], cup.words)
            self.glyph.update()
            self.setAccessibleName(cup.words)
        return True

    def arrange(self, wide: int, shelf_y: int) -> None:
        """Cups stand on the shelf, codes hang under it."""
        self.glyph.move(max(0, (wide - self.glyph.width()) // 2), shelf_y - self.glyph.height() + 3)
        total = sum(c.width() for c in self.codes) + 8 * (len(self.codes) - 1)
        if total <= wide:
            x = (wide - total) // 2
            for label in self.codes:
                label.move(x, shelf_y + 6)
                x += label.width() + 8
        else:
            for label in self.codes[1:]:
                label.hide()
            self.codes[0].move(max(0, (wide - self.codes[0].width()) // 2), shelf_y + 6)


class RackArea(QWidget):
    """Column heads, row heads, rack and cups, arranged to the room there is."""

    HEAD = 130

    def __init__(self) -> None:
        super().__init__()
        self.view = AskView()
        self.rack = Rack()
        self.rack.setParent(self)
        self.cells: list[list[RackCell | None]] = []
        self.heads: list[Words] = []
        self.setMinimumHeight(190)

    def show_view(self, view: AskView) -> None:
        if view.rows == self.view.rows and view.columns == self.view.columns and view.column_head == self.view.column_head:
            return
        before, self.view = self.view, view
        if not self._in_place(before):
            self._build()
            self.update()
        elif (view.columns, view.column_head) != (before.columns, before.column_head):
            self.update(0, 0, self.width(), 46)

    def _in_place(self, before: AskView) -> bool:
        """Change what the cells show where rows, columns and codes are the same."""
        now = self.view
        if [(r.head, r.note, len(r.cups)) for r in now.rows] != [(r.head, r.note, len(r.cups)) for r in before.rows]:
            return False
        if len(now.columns) != len(before.columns) or len(self.cells) != len(now.rows):
            return False
        pairs = [(cell, cup) for made, row in zip(self.cells, now.rows, strict=True) for cell, cup in zip(made, row.cups, strict=True)]
        if any((cell is None) != (cup is None) for cell, cup in pairs):
            return False
        return all(cell.show_cup(cup) for cell, cup in pairs if cell is not None and cup is not None)

    def _cup_px(self) -> int:
        rows = max(len(self.view.rows), 1)
        columns = max(len(self.view.columns), 1)
        per_row = (self.height() - 50) / rows - 34
        per_column = (self.width() - self.HEAD - 20) / columns
        return int(max(LEAST_CUP_PX, min(110, per_row / 2.3, per_column / 2.25)))

    def _build(self) -> None:
        for row in self.cells:
            for cell in row:
                if cell is not None:
                    cell.hide()
                    cell.deleteLater()
        for head in self.heads:
            head.hide()
            head.deleteLater()
        self.cells, self.heads = [], []
        px = self._cup_px()
        for row in self.view.rows:
            self.cells.append([RackCell(cup, px, self) if cup is not None else None for cup in row.cups])
        crowded = len(self.view.rows) > 2
        for row in self.view.rows:
            note = "" if crowded and row.head and row.head != "Besides" else row.note
            small = f"<br><span style='font-size:{14 if crowded else 15}px'>{note}</span>" if note else ""
            label = Words(f"<b>{row.head}</b>{small}" if row.head else note, 15 if crowded else 17, inks=self.rack.inks, role="ink")
            label.setParent(self)
            self.heads.append(label)
        for made in self.cells:
            for cell in made:
                if cell is not None:
                    cell.show()
        for label in self.heads:
            label.show()
        self._arrange()
        self.update()

    def _arrange(self) -> None:
        rows = max(len(self.view.rows), 1)
        columns = max(len(self.view.columns), 1)
        wide = (self.width() - self.HEAD - 16) // columns
        tall = (self.height() - 44) // rows
        self.rack.setGeometry(self.HEAD - 6, 50, self.width() - self.HEAD + 6, self.height() - 50)
        shelves = []
        for r, row in enumerate(self.cells):
            shelf_y = 44 + (r + 1) * tall - 40
            shelves.append(float(shelf_y - 50 + 2))
            for c, cell in enumerate(row):
                if cell is not None:
                    cell.setGeometry(self.HEAD + 4 + c * wide, 44, wide, self.height() - 44)
                    cell.arrange(wide, shelf_y - 44)
            if r < len(self.heads):
                room = min(tall - 4, 130)
                self.heads[r].setGeometry(0, shelf_y + 36 - room, self.HEAD - 14, room)
        self.rack.shelves = shelves
        self.rack.lower()
        self.rack.update()

    def resizeEvent(self, event: object) -> None:
        first = next((cell for row in self.cells for cell in row if cell is not None), None)
        if first is not None and abs(first.glyph._cup_width - self._cup_px()) > 2:
            self._build()
        else:
            self._arrange()

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        columns = max(len(self.view.columns), 1)
        wide = (self.width() - self.HEAD - 16) / columns
        draw_text(p, QRectF(0, 2, self.HEAD - 8, 42), self.view.column_head, 15, 700, BLACK, Qt.AlignmentFlag.AlignLeft, wrap=True)
        for i, text in enumerate(self.view.columns):
            px = 28
            while px > 16 and width(text, px, 700) > wide - 8:
                px -= 1
            draw_text(p, QRectF(self.HEAD + 4 + i * wide, 0, wide, 42), text, px, 700, BLACK, Qt.AlignmentFlag.AlignHCenter, wrap=px == 16)
        p.setPen(dashed(self.rack.inks.off, 1.4))
        p.setBrush(Qt.BrushStyle.NoBrush)
        tall = (self.height() - 44) // max(len(self.view.rows), 1)
        cup = self._cup_px()
        for r, (row, made) in enumerate(zip(self.view.rows, self.cells, strict=True)):
            if row.head == "Besides":
                continue
            for c, cell in enumerate(made):
                if cell is None:  # a recipe of the whole that is not poured
                    middle, shelf = self.HEAD + 4 + (c + 0.5) * wide, 44 + (r + 1) * tall - 40
                    p.drawRect(QRectF(middle - cup * 0.35, shelf - cup * 1.1, cup * 0.7, cup * 1.06))
        p.end()
