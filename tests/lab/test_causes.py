"""Causes of what went wrong with a panel, ranked against good panels; figures worked by hand."""

from __future__ import annotations

import math

import pytest

from dribbet.lab.verdict.causes import EXPLAINS, Symptom, Trait, ranked

GOOD = [{Trait.FILM: v, Trait.WATER: 0.16, Trait.ANTI_CRAZE: 0.1} for v in (1.2e-3, 1.3e-3, 1.4e-3, 1.3e-3)]


def test_how_far_is_told_in_standard_deviations_of_good_panels_never_less_than_a_seventh():
    (film, *_) = ranked(Symptom.CRACKS, {Trait.FILM: 2.3e-3}, GOOD)
    assert film.sd == pytest.approx(0.15 * 1.3e-3)  # their own is 0.08 mm
    assert film.far == pytest.approx(1.0 / 0.195)
    assert film.named
    wide = [{Trait.FILM: v} for v in (0.8e-3, 1.8e-3)]
    assert ranked(Symptom.CRACKS, {Trait.FILM: 2.3e-3}, wide)[0].far == pytest.approx(1.0 / math.sqrt(0.5))


def test_what_lies_the_other_way_explains_nothing():
    told = ranked(Symptom.CRACKS, {Trait.FILM: 0.8e-3, Trait.ANTI_CRAZE: 0.0}, GOOD)
    assert [c.figure for c in told] == [Trait.ANTI_CRAZE, Trait.FILM]
    assert told[0].far > 1.0  # less of what helps
    assert told[1].far < 0.0
    assert not told[1].named


def test_a_figure_that_may_explain_either_way_counts_by_its_distance():
    good = [{Trait.DWELL: v} for v in (50.0, 60.0, 70.0)]
    few, many = (ranked(Symptom.FEW_CELLS, {Trait.DWELL: v}, good)[0].far for v in (10.0, 110.0))
    assert few == pytest.approx(many)
    assert few > 2.0


def test_a_few_good_panels_that_happen_to_agree_prove_little():
    near = ranked(Symptom.CRACKS, {Trait.WATER: 0.17}, [{Trait.WATER: 0.16}] * 2)[0]
    assert near.far < 0.5


def test_what_is_not_known_of_both_is_left_out():
    assert ranked(Symptom.CRACKS, {Trait.DRYING: 2e-5}, GOOD) == ()
    assert ranked(Symptom.CRACKS, {Trait.FILM: math.nan}, GOOD) == ()
    assert ranked(Symptom.CRACKS, {Trait.FILM: 1.0e-3}, []) == ()
    assert ranked(Symptom.CRACKS, {Trait.SILICONE: 0.0}, [{Trait.SILICONE: 0.0}])[0].far == 0.0


def test_every_symptom_has_causes_and_thick_films_never_explain_bare_spots():
    assert set(EXPLAINS) == set(Symptom)
    assert EXPLAINS[Symptom.BARE][Trait.FILM] == -1
    assert EXPLAINS[Symptom.CRACKS][Trait.FILM] == 1


@pytest.mark.parametrize(
    ("symptom", "more", "less", "either"),
    [
        (Symptom.CRACKS, {"wet film", "share of water", "drying air", "silicone", "passes of heat"},
         {"anti-craze additive", "share of paint"}, set()),
        (Symptom.FEW_CELLS, set(), {"silicone", "passes of heat", "alcohol", "wet film"},
         {"run of its drips", "time to the first heat", "rest under the cup"}),
        (Symptom.SMALL_CELLS, {"silicone"}, {"time to the first heat", "run of its drips", "wet film"}, {"rest of the mix"}),
        (Symptom.BARE, {"place in the pouring order"}, {"wet film", "run of its drips", "paint poured", "share of water"}, set()),
        (Symptom.DULL, {"share of water", "alcohol", "rest under the cup", "run of its drips"}, {"share of paint"}, set()),
        (Symptom.LACING, {"silicone", "run of its drips"}, {"wet film"}, {"time to the first heat"}),
    ],
)  # fmt: skip
def test_which_way_each_figure_explains_a_symptom(symptom, more, less, either):
    told = EXPLAINS[symptom]
    assert ({f.value for f, w in told.items() if w == 1}, {f.value for f, w in told.items() if w == -1}) == (more, less)
    assert {f.value for f, w in told.items() if w == 0} == either
