"""Bench rules: how this studio weighs, rests, checks and matches; every line can be changed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.card_row import CardRow
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.set_up import lines
from dribbet.records import HouseRules
from dribbet.studio import scales
from dribbet.words import set_up as set_up_words
from dribbet.words.rules import GROUPS, Group
from dribbet.words.rules import lines as rule_lines
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk
    from dribbet.words.rules import RuleLine

COLUMN_OF = {Group.UNLIKE: 1, Group.WAYS: 1, Group.CUPS: 1}


class RulesPage(Page):
    """Part of Set-up: the rules of the bench."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.line = ""
        inner = QWidget()
        row = QHBoxLayout(inner)
        row.setContentsMargins(0, 0, 8, 0)
        row.setSpacing(40)
        self.columns = [QVBoxLayout(), QVBoxLayout()]
        for column in self.columns:
            column.setSpacing(0)
            row.addLayout(column, 1)
        self.body.addWidget(scroller(inner), 1)
        typing = QHBoxLayout()
        self.typed = Field("", width_px=360)
        self.typed.returnPressed.connect(self._typed)
        self.typed_note = Words("", 15, 400, role="note")
        typing.addWidget(self.typed)
        typing.addWidget(self.typed_note, 1, Qt.AlignmentFlag.AlignVCenter)
        self.body.addLayout(typing)
        self._built: tuple[object, ...] = ()

    def refresh(self) -> None:
        self.title("", set_up_words.HOW_THIS_BENCH_WORKS, set_up_words.EVERY_SCHOOL)
        rules, units = self.desk.rules, units_of(self.desk)
        told = rule_lines(rules, units)
        key = (tuple(told), self.line)
        if key != self._built:
            self._built = key
            for column in self.columns:
                clear(column)
            at = 0
            for line in told:
                if line.group is not None:
                    at = COLUMN_OF.get(line.group, 0)
                    self.columns[at].addSpacing(8)
                    self.columns[at].addWidget(Words(GROUPS[line.group], 17, 700))
                row = CardRow(line.head, line.text, line.key == self.line)
                row.clicked.connect(lambda _=False, x=line: self._pressed(x))
                self.columns[at].addWidget(row)
            for column in self.columns:
                column.addStretch(1)
        now = next((x for x in told if x.key == self.line), None)
        self.typed.setVisible(now is not None)
        self.typed.setPlaceholderText(now.ask if now is not None else "")
        self.typed_note.say(set_up_words.TYPE_AS_SHOWN(head=now.head) if now is not None else "")
        self.keys(
            [
                (Key("Space", "Back to work"), lambda: self.go.emit("back")),
                (Key("R", set_up_words.USUAL_ONES), self._usual),
                (Key("W", "Ways to pour"), lambda: self.go.emit("ways")),
            ]
        )

    def _pressed(self, line: RuleLine) -> None:
        if line.ask:
            self.line = "" if self.line == line.key else line.key
            self.refresh()
            self.typed.setFocus()
            return
        self.line = ""
        self.attempt(lambda: self._set(lines.pressed(self.desk.rules, line.key)))

    def _set(self, rules: HouseRules) -> None:
        before = self.desk.rules
        self.desk.set_rules(rules)
        if (before.serial_baud, before.serial_pattern) != (rules.serial_baud, rules.serial_pattern):
            scales.renew(self.desk)

    def _typed(self) -> None:
        def take() -> None:
            changed = lines.typed(self.desk.rules, self.line, self.typed.text(), units_of(self.desk))
            self.line = ""
            self.typed.clear()
            self.setFocus()
            self._set(changed)

        self.attempt(take)

    def _usual(self) -> None:
        """Start from the usual rules again; one's own flow cups stay."""
        self._set(HouseRules(home_cups=self.desk.rules.home_cups))
