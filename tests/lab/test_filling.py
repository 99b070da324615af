"""How far an ingredient may be from its plan."""

import pytest

from dribbet.lab.cup.filling import allowance_kg, filling
from tests.made_up import material, mix, weighing


@pytest.mark.parametrize(
    ("planned_g", "tolerance_g", "may_be_g"),
    [(20.0, 0.2, 0.2), (2.0, 0.2, 0.2), (1.5, 0.2, 0.15), (0.4, 0.2, 0.1), (0.0, 0.2, 0.1), (20.0, 0.05, 0.05), (0.4, 0.05, 0.05)],
)
def test_small_ingredient_may_be_off_by_a_tenth_of_itself_or_the_scales_digit(planned_g, tolerance_g, may_be_g):
    assert allowance_kg(planned_g / 1e3, tolerance_g / 1e3) == pytest.approx(may_be_g / 1e3)


def test_a_drop_is_due_while_more_than_half_of_one_is_missing():
    """Two drops of 30 mg, ever so finely weighed: at 44 mg and less the second one is due, at 46 mg it is in."""
    cup = mix(plan=(("teal", 0.030),), drops=2, drop_material="silicone")
    shelf = {n: material(n) for n in ("teal", "silicone")}
    for held_mg, due in ((30.0, True), (44.0, True), (46.0, False), (60.0, False)):
        ledger = [weighing(cup, "teal", 0.030, 0), weighing(cup, "silicone", held_mg * 1e-6, 1)]
        found = filling(cup, ledger, [], shelf, tolerance_kg=0.2e-3, drop_kg=30e-6)
        assert [name for name, _ in found.left] == (["silicone"] if due else [])
