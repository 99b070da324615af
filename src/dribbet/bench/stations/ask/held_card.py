"""What is held, as a card: the cup, the panel and the steps drawn, each figure at its place and changed there."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.parts.base import DrawnPart as Drawn
from dribbet.bench.parts.base import Words, draw_text, scroller
from dribbet.bench.parts.cup import CupView, draw_cup
from dribbet.bench.parts.margin import clear
from dribbet.bench.stations.ask.flow import PartButton
from dribbet.bench.theme.inks import BLACK, PAPER
from dribbet.bench.theme.patterns import hatch, solid

if TYPE_CHECKING:
    from collections.abc import Callable

    from PyQt6.QtGui import QPainter, QResizeEvent

    from dribbet.bench.stations.ask.view import HeldGroup, HeldView
    from dribbet.words.parts import Part

VALUE_PX = 16
LABEL_PX = 150
PICTURE_PX = 84
TWO_COLUMNS_PX = 700
BETWEEN_PX = 28
BAR_PX = 24  # the scroll bar and its edge


class Picture(Drawn):
    """The head of a group: a cup with its layers, a panel with its base, or the steps on one line."""

    def __init__(self) -> None:
        super().__init__()
        self.view: HeldView | None = None
        self.kind = ""
        self.setFixedSize(PICTURE_PX, PICTURE_PX)

    def show_held(self, kind: str, view: HeldView) -> None:
        """Draw another head."""
        self.kind, self.view = kind, view
        self.name({"cup": "The cup", "panel": "The panel", "steps": "The steps"}.get(kind, "Room and studio"))
        self.update()

    def draw(self, p: QPainter) -> None:
        if self.view is None:
            return
        room = QRectF(self.rect()).adjusted(6, 4, -6, -4)
        if self.kind == "cup":
            draw_cup(p, room.adjusted(10, 0, -10, 0), CupView(layers=self.view.layers), PAPER)
        elif self.kind == "panel":
            wide, high = self.view.panel_mm
            scale = min(room.width() / wide, room.height() / high)
            box = QRectF(0, 0, wide * scale, high * scale)
            box.moveCenter(room.center())
            if self.view.has_base:
                hatch(p, box, PAPER.rule, gap=6)
            p.setPen(solid(BLACK, 2.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(box) if self.view.round else p.drawRect(box)
        elif self.kind == "steps":
            y = room.center().y()
            p.setPen(solid(BLACK, 3))
            p.drawLine(int(room.left()), int(y), int(room.right()), int(y))
            p.setBrush(PAPER.ground)
            for i in range(5):
                p.drawEllipse(QRectF(room.left() + room.width() * i / 4 - 6, y - 6, 12, 12))
        else:
            draw_text(p, room, self.view.room, 17, 700, BLACK, Qt.AlignmentFlag.AlignHCenter, wrap=True)


class HeldRow:
    """A label, and the figure that can be changed: beside it, or below it where it is long."""

    def __init__(self, grid: QGridLayout, at: int, label: str, button: PartButton) -> None:
        self._grid, self._at, self._below = grid, 2 * at, False
        self.said, self.button = Words(label, 15, role="note"), button
        button.setMinimumHeight(44)
        grid.addWidget(self.said, self._at, 0, Qt.AlignmentFlag.AlignVCenter)
        grid.addWidget(button, self._at, 1, Qt.AlignmentFlag.AlignLeft)
        self.said.setFixedWidth(LABEL_PX)

    def show_part(self, part: Part, *, fixed: bool, wide: int) -> None:
        """Show another figure in a column of this width."""
        self.button.set_part(part, VALUE_PX, hand=False, fixed=fixed)
        natural, beside = self.button.natural_width(), wide - LABEL_PX - self._grid.horizontalSpacing()
        below = natural > beside
        if below != self._below:
            self._below = below
            self.said.setFixedWidth(wide if below else LABEL_PX)
            self.said.setMinimumHeight(28 if below else 0)
            self._grid.addWidget(self.said, self._at, 0, 1, 2 if below else 1, Qt.AlignmentFlag.AlignVCenter)
            self._grid.addWidget(self.button, self._at + below, 0 if below else 1, 1, 2 if below else 1, Qt.AlignmentFlag.AlignLeft)
        self.button.setFixedWidth(min(natural, wide if below else beside))


class HeldCard(QWidget):
    """All constants in groups; a press on a figure opens it where it stands.

    Rows stay while the same things are held: only what changed is shown anew.
    """

    def __init__(self, open_part: Callable[[PartButton], None]) -> None:
        super().__init__()
        self._open = open_part
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        inner = QWidget()
        self.columns = QHBoxLayout(inner)
        self.columns.setContentsMargins(0, 4, 8, 0)
        self.columns.setSpacing(BETWEEN_PX)
        outer.addWidget(scroller(inner))
        self._rows: list[HeldRow] = []
        self._pictures: list[Picture] = []
        self._built: tuple[object, ...] = ()
        self._shown: tuple[HeldView, int] | None = None

    @property
    def buttons(self) -> list[PartButton]:
        """The figures, from the first group to the last."""
        return [row.button for row in self._rows]

    def show_held(self, view: HeldView) -> None:
        """Show what is held now: two columns, or one below the other where there is little width."""
        columns = 1 if self.width() < TWO_COLUMNS_PX else 2
        wide = (self.width() - (columns - 1) * BETWEEN_PX - BAR_PX) // columns
        if (view, wide) == self._shown:
            return
        self._shown = view, wide
        built = (columns, tuple((g.kind, g.head, tuple((label, part.id) for label, part in g.rows)) for g in view.groups))
        if built != self._built:
            self._built = built
            self._build(view, columns)
        for picture, group in zip(self._pictures, view.groups, strict=True):
            picture.show_held(group.kind, view)
        parts = [part for group in view.groups for _, part in group.rows]
        for row, part in zip(self._rows, parts, strict=True):
            row.show_part(part, fixed=view.fixed, wide=wide)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if self._shown is not None and self.isVisible():
            self.show_held(self._shown[0])

    def _build(self, view: HeldView, columns: int) -> None:
        clear(self.columns)
        self._rows, self._pictures = [], []
        halves = (view.groups,) if columns == 1 else (view.groups[:1], view.groups[1:])
        for half in halves:
            column = QVBoxLayout()
            column.setSpacing(10)
            for group in half:
                self._group(column, group, view.fixed)
            column.addStretch(1)
            self.columns.addLayout(column, 1)

    def _group(self, column: QVBoxLayout, group: HeldGroup, fixed: bool) -> None:
        head = QHBoxLayout()
        self._pictures.append(Picture())
        head.addWidget(self._pictures[-1])
        head.addWidget(Words(group.head, 20, 700), 1, Qt.AlignmentFlag.AlignVCenter)
        column.addLayout(head)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(0)
        for at, (label, part) in enumerate(group.rows):
            button = PartButton(part, VALUE_PX, hand=False, fixed=fixed)
            button.clicked.connect(partial(self._press, button))
            self._rows.append(HeldRow(grid, at, label, button))
        grid.setColumnStretch(1, 1)
        column.addLayout(grid)

    def _press(self, button: PartButton, _: bool = False) -> None:
        self._open(button)
