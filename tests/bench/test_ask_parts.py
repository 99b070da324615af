"""Drawn parts of Ask: what they draw is to scale, every state differs, all of it neutral but for paint and tape."""

from __future__ import annotations

import numpy as np
import pytest

from dribbet.bench.stations.ask.chooser import Chooser
from dribbet.bench.stations.ask.drawn import CanShow, Costs
from dribbet.bench.stations.ask.flow import SentenceLines
from dribbet.bench.stations.ask.sheet_parts import BottlePart, DaysLine, LookRing, OfferButton, PanelsSheet, RackSlots, RegionPebbles
from dribbet.bench.stations.ask.view import BottleView, CanShowView, Day, Days, Offered, Region, Sheet
from dribbet.records import DribbetError
from dribbet.studio.history import History
from dribbet.words.parts import Part
from tests.bench.test_parts import painted
from tests.made_up import series

PLAIN = BottleView("foam", "#808080", "colour", "80.6 g, 60 mL", "of 780 g", "", 0.1)
WHOLE = (0.0, 0.0, 1.0, 1.0)


def bottle(**changed) -> BottlePart:
    from dataclasses import replace

    return BottlePart(replace(PLAIN, **changed))


def offer(*, current: bool) -> OfferButton:
    return OfferButton(Offered(1, "Smallest", "6 panels", "shows 46 mm.", current))


def days(mix_h: float = 1.0, pour_h: float = 2.0) -> Days:
    made = (Day(0, "Thu 19 Nov", mix_h, 0.0, "mix 9 cups"), Day(1, "Fri 20 Nov", 0.0, pour_h, "pour 6 panels", (("wet", "6 panels, from 09:30"),)))
    return Days(made, 4.0)


def days_line(**hours: float) -> DaysLine:
    line = DaysLine()
    line.show_days(days(**hours))
    return line


def slots(*places: int) -> RackSlots:
    made = RackSlots()
    made.show_places(places)
    return made


def panels(inner: tuple[float, float, float, float]) -> PanelsSheet:
    made = PanelsSheet()
    made.show_sheet(Sheet((200.0, 150.0), ((Region(WHOLE, inner, "a1", "10 %"),),), ""))
    return made


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (lambda: bottle(), lambda: bottle(share=0.8)), (lambda: bottle(), lambda: bottle(short="short 20.0 g", share=1.4)),
        (lambda: bottle(), lambda: bottle(stock="not on the shelf")), (lambda: LookRing("Cracks", True, 58), lambda: LookRing("Cracks", False, 58)),
        (lambda: RegionPebbles("Cracks", 1), lambda: RegionPebbles("Cracks", 3)), (lambda: days_line(), lambda: days_line(pour_h=7.0)),
        (lambda: slots(4, 2, 20), lambda: slots(12, 12, 20)), (lambda: panels(WHOLE), lambda: panels((0.0, 0.0, 0.9, 1.0))),
        (lambda: offer(current=True), lambda: offer(current=False)),
    ],
)  # fmt: skip
def test_each_state_looks_different_and_all_is_neutral(qapp, one, other):
    first, second = painted(one(), 240, 160), painted(other(), 240, 160)
    assert np.any(first != second)
    for picture in (first, second):
        spread = picture.max(axis=2).astype(int) - picture.min(axis=2)
        assert spread.max() <= 2, "a tint"


def ink_width(view: CanShowView) -> int:
    """Columns with ink on the middle of the panel that is drawn."""
    part = CanShow()
    part.show_change(view)
    picture = painted(part, 200, 94)[30:52]
    dark = np.flatnonzero((picture.min(axis=2) < 90).any(axis=0))
    inside = dark[(dark > 8) & (dark < 116)]
    return int(inside.max() - inside.min()) if inside.size else 0


def test_smallest_crack_is_drawn_to_the_panels_scale(qapp):
    short, long = (ink_width(CanShowView("line", mm, f"{mm} mm", (200.0, 150.0))) for mm in (40.0, 80.0))
    assert long == pytest.approx(2 * short, abs=6)
    assert short == pytest.approx(40.0 * 90 / 150, abs=5)  # 94 px high, less its frame


