"""Findings: what all decided series have shown, as sentences with their series on tape."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from dribbet.bench.page import Page
from dribbet.bench.parts.base import Words
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.parts.tape import Tape, TapeLabel
from dribbet.lab.responses import SCALES
from dribbet.records import Response, Series, SeriesState

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.bench.studio import Studio


class FindingsPresenter:
    """Sentences that the notebook supports. No widgets."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio

    def findings(self) -> list[tuple[Series, str]]:
        """Verdicts of decided series, newest first."""
        decided = [s for s in self.studio.all_series() if s.state is SeriesState.DECIDED and s.verdict]
        return [(s, s.verdict) for s in sorted(decided, key=lambda s: s.created_at, reverse=True)]

    def luck(self) -> list[str]:
        """How much panels poured alike differ, for each response that has repeats."""
        made = []
        for response in Response:
            known = self.studio.scatter(response)
            if known is not None:
                scale = SCALES[response]
                value = (
                    self.studio.units.length_text(known.sd, scale.digits)
                    if scale.unit == "mm"
                    else f"{known.sd:.{scale.digits}f} {scale.unit}".strip()
                )
                if round(known.sd, scale.digits) == 0.0:
                    value = f"less than {10.0**-scale.digits:g} {scale.unit}".strip()
                made.append(f"{str(response).capitalize()}: panels poured alike differ by {value} (rests on {known.df} repeats).")
        return made


class FindingsPage(Page):
    """The door Findings."""

    def __init__(self, studio: Studio, jobs: Jobs) -> None:
        super().__init__(studio, jobs)
        self.presenter = FindingsPresenter(studio)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(12)
        self.body.addLayout(self.rows)
        self.luck_head = Words("Luck, from your own repeats", 18, 700)
        self.body.addSpacing(14)
        self.body.addWidget(self.luck_head)
        self.luck = Words("", 17)
        self.body.addWidget(self.luck)
        self.body.addStretch(1)

    def refresh(self) -> None:
        found = self.presenter.findings()
        clear(self.rows)
        self.title(
            "",
            "What your panels have shown so far." if found else "No series is decided yet.",
            "" if found else "Close one on Decide, and its verdict stands here.",
        )
        for series, verdict in found:
            row = QHBoxLayout()
            row.setSpacing(16)
            row.addWidget(TapeLabel(series.code, 18, Tape.OTHER), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(Words(f"<b>{verdict}</b><br>{series.name}: {series.varied[0].words}, {series.repeats} panels of each recipe.", 19), 1)
            self.rows.addLayout(row)
        lines = self.presenter.luck()
        self.luck_head.setVisible(bool(lines))
        self.luck.say("<br>".join(lines))
        self.keys([(Key("Space", "Go to Today"), lambda: self.go.emit("today"))])
