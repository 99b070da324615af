"""The rack on the page: posts and shelves, rows of cups, codes hanging under them; as many rows and columns as the test needs."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from dribbet.bench.parts.base import DrawnPart as Drawn
from dribbet.bench.parts.base import draw_text
from dribbet.bench.parts.cup import CupGlyph
from dribbet.bench.parts.tape import Tape, TapeLabel, strip_size
from dribbet.bench.stations.ask.view import AskView
from dribbet.bench.theme.inks import BLACK
from dribbet.bench.theme.patterns import dashed, solid
from dribbet.bench.theme.type import width

if TYPE_CHECKING:
    from dribbet.bench.stations.ask.view import RackCup, RackRow

LEAST_CUP_PX, MOST_CUP_PX = 26, 110
MOST_ROW_PX = 330  # taller rows would only hold air
CODE_ROOM = 34  # shelf, and the codes that hang under it
PLAIN_HEAD, LINE_HEAD = 42, 20  # height of one large line of levels, and of each small one
NARROW_PX = 640  # racks narrower than this give their columns what the heads can spare
BESIDES = "Besides"


class Rack(Drawn):
    """Posts and shelves under rows of cups."""

    def __init__(self) -> None:
        super().__init__()
        self.shelves: list[float] = []

    def draw(self, p: QPainter) -> None:
        thick = 6 if len(self.shelves) < 3 else 4
        p.setPen(solid(self.inks.ink, thick))
        if not self.shelves:
            return
        p.drawLine(QPointF(3, 0), QPointF(3, self.height()))
        p.drawLine(QPointF(self.width() - 3, 0), QPointF(self.width() - 3, self.height()))
        for y in self.shelves:
            p.drawLine(QPointF(0, y), QPointF(self.width(), y))


def _code_px(cup_px: int) -> int:
    """Size of the codes under cups of this width."""
    return 15 if cup_px > 34 else 14


class RackCell(QWidget):
    """One recipe: its cups, and the codes of its panels."""

    def __init__(self, cup: RackCup, width_px: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.cup = cup
        self.glyph = CupGlyph(cup.view, width_px)
        self.glyph.setParent(self)
        self.glyph.name(cup.codes[0], cup.words)
        self.codes = [TapeLabel(code, _code_px(width_px), Tape.OTHER) for code in cup.codes[:2]]
        for label in self.codes:
            label.setParent(self)
        self.setAccessibleName(cup.words)
        self.setToolTip("")

    def set_width(self, width_px: int) -> None:
        """Show the same in another size."""
        self.glyph.set_width(width_px)
        for label in self.codes:
            label.set_px(_code_px(width_px))

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
        full = max(strip_size(code, label.px).width() for code, label in zip(self.cup.codes, self.codes, strict=False)) <= wide
        for code, label in zip(self.cup.codes, self.codes, strict=False):
            label.set_code(code if full else code.split("-")[-1], Tape.OTHER)  # the series stands on the rail
        total = sum(c.width() for c in self.codes) + 8 * (len(self.codes) - 1)
        if total <= wide:
            x = (wide - total) // 2
            for label in self.codes:
                label.show()
                label.move(x, shelf_y + 5)
                x += label.width() + 8
        else:
            for label in self.codes[1:]:
                label.hide()
            self.codes[0].move(max(0, (wide - self.codes[0].width()) // 2), shelf_y + 5)


class RackArea(QWidget):
    """Column heads, row heads, rack and cups, arranged to the room there is."""

    def __init__(self) -> None:
        super().__init__()
        self.view = AskView()
        self.low = False
        """Whether there is little height, so that two rows need bare cups too."""
        self.rack = Rack()
        self.rack.setParent(self)
        self.cells: list[list[RackCell | None]] = []

    # ------------------------------------------------------------ sizes

    @property
    def crowded(self) -> bool:
        """Whether small type and bare cups are needed."""
        return (self.low and len(self.view.rows) > 1) or len(self.view.rows) > 2 or len(self.view.column_lines) > 1 or len(self.view.columns) > 5

    def _head_px(self) -> int:
        """Width of the heads of the rows."""
        return 92 if len(self.view.columns) > 4 and self.width() < NARROW_PX else 130

    def _top(self) -> int:
        lines = len(self.view.column_lines)
        return PLAIN_HEAD if lines <= 1 else LINE_HEAD * lines + 4

    def _wide(self) -> float:
        return (self.width() - self._head_px() - 16) / max(len(self.view.columns), 1)

    def _tall(self) -> float:
        return min((self.height() - self._top()) / max(len(self.view.rows), 1), MOST_ROW_PX)

    def _tallness(self) -> float:
        """Height of a cup with what reaches over it, for one of its width."""
        return 1.22 * (1.1 if self.crowded else 1.62)

    def _cup_px(self) -> int:
        by_height = (self._tall() - CODE_ROOM - 12) / self._tallness()
        by_width = self._wide() / (1.3 if self.crowded else 2.25)
        return int(max(LEAST_CUP_PX, min(MOST_CUP_PX, by_height, by_width)))

    def least_height(self) -> int:
        """Height below which rows would overlap."""
        least = LEAST_CUP_PX if self.crowded else 40
        return round(self._top() + len(self.view.rows) * (least * self._tallness() + 12 + CODE_ROOM))

    # ------------------------------------------------------------ what is shown

    def set_low(self, low: bool) -> None:
        """Say whether there is little height."""
        if low != self.low:
            self.low = low
            if self.view.rows:
                self._build()
                self.update()

    def show_view(self, view: AskView) -> None:
        """Show other recipes; cells that stay the same build are changed in place."""
        now = self.view
        same_head = (view.columns, view.column_head, view.column_lines) == (now.columns, now.column_head, now.column_lines)
        if view.rows == now.rows and same_head:
            return
        self.view = view
        if not self._in_place(now.rows):
            self._build()
            self.update()
        elif not same_head:
            self.update(0, 0, self.width(), self._top() + 2)

    def _in_place(self, before: tuple[RackRow, ...]) -> bool:
        """Change what the cells show where rows, columns and codes are the same."""
        rows = self.view.rows
        if [(r.head, r.note, len(r.cups)) for r in rows] != [(r.head, r.note, len(r.cups)) for r in before] or len(self.cells) != len(rows):
            return False
        pairs = [(cell, cup) for made, row in zip(self.cells, rows, strict=True) for cell, cup in zip(made, row.cups, strict=True)]
        if any((cell is None) != (cup is None) for cell, cup in pairs):
            return False
        return all(cell.show_cup(self._bare(cup)) for cell, cup in pairs if cell is not None and cup is not None)

    def _bare(self, cup: RackCup) -> RackCup:
        """Cup as it is drawn here: in a crowded rack without stick and without its repeats behind."""
        if not self.crowded:
            return cup
        from dataclasses import replace

        return replace(cup, view=replace(cup.view, stick=None, behind=0))

    def _build(self) -> None:
        for row in self.cells:
            for cell in row:
                if cell is not None:
                    cell.hide()
                    cell.deleteLater()
        self.cells = []  # the next line may resize this, which arranges what is there
        self.setMinimumHeight(self.least_height())
        px = self._cup_px()
        self.cells = [[RackCell(self._bare(cup), px, self) if cup is not None else None for cup in row.cups] for row in self.view.rows]
        for made in self.cells:
            for cell in made:
                if cell is not None:
                    cell.show()
        self._arrange()

    def _shelf_y(self, row: int) -> float:
        return self._top() + (row + 1) * self._tall() - CODE_ROOM

    def _arrange(self) -> None:
        wide, top = self._wide(), self._top()
        self.rack.setGeometry(self._head_px() - 6, top + 6, self.width() - self._head_px() + 6, round(self._tall() * max(len(self.view.rows), 1)) - 6)
        shelves = []
        for r, row in enumerate(self.cells):
            shelf_y = round(self._shelf_y(r))
            shelves.append(float(shelf_y - top - 6 + 2))
            row_top = round(top + r * self._tall())
            for c, cell in enumerate(row):
                if cell is not None:
                    cell.setGeometry(round(self._head_px() + 4 + c * wide), row_top, round(wide), round(self._tall()) + 1)
                    cell.arrange(round(wide), shelf_y - row_top)
        self.rack.shelves = shelves
        self.rack.lower()
        self.rack.update()

    def resizeEvent(self, event: object) -> None:
        px = self._cup_px()
        for cell in (cell for row in self.cells for cell in row if cell is not None and abs(cell.glyph.cup_px - px) > 1):
            cell.set_width(px)
        self._arrange()

    # ------------------------------------------------------------ heads

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        if len(self.view.column_lines) > 1:
            self._line_heads(p)
        else:
            self._plain_heads(p)
        self._row_heads(p)
        self._not_poured(p)
        p.end()

    def _plain_heads(self, p: QPainter) -> None:
        draw_text(p, QRectF(0, 2, self._head_px() - 8, PLAIN_HEAD), self.view.column_head, 15, 700, BLACK, Qt.AlignmentFlag.AlignLeft, wrap=True)
        wide = self._wide()
        longest = max(self.view.columns, key=lambda t: width(t, 28, 700), default="")
        px = next((px for px in range(28, 14, -1) if width(longest, px, 700) <= wide - 8), 14)
        for i, text in enumerate(self.view.columns):
            room = QRectF(self._head_px() + 4 + i * wide, 0, wide, PLAIN_HEAD)
            draw_text(p, room, text, px, 700, BLACK, Qt.AlignmentFlag.AlignHCenter, wrap=px == 14)

    def _line_heads(self, p: QPainter) -> None:
        """One line for each thing along the columns, the slowest on top; a level spans its columns."""
        wide = self._wide()
        for line, (name, levels) in enumerate(self.view.column_lines):
            y = line * LINE_HEAD
            draw_text(p, QRectF(0, y, self._head_px() - 10, LINE_HEAD), name, 14, 400, self.rack.inks.note)
            x = self._head_px() + 4.0
            fits = all(width(text, 14, 700) <= span * wide - 6 for text, _, span in levels)
            for text, short, span in levels:
                room = QRectF(x, y, span * wide - 6, LINE_HEAD)
                shown = text if fits else short
                draw_text(p, room, shown, 14, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
                if span > 1:
                    p.setPen(solid(BLACK, 1.2))
                    p.drawLine(QPointF(x + 4, y + LINE_HEAD - 1), QPointF(x + span * wide - 10, y + LINE_HEAD - 1))
                x += span * wide

    def _row_heads(self, p: QPainter) -> None:
        for r, row in enumerate(self.view.rows):
            shelf, tall = self._shelf_y(r), self._tall()
            room = QRectF(0, shelf + 6 - min(tall - 8, 110), self._head_px() - 14, min(tall - 8, 110))
            bottom = Qt.AlignmentFlag.AlignBottom
            if self.crowded:
                draw_text(p, room, row.head, 15, 700, BLACK, bottom, wrap=True)
                if row.head == BESIDES:
                    poured = sum(c is not None for c in row.cups)
                    left = self._head_px() + 10 + poured * self._wide()
                    note = QRectF(left, shelf - min(tall - 40, 60), self.width() - left - 10, min(tall - 40, 60) - 4)
                    draw_text(p, note, row.note, 14, 400, self.rack.inks.note, bottom, wrap=True)
                continue
            note = QRectF(room.left(), room.bottom() - 62, room.width(), 62)
            top = room.bottom()
            if row.note:
                top = draw_text(p, note, row.note, 15, 400, BLACK if not row.head else self.rack.inks.note, bottom, wrap=True).top()
            if row.head:
                draw_text(p, QRectF(0, top - 48, self._head_px() - 14, 46), row.head, 17, 700, BLACK, bottom, wrap=True)

    def _not_poured(self, p: QPainter) -> None:
        """Outline where a recipe of the whole is not poured."""
        p.setPen(dashed(self.rack.inks.off, 1.4))
        p.setBrush(Qt.BrushStyle.NoBrush)
        cup, wide = self._cup_px(), self._wide()
        for r, (row, made) in enumerate(zip(self.view.rows, self.cells, strict=True)):
            for c, cell in enumerate(made):
                if cell is None and row.head != BESIDES:
                    middle, shelf = self._head_px() + 4 + (c + 0.5) * wide, self._shelf_y(r)
                    p.drawRect(QRectF(middle - cup * 0.3, shelf - cup * 0.9, cup * 0.6, cup * 0.86))
