"""The window: the run line on the left, one page beside it, and the keyboard."""

from __future__ import annotations

import logging
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QColor, QKeyEvent, QKeySequence, QPalette
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from dribbet.bench.choosing.page import ChoosingPage
from dribbet.bench.choosing.scoring_page import ScoringPage
from dribbet.bench.doors.findings.page import FindingsPage
from dribbet.bench.doors.shelf.page import ShelfPage
from dribbet.bench.doors.today.page import TodayPage
from dribbet.bench.doors.today.presenter import TodayPresenter
from dribbet.bench.guard import IN_A_ROW, Guard, in_words
from dribbet.bench.jobs import Jobs
from dribbet.bench.looking.page import LookingPage
from dribbet.bench.notice import Notice, notebook_words
from dribbet.bench.notices import Notices
from dribbet.bench.parts.base import put_away
from dribbet.bench.parts.run_line import DOORS, STATIONS, RunLine, StationStop
from dribbet.bench.pictures import Pictures
from dribbet.bench.playing.page import PlayingPage
from dribbet.bench.series_sheet import SeriesSheet
from dribbet.bench.set_up.page import RulesPage
from dribbet.bench.set_up.ways_page import WaysPage
from dribbet.bench.stations.ask.page import AskPage
from dribbet.bench.stations.check.page import CheckPage
from dribbet.bench.stations.decide.page import DecidePage
from dribbet.bench.stations.dry.page import DryPage
from dribbet.bench.stations.mix.page import MixPage
from dribbet.bench.stations.pour.page import PourPage
from dribbet.bench.stations.read.page import ReadPage
from dribbet.bench.stations.shoot.page import ShootPage
from dribbet.bench.theme import type as type_
from dribbet.bench.turning.page import TurningPage
from dribbet.bench.why.page import WhyPage
from dribbet.lab.panel.progress import Station
from dribbet.records import DribbetError
from dribbet.records.wording import first_up
from dribbet.studio import sensors
from dribbet.studio.standing import pots as flow_set
from dribbet.words import window as window_words
from dribbet.words.units import listed

if TYPE_CHECKING:
    from datetime import date, datetime
    from pathlib import Path

    from dribbet.bench.page import Page
    from dribbet.studio.desk import Desk

log = logging.getLogger(__name__)
SMALLEST = (1024, 700)
SLIM_BELOW_PX = 1100
MINUTE_MS = 30_000
LEARN_MS = 40
TAKE_OVER_MS = 2000
COPY_AFTER_MS = 1500  # the window is there first
BELONGS = {"why": "decide", "choosing": "decide", "scoring": "decide", "playing": "ask", "looking": "decide", "turning": "pour"}
"""Pages that a station opens: the line stays at it."""
ARROWS = {Qt.Key.Key_Left: "←", Qt.Key.Key_Right: "→"}
SAFE = "today"