@pytest.mark.parametrize("kind", ["line", "wide", "cells", "share"])
@pytest.mark.parametrize("round_", [True, False])
def test_every_kind_of_change_is_drawn_on_panels_of_both_shapes(qapp, kind, round_):
    part = CanShow()
    part.show_change(CanShowView(kind, 12.0, "12", (200.0, 150.0), round_))
    more = CanShow()
    more.show_change(CanShowView(kind, 45.0, "12", (200.0, 150.0), round_))
    assert np.any(painted(part, 200, 94) != painted(more, 200, 94))


def test_nothing_known_draws_nothing(qapp):
    part = CanShow()
    part.show_change(CanShowView())
    assert part.isHidden()


def test_costs_are_read_out(qapp):
    costs = Costs()
    costs.show_costs((("Paint", "310 g of 1 kg", 0.3), ("Panels", "6 of 16 at hand", 0.4)))
    assert "Panels: 6 of 16 at hand" in costs.accessibleDescription()
    assert np.any(painted(costs, 240, 60) < 60)


# ---------------------------------------------------------------- sentence, list, history


def words(*texts: str) -> tuple[str | Part, ...]:
    return (
        "Does ",
        Part("factor", texts[0], (("a", "a"),)),
        " of ",
        Part("levels", texts[1], typed="1, 2"),
        " change ",
        Part("response", "cracks"),
        "?",
    )


def test_sentence_breaks_between_words_and_keeps_its_buttons(qapp):
    sentence = SentenceLines()
    sentence.resize(700, 40)
    sentence.say(words("water share", "10 % or 20 %"), px=27, lead=40, hand="factor", fixed=False)
    buttons = list(sentence.buttons)
    assert [b.part.id for b in buttons] == ["factor", "levels", "response"]
    assert sentence.heightForWidth(260) > sentence.heightForWidth(700)
    sentence.say(words("water share", "10 %, 15 % or 20 %"), px=27, lead=40, hand="factor", fixed=False)
    assert sentence.buttons == buttons  # changed in place: the focus stays
    for b in buttons:
        assert b.width() >= b.natural_width() or b.width() == sentence.width()
    assert sentence.accessibleName() == "Does water share of 10 %, 15 % or 20 % change cracks?"


def test_part_that_was_refused_is_marked_and_says_why(qapp):
    sentence = SentenceLines()
    sentence.resize(700, 40)
    part = Part("levels", "10 % or 20 %", typed="10, 190", trouble="190 % is no share.")
    sentence.say((part,), px=27, lead=40, hand="", fixed=False)
    assert sentence.buttons[0].accessibleDescription() == "190 % is no share."


def test_list_stays_open_while_a_choice_cannot_be_taken(qapp):
    tried = []

    def attempt(part: str, value: str) -> None:
        tried.append((part, value))
        if value == "bad":
            raise DribbetError("That cannot be.")

    chooser = Chooser(None, Part("levels", "x", typed="x", hint="Levels"), attempt)
    chosen = []
    chooser.chosen.connect(lambda *what: chosen.append(what))
    chooser._choose("bad")
    assert chooser.trouble() == "That cannot be."
    assert chosen == []
    chooser._choose("good")
    assert chosen == [("levels", "good")]
    assert tried == [("levels", "bad"), ("levels", "good")]


def test_a_figure_stays_with_its_unit_where_a_line_breaks():
    from dribbet.bench.stations.ask.sheet_parts import _wrapped

    assert _wrapped("8 panels, from 07:00 (1\u202fh later, by day)", 1.0) == ["8", "panels,", "from", "07:00", "(1\u202fh", "later,", "by", "day)"]


def test_history_goes_back_and_forth_and_a_new_change_forgets_what_was_undone():
    history = History()
    first, second, third = series(repeats=2), series(repeats=3), series(repeats=4)
    history.changed(first)
    history.changed(second)
    assert history.back(third) == second
    assert history.back(second) == first
    assert history.back(first) is None
    assert history.forth(first) == second
    history.changed(second)
    assert history.forth(third) is None
    for _ in range(300):
        history.changed(first)
    assert len(history.done) == 200
