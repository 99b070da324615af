"""How far an ingredient may be from its plan."""

import pytest

from dribbet.lab.cup.filling import allowance_kg


@pytest.mark.parametrize(
    ("planned_g", "tolerance_g", "may_be_g"),
    [(20.0, 0.2, 0.2), (2.0, 0.2, 0.2), (1.5, 0.2, 0.15), (0.4, 0.2, 0.1), (0.0, 0.2, 0.1), (20.0, 0.05, 0.05), (0.4, 0.05, 0.05)],
)
def test_small_ingredient_may_be_off_by_a_tenth_of_itself_or_the_scales_digit(planned_g, tolerance_g, may_be_g):
    assert allowance_kg(planned_g / 1e3, tolerance_g / 1e3) == pytest.approx(may_be_g / 1e3)
