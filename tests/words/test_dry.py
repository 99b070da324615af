"""What is typed while panels dry becomes facts."""

from __future__ import annotations

import pytest

from dribbet.lab.panel.air import Air
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


@pytest.mark.parametrize(
    ("driest", "warmest", "said"),
    [
        (0.40, 21.0, "Room 21 °C, 45 % damp (down to 40 % damp, up to 21 °C) on the mean, as read."),
        (0.42, 23.0, "Room 21 °C, 45 % damp (down to 42 % damp, up to 23 °C) on the mean, as read."),
        (0.42, 22.5, "Room 21 °C, 45 % damp on the mean, as read."),
    ],
)
def test_the_worst_hour_of_a_room_is_told_where_it_is_far_from_the_mean(driest, warmest, said):
    air = Air(celsius=21.0, damp=0.45, read=1.0, least_damp=driest, most_celsius=warmest)
    assert dry.room(air, Units()).replace("\u202f", " ") == said