class Window(QWidget):
    """Everything in one window; the run line is the only navigation."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.jobs = Jobs()
        self.pictures = Pictures()
        self.setWindowTitle("Dribbet")
        self.setMinimumSize(*SMALLEST)
        self.line = RunLine()
        self.stack = QStackedWidget()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.line)
        side = QVBoxLayout()
        side.setContentsMargins(0, 0, 0, 0)
        side.setSpacing(0)
        self.notice = Notice()
        side.addWidget(self.notice)
        side.addWidget(self.stack, 1)
        row.addLayout(side, 1)
        names = [n.lower() for n in STATIONS]
        makers = [
            lambda: AskPage(desk, self.jobs),
            lambda: MixPage(desk, self.jobs),
            lambda: CheckPage(desk, self.jobs),
            lambda: PourPage(desk, self.jobs),
            lambda: DryPage(desk, self.jobs),
            lambda: ShootPage(desk, self.jobs, self.pictures),
            lambda: ReadPage(desk, self.jobs, self.pictures),
            lambda: DecidePage(desk, self.jobs, self.pictures),
        ]
        self._makers = dict(zip(names, makers, strict=True))
        self._makers |= {
            "today": lambda: TodayPage(desk, self.jobs),
            "shelf": lambda: ShelfPage(desk, self.jobs),
            "findings": lambda: FindingsPage(desk, self.jobs),
            "series": lambda: SeriesSheet(desk, self.jobs),
            "rules": lambda: RulesPage(desk, self.jobs),
            "turning": lambda: TurningPage(desk, self.jobs),
            "ways": lambda: WaysPage(desk, self.jobs),
            "why": lambda: WhyPage(desk, self.jobs),
            "looking": lambda: LookingPage(desk, self.jobs, self.pictures),
            "choosing": lambda: ChoosingPage(desk, self.jobs, self.pictures),
            "scoring": lambda: ScoringPage(desk, self.jobs, self.pictures),
            "playing": lambda: PlayingPage(desk, self.jobs),
        }
        self.pages: dict[str, Page] = {}
        self.current = ""
        self.guard = Guard(self.stumbled)
        self.stumbles: list[str] = []
        """Errors in a row on the page in view, with nothing that worked between them."""
        self.log_path: Path | None = None
        self._before = "ask"
        self.line.station_wanted.connect(lambda i: self.walk(STATIONS[i].lower()))
        self.line.door_wanted.connect(lambda i: self.walk(DOORS[i].lower()))
        self.line.series_wanted.connect(lambda: self.walk("series" if self.current != "series" else self._before))
        desk.listen(self.refresh)
        application = QApplication.instance()
        assert application is not None
        application.installEventFilter(self)
        self._clock = QTimer(self)
        self._clock.setInterval(MINUTE_MS)
        self._clock.timeout.connect(self._minute)
        self._rung_at = desk.now()
        self._sensor_trouble = ""
        self.notices = Notices(self, desk)
        self._clock.start()
        self._waiting = QTimer(self)  # for the window that writes to go
        self._waiting.setInterval(TAKE_OVER_MS)
        self._waiting.timeout.connect(self._take_over)
        if desk.notebook.because_of_another_window:
            self._waiting.start()
        self._copied: date | None = None
        QTimer.singleShot(COPY_AFTER_MS, self._keep_copy)
        self._learning = QTimer(self)  # the past is read a few cups at a time, so that no page waits for it
        self._learning.setInterval(LEARN_MS)
        self._learning.timeout.connect(self._learn)
        self._learning.start()
        self.walk(self._first())

    def _first(self) -> str:
        """Where the series in hand needs the person: the earliest station with panels, or Ask."""
        run = self.desk.run()
        if run is None or not run.panels:
            return "ask"
        now = self.desk.now()
        stations = sorted({run.station(p, now) for p in run.panels})
        due = [d for d in run.due_looks(now) if d.now]
        return "dry" if due else Station(stations[0]).name.lower()

    # ------------------------------------------------------------ walking

    def page(self, name: str) -> Page:
        """A page by its name, made when it is first needed."""
        if name not in self.pages:
            made: Page = self._makers[name]()  # type: ignore[no-untyped-call]
            made.go.connect(self._go)
            made.done.connect(self.worked)
            self.pages[name] = made
            self.stack.addWidget(made)
        return self.pages[name]

    def walk(self, name: str) -> None:
        """Go to a station or a door."""
        if name != self.current:
            self.stumbles.clear()
        try:
            self._walk(name)
        except Exception as error:
            self.guard.take(error)

    def _walk(self, name: str) -> None:
        if self.current and self.current != "series":
            self._before = self.current
        if self.current in self.pages:
            self.pages[self.current].leave()
        page = self.page(name)
        self.current = name
        self.stack.setCurrentWidget(page)
        self._dress()
        self.refresh()
        page.entered()
        if page.strip.buttons and not page.space_types:
            page.strip.buttons[0].setFocus()
        elif page.space_types:
            page.setFocus()

    def stumbled(self, error: BaseException) -> None:
        """Tell an error that nobody expected, and show the page anew from what is stored; after three in a row go to Today."""
        self.stumbles.append(str(error))
        self.desk.read_anew()
        in_a_row = len(self.stumbles) >= IN_A_ROW
        for name in (SAFE,) if in_a_row or not self.current else (self.current, SAFE):  # a page that cannot be shown at all is left at once
            try:
                self._make_anew(name)
                break
            except Exception as another:
                log.error("while showing %s anew: %s", name, another, exc_info=another)
        if in_a_row and self.current == SAFE:
            self.stumbles.clear()
        page = self.pages.get(self.current)
        if page is not None:
            page.say_trouble(in_words(error, self.log_path))

    def _make_anew(self, name: str) -> None:
        """Show a page that is made again: the old one may hold what made it stumble."""
        old = self.pages.pop(name, None)
        if old is not None:
            self.stack.removeWidget(old)
            put_away([old])
        self._walk(name)

    def worked(self) -> None:
        """Something that was asked for was done: errors before it are no longer in a row."""
        self.stumbles.clear()

    def _go(self, where: str) -> None:
        if where == "back":
            self.walk(self._before)
        elif where == "chosen":
            self.walk(self._first())
        elif where == "new":
            ask = self.page("ask")
            assert isinstance(ask, AskPage)
            ask.attempt(ask.presenter.planning.new_series)
            self.walk("ask")
        elif where == "pre-test":
            shelf = self.page("shelf")
            assert isinstance(shelf, ShelfPage)
            self.walk("shelf")
            shelf.pre_test()
        else:
            self.walk(where)

    def _dress(self) -> None:
        """Rail and ground follow the page: paper or wall, full or slim."""
        page = self.pages[self.current]
        palette = self.palette()
        if palette.color(QPalette.ColorRole.Window) != QColor(page.inks.ground):  # told to every widget: only where it is another
            palette.setColor(QPalette.ColorRole.Window, QColor(page.inks.ground))
            self.setPalette(palette)
            self.setAutoFillBackground(True)
        self.line.set_inks(page.inks)
        self.line.set_slim(page.slim or self.width() < SLIM_BELOW_PX)
        names = [n.lower() for n in STATIONS]
        doors = [n.lower() for n in DOORS]
        here = BELONGS.get(self.current, self.current)
        self.line.show_current(names.index(here) if here in names else None, doors.index(here) if here in doors else None)

    def refresh(self) -> None:
        """Show what is so, on the line and on the page in view."""
        self._show_line()
        page = self.pages.get(self.current)
        if page is not None:
            page.refresh()
            self.notice.show_state(notebook_words(self.desk.notebook), page.inks)

    def _take_over(self) -> None:
        """Write from now on, once the window that wrote is gone; until then show what it writes."""
        try:
            taken = self.desk.notebook.take_over()
            if not taken:
                self.desk.follow()
        except DribbetError as error:
            self._waiting.stop()
            self.pages[self.current].say_trouble(str(error))
            return
        if taken:
            self._waiting.stop()
            self.desk.changed()
            self.pages[self.current].say_note(window_words.WRITES_NOW)

    def _keep_copy(self) -> None:
        """Keep today's copy of the notebook beside it, off the GUI thread."""
        today = self.desk.local(self.desk.now()).date()
        if self.desk.notebook.read_only or today == self._copied:
            return
        self._copied = today
        self.jobs.start(lambda _: self.desk.notebook.keep_daily_copy(today), lambda _: None, self._not_copied)

    def _not_copied(self, error: Exception) -> None:
        page = self.pages.get(self.current)
        if page is not None:
            page.say_trouble(window_words.NOT_COPIED(error=in_words(error, self.log_path)))

    def _learn(self) -> None:
        if not self.desk.learned.learn_some():
            self._learning.stop()

    def _minute(self) -> None:
        """Time passes: what is shown follows it, and a cup that has rested rings, whichever page is open."""
        self.refresh()
        self._keep_copy()
        run, now = self.desk.run(), self.desk.now()
        self._listen(now)
        rested = flow_set.rested_between(self.desk, run, self._rung_at, now) if run is not None else []
        self._rung_at = now
        if rested and self.current in self.pages:
            self.pages[self.current].say_note(window_words.BUBBLES_ARE_OUT(len(rested), rested=first_up(listed(rested))))
            if self.desk.rules.tone:
                QApplication.beep()

    def _listen(self, now: datetime) -> None:
        """The room's air is written down, and looks that came due are told, whichever page is open."""
        trouble, due = sensors.listen(self.desk), self.notices.tell(now)
        new, self._sensor_trouble = trouble != self._sensor_trouble, trouble  # a sensor that stays away is told of once, not each minute
        if self.current in self.pages and (due or (trouble and new)):
            page = self.pages[self.current]
            page.say_note(due) if due else page.say_trouble(trouble)

    def _show_line(self) -> None:
        known = self.desk.all_series()
        run = self.desk.run()
        now = self.desk.now()
        if run is None:
            self.line.show_series("No series", "none", 0)
            self.line.show_stops([StationStop(ready=i == 0) for i in range(8)])
        else:
            self.line.show_series(run.series.name, run.series.code, len(known) - 1)
            beads = [0] * 8
            if run.series.seed is None:
                beads[0] = len({p.id for p in run.panels})
            for panel in run.panels:
                beads[int(run.station(panel, now))] += 1
            overdue = any(d.overdue for d in run.due_looks(now))
            hand = self.current
            stops = []
            for i, count in enumerate(beads):
                ready = i == 0 or run.series.seed is not None
                stops.append(StationStop(count, STATIONS[i].lower() == hand, overdue and i == int(Station.DRY), ready))
            self.line.show_stops(stops)
        self.line.show_due(TodayPresenter(self.desk).due_now())

    # ------------------------------------------------------------ keyboard

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """One Space, one Enter, Page Up and Down everywhere; letters are keys unless a field has the focus."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:  # asked of every event there is: the cheap question first
            return False
        if QApplication.activePopupWidget() is not None or QApplication.activeModalWidget() is not None:
            return False
        if not isinstance(watched, QWidget) or (watched is not self and not self.isAncestorOf(watched)):
            return False
        return self.key(event)

    def key(self, event: QKeyEvent) -> bool:
        """Handle a key; True where it was one of ours."""
        page = self.pages.get(self.current)
        if page is None:
            return False
        focus = QApplication.focusWidget()
        typing = isinstance(focus, QLineEdit) and focus.isVisible()  # a field of a list that has closed may still be named
        key = event.key()
        if self.desk.rules.pedal and not typing and QKeySequence(key).toString() == self.desk.rules.pedal:
            return page.press_by_keyboard("Space") or page.press_by_keyboard("Enter")
        if key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self._step(1 if key == Qt.Key.Key_PageDown else -1)
            return True
        if key == Qt.Key.Key_Escape:
            if typing and focus is not None:
                focus.clearFocus()
                page.setFocus()
                page.press_by_keyboard("Esc")  # what is typed into is left at once where the page offers that
                return True
            return page.stop_asking() or page.press_by_keyboard("Esc") or self._esc()
        if event.isAutoRepeat() and key in (Qt.Key.Key_Space, Qt.Key.Key_Return):
            return not typing
        if key == Qt.Key.Key_Space and not typing and not page.space_types:
            page.press_by_keyboard("Space")
            return True
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and page.space_types and not typing:
            from dribbet.bench.stations.ask.flow import PartButton

            if not isinstance(focus, PartButton):
                page.press_by_keyboard("Enter")
                return True
            page.press_by_keyboard("Enter")
            return True
        if typing or event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier):
            return False
        text = event.text()
        arrow = ARROWS.get(Qt.Key(key))
        if arrow in page.actions:
            return page.press_by_keyboard(arrow)
        if len(text) == 1 and text.isdigit():
            return page.digit(int(text))
        if len(text) == 1 and text.isalpha():
            return page.press_by_keyboard(text.upper())
        return False

    def _esc(self) -> bool:
        if self.current == "series":
            self.walk(self._before)
            return True
        return False

    def _step(self, by: int) -> None:
        names = [n.lower() for n in STATIONS] + [n.lower() for n in DOORS]
        at = names.index(self.current) if self.current in names else 0
        self.walk(names[min(max(at + by, 0), len(names) - 1)])

    # ------------------------------------------------------------ the frame

    def resizeEvent(self, event: object) -> None:
        if type_.set_growth(self.width(), self.height()):
            self._regrow()
        if self.current in self.pages:
            self._dress()
            self.pages[self.current].refresh()

    def _regrow(self) -> None:
        """Type has another size: everything that was measured by it is measured anew."""
        for widget in self.findChildren(QWidget):
            regrow = getattr(widget, "regrow", None)
            if regrow is not None:
                regrow()
            widget.updateGeometry()
            widget.update()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Cancel what runs, wait for it, let go of the notebook."""
        for timer in (self._clock, self._learning, self._waiting):
            timer.stop()
        self.guard.leave()
        if self.current in self.pages:
            self.pages[self.current].leave()
        self.jobs.stop_all()
        application = QApplication.instance()
        if application is not None:
            application.removeEventFilter(self)
        self.desk.notebook.close()
        type_.set_growth(0, 0)
        if event is not None:
            event.accept()
