"""Ask: the page. A sentence to edit, cups on a rack, the honest margin. Not a form."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QLayout, QLayoutItem, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Part as Drawn
from dribbet.bench.parts.base import Words, draw_focus, draw_text, scroller
from dribbet.bench.parts.cup import CupGlyph
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import RemarkRow, clear
from dribbet.bench.parts.tape import Tape, TapeLabel, draw_strip
from dribbet.bench.stations.ask.presenter import AskPresenter, AskView, Part, RackCup
from dribbet.bench.theme.inks import BLACK, STICK_MEDIUM
from dribbet.bench.theme.patterns import solid, waves
from dribbet.bench.theme.type import font, width

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.bench.studio import Studio


class Flow(QLayout):
    """Words and parts in lines, as a sentence breaks."""

    def __init__(self, lead_px: int = 48) -> None:
        super().__init__()
        self._items: list[QLayoutItem] = []
        self._lead = lead_px
        self.setContentsMargins(0, 0, 0, 0)

    def set_lead(self, lead_px: int) -> None:
        """Set the height of a line."""
        self._lead = lead_px

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width_: int) -> int:
        return self._arrange(QRect(0, 0, width_, 0), move=False)

    def sizeHint(self) -> QSize:
        return QSize(600, self._arrange(QRect(0, 0, 600, 0), move=False))

    def minimumSize(self) -> QSize:
        return QSize(200, self._lead)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, move=True)

    def _arrange(self, rect: QRect, *, move: bool) -> int:
        x = y = 0
        for item in self._items:
            size = item.sizeHint()
            if x and x + size.width() > rect.width():
                x, y = 0, y + self._lead
            if move:
                item.setGeometry(QRect(rect.left() + x, rect.top() + y, size.width(), self._lead))
            x += size.width()
        return y + self._lead


class Said(Drawn):
    """Fixed words of the sentence."""

    def __init__(self, text: str, px: int) -> None:
        super().__init__()
        self.text, self.px = text, px
        self.name(text)

    def sizeHint(self) -> QSize:
        return QSize(round(width(self.text, self.px)), 48)

    def draw(self, p: QPainter) -> None:
        draw_text(p, QRectF(self.rect()), self.text, self.px, 400, self.inks.ink)


class PartButton(QAbstractButton):
    """A part of the sentence that can be chosen."""

    def __init__(self, part: Part, px: int, *, hand: bool, fixed: bool) -> None:
        super().__init__()
        self.part, self.px, self.hand, self.fixed = part, px, hand, fixed
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{part.id}: {part.text}")
        self.setEnabled(not fixed)

    def sizeHint(self) -> QSize:
        return QSize(round(width(self.part.text, self.px, 700)) + (2 if self.fixed else 38), 48)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Down):
            self.click()
        elif event is not None:
            event.ignore()

    def paintEvent(self, event: object) -> None:
        from dribbet.bench.theme.inks import PAPER

        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        if self.hand and not self.fixed:
            draw_strip(p, room, self.part.id, PAPER.tape, PAPER.crepe)
        p.setFont(font(self.px, 700))
        p.setPen(BLACK)
        text = QRectF(self.rect().left() if self.fixed else room.left() + 5, room.top(), room.width(), room.height() - 2)
        p.drawText(text, int(Qt.AlignmentFlag.AlignVCenter), self.part.text)
        if not self.fixed:
            right = room.right() - 6
            p.setPen(solid(BLACK, 2.6))
            y = room.center().y()
            p.drawPolyline([QPointF(right - 14, y - 3), QPointF(right - 8, y + 4), QPointF(right - 2, y - 3)])
            p.setPen(solid(BLACK, 2))
            p.drawLine(QPointF(room.left() + 5, room.bottom() - 3), QPointF(right, room.bottom() - 3))
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class Choice(QAbstractButton):
    """One thing a part may become."""

    def __init__(self, words: str, current: bool) -> None:
        super().__init__()
        self.words, self.current = words, current
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(words)
        self.setMinimumHeight(44)

    def sizeHint(self) -> QSize:
        return QSize(round(width(self.words, 18, 700)) + 40, 44)

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
        from dribbet.bench.theme.inks import PAPER

        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(4, 4, -4, -4)
        if self.current:
            draw_strip(p, room, self.words, PAPER.other_tape, PAPER.other_crepe)
        draw_text(p, room.adjusted(10, 0, 0, 0), self.words, 18, 700 if self.current else 500, BLACK)
        if self.hasFocus() or self.underMouse():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class Chooser(QWidget):
    """The list under a part, open only while it is used."""

    chosen = pyqtSignal(str, str)

    def __init__(self, parent: QWidget, part: Part) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.part = part
        self.setStyleSheet("background: #FAFAFA; border: 2px solid #121212;")
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 6)
        column.setSpacing(2)
        self.field: Field | None = None
        if part.choices:
            for value, words in part.choices:
                button = Choice(words, words == part.text)
                button.clicked.connect(partial(self._choose, value))
                column.addWidget(button)
        else:
            self.field = Field(part.id, width_px=320)
            self.field.setText(part.typed)
            self.field.selectAll()
            self.field.returnPressed.connect(lambda: self._choose(self.field.text() if self.field else ""))
            column.addWidget(self.field)

    def _choose(self, value: str, _: bool = False) -> None:
        self.close()
        self.chosen.emit(self.part.id, value)

    def open_at(self, at: QPoint) -> None:
        self.move(at)
        self.show()
        target = self.field or self.findChild(Choice)
        if target is not None:
            target.setFocus()


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
        self.cells: list[list[RackCell]] = []
        self.heads: list[Words] = []
        self.setMinimumHeight(230)

    def show_view(self, view: AskView) -> None:
        if view.rows == self.view.rows and view.columns == self.view.columns:
            return
        self.view = view
        self._build()

    def _cup_px(self) -> int:
        rows = max(len(self.view.rows), 1)
        columns = max(len(self.view.columns), 1)
        per_row = (self.height() - 50) / rows - 40
        per_column = (self.width() - self.HEAD - 20) / columns
        return int(max(40, min(110, per_row / 2.3, per_column / 2.25)))

    def _build(self) -> None:
        for row in self.cells:
            for cell in row:
                cell.hide()
                cell.deleteLater()
        for head in self.heads:
            head.hide()
            head.deleteLater()
        self.cells, self.heads = [], []
        px = self._cup_px()
        for _, _, cups in self.view.rows:
            self.cells.append([RackCell(cup, px, self) for cup in cups])
        for head, note, _ in self.view.rows:
            label = Words(f"<b>{head}</b><br><span style='font-size:15px'>{note}</span>" if head else note, 17, inks=self.rack.inks, role="ink")
            label.setParent(self)
            self.heads.append(label)
        for row in self.cells:
            for cell in row:
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
                cell.setGeometry(self.HEAD + 4 + c * wide, 44, wide, self.height() - 44)
                cell.arrange(wide, shelf_y - 44)
            if r < len(self.heads):
                self.heads[r].setGeometry(0, shelf_y - min(tall - 10, 96), self.HEAD - 14, 92)
        self.rack.shelves = shelves
        self.rack.lower()
        self.rack.update()

    def resizeEvent(self, event: object) -> None:
        if self.cells and self.cells[0] and abs(self.cells[0][0].glyph._cup_width - self._cup_px()) > 2:
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
            draw_text(p, QRectF(self.HEAD + 4 + i * wide, 0, wide, 42), text, px, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
        p.end()


class StickKey(Drawn):
    """What the stir stick's patterns mean."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(26)
        self.name("Stir stick: black paint, grey medium, waves thinner; rings are drops of silicone on the colour that gets them")

    def draw(self, p: QPainter) -> None:
        draw_text(p, QRectF(0, 0, 120, 26), "Stir stick", 15, 700, BLACK)
        x = 124.0
        for i, word in enumerate(("paint", "medium", "water or alcohol", "a drop of silicone, on its colour")):
            box = QRectF(x, 6, 24, 14)
            if i == 3:
                p.setPen(solid(BLACK, 2))
                p.setBrush(self.inks.card)
                p.drawEllipse(QPointF(x + 8, 13), 4.5, 4.5)
                x -= 8
            else:
                p.fillRect(box, (BLACK, STICK_MEDIUM, self.inks.card)[i])
                if i == 2:
                    waves(p, box, BLACK, gap=5)
                    p.setPen(solid(BLACK, 1.2))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawRect(box)
            draw_text(p, QRectF(x + 32, 0, 260, 26), word, 15, 400, self.inks.note)
            x += 50 + width(word, 15)


