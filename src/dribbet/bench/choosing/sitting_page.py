"""What a page of pairs and a page of points have in common: the name of who sits, what was said so far, and the keys before and after."""

from __future__ import annotations

from abc import abstractmethod
from typing import TYPE_CHECKING, Protocol

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from dribbet.bench.flats import Flats
from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.theme.inks import WALL
from dribbet.words import choosing as words

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.choosing.seat import Seat
    from dribbet.bench.jobs import Jobs
    from dribbet.bench.pictures import Pictures
    from dribbet.studio.desk import Desk


class SittingView(Protocol):
    """What both kinds of sittings show."""

    @property
    def asking(self) -> bool:
        """Whether it is asked who sits."""

    @property
    def cannot(self) -> bool:
        """Whether there is nothing to sit before."""

    @property
    def over(self) -> bool:
        """Whether all is said."""

    @property
    def guest(self) -> bool:
        """Whether a guest sits."""

    @property
    def can_take_back(self) -> bool:
        """Whether something was said in this sitting."""

    @property
    def said(self) -> bool:
        """Whether anything was said before."""


class SittingPage(Page):
    """Who sits; then one question after the other; then what all said."""

    inks = WALL
    said_so_far = ""
    """What the key that shows it is called."""

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures, seat: Seat) -> None:
        super().__init__(desk, jobs)
        self.seat = seat
        self.flats = Flats(desk, jobs, pictures, self.failed)
        self._shown: object = None

    def ask_who(self, spacing: int) -> None:
        """Put the name's field and what was said below what is on the page."""
        self.who = Field(words.NAME, WALL, px=22, width_px=320)
        self.who.returnPressed.connect(lambda: self.attempt(self._begin))
        self.body.addWidget(self.who)
        inner = QWidget()
        self.results = QVBoxLayout(inner)
        self.results.setContentsMargins(0, 8, 4, 0)
        self.results.setSpacing(spacing)
        self.told = scroller(inner, WALL)
        self.body.addWidget(self.told, 10)

    def show_who(self, v: SittingView, *, looking: bool) -> None:
        """Show the name's field where it is asked for, and what was said where nobody looks at panels."""
        self.who.setVisible(v.asking)
        self.space_types = v.asking  # a name may hold one
        self.told.setVisible(not looking)
        if v.asking and not self.who.hasFocus():
            self.who.setFocus()

    def offer_around(self, v: SittingView, *more: tuple[Key, Callable[[], object]]) -> bool:
        """Offer the keys before and after a sitting, `more` among those before it; False within one."""
        back = (Key("X", words.BACK), self.go_back)
        if v.cannot:
            self.keys([(Key("Space", words.BACK), self.go_back)])
        elif v.asking:
            told = [(Key("S", self.said_so_far, hand=self.seat.telling), self.seat.turn_results)] if v.said else []
            guest = (Key("G", words.GUEST, hand=v.guest), self.seat.turn_guest)
            self.keys([(Key("Enter", words.BEGIN), self._begin), guest, *told, *more, back])
        elif v.over:
            again = (Key("A", words.ANOTHER), self.seat.leave)
            self.keys([(Key("Space", words.BACK), self.go_back), again, (Key("Z", words.TAKE_BACK), self.take_back)])
        else:
            return False
        return True

    def leaving(self, v: SittingView) -> list[tuple[Key, Callable[[], object]]]:
        """Keys that take the last back, where there is one, and end the sitting for now."""
        back = [(Key("Z", words.TAKE_BACK), self.take_back)] if v.can_take_back else []
        return [*back, (Key("X", words.ENOUGH), self.seat.leave)]

    def show_results(self, results: object) -> None:
        """Lay out what was said, where it is other than what is shown."""
        if results == self._shown:
            return
        self._shown = results
        clear(self.results)
        self.lay_out()
        self.results.addStretch(1)

    @abstractmethod
    def lay_out(self) -> None:
        """Put what was said into `results`."""

    @abstractmethod
    def take_back(self) -> None:
        """Take back what was said last."""

    def note(self, text: str) -> Words:
        """Small words of the results."""
        return Words(text, 16, 400, role="note", inks=WALL)

    def _begin(self) -> None:
        self.seat.begin(self.who.text())
        self.who.clear()
        self.who.clearFocus()
        self.setFocus()

    def go_back(self) -> None:
        """Leave the sitting, and go back to Decide."""
        self.seat.leave()
        self.go.emit("decide")
