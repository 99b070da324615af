"""A reading holds as long as the photographs it was made from do."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan.responses import hidden_slope
from dribbet.lab.verdict.readings import that_hold
from dribbet.records import Lamp, Photo, Reading, Stage
from tests.made_up import NOON, result

MAIN = Photo(
    id="main", panel_id="p", sha256="0" * 64, suffix=".jpg", name="a.jpg", stage=Stage.DRY, lamp=Lamp.DIFFUSE, width_px=10, height_px=10,
    taken_at=None, added_at=NOON, number=1,
)  # fmt: skip
LEFT, RIGHT = replace(MAIN, id="l", lamp=Lamp.LEFT, number=2), replace(MAIN, id="r", lamp=Lamp.RIGHT, number=3)
PLAIN = Reading(id="r1", panel_id="p", photo_id="main", stage=Stage.DRY, reader="t", at=NOON, result=result(), number=4)
SHINY = replace(PLAIN, id="r2", result=result(shimmer={"index": 0.2, "glints_per_cm2": 1.0}))


def out(photo: Photo) -> Photo:
    return replace(photo, left_out=True)


def test_reading_falls_with_its_own_photo():
    assert that_hold([PLAIN], [MAIN]) == (PLAIN,)
    assert that_hold([PLAIN], [out(MAIN)]) == ()
    assert that_hold([PLAIN], [out(MAIN), replace(MAIN, id="new", number=9)]) == ()
    assert that_hold([PLAIN], []) == ()


def test_shimmer_falls_with_either_lamp():
    assert that_hold([SHINY], [MAIN, LEFT, RIGHT]) == (SHINY,)
    assert that_hold([SHINY], [MAIN, LEFT, out(RIGHT)]) == ()
    assert that_hold([SHINY], [MAIN, out(LEFT), RIGHT]) == ()
    assert that_hold([PLAIN], [MAIN, out(LEFT), RIGHT]) == (PLAIN,), "what says no shimmer does not rest on them"


def test_lamp_that_was_replaced_after_the_reading_was_not_read():
    assert that_hold([SHINY], [MAIN, out(LEFT), replace(LEFT, id="new", number=9), RIGHT]) == ()


def test_lamp_of_another_panel_or_stage_does_not_stand_in():
    assert that_hold([SHINY], [MAIN, LEFT, replace(RIGHT, panel_id="q")]) == ()
    assert that_hold([SHINY], [MAIN, LEFT, replace(RIGHT, stage=Stage.WET)]) == ()


@pytest.mark.parametrize(
    ("slope", "sd", "most"),
    [
        (0.02, 0.002, None),  # 0.0004 read, 0.000084 its scatter
        (0.0, 0.004, 0.004 * 3**0.5),
        (0.0056, 0.0023, 0.011158),  # 0.00003136 + 3 x 0.00003105
        (0.0056, 0.0020, 0.010515),  # 0.00003136 + 3 x 0.0000264
        (0.0056, 0.0012, None),  # 0.00003136 is just more than twice 0.00001488
        (0.0, 0.00057, None),
    ],
)
def test_what_may_hide_among_flakes_goes_by_power(slope, sd, most):
    assert hidden_slope({"slope": slope, "slope_sd": sd}) == (None if most is None else pytest.approx(most, rel=1e-4))
    assert hidden_slope({"slope": slope}) is None