class CanShow(Drawn):
    """The smallest change this test can show, to scale on the panel."""

    def __init__(self) -> None:
        super().__init__()
        self.mm: float | None = None
        self.panel = (200.0, 150.0)
        self.words = ""
        self.setFixedHeight(94)

    def show_change(self, mm: float | None, panel: tuple[float, float], words: str) -> None:
        self.mm, self.panel, self.words = mm, panel, words
        self.setVisible(mm is not None)
        self.name(f"A change of {words} on the panel, to scale")
        self.update()

    def draw(self, p: QPainter) -> None:
        if self.mm is None:
            return
        scale = min((self.width() - 4) / self.panel[0], (self.height() - 4) / self.panel[1])
        room = QRectF(2, 2, self.panel[0] * scale, self.panel[1] * scale)
        p.fillRect(room, self.inks.card)
        p.setPen(solid(BLACK, 2))
        p.drawRect(room)
        shown = min(self.mm, self.panel[0] * 0.9) * scale
        left, y = room.center().x() - shown / 2, room.center().y() - 8
        p.setPen(solid(BLACK, 2))
        steps = 7
        p.drawPolyline([QPointF(left + shown * i / steps, y + (5 if i % 2 else -4) * (1 if 0 < i < steps else 0)) for i in range(steps + 1)])
        p.setPen(solid(BLACK, 1.5))
        p.drawLine(QPointF(left, y + 20), QPointF(left + shown, y + 20))
        for x in (left, left + shown):
            p.drawLine(QPointF(x, y + 15), QPointF(x, y + 25))
        draw_text(p, QRectF(room.left(), y + 24, room.width(), 22), self.words, 15, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)


