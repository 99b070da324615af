"""Ways to pour: each shipped one to look at and to copy, each of one's own to edit step by step."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.card_row import CardRow
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.lab.panel import pouring
from dribbet.records import WAYS, DribbetError, Technique, Way, WayStep
from dribbet.records.wording import first_up
from dribbet.studio.acts import ways as acts
from dribbet.words import set_up as set_up_words
from dribbet.words import ways as words
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk


class WaysPage(Page):
    """Part of Set-up: ways to pour."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.name = str(Technique.FLIP_CUP)
        self.step = 0
        self.asking = ""
        """What the field is for: name, figures, step; nothing where it is hidden."""
        inner = QWidget()
        row = QHBoxLayout(inner)
        row.setContentsMargins(0, 0, 8, 0)
        row.setSpacing(40)
        self.list, self.steps = QVBoxLayout(), QVBoxLayout()
        for column, share in ((self.list, 2), (self.steps, 3)):
            column.setSpacing(0)
            row.addLayout(column, share)
        self.body.addWidget(scroller(inner), 1)
        typing = QHBoxLayout()
        self.typed = Field("", width_px=420)
        self.typed.returnPressed.connect(lambda: self.attempt(self._typed))
        self.typed_note = Words("", 15, 400, role="note")
        typing.addWidget(self.typed)
        typing.addWidget(self.typed_note, 1, Qt.AlignmentFlag.AlignVCenter)
        self.body.addLayout(typing)
        self._built: object = None

    def own(self) -> Way | None:
        """The way in hand, where it is one's own."""
        return next((w for w in acts.own(self.desk) if w.name == self.name), None)

    def steps_now(self) -> tuple[WayStep, ...]:
        """Steps of the way in hand."""
        own = self.own()
        return own.steps if own is not None else WAYS[self._of()]

    def _of(self) -> Technique:
        own = self.own()
        return own.of if own is not None else Technique(self.name)

    def refresh(self) -> None:
        own, mine = acts.own(self.desk), self.own()
        if mine is None and self.name not in tuple(Technique):
            self.name = str(Technique.FLIP_CUP)
        steps, units = self.steps_now(), units_of(self.desk)
        self.step = min(self.step, len(steps) - 1)
        self.title(
            "", set_up_words.WAY_STEP_BY_STEP(name=first_up(self.name)), words.kept_note(mine) if mine is not None else set_up_words.SHIPS_AS_IT_IS
        )
        key = (self.name, self.step, tuple(own), steps, units)
        if key != self._built:
            self._built = key
            clear(self.list)
            clear(self.steps)
            for head, names in (("Your own", [w.name for w in own]), ("Shipped", [str(t) for t in Technique])):
                if names:
                    self.list.addWidget(Words(head, 17, 700))
                for name in names:
                    row = CardRow(first_up(name), "", name == self.name)
                    row.clicked.connect(lambda _=False, n=name: self.attempt(lambda: self._take(n)))
                    self.list.addWidget(row)
            self.list.addStretch(1)
            for i, step in enumerate(steps):
                row = CardRow(f"{i + 1}  {words.name(self._of(), step)}", words.line(step, units), i == self.step and mine is not None)
                row.clicked.connect(lambda _=False, n=i: self.attempt(lambda: self._pick(n)))
                self.steps.addWidget(row)
            self.steps.addStretch(1)
        self.typed.setVisible(bool(self.asking))
        self.typed.setPlaceholderText({"name": "slow flip", "step": "torch", "figures": words.ask(steps[self.step], units)}.get(self.asking, ""))
        notes = {
            "name": set_up_words.ASK_NAME_OF_COPY,
            "step": set_up_words.ASK_STEP_AFTER(step=words.name(self._of(), steps[self.step]).lower()),
            "figures": set_up_words.TYPE_WHAT_CHANGES,
        }
        self.typed_note.say(notes.get(self.asking, ""))
        keys: list[tuple[Key, Callable[[], object]]] = [
            (Key("Space", "Back to work"), lambda: self.go.emit("back")),
            (Key("N", "Copy it"), lambda: self._ask("name")),
        ]
        if mine is not None:
            keys += [
                (Key("A", "Add"), lambda: self._ask("step")),
                (Key("X", "Take out"), self._take_out),
                (Key("U", "Earlier"), lambda: self._move(-1)),
                (Key("D", "Later"), lambda: self._move(1)),
                (Key("P", "Put aside"), self._put_aside),
            ]
        self.keys(keys)

    def _ask(self, what: str) -> None:
        self.asking = "" if self.asking == what else what
        self.typed.clear()
        self.refresh()
        if self.asking:
            self.typed.setFocus()

    def _take(self, name: str) -> None:
        self.name, self.step, self.asking = name, 0, ""
        self.refresh()

    def _pick(self, at: int) -> None:
        if self.own() is None:
            raise DribbetError(set_up_words.COPY_IT_FIRST(name=first_up(self.name)))
        self.step = at
        self.asking = ""
        self._ask("figures")

    def _typed(self) -> None:
        text = self.typed.text()
        if self.asking == "name":
            self.name = acts.copy(self.desk, self.name, text).name
        elif self.asking == "step":
            self._change(words.added(self.steps_now(), self.step, text))
            self.step = min(self.step + 1, len(self.steps_now()) - 2)
        elif self.asking == "figures":
            self._change(words.typed(self.steps_now(), self.step, text, units_of(self.desk)))
        self.asking = ""
        self.typed.clear()
        self.setFocus()
        self.refresh()

    def _change(self, steps: tuple[WayStep, ...]) -> None:
        own = self.own()
        if own is None:
            raise DribbetError(set_up_words.COPY_IT_FIRST(name=first_up(self.name)))
        acts.change(self.desk, own, steps)

    def _take_out(self) -> None:
        steps = self.steps_now()
        if self.step == len(steps) - 1:
            raise DribbetError(set_up_words.WEIGHING_STAYS)
        self._change(pouring.without_step(steps, self.step))

    def _move(self, by: int) -> None:
        self._change(pouring.moved_step(self.steps_now(), self.step, by))
        self.step = min(max(self.step + by, 0), len(self.steps_now()) - 2)
        self.refresh()

    def _put_aside(self) -> None:
        own = self.own()
        if own is not None:
            self.name = str(own.of)
            acts.put_aside(self.desk, own)
