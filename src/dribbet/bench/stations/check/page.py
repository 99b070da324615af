"""Check: the page. A drip card with true runs, mounds, what wants to sink, ways to pour, and every other test."""

from __future__ import annotations

import time
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.drip_lanes import DripLanes
from dribbet.bench.parts.keys import Key
from dribbet.bench.stations.check.parts import Mounds, SinkingCup, Tests, Ways
from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.bench.stations.check.view import CheckTest, CheckView
from dribbet.records import CheckKind
from dribbet.words import check as check_words
from dribbet.words.parts import Remark, Weight

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk

PHOTOS = "Photos (*.jpg *.jpeg *.png *.tif *.tiff *.webp *.heic *.heif)"


class CheckPage(Page):
    """Consistency of one recipe's colours."""

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs)
        self.presenter = CheckPresenter(desk)
        self.view = CheckView("")
        self.more = False
        self.adding = False
        """Whether the grams of a correction are asked for."""
        row = QHBoxLayout()
        row.setSpacing(34)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.setContentsMargins(0, 0, 0, 0)
        self.lanes = DripLanes()
        self.lanes.pressed.connect(lambda i: self.attempt(lambda: self.presenter.choose(i)))
        left.addWidget(self.lanes, 1)
        self.tests = Tests()
        self.tests.chosen.connect(lambda k: self.attempt(lambda: self.presenter.choose_test(k)))
        left.addWidget(self.tests)
        typing = QHBoxLayout()
        self.typed = Field(check_words.RUN_IN_MM, width_px=170)
        self.typed.returnPressed.connect(self._typed)
        self.typed_note = Words("", 15, 400, role="note")
        typing.addWidget(self.typed)
        typing.addWidget(self.typed_note, 1, Qt.AlignmentFlag.AlignVCenter)
        left.addLayout(typing)
        self.streams = [Tests(), Tests()]
        for line in self.streams:
            line.chosen.connect(lambda k: self.attempt(lambda: self.presenter.tick_stream(int(k))))
            left.addWidget(line)
        self.fix_note = Words("", 15, 400)
        left.addWidget(self.fix_note)
        self.cautions = QVBoxLayout()
        left.addLayout(self.cautions)
        bench = QWidget()
        bench.setLayout(left)
        row.addWidget(bench, 60)
        inner = QWidget()
        side = QVBoxLayout(inner)
        side.setContentsMargins(0, 0, 8, 0)
        side.setSpacing(6)
        self.side_parts: list[QWidget] = []
        self.mounds, self.sinking, self.ways = Mounds(), SinkingCup(), Ways()
        self.mound_note, self.sink_note, self.ways_note = (Words("", 15, 400, role="note") for _ in range(3))
        for head, part, note in (
            (check_words.MOUND_HOLDS, self.mounds, self.mound_note),
            (check_words.WHAT_WANTS_TO_SINK, self.sinking, self.sink_note),
            (check_words.WAYS_TO_POUR, self.ways, self.ways_note),
        ):
            title = Words(head, 17, 700)
            for widget in (title, part, note):
                side.addWidget(widget)
                self.side_parts.append(widget)
            side.addSpacing(6)
        self.read_head = Words(check_words.WHAT_ELSE_WAS_READ, 17, 700)
        self.read_words = Words("", 15, 400, role="note")
        side.addWidget(self.read_head)
        side.addWidget(self.read_words)
        side.addStretch(1)
        self.side = scroller(inner)
        row.addWidget(self.side, 40)
        self.body.addLayout(row, 1)

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        for part in [
            self.lanes,
            self.tests,
            self.typed,
            self.typed_note,
            self.fix_note,
            self.read_head,
            self.read_words,
            *self.streams,
            *self.side_parts,
        ]:
            part.setVisible(not v.empty)
        self.title("", v.sentence, v.note)
        if v.empty:
            self.remarks(self.cautions, [])
            self.keys([(Key("Space", "Go to Mix"), lambda: self.go.emit("mix"))])
            return
        self.lanes.show_card(v.card)
        self.tests.show_tests(v.tests)
        self.typed.setPlaceholderText("grams" if self.adding else v.field_hint)
        self.typed.setVisible(bool(v.field_hint) or self.adding)
        self.typed_note.say(check_words.REALLY_ADDED if self.adding else v.field_note)
        told = [CheckTest(str(i), f"{i}  {words}", False) for i, words in enumerate(v.streams, 1)]
        for line, some in zip(self.streams, (told[:3], told[3:]), strict=True):
            line.show_tests(tuple(some))
            line.setVisible(bool(some))
        self.fix_note.say("" if self.low else v.fix_note)
        self.mounds.show_mounds(v.mounds)
        self.mound_note.say(v.mound_note)
        run = self.desk.need_run()
        self.sinking.show_rows(v.sinking, tuple(layer.share for layer in run.series.layers))
        self.sink_note.say(v.sink_note)
        self.ways.show_ways(v.ways, v.way_pots)
        self.ways_note.say(v.ways_note)
        read = [*([v.fix_note] if self.low and v.fix_note else []), *v.read]
        self.read_head.setVisible(bool(read))
        self.read_words.say("\n".join(read))
        self.remarks(self.cautions, [Remark("", words, Weight.CAUTION) for words in v.cautions[: 1 if self.low else 3]], 15)
        self.keys(self._adding_keys() if self.adding else self._more_keys() if self.more else self._keys())
        for key, act in self._more_keys()[1:]:  # what stands under More works without it, too
            self.actions.setdefault(key.cap.lower(), act)
        self.actions["m"] = self._mound if self._timing_with_m() else self._more  # the key that started the stopwatch stops it too

    def _timing_with_m(self) -> bool:
        return self.view.matched and not self.more

    def _keys(self) -> list[tuple[Key, Callable[[], object]]]:
        v = self.view
        cup = self.presenter.test is CheckKind.FLOW_CUP
        words = (
            f"Stop: {v.timing} {'broke' if cup else 'is flat'}"
            if v.timing
            else check_words.TIME_THE_FLOW_CUP
            if cup
            else "Time a mound"
            if self.narrow
            else check_words.TIME_THE_NEXT_MOUND
        )
        offered: list[tuple[Key, Callable[[], object]]] = []
        if v.matched and not v.timing:
            if v.more:
                offered.append((Key("Space", check_words.MATCHED_NEXT_RECIPE), self.presenter.next_undone))
            else:
                offered.append((Key("Space", check_words.MATCHED_GO_TO_POUR), lambda: self.go.emit("pour")))
            offered.append((Key("M", "Time a mound"), self._mound))
        else:
            offered.append((Key("Space", words), self._mound))
        if self.presenter.hand is not None:
            words = "Drip again" if self.presenter.test is CheckKind.DRIP else "Read again"
            offered.append((Key("D", words), self.presenter.drip_again))
        if v.fix:
            offered.append((Key("W", v.fix), self._ask_added))
        if v.can_keep:
            offered.append((Key("K", "Keep it" if self.narrow else check_words.KEEP_AS_IT_IS), self.presenter.keep_as_it_is))
        if not v.fix:
            offered.append((Key("C", "Read a card"), self._card))
        offered.append((Key("O", "More"), self._more))
        return offered

    def _adding_keys(self) -> list[tuple[Key, Callable[[], object]]]:
        return [(Key("Enter", check_words.LOG_WHAT_WENT_IN), self._typed), (Key("Esc", "Leave it"), self._leave_adding)]

    def _more_keys(self) -> list[tuple[Key, Callable[[], object]]]:
        offered: list[tuple[Key, Callable[[], object]]] = [
            (Key("Space", check_words.BACK_TO_THE_CHECK), self._more),
            (Key("C", "Read a card"), self._card),
            (Key("G", check_words.READ_A_RING_PHOTO), self._ring),
            (Key("T", "Another test"), self.presenter.next_test),
        ]
        if self.presenter.test is CheckKind.FLOW_CUP:
            offered.append((Key("U", "Another cup"), self.presenter.next_cup))
        if len(self.view.groups) > 1:
            offered.append((Key("R", "Next recipe"), self.presenter.next_group))
        return offered

    def _more(self) -> None:
        self.more = not self.more
        self.refresh()

    def press_digit(self, digit: int) -> bool:
        """The stream, by its figure."""
        return self.presenter.tick_stream(digit)

    def _mound(self) -> None:
        self.presenter.time_mound(time.monotonic())
        self.refresh()

    def _ask_added(self) -> None:
        """What was really added, beginning with what was advised."""
        advised = self.presenter.fix_grams()
        self.adding = True
        self.refresh()
        self.typed.setText(advised)
        self.typed.setFocus()
        self.typed.selectAll()

    def _leave_adding(self) -> None:
        self.adding = False
        self.typed.clear()
        self.refresh()

    def _typed(self) -> None:
        def take() -> None:
            text = self.typed.text()
            if self.adding:
                self.adding = False
                self.presenter.log_typed(text)
                self.setFocus()  # the next keys are presses again, not letters in the field
            else:
                self.presenter.type_reading(text)
            self.typed.clear()

        self.attempt(take)

    def _card(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, check_words.CARD_PHOTO, "", PHOTOS)
        if names:
            self.read_cards([Path(n) for n in names[:2]])

    def _ring(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, check_words.RING_PHOTO, "", PHOTOS)
        if name:
            self.read_ring(Path(name))

    def read_cards(self, paths: list[Path]) -> None:
        """Read one drip card, photographed once or twice, off the GUI thread."""
        self.typed_note.say(check_words.READING_CARD)
        self.jobs.start(lambda report: self.presenter.read_cards(paths, report), self._cards_read, self.failed)

    def read_ring(self, path: Path) -> None:
        """Read a photo of a ring test off the GUI thread."""
        self.typed_note.say(check_words.READING_THE_RING)
        self.jobs.start(lambda report: self.presenter.read_ring(path, report), self._ring_read, self.failed)

    def _cards_read(self, cards: object) -> None:
        assert isinstance(cards, list)
        self.attempt(lambda: self.presenter.take_cards(cards))
        self.refresh()

    def _ring_read(self, ratio: object) -> None:
        assert isinstance(ratio, float)
        self.attempt(lambda: self.presenter.take_ring(ratio))
        self.refresh()
