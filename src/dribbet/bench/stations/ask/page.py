"""Ask: the page. A sentence to edit, cups on a rack, the honest margin. Not a form."""

from __future__ import annotations

import sys
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QProcess
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from dribbet.bench.apart import apart_told
from dribbet.bench.page import Page
from dribbet.bench.parts.base import Words, scroller
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import clear
from dribbet.bench.stations.ask.chooser import Chooser
from dribbet.bench.stations.ask.drawn import CanShow, Costs, StickKey
from dribbet.bench.stations.ask.first_page import FirstPage
from dribbet.bench.stations.ask.flow import PartButton, SentenceLines
from dribbet.bench.stations.ask.held_card import HeldCard
from dribbet.bench.stations.ask.presenter import PRE_TEST, AskPresenter
from dribbet.bench.stations.ask.rack_area import RackArea
from dribbet.bench.stations.ask.sheet_parts import Amounts, DaysSheet, LeafTabs, LooksSheet, Offers, PanelsSheet
from dribbet.bench.stations.ask.view import AskView, Leaf
from dribbet.lab.verdict.rehearse import Rehearsed, rehearse
from dribbet.notebook.whole_file import save_file
from dribbet.records import DropsBy
from dribbet.words import ask as ask_words
from dribbet.words import first_page
from dribbet.words import verdict as verdict_words
from dribbet.words.parts import Part

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.studio.desk import Desk


def open_demo() -> None:
    """Start the made-up studio as a program of its own; tests answer in its place."""
    QProcess.startDetached(sys.executable, ["-m", "dribbet.cli", "demo"])