class Costs(Drawn):
    """What the test takes of what there is, as filled bars."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[tuple[str, str, float], ...] = ()

    def show_costs(self, rows: tuple[tuple[str, str, float], ...]) -> None:
        self.rows = rows
        self.setFixedHeight(24 * len(rows))
        self.name("It costs", ", ".join(f"{a}: {b}" for a, b, _ in rows))
        self.update()

    def draw(self, p: QPainter) -> None:
        for i, (name, words, share) in enumerate(self.rows):
            y = i * 24.0
            draw_text(p, QRectF(0, y, 60, 22), name, 14, 400, self.inks.note)
            bar = QRectF(58, y + 4, 62, 14)
            p.fillRect(bar, self.inks.card)
            p.fillRect(QRectF(bar.left(), bar.top(), bar.width() * share, bar.height()), BLACK)
            p.setPen(solid(BLACK, 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(bar)
            draw_text(p, QRectF(128, y, self.width() - 128, 22), words, 14, 600, BLACK)


class AskPage(Page):
    """The question."""

    space_types = True

    def __init__(self, studio: Studio, jobs: Jobs) -> None:
        super().__init__(studio, jobs, column=True)
        self.presenter = AskPresenter(studio)
        self.view = AskView()
        self.hand = "factor"
        self._shown: dict[int, object] = {}
        self.question = QWidget()
        self.flow = Flow(46)
        self.question.setLayout(self.flow)
        self.body.addWidget(self.question)
        self.rack = RackArea()
        self.body.addWidget(self.rack, 1)
        self.expectation = QWidget()
        self.expect_flow = Flow(34)
        self.expectation.setLayout(self.expect_flow)
        self.body.addWidget(self.expectation)
        held = QHBoxLayout()
        held.setSpacing(12)
        self.held_head = Words("Held", 15, 700)
        self.held_head.setFixedWidth(112)
        self.held = Words("", 15, role="note")
        held.addWidget(self.held_head)
        held.addWidget(self.held, 1)
        self.body.addLayout(held)
        self.stick = StickKey()
        self.body.addWidget(self.stick)
        assert self.column is not None
        self.margin_head = Words("Honest margin", 20, 700)
        self.column.addWidget(self.margin_head)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 6, 0)
        column.setSpacing(7)
        self.first = QVBoxLayout()
        column.addLayout(self.first)
        self.can_show = CanShow()
        column.addWidget(self.can_show)
        self.rest = QVBoxLayout()
        self.rest.setSpacing(7)
        column.addLayout(self.rest)
        self.cost_head = Words("It costs", 15, 700)
        column.addWidget(self.cost_head)
        self.costs = Costs()
        column.addWidget(self.costs)
        column.addStretch(1)
        scroll = scroller(inner, self.inks)
        self.column.addWidget(scroll, 1)
        self.chooser: Chooser | None = None

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        for part in (self.question, self.rack, self.expectation, self.held_head, self.held, self.stick, self.cost_head, self.costs):
            part.setVisible(not v.empty)
        if v.empty:
            self.title("", "No question yet. Start with what you can change.")
            self.can_show.hide()
            self.remarks(self.rest, v.margin)
            self.keys([(Key("Enter", v.one_key), self.presenter.new_series)])
            return
        self.title("", "")
        self.flow.set_lead(36 if self.low else 46)
        self._say(self.flow, v.sentence, 24 if self.low else 32, v.drawn)
        self._say(self.expect_flow, v.expectation, 18, False)
        self.rack.show_view(v)
        self.held.say(v.held)
        self.stick.setVisible(not self.low)
        clear(self.first)
        if v.margin:
            self.first.addWidget(RemarkRow(v.margin[0], self.inks))
        self.can_show.show_change(v.show_mm, v.panel_mm, self.studio.units.length_text(v.show_mm or 0.0))
        self.remarks(self.rest, v.margin[1:])
        self.costs.show_costs(v.costs)
        if v.drawn:
            keys = [(Key("Enter", v.one_key), lambda: self.go.emit("mix"))]
            keys.append(
                (Key("Z", "Take the lots back", why_not="" if v.can_take_back else "Work on these lots has begun."), self.presenter.take_back_lots)
            )
        else:
            keys = [
                (Key("Enter", v.one_key), self.presenter.draw_lots),
                (Key("R", "Add a repeat"), lambda: self.presenter.add_repeat(1)),
                (Key("T", "Fewer panels"), lambda: self.presenter.add_repeat(-1)),
                (Key("H", "What is held"), self._held),
            ]
        self.keys(keys)

    def _say(self, flow: Flow, words: tuple[str | Part, ...], px: int, fixed: bool) -> None:
        key = (words, px, fixed, self.hand)
        if self._shown.get(id(flow)) == key:
            return
        self._shown[id(flow)] = key
        while flow.count():
            item = flow.takeAt(0)
            if item is not None and (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        for piece in words:
            if isinstance(piece, Part):
                button = PartButton(piece, px, hand=piece.id == self.hand, fixed=fixed)
                button.clicked.connect(partial(self._open, button))
                flow.addWidget(button)
            else:
                for i, word in enumerate(piece.split(" ")):
                    if word:
                        flow.addWidget(Said((" " if i == 1 and piece[0] == " " and fixed else "") + word + " ", px))
        flow.invalidate()
        flow.activate()

    def _open(self, button: PartButton, _: bool = False) -> None:
        self.hand = button.part.id
        self.open_chooser(button.part, button.mapToGlobal(QPoint(0, button.height())))

    def open_chooser(self, part: Part, at: QPoint) -> Chooser:
        """Open the list (or field) of a part."""
        self.chooser = Chooser(self, part)
        self.chooser.chosen.connect(self._chosen)
        self.chooser.open_at(at)
        return self.chooser

    def _held(self) -> None:
        self.open_chooser(self.presenter.held_list(), self.mapToGlobal(QPoint(20, 16)))

    def _chosen(self, part: str, value: str) -> None:
        if part == "held":
            self.open_chooser(self.presenter.held_part(value), self.mapToGlobal(QPoint(20, 16)))
        else:
            self.attempt(lambda: self.presenter.choose(part, value))
