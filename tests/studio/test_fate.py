"""What became of each colour: poured against what shows, worked by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.records import Layer
from dribbet.sight.swatches import alike, given, shares_by_swatch
from dribbet.studio.standing import fate
from dribbet.studio.standing.fate import Fate, Fates
from dribbet.words import fates as words
from dribbet.words.units import units_of

PAINTS = {"foam": "#F3EFE6", "teal": "#0F6A7A", "red": "#9C2F3C"}


def read_as(desk, *shares: tuple[str, float]):
    """The first panel of a test, read with these colours."""
    desk.choose_series("d1")
    run = desk.need_run()
    panel = run.panels[0]
    reading = run.reading(panel)
    told = {**reading.result, "colour": {**reading.result["colour"], "shares": [{"hex": h, "share": s} for h, s in shares]}}
    readings = tuple(replace(r, result=told) if r.id == reading.id else r for r in run.readings)
    return replace(run, readings=readings), panel


def test_each_colour_of_a_photograph_goes_to_the_paint_that_is_nearest():
    shares = (("#F0ECE0", 0.5), ("#126D7E", 0.2), ("#9A3040", 0.1), ("#60E020", 0.2))  # the last is none of them
    assert given(shares, PAINTS) == pytest.approx({"foam": 0.5, "teal": 0.2, "red": 0.1})
    assert shares_by_swatch(shares, PAINTS) == pytest.approx({"foam": 0.625, "teal": 0.25, "red": 0.125})
    assert given((), PAINTS) == {}
    assert given(shares, {}) == {}


def test_paints_whose_swatches_are_one_colour_on_a_photograph_stand_together():
    assert alike(PAINTS) == [["foam"], ["teal"], ["red"]]
    assert alike({**PAINTS, "other teal": "#11707E"}) == [["foam"], ["red"], ["teal", "other teal"]]
    assert alike({}) == []


def test_what_shows_is_held_against_what_was_poured(desk):
    hexes = {m.key: m.hex for m in desk.shelf()}
    run, panel = read_as(desk, (hexes["foam"], 0.60), (hexes["dulse red"], 0.17), (hexes["wet slate"], 0.03), ("#60E020", 0.20))
    told = fate.fates(desk, run, panel)
    assert [f.paints for f in told.of] == [("foam",), ("dulse red",), ("wet slate",), ("brass",)]
    foam, red, slate, brass = told.of
    assert (foam.poured, foam.shows) == pytest.approx((0.40, 0.60))
    assert foam.survival == pytest.approx(1.5)
    assert red.survival == pytest.approx(0.5)
    assert (slate.poured, slate.shows) == pytest.approx((0.14, 0.03))
    assert (brass.shows, brass.survival) == (0.0, 0.0)
    assert told.blended == pytest.approx(0.20)


def test_layers_of_one_colour_are_one_pour_and_colours_that_cannot_be_told_apart_one_fate(desk):
    hexes = {m.key: m.hex for m in desk.shelf()}
    desk.notebook.replace(replace(next(m for m in desk.shelf() if m.key == "dulse red"), hex=hexes["foam"]))
    desk.changed()
    run, panel = read_as(desk, (hexes["foam"], 0.9), (hexes["wet slate"], 0.1))
    first = fate.fates(desk, run, panel).of[0]
    assert set(first.paints) == {"foam", "dulse red"}
    assert (first.poured, first.shows) == pytest.approx((0.74, 0.9))
    assert first.hex == hexes["foam"]
    arm = run.arm(panel)
    twice = replace(arm, layers=(Layer(material="foam", share=0.1), Layer(material="wet slate", share=0.6), Layer(material="foam", share=0.3)))
    mine = replace(run)
    mine.__dict__["arm"] = lambda _panel: twice
    assert {f.paints: f.poured for f in fate.fates(desk, mine, panel).of} == pytest.approx({("foam",): 0.4, ("wet slate",): 0.6})
    named_only = replace(arm, layers=(Layer(material="foam", share=1.0), Layer(material="wet slate", share=0.0)))
    mine.__dict__["arm"] = lambda _panel: named_only
    assert [f.paints for f in fate.fates(desk, mine, panel).of] == [("foam",)]  # what was not poured has no fate


def test_nothing_is_told_before_a_panel_was_read(desk):
    run, panel = read_as(desk)
    assert fate.fates(desk, run, panel) is None
    desk.choose_series("k4")
    run = desk.need_run()
    unread = next(p for p in run.panels if run.reading(p) is None)
    assert fate.fates(desk, run, unread) is None


def one(paint: str, poured: float, shows: float) -> Fate:
    return Fate(paints=(paint,), hex="#000000", poured=poured, shows=shows)


@pytest.mark.parametrize(
    ("of", "blended", "said"),
    [
        ((one("foam", 0.5, 0.55), one("kelp green", 0.5, 0.45)), 0.0, "Each shows about as much as was poured."),
        ((one("foam", 0.8, 0.9), one("kelp green", 0.2, 0.1)), 0.0, "Kelp green: 20 % poured, 10 % shows."),
        ((one("foam", 0.8, 0.64), one("kelp green", 0.2, 0.31)), 0.05, "Kelp green: 20 % poured, 31 % shows."),
        ((one("foam", 0.8, 0.83), one("kelp green", 0.02, 0.0)), 0.15, "15 % is blends of them."),  # 2 % is a stain
        ((one("foam", 0.6, 0.30), one("kelp green", 0.4, 0.62)), 0.08, "Foam: 60 % poured, 30 % shows. Kelp green: 40 % poured, 62 % shows."),
    ],
)
def test_what_is_said_is_who_went_under_and_who_came_up(desk, of, blended, said):
    assert words.sentence(Fates(of=of, blended=blended), units_of(desk)).replace("\u202f", " ") == said