class AskPage(Page):
    """The question."""

    space_types = True

    def __init__(self, desk: Desk, jobs: Jobs) -> None:
        super().__init__(desk, jobs, column=True)
        self.presenter = AskPresenter(desk)
        self.view = AskView()
        self.hand = "factor"
        self._rehearsing = False
        self.first_page = FirstPage()
        self.first_page.taken.connect(lambda way: self.attempt(partial(self.take_way, way)))
        self.body.addWidget(self.first_page, 1)
        self.question = SentenceLines()
        self.question.opened.connect(self._open)
        self.body.addWidget(self.question)
        self.tabs = LeafTabs()
        self.tabs.wanted.connect(self.show_leaf)
        self.body.addWidget(self.tabs)
        self.rack = RackArea()
        self.amounts, self.days, self.looks, self.panels = Amounts(), DaysSheet(), LooksSheet(self._open), PanelsSheet()
        self.looks.toggled.connect(lambda r, t: self.attempt(partial(self.presenter.toggle_time, r, t)))
        self.looks.weighed.connect(lambda r: self.attempt(partial(self.presenter.weigh, r)))
        self.sheets = QStackedWidget()
        self.rack_room = scroller(self.rack, self.inks)
        self.card = HeldCard(self._open)
        for sheet in (self.rack_room, self.card, self.amounts, self.days, self.looks, self.panels):
            self.sheets.addWidget(sheet)
        self.body.addWidget(self.sheets, 1)
        self.offers = Offers()
        self.offers.taken.connect(lambda digit: self.attempt(partial(self.presenter.take_size, digit)))
        self.body.addWidget(self.offers)
        self.expectation = SentenceLines()
        self.expectation.opened.connect(self._open)
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
        self._build_margin()
        self.chooser: Chooser | None = None

    def _build_margin(self) -> None:
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
        column.addStretch(1)
        self.column.addWidget(scroller(inner, self.inks), 1)
        self.cost_head = Words("It costs", 15, 700)
        self.column.addWidget(self.cost_head)
        self.costs = Costs()
        self.column.addWidget(self.costs)

    # ------------------------------------------------------------ what is so

    def refresh(self) -> None:
        self.view = v = self.presenter.view()
        for part in (self.question, self.tabs, self.sheets, self.expectation, self.held_head, self.held, self.cost_head, self.costs):
            part.setVisible(not v.empty)
        self.first_page.setVisible(v.empty)
        self.show_column(not v.empty)
        if v.empty:
            self.title("", first_page.HEAD, first_page.NOTE)
            self.stick.hide()
            self.offers.show_offers(())
            ways: list[tuple[Key, Callable[[], object]]] = [(Key("Enter", ask_words.CHOOSE_A_KIND_OF_TEST), partial(self.take_way, 1))]
            if not self.desk.notebook.read_only:
                ways.append((Key("U", "Grams or ounces"), lambda: self.go.emit("series")))
            self.keys(ways)
            self.actions |= {str(n): partial(self.take_way, n) for n in (1, 2, 3)}
            return
        self.title("", "")
        px, lead = self._sentence_px(v)
        self.question.say(v.sentence, px=px, lead=lead, hand=self.hand, fixed=v.drawn)
        self.expectation.say(
            v.expectation_in_short if self.narrow else v.expectation,
            px=17 if self.low else 18,
            lead=30 if self.low else 34,
            hand=self.hand,
            fixed=False,
        )
        self.tabs.show_leaves(v.leaves, v.leaf)
        self._show_sheet(v)
        self.offers.show_offers(v.offers)
        self.held.say(v.held)
        on_rack = v.leaf is Leaf.RACK and not (len(v.sentence) > 26 or (self.low and len(v.rows) > 1))
        self.held.setVisible(on_rack)
        self.held_head.setVisible(on_rack)
        self.stick.setVisible(not self.low and on_rack)
        self.remarks(self.first, v.margin[:1])
        self.can_show.show_change(v.can_show)
        self.remarks(self.rest, v.margin[1:])
        self.costs.show_costs(v.costs)
        self._offer_keys(v)

    def _sentence_px(self, v: AskView) -> tuple[int, int]:
        """Type size of the question and the height of its lines, by how much it says and how much room there is."""
        parts = sum(isinstance(p, Part) for p in v.sentence)
        px = 27 if parts <= 7 else 24 if parts <= 9 else 21
        if self.width() > 1500:
            px += 6
        if self.low or self.narrow:
            px = min(px, 22 if parts <= 9 else 19)
        return px, max(round(px * 1.42), 34)

    def _show_sheet(self, v: AskView) -> None:
        self.sheets.setCurrentIndex(list(Leaf).index(v.leaf))
        if v.leaf is Leaf.RACK:
            self.rack.set_low(self.low)
            self.rack.show_view(v)
        elif v.leaf is Leaf.HELD:
            self.card.show_held(v.card)
        elif v.leaf is Leaf.AMOUNTS:
            self.amounts.show_bottles(v.bottles)
        elif v.leaf is Leaf.DAYS:
            self.days.show_days(v.days)
        elif v.leaf is Leaf.LOOKS:
            self.looks.show_checks(v.checks)
        else:
            self.panels.show_sheet(v.sheet)

    def _offer_keys(self, v: AskView) -> None:
        p = self.presenter
        if v.drawn:
            keys = [
                (Key("Enter", "Go to Mix" if self.narrow else v.one_key), lambda: self.go.emit("mix")),
                (Key("L", "Print" if self.narrow else "Print run sheet"), self._print),
            ]
            if v.can_take_back:
                keys.append((Key("Z", "Lots back" if self.narrow else ask_words.TAKE_THE_LOTS_BACK), p.planning.take_back_lots))
            keys.append((Key("M", "More"), self._more))
            hidden: dict[str, Callable[[], object]] = {
                "j": self._judge,
                "v": self._next_leaf,
                "o": self._again,
                "f": self._mend,
            }
        else:
            keys = [
                (Key("Enter", v.one_key), p.draw_lots),
                (Key("P", "Kinds" if self.narrow else "Kinds of test"), self._templates),
                (Key("H", "Rack" if v.leaf is Leaf.HELD else "Held" if self.narrow else "What is held"), self._held),
                (Key("M", "More"), self._more),
            ]
            hidden = {
                "e": self._rehearse, "j": self._judge, "r": lambda: p.add_repeat(1),
                "t": lambda: p.add_repeat(-1), "z": p.undo, "y": p.redo, "x": p.planning.separate, "c": p.planning.add_control,
                "i": p.planning.insist, "o": self._again, "f": self._mend, "l": self._print, "v": self._next_leaf,
                "g": lambda: p.drops_by(DropsBy.GROWN), "d": lambda: p.drops_by(DropsBy.DILUTED),
            }  # fmt: skip
        self.keys(keys)
        self.actions |= hidden

    def _judge(self) -> None:
        self.go.emit("playing")

    def _rehearse(self) -> None:
        """Play the plan through in a job, some seconds long."""
        if self._rehearsing:
            return
        series, asked = self.desk.need_run().series, self.presenter.rehearsal()

        def done(out: object) -> None:
            self._rehearsing = False
            assert isinstance(out, Rehearsed)
            self.presenter.keep_rehearsal(series, asked, out)

        def failed(error: Exception) -> None:
            self._rehearsing = False
            self.failed(error)

        self._rehearsing = True
        self.say_note(verdict_words.REHEARSING)
        self.jobs.start(
            lambda report: apart_told(report, rehearse, asked.plan, asked.responses, asked.effect, asked.factor, asked.ends), done, failed
        )
        self.refresh()

    def take_way(self, way: int) -> None:
        """One of the three ways in: a kind of test, the shelf, or the made-up studio in a window of its own."""
        if way == 1:
            self.presenter.planning.new_series()
            self._templates()
        elif way == 2:
            self.go.emit("shelf")
        else:
            open_demo()
            self.say_note(ask_words.DEMO_OPENS)

    def press_digit(self, digit: int) -> bool:
        """Take one of the three sizes, or one of the ways into an empty notebook."""
        if self.view.empty and 1 <= digit <= len(self.first_page.ways):
            self.attempt(partial(self.take_way, digit))
            return True
        if not self.view.offers:
            return False
        self.attempt(lambda: self.presenter.take_size(digit))
        return True

    def entered(self) -> None:
        self.presenter.trouble = None

    # ------------------------------------------------------------ the sentence

    def _open(self, button: PartButton) -> None:
        self.hand = button.part.id
        self.open_chooser(button.part, button.mapToGlobal(QPoint(0, button.height())))

    def open_chooser(self, part: Part, at: QPoint) -> Chooser:
        """Open the list (or field) of a part."""
        lists = ("held", "more", "template", "earlier", "source") if not part.id.startswith("change:") else (part.id,)
        self.chooser = Chooser(self, part, None if part.id in lists else self.presenter.choose)
        self.chooser.chosen.connect(self._chosen)
        self.chooser.open_at(at)
        return self.chooser

    def _corner(self) -> QPoint:
        return self.mapToGlobal(QPoint(20, 16))

    def _held(self) -> None:
        self.show_leaf(Leaf.RACK if self.view.leaf is Leaf.HELD else Leaf.HELD)

    def _more(self) -> None:
        self.open_chooser(self.presenter.more_list(), self._corner())

    def _templates(self) -> None:
        self.open_chooser(self.presenter.template_list(), self._corner())

    def _again(self) -> None:
        self.open_chooser(self.presenter.again_list(), self._corner())

    def _chosen(self, part: str, value: str) -> None:
        p = self.presenter
        if part == "held":
            self.open_chooser(p.held_part(value), self._corner())
        elif part == "template" and value == PRE_TEST:
            self.go.emit("pre-test")
        elif part == "template":
            self.attempt(lambda: p.planning.take_template(value))
        elif part == "earlier":
            self.open_chooser(p.again_list(value), self._corner())
        elif part == "source":
            self.open_chooser(p.change_list(value), self._corner())
        elif part.startswith("change:"):
            self.attempt(lambda: p.repeat_with(part.partition(":")[2], value))
        elif part == "more":
            self._do_more(value)

    def _do_more(self, what: str) -> None:
        p = self.presenter
        if what == "name":
            name = p.desk.need_run().series.name
            self.open_chooser(Part("name", name, typed=name, hint=ask_words.NAME_OF_THE_SERIES), self._corner())
            return
        acts: dict[str, Callable[[], object]] = {
            "more repeats": lambda: p.add_repeat(1),
            "fewer repeats": lambda: p.add_repeat(-1),
            "templates": self._templates, "again": self._again, "mend": self._mend, "separate": p.planning.separate,
            "plain": p.planning.leave_extras_out, "control": p.planning.add_control, "insist": p.planning.insist, "sheet": self._print,
            "shopping": self._shopping, "turning": lambda: self.go.emit("turning"), "undo": p.undo, "redo": p.redo,
            "grown": lambda: p.drops_by(DropsBy.GROWN), "diluted": lambda: p.drops_by(DropsBy.DILUTED),
        }  # fmt: skip
        self.attempt(acts[what])

    # ------------------------------------------------------------ sheets

    def show_leaf(self, leaf: Leaf) -> None:
        """Show another sheet: rack, amounts, days, looks, panels."""
        self.presenter.leaf = leaf
        self.refresh()

    def _next_leaf(self) -> None:
        leaves = self.view.leaves
        self.show_leaf(leaves[(leaves.index(self.view.leaf) + 1) % len(leaves)])

    # ------------------------------------------------------------ paper

    def ask_where(self, name: str, kind: str) -> Path | None:
        """Ask where a file should go; tests answer in its place."""
        chosen, _ = QFileDialog.getSaveFileName(self, "Save", str(Path.home() / name), kind)
        return Path(chosen) if chosen else None

    def _print(self) -> None:
        run = self.desk.need_run()
        out = self.ask_where(f"{run.series.code}-run-sheet.pdf", "PDF (*.pdf)")
        if out is not None:
            draw = self.presenter.run_sheet()
            self.jobs.start(
                lambda report: save_file(out, draw(report)), done=lambda _: self.say_done(ask_words.IS_WRITTEN(out=out)), failed=self.failed
            )

    def _shopping(self) -> None:
        run = self.desk.need_run()
        out = self.ask_where(f"{run.series.code}-shopping.txt", "Text (*.txt)")
        if out is not None:
            self.presenter.write_shopping(out)
            self.say_done(ask_words.IS_WRITTEN(out=out))

    def _mend(self) -> None:
        said: list[str] = []
        self.attempt(lambda: said.extend(self.presenter.mend()))
        if said:
            self.say_done(" ".join(said))

    def say_done(self, words: str) -> None:
        """Say above the keys what was done."""
        clear(self.trouble)
        self.trouble.addWidget(Words(words, 16, 600))
