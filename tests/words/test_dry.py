"""What is typed while panels dry becomes facts."""

from __future__ import annotations

import pytest

from dribbet.records import After, DribbetError
from dribbet.words import dry
from dribbet.words.units import Units


@pytest.mark.parametrize(
    ("kind", "typed", "figures"),
    [
        (After.BAKE, "", (160.0, 1800.0, 0.0)),
        (After.BAKE, "150, 20 min", (150.0, 1200.0, 0.0)),
        (After.BAKE, "150 °C; 1 h", (150.0, 3600.0, 0.0)),
        (After.HOT_CUP, "", (95.0, 30.0, 0.0)),
        (After.HOT_CUP, "90, 40 s, 320 g", (90.0, 40.0, 0.32)),
    ],
)
def test_what_is_typed_before_a_treatment_becomes_its_figures(kind, typed, figures):
    assert dry.typed_figures(kind, typed, Units()) == pytest.approx(figures)


def test_figures_of_a_treatment_in_other_units_and_what_is_none():
    assert dry.typed_figures(After.HOT_CUP, "194, 30 s, 10 oz", Units(mass="oz", temperature="°F")) == pytest.approx((90.0, 30.0, 0.28349523125))
    with pytest.raises(DribbetError, match=r"Type 95 °C, 30 s, 300\.0 g"):
        dry.typed_figures(After.HOT_CUP, "hot", Units())
