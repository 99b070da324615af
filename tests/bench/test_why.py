"""Why a panel went wrong, in the window and by its figures."""

from __future__ import annotations

import pytest

from dribbet.bench.why.page import WhyPresenter
from dribbet.lab.verdict.causes import Cause, Symptom, Trait
from dribbet.studio.standing import causes
from dribbet.words import causes as words
from dribbet.words.units import Units
from tests.bench.conftest import press


def panel(desk, code):
    run = desk.load(code[:2].lower())
    return run, next(p for p in run.panels if p.code == code)


def test_a_thick_panel_that_cracked_is_told_so(desk):
    run, thick = panel(desk, "K2-b1")
    told = causes.diagnosis(desk, run, thick, Symptom.CRACKS)
    assert told.present
    assert told.causes[0].figure is Trait.FILM
    assert told.causes[0].named
    assert words.sentence(told) == "K2-b1 cracked. Look at this first: wet film."
    assert told.good >= 10
    assert words.note(told).startswith(f"Held against {told.good} panels of yours")


def test_what_other_good_panels_went_without_too_is_not_named(desk):
    """A panel without silicone: want of it points the right way, but panels of other tests had cells without it."""
    run, bare = panel(desk, "D1-a1")
    told = {c.figure: c for c in causes.diagnosis(desk, run, bare, Symptom.FEW_CELLS).causes}
    assert 0.0 < told[Trait.SILICONE].far < 1.0
    assert not any(c.named for c in told.values())
    assert words.sentence(causes.diagnosis(desk, run, bare, Symptom.FEW_CELLS)).endswith("explains that.")


def test_figures_are_those_that_were_weighed_and_timed(desk):
    run, thick = panel(desk, "K2-b1")
    found = causes.figures_of(desk, run, thick)
    assert found[Trait.FILM] == pytest.approx(2.3e-3, rel=0.1)
    assert found[Trait.WATER] == pytest.approx(run.arm(thick).water_share)
    assert found[Trait.HEAT_PASSES] == run.held(thick).torch_passes
    assert 0.0 < found[Trait.DWELL] < 600.0


@pytest.mark.parametrize(
    ("symptom", "value", "middle", "present"),
    [
        (Symptom.CRACKS, 0.0, 9.0, False), (Symptom.CRACKS, 0.1, 9.0, True), (Symptom.BARE, 96.9, 99.0, True), (Symptom.BARE, 97.0, 99.0, False),
        (Symptom.FEW_CELLS, 5.9, 10.0, True), (Symptom.FEW_CELLS, 6.0, 10.0, False),
        (Symptom.LACING, 5.1, 2.0, True), (Symptom.LACING, 5.0, 2.0, False),
    ],
)  # fmt: skip
def test_a_symptom_is_there_by_the_panels_own_figure(symptom, value, middle, present):
    assert causes.has(symptom, value, middle) is present


def test_amounts_are_said_in_the_persons_units():
    units = Units()
    assert words.amount(Trait.FILM, 2.34e-3, units) == "2.3\u202fmm"
    assert words.amount(Trait.DRYING, 0.213 / 3600.0, units) == "213 g/(m² h)"
    assert words.amount(Trait.MIX_REST, 5400.0, units) == "1.5\u202fh"
    assert words.amount(Trait.DWELL, 63.6, units) == "64\u202fs"


@pytest.mark.parametrize(
    ("far", "said"),
    [(2.0, "far off"), (1.99, "off"), (1.0, "off"), (0.99, "as with good ones"), (-0.99, "as with good ones"), (-1.0, "lies the other way")],
)
def test_how_far_a_figure_lies_is_said_from_one_deviation_on(far, said):
    assert words.far(Cause(figure=Trait.FILM, value=1.0, good=1.0, sd=1.0, panels=5, far=far)) == said


def test_the_page_walks_panels_and_symptoms(open_window, desk):
    desk.choose_series("k2")
    window = open_window(desk)
    window.walk("decide")
    press(window, "Y")
    page = window.page("why")
    assert window.current == "why"
    assert page.rows.isVisibleTo(page)
    left = page.view.sentence
    press(window, "N")
    assert page.view.sentence != left
    before = page.view.sentence
    press(window, "S")
    assert page.view.sentence != before
    press(window, "Space")
    assert window.current == "decide"


def test_a_series_without_readings_says_so(desk):
    desk.choose_series("e1")
    assert WhyPresenter(desk).view().empty
