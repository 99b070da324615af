"""Why: the page. One panel, one symptom, its causes ranked against the person's own good panels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from dribbet.bench.page import Page
from dribbet.bench.parts.base import scroller
from dribbet.bench.parts.cause_rows import CauseRows, CauseView
from dribbet.bench.parts.keys import Key
from dribbet.bench.theme.inks import WALL
from dribbet.lab.verdict.causes import EXPLAINS, Symptom
from dribbet.studio.standing import causes, choosing
from dribbet.words import causes as words
from dribbet.words import choosing as choosing_words
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.records import Panel
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


@dataclass(frozen=True, slots=True)
class WhyView:
    """Everything the page shows."""

    sentence: str
    note: str = ""
    rows: tuple[CauseView, ...] = ()
    empty: bool = False


class WhyPresenter:
    """Which panel and which symptom. No widgets."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.symptom: Symptom | None = None
        """What was asked; None: what the panel has."""

    def panels(self, run: Run) -> list[Panel]:
        """Panels that were read."""
        return [p for p in run.in_order() if run.reading(p) is not None]

    def panel(self, run: Run) -> Panel | None:
        """Panel in hand, else the first that has any symptom."""
        found = self.panels(run)
        chosen = next((p for p in found if p.id == self.desk.in_hand("why")), None)
        return chosen or next((p for p in found if causes.symptoms(self.desk, run, p)), found[0] if found else None)

    def view(self) -> WhyView:
        """What is so."""
        run = self.desk.run()
        panel = self.panel(run) if run is not None else None
        if run is not None and choosing.covered(run):
            return WhyView(choosing_words.COVERED, choosing_words.COVERED_NOTE, empty=True)
        if run is None or panel is None:
            return WhyView(words.NOTHING, empty=True)
        symptom = self.symptom or next(iter(causes.symptoms(self.desk, run, panel)), Symptom.CRACKS)
        told, units = causes.diagnosis(self.desk, run, panel, symptom), units_of(self.desk)
        rows = tuple(
            CauseView(words.NAMES[c.figure], (c.value - c.good) / c.sd if c.sd else 0.0, words.against(c, units), words.far(c), c.named)
            for c in told.causes
        )
        return WhyView(words.sentence(told), words.note(told), rows)

    def next_panel(self) -> None:
        """The next panel that was read."""
        run = self.desk.need_run()
        found, now = self.panels(run), self.panel(run)
        at = next((i for i, p in enumerate(found) if now is not None and p.id == now.id), -1)
        self.desk.take("why", found[(at + 1) % len(found)].id)
        self.symptom = None
        self.desk.changed()

    def next_symptom(self) -> None:
        """Another symptom."""
        run = self.desk.need_run()
        panel = self.panel(run)
        now = self.symptom or (next(iter(causes.symptoms(self.desk, run, panel)), Symptom.CRACKS) if panel is not None else Symptom.CRACKS)
        every = list(EXPLAINS)
        self.symptom = every[(every.index(now) + 1) % len(every)]
        self.desk.changed()


class WhyPage(Page):
    """Causes of one panel."""

    inks = WALL

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = WhyPresenter(desk)
        self.view = WhyView("")
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(0, 10, 8, 0)
        self.rows = CauseRows(WALL)
        column.addWidget(self.rows)
        column.addStretch(1)
        self.body.addWidget(scroller(inner, WALL), 1)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        self.title("", v.sentence, v.note)
        self.rows.setVisible(bool(v.rows))
        self.rows.show_rows(v.rows)
        keys = [(Key("Space", words.BACK), lambda: self.go.emit("back"))]
        if not v.empty:
            keys += [(Key("N", words.NEXT_PANEL), self.presenter.next_panel), (Key("S", words.NEXT_SYMPTOM), self.presenter.next_symptom)]
        self.keys(keys)
