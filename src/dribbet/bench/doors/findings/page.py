"""Findings: what all decided series have shown, as sentences with their series on tape."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import Tape, TapeLabel
from dribbet.lab.paint import experience
from dribbet.lab.plan.responses import SCALES
from dribbet.records import Response, Series, SeriesState
from dribbet.records.wording import first_up
from dribbet.words import verdict as verdict_words
from dribbet.words.units import count_text, units_of

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk


class FindingsPresenter:
    """Sentences that the notebook supports. No widgets."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk

    def findings(self) -> list[tuple[Series, str]]:
        """Verdicts of decided series, newest first."""
        units = units_of(self.desk)
        decided = [s for s in self.desk.all_series() if s.state is SeriesState.DECIDED]
        said = [(s, verdict_words.closed(s, units)) for s in sorted(decided, key=lambda s: s.created_at, reverse=True)]
        return [(s, words) for s, words in said if words]

    def luck(self) -> list[str]:
        """How much panels poured alike differ, for each response that has repeats."""
        made = []
        for response in Response:
            known = self.desk.learned.scatter(response)
            if known is not None:
                scale = SCALES[response]
                value = (
                    units_of(self.desk).length_text(known.sd, scale.digits)
                    if scale.unit == "mm"
                    else f"{known.sd:.{scale.digits}f} {scale.unit}".strip()
                )
                if round(known.sd, scale.digits) == 0.0:
                    value = f"less than {10.0**-scale.digits:g} {scale.unit}".strip()
                made.append(f"{first_up(str(response))}: panels poured alike differ by {value} (rests on {known.df} repeats).")
        return made

    def bench(self) -> list[str]:
        """What the bench has to do with it: sheens in the cup, signs while pouring against the mounds before it."""
        seen = self.desk.learned.panels_seen()
        made = []
        unlike, alike = experience.by_sheen(seen)
        cells = [e.means.get(Response.CELL_COUNT) for e in (unlike, alike)]
        if unlike.panels and cells[0] is not None:
            against = f"; of like sheen: {cells[1]:.0f} on {alike.panels}" if cells[1] is not None else "; none with neighbours of like sheen yet"
            words = f"Sheen: with neighbours of unlike sheen in the cup {cells[0]:.0f} cells a dm² on {unlike.panels} panels{against}."
            made.append(f"{words} Other things differ between them, too: ask it as a test.")
        for s in experience.of_signs(seen):
            noted, others = f"{s.mound_s:.1f} s ({count_text(s.panels, 'panel')})", f"{s.others_mound_s:.1f} s ({s.others})"
            made.append(f"“{first_up(str(s.sign))}” while pouring: their mounds had held {noted}, the others' {others}.")
        return made


class FindingsPage(Page):
    """The door Findings."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = FindingsPresenter(desk)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(10)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(14)
        column.addLayout(self.rows)
        self.luck_head, self.luck = Words("Luck, from your own repeats", 18, 700), Words("", 17)
        self.bench_head, self.bench_words = Words("The bench", 18, 700), Words("", 17)
        for head, words in ((self.luck_head, self.luck), (self.bench_head, self.bench_words)):
            column.addSpacing(8)
            column.addWidget(head)
            column.addWidget(words)
        column.addStretch(1)
        self.body.addWidget(scroller(inner), 1)
        self._shown: object = None

    def refresh(self) -> None:
        found = self.presenter.findings()
        self.title(
            "",
            "What your panels have shown so far." if found else "No series is decided yet.",
            "" if found else "Close one on Decide, and its verdict stands here.",
        )
        self._show(found)
        lines = self.presenter.luck()
        self.luck_head.setVisible(bool(lines))
        self.luck.say("\n".join(lines))
        bench = self.presenter.bench()
        self.bench_head.setVisible(bool(bench))
        self.bench_words.say("\n".join(bench))
        self.keys([(Key("Space", "Go to Today"), lambda: self.go.emit("today"))])

    def _show(self, found: list[tuple[Series, str]]) -> None:
        """Rows are made anew only when a verdict is new or changed."""
        if found == self._shown:
            return
        self._shown = found
        clear(self.rows)
        for series, verdict in found:
            row = QHBoxLayout()
            row.setSpacing(16)
            row.addWidget(TapeLabel(series.code, 18, Tape.OTHER), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(Words(f"\x02{verdict}\x03\n{series.name}: {series.varied[0].words}, {series.repeats} panels of each recipe.", 19), 1)
            self.rows.addLayout(row)
