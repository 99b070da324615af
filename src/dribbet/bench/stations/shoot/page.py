"""Shoot: the page. The photo with its corners, lamps drawn where they stand, verdicts as sentences."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QDragEnterEvent, QDropEvent, QFontMetricsF, QImage, QPainter, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QFileDialog, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import DrawnPart, Words, draw_focus, draw_text
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.photo_stage import PhotoStage
from dribbet.bench.parts.tape import Tape, draw_code, draw_strip
from dribbet.bench.pictures import Pictures, load_photo
from dribbet.bench.stations.shoot.presenter import Inspected, ShootPresenter, ShootView, glare_at, inspect
from dribbet.bench.theme.inks import BLACK, WALL, Inks
from dribbet.bench.theme.patterns import polyline, solid
from dribbet.bench.theme.type import font
from dribbet.records import OF_CORNERS, Lamp, Panel, Report
from dribbet.sight.load import SUFFIXES
from dribbet.studio.standing.again import Next
from dribbet.words import shoot as words
from dribbet.words.photo import Fitness

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.bench.stations.shoot.presenter import ShotAim
    from dribbet.studio.desk import Desk


IN_A_ROW: Final = 6  # keys that fit beside each other in every window


class LampSketch(DrawnPart):
    """A lamp where it stands: above for diffuse, left, right."""

    def __init__(self, lamp: Lamp, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.lamp, self.state = lamp, "-"
        self.setFixedSize(112, 118)

    def show_state(self, state: str) -> None:
        self.state = state
        self.name(f"Lamp {self.lamp}", {"-": "not taken"}.get(state, state))
        self.update()

    def draw(self, p: QPainter) -> None:
        now = self.state == "now"
        colour = self.inks.tape if now else self.inks.ink
        p.save()
        p.translate(56, 34)
        p.rotate({Lamp.LEFT: -90, Lamp.RIGHT: 90}.get(self.lamp, 0))
        if self.lamp is Lamp.EDGE:
            self._draw_board(p, colour, now=now)
            p.restore()
            self._draw_words(p, now=now)
            return
        p.setPen(solid(BLACK if now else colour, 2))
        p.setBrush(colour)
        p.drawPolygon(QPolygonF([QPointF(-11, -12), QPointF(11, -12), QPointF(11, 2), QPointF(26, 20), QPointF(-26, 20), QPointF(-11, 2)]))
        p.setPen(solid(colour, 3))
        p.drawLine(QPointF(0, -12), QPointF(0, -26))
        if now:
            for x in (-20, -7, 7, 20):
                p.drawLine(QPointF(x, 25), QPointF(x * 1.5, 36))
        p.restore()
        self._draw_words(p, now=now)

    def _draw_board(self, p: QPainter, colour: QColor, *, now: bool) -> None:
        """A lit board, and the panel with one half of it mirrored."""
        p.setPen(solid(BLACK if now else colour, 2))
        p.setBrush(colour)
        p.drawRect(QRectF(-30, -26, 30, 22))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(QRectF(-38, 8, 76, 26))
        p.fillRect(QRectF(-36, 10, 36, 22), colour)
        if now:
            p.setPen(solid(colour, 3))
            for x in (-24, -12):
                p.drawLine(QPointF(x, 0), QPointF(x, 6))

    def _draw_words(self, p: QPainter, *, now: bool) -> None:
        draw_text(p, QRectF(0, 74, 112, 24), str(self.lamp), 18, 600, self.inks.ink, Qt.AlignmentFlag.AlignHCenter)
        words = {"taken": "taken", "now": "now", "later": "to come", "-": "not needed"}[self.state]
        if self.state == "taken":
            p.setPen(solid(self.inks.ink, 2.6))
            polyline(p, [QPointF(24, 108), QPointF(29, 113), QPointF(38, 102)])
        draw_text(
            p,
            QRectF(14 if self.state == "taken" else 0, 96, 112, 22),
            words,
            15,
            600 if now else 400,
            self.inks.tape if now else self.inks.note,
            Qt.AlignmentFlag.AlignHCenter,
        )


class Verdict(DrawnPart):
    """One verdict on the photo; on tape where it is in the way."""

    def __init__(self, inks: Inks = WALL) -> None:
        super().__init__(inks)
        self.fitness = Fitness("", "", True)
        self.setMinimumSize(150, 84)

    def sizeHint(self) -> QSize:
        return QSize(260, 88)

    def show_verdict(self, fitness: Fitness) -> None:
        self.fitness = fitness
        self.name(f"{fitness.head}: {fitness.words}", "fine" if fitness.fine else "needs you")
        self._make_room()
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._make_room()

    def _make_room(self) -> None:
        """As tall as the words are at this width: four verdicts side by side are narrow."""
        column = QRectF(0.0, 0.0, max(60.0, self.width() - 22.0), 1e4)
        words = QFontMetricsF(font(15, 400)).boundingRect(column, int(Qt.TextFlag.TextWordWrap.value), self.fitness.words)
        self.setMinimumHeight(max(84, round(32 + words.height() + 10)))

    def draw(self, p: QPainter) -> None:
        f, ink, left = self.fitness, self.inks.ink, 0.0
        if not f.fine:
            draw_strip(p, QRectF(self.rect()), f.head, self.inks.tape, self.inks.crepe)
            ink, left = BLACK, 14.0
        else:
            p.setPen(solid(ink, 2.8))
            polyline(p, [QPointF(1, 16), QPointF(7, 23), QPointF(18, 8)])
        draw_text(p, QRectF(left + (24 if f.fine else 0), 2, self.width(), 28), f.head, 19, 700, ink)
        box = QRectF(left, 32, self.width() - left - 8, self.height() - 32)
        draw_text(
            p, box, f.words, 15, 400, BLACK if not f.fine else self.inks.note, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, wrap=True
        )


class DueCode(QAbstractButton):
    """A panel that wants a photo."""

    chosen = pyqtSignal(str)

    def __init__(self, panel_id: str, code: str, hand: bool) -> None:
        super().__init__()
        self.panel_id, self.code, self.hand = panel_id, code, hand
        self.setFixedSize(112, 46)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(f"Panel {code}")
        self.clicked.connect(lambda: self.chosen.emit(panel_id))

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        draw_code(p, QRectF(2, 9, 106, 28), self.code, 16, Tape.HAND if self.hand else Tape.OTHER, WALL)
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), WALL)
        p.end()


class ShootPage(Page):
    """Photographs in."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures) -> None:
        super().__init__(desk, jobs)
        self.presenter = ShootPresenter(desk)
        self.pictures = pictures
        self.view = ShootView()
        self._shown = ""
        self._shrink = 1.0
        self._queue: list[tuple[Path, ShotAim]] = []
        self._doubtful: list[Path] = []
        """Files that name no panel, or several: each is asked for."""
        self._suggested: list[Panel] = []
        self._busy = False
        self._sized = ""
        """Code of the panel whose size is asked for."""
        self.setAcceptDrops(True)
        row = QHBoxLayout()
        row.setSpacing(14)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.lamps = {lamp: LampSketch(lamp) for lamp in Lamp}
        left.addWidget(self.lamps[Lamp.DIFFUSE])
        left.addWidget(self.lamps[Lamp.LEFT])
        self.due_head = Words("", 15, 600, inks=WALL)
        self.due_head.setFixedWidth(112)
        left.addWidget(self.due_head)
        self.due_list = QVBoxLayout()
        self.due_list.setSpacing(0)
        left.addLayout(self.due_list)
        left.addStretch(1)
        row.addLayout(left)
        self.stage = PhotoStage(WALL, empty=words.NO_PHOTO_YET)
        self.stage.show_scale = False
        self.stage.corners_moved.connect(self._corners_moved)
        row.addWidget(self.stage, 1)
        right = QVBoxLayout()
        right.addStretch(1)
        right.addWidget(self.lamps[Lamp.RIGHT])
        right.addWidget(self.lamps[Lamp.EDGE])
        right.addStretch(1)
        row.addLayout(right)
        self.body.addLayout(row, 1)
        self.verdict_box = QWidget()
        self.verdict_grid = QGridLayout(self.verdict_box)
        self.verdict_grid.setContentsMargins(0, 0, 0, 0)
        self.verdict_grid.setSpacing(12)
        self.verdicts: list[Verdict] = []
        self.body.addWidget(self.verdict_box)
        self.typed = Field("", WALL, px=20, width_px=240)
        self.typed.returnPressed.connect(self._take_size)
        self.typed.textChanged.connect(self._show_sides)
        self.typed.hide()
        self.more = False
        self.sizing = False
        """Whether the size of the panel in hand is asked for."""
        self.body.addWidget(self.typed)
        self.camera = Words("", 15, 400, role="note", inks=WALL)
        self.body.addWidget(self.camera)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        parts: list[QWidget] = [self.stage, self.due_head, self.verdict_box, *self.lamps.values()]
        for part in parts:
            part.setVisible(not v.empty)
        if v.empty:
            self._doubtful, self.sizing = [], False
            self.typed.hide()
            self.title("", v.sentence)
            self.camera.say("")
            self.keys([(Key("Space", v.one_key), lambda: self.go.emit("ask"))])
            return
        self.sizing = self.sizing and v.code == self._sized
        self.typed.setVisible(self.sizing)
        self.title(v.code, *((words.ask_size(v.code, v.planned_size), words.size_note(measured=v.measured)) if self.sizing else (v.sentence, v.note)))
        for name, state in v.lamps:
            self.lamps[Lamp(name)].show_state(state)
        for name, state in v.lamps:
            self.lamps[Lamp(name)].setVisible(state != "-" or name == Lamp.DIFFUSE)
        self._list_dues(v)
        self.due_head.setVisible(self._room_to_list(v))
        while len(self.verdicts) < len(v.fitness):
            verdict = Verdict()
            self.verdict_grid.addWidget(verdict, 0, len(self.verdicts))
            self.verdicts.append(verdict)
        for verdict, fitness in zip(self.verdicts, v.fitness, strict=False):
            verdict.show_verdict(fitness)
            verdict.show()
        for verdict in self.verdicts[len(v.fitness) :]:
            verdict.hide()
        self.verdict_box.setVisible(bool(v.fitness) and not self.sizing)
        self._show_sides()
        self.camera.say(f"\x02{v.stage}\x03, {v.panel_words}. {v.camera}")
        self._show_photo(v)
        self._offer(v)

    def _list_dues(self, v: ShootView) -> None:
        while self.due_list.count():
            item = self.due_list.takeAt(0)
            if item is not None and (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self.due_head.say(v.list_head)
        for panel_id, code in v.listed[:5] if self._room_to_list(v) else ():
            button = DueCode(panel_id, code, code == v.code)
            button.chosen.connect(lambda i: self.attempt(lambda: self.presenter.choose(i)))
            self.due_list.addWidget(button)

    def _room_to_list(self, v: ShootView) -> bool:
        """Whether panels can be listed under the lamps: three lamps fill a low window."""
        return not (self.low and v.wants_three)

    def _offer(self, v: ShootView) -> None:
        if self._doubtful:
            self._ask()
            return
        if self.sizing:
            self.keys([(Key("Enter", words.KEEP_SIZE_KEY), self._take_size), (Key("Esc", words.LEAVE_SIZE_KEY), self._leave_size)])
            return
        if self._busy:
            self.keys([(Key("Space", words.WAIT_LOOKING, busy=True), lambda: None)])
            return
        does = self._space
        keys: list[tuple[Key, Callable[[], object]]] = [(Key("F", "From files"), self.choose_files)]
        if v.wants_three or not v.again:
            keys.append((Key("L", "Other lamp"), self.presenter.next_lamp))
        if v.again or v.can_again:
            keys.append((Key("R", words.ENOUGH_KEY if v.again else words.AGAIN_KEY), lambda: self.attempt(self.presenter.photograph_again)))
        if v.again:
            keys.append((Key("N", "Next panel"), self.presenter.next_panel))
        if v.photo is not None and (v.photo.take or not v.again):
            keys.append((Key("X", "Leave out"), self.presenter.leave_out))
        rare: list[tuple[Key, Callable[[], object]]] = []
        if not v.again:
            rare = [(Key("S", f"Stage: {v.stage}"), self.presenter.next_stage), (Key("W", words.SIZE_KEY), self._ask_size)]
        first = (Key("Space", v.one_key), does)
        if len(keys) + len(rare) < IN_A_ROW:
            self.keys([first, *keys, *rare])
            return
        self.keys([first, *(rare if self.more else keys), (Key("M", "More", hand=self.more), self._turn_more)])
        self.actions |= {key.cap.lower(): act for key, act in (*keys, *rare)}  # who knows a key need not turn to it

    def _turn_more(self) -> None:
        self.more = not self.more
        self.refresh()

    # ------------------------------------------------------------ the panel's own size

    def _ask_size(self) -> None:
        """Ask for the size of the panel in hand."""
        self.sizing, self._sized, self.more = True, self.view.code, False
        self.typed.setPlaceholderText(self.view.planned_size)
        self.typed.clear()
        self.refresh()
        self.typed.setFocus()

    def _show_sides(self) -> None:
        """Tell at the panel's sides what is typed of them."""
        self.stage.sides = self.presenter.sides(self.typed.text()) if self.sizing else None
        self.stage.update()

    def _take_size(self) -> None:
        def keep() -> None:
            self.presenter.take_size(self.typed.text())
            self._leave_size()

        self.attempt(keep)

    def _leave_size(self) -> None:
        self.sizing = False
        self.typed.clear()
        self.setFocus()
        self.refresh()

    def _show_photo(self, v: ShootView) -> None:
        if v.photo is None:
            self._shown = ""
            self.stage.corners = []
            self.stage.glare = None
            self.stage.show_photo(None)
            return
        photo = v.photo
        if photo.sha256 != self._shown:
            self._shown = photo.sha256
            kept = self.pictures.get(("photo", photo.sha256))
            if kept is not None:
                self._picture_ready(photo.sha256, kept)
            else:
                self.stage.loading = ("Loading the photo", 0.4)
                self.stage.update()
                path = self.desk.notebook.photos.path_of(photo)
                self.jobs.start(lambda report: load_photo(path, photo.width_px, report), partial(self._picture_ready, photo.sha256), self.failed)
        self._show_corners()

    def _picture_ready(self, sha256: str, got: object) -> None:
        assert isinstance(got, tuple)
        self.pictures.put(("photo", sha256), got)
        if sha256 != self._shown:
            return
        image, self._shrink = got
        assert isinstance(image, QImage)
        self.stage.loading = None
        self.stage.show_photo(image, unit_per_px=1.0 / self._shrink)
        self._show_corners()

    def _show_corners(self) -> None:
        photo = self.view.photo
        if photo is None:
            return
        self.stage.corners = [QPointF(x, y) for x, y in photo.corners_px]
        self.stage.round_face = self.view.round_face
        self.stage.corners_sure = not any(seen.sign in OF_CORNERS and seen.doubtful for seen in photo.quality)
        # Glare is given on the panel; the marker needs it on the photo.
        where = glare_at(photo)
        self.stage.glare = None
        if where is not None and len(photo.corners_px) == 4:
            a, b, c, d = photo.corners_px
            u, w = where
            x = (1 - u) * (1 - w) * a[0] + u * (1 - w) * b[0] + u * w * c[0] + (1 - u) * w * d[0]
            y = (1 - u) * (1 - w) * a[1] + u * (1 - w) * b[1] + u * w * c[1] + (1 - u) * w * d[1]
            self.stage.glare = (x / photo.width_px, y / photo.height_px)
        self.stage.update()

    def _corners_moved(self, corners: object) -> None:
        assert isinstance(corners, list)
        self.attempt(lambda: self.presenter.move_corners(corners))

    # ------------------------------------------------------------ photos in

    def _space(self) -> None:
        v = self.view
        if v.does is Next.PANEL:
            self.presenter.next_panel()
        elif v.does is Next.READ:
            self.go.emit("read")
        elif self.desk.camera is None:
            self.choose_files()
        else:
            self._shoot()

    def _shoot(self) -> None:
        camera = self.desk.camera
        assert camera is not None
        target = self.presenter.target()
        size, laid, is_round = self.presenter.size_mm(target.panel), self.presenter.laid(target), self.presenter.is_round(target.panel)

        def work(report: Report) -> Inspected:
            report(0, 4)
            frame = camera.shoot(target.panel.code, target.lamp, laid, target.stage)
            return inspect(None, frame.data, frame.name, size, report, is_round=is_round)

        self._start(work, target)

    def choose_files(self) -> None:
        """Ask for files."""
        names, _ = QFileDialog.getOpenFileNames(self, words.PHOTOS_OF_THE_PANELS, "", "Photos (" + " ".join(f"*{s}" for s in SUFFIXES) + ")")
        self.bring([Path(n) for n in names])

    def bring(self, paths: list[Path]) -> None:
        """Take photos in; what is doubtful is asked, one file after another."""
        if not paths:
            return
        sure, doubtful = self.presenter.deal(paths)
        self._queue.extend(sure)
        self._doubtful.extend(doubtful)
        if doubtful:
            self._suggested = self.presenter.suggestions()
        self._next_in_queue()
        self.refresh()

    def _next_in_queue(self) -> None:
        if self._busy or not self._queue:
            return
        path, target = self._queue.pop(0)
        size, is_round = self.presenter.size_mm(target[0]), self.presenter.is_round(target[0])
        self._start(lambda report: self.presenter.inspect_file(path, size, report, is_round=is_round), target)

    # ------------------------------------------------------------ doubtful files

    def _ask(self) -> None:
        """Ask for the first doubtful file."""
        name, panel = self._doubtful[0].name, self._suggested[0]
        more = len(self._doubtful) - 1
        told = self.presenter.told(self._doubtful[0])
        what = f"names {' and '.join(told)}" if told else words.NAMES_NO_PANEL
        self.title(panel.code, words.IS_IT_PANEL(name=name, what=what, code=panel.code), words.MORE_TO_ASK(more=more) if more else "")
        keys = [
            (Key("Space", f"Yes, {panel.code}"), self._yes),
            (Key("N", "Another panel"), self._another),
            (Key("X", "Leave this file"), self._leave_file),
        ]
        if more:
            keys.insert(2, (Key("A", words.ALL_SO(more=more + 1)), self._all_so))
        self.keys(keys)

    def _yes(self) -> None:
        path, panel = self._doubtful.pop(0), self._suggested.pop(0)
        self._queue.append((path, self.presenter.aim(panel, path.stem)))
        if not self._suggested:
            self._suggested = self.presenter.suggestions()
        self._next_in_queue()
        self.refresh()

    def _another(self) -> None:
        self._suggested.append(self._suggested.pop(0))
        self.refresh()

    def _all_so(self) -> None:
        taken = min(len(self._doubtful), len(self._suggested))
        left = len(self._doubtful) - taken
        for path, panel in zip(self._doubtful[:taken], self._suggested[:taken], strict=True):
            self._queue.append((path, self.presenter.aim(panel, path.stem)))
        self._doubtful = []
        self._next_in_queue()
        self.refresh()
        if left:
            self.say_trouble(words.TOO_MANY_PHOTOS(left=left + taken, taken=taken))

    def _leave_file(self) -> None:
        self._doubtful.pop(0)
        self.refresh()

    def _start(self, work: object, target: ShotAim) -> None:
        self._busy = True
        self.stage.loading = (f"Looking at {target[0].code}", 0.1)
        self.stage.update()
        self._offer(self.view)
        self.jobs.start(
            work,  # type: ignore[arg-type]
            lambda found: self._inspected(found, target),
            self._not_inspected,
            lambda done, total: self._progressed(target[0].code, done, total),
        )

    def _progressed(self, code: str, done: int, total: int) -> None:
        self.stage.loading = (f"Looking at {code}", (done + 0.5) / (total + 0.5))
        self.stage.update()

    def _inspected(self, found: object, target: ShotAim) -> None:
        self._busy = False
        self.stage.loading = None
        assert isinstance(found, Inspected)
        self.attempt(lambda: self.presenter.keep(found, target))
        self.refresh()
        self._next_in_queue()

    def _not_inspected(self, error: Exception) -> None:
        self._busy = False
        self.stage.loading = None
        self.stage.update()
        self.refresh()
        self.failed(error)
        self._next_in_queue()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if data is not None:
            paths = [Path(u.toLocalFile()) for u in data.urls() if u.isLocalFile()]
            self.attempt(lambda: self.bring(paths))
