"""What a cup really holds: additions, what was taken out, house mixes opened up, drops counted."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import composition
from dribbet.lab.plan import design
from dribbet.records import TAKEN_OUT, Kind
from tests.made_up import CUP, material, mix, series, weighing

TEAL = mix()


@given(st.lists(st.tuples(st.sampled_from(["teal", "conditioner", "water", TAKEN_OUT]), st.floats(0.0, 0.05)), max_size=12))
def test_taken_out_paint_takes_every_ingredient_by_its_share(entries):
    ledger = [weighing(TEAL, name, kg, i) for i, (name, kg) in enumerate(entries)]
    held = composition.weighed_in(TEAL, ledger)
    expected = 0.0
    for name, kg in entries:
        expected = max(expected - kg, 0.0) if name == TAKEN_OUT else expected + kg
    assert math.fsum(held.values()) == pytest.approx(expected, abs=1e-12)
    assert TAKEN_OUT not in held
    assert all(kg >= 0.0 for kg in held.values())


def test_fractions_are_the_same_before_and_after_taking_out():
    ledger = [weighing(TEAL, "teal", 0.02, 0), weighing(TEAL, "water", 0.01, 1)]
    before = composition.weighed_in(TEAL, ledger)
    after = composition.weighed_in(TEAL, [*ledger, weighing(TEAL, TAKEN_OUT, 0.012, 2)])
    assert {n: kg / sum(after.values()) for n, kg in after.items()} == pytest.approx({n: kg / sum(before.values()) for n, kg in before.items()})


def test_cup_is_known_by_raw_components_and_drops_are_no_medium():
    shelf = [
        *(material(layer.material) for layer in CUP), material("glue", kind=Kind.MEDIUM), material("conditioner", kind=Kind.MEDIUM),
        material("cut glue", kind=Kind.HOUSE_MIX, made_of=(("glue", 2.0), ("water", 1.0))), material("serum", kind=Kind.ADDITIVE, wash_off=True),
    ]  # fmt: skip
    test = series()
    arm = design.arms(test)[0]
    cups = [mix(layer.material, recipes="abc", done=True) for layer in CUP]
    ledger = [w for c in cups for w in (weighing(c, c.colour, 0.03), weighing(c, "cut glue", 0.06, 1), weighing(c, "serum", 0.01, 2))]
    cup = composition.of_cup(test, arm, cups, ledger, shelf)
    assert math.fsum(cup.values()) == pytest.approx(1.0)
    assert (cup["glue"], cup["water"], cup["serum"]) == pytest.approx((0.4, 0.2, 0.1))
    assert "cut glue" not in cup
    actual = composition.actual_arm(test, arm, cups, ledger, shelf)
    assert (actual.paint_share, actual.medium_share, actual.water_share) == pytest.approx((0.3, 0.4, 0.2))


def test_cup_of_a_block_holds_what_that_blocks_own_batch_holds():
    test = series(repeats=2)
    arm = design.arms(test)[0]
    cups = [mix(layer.material, id=f"{layer.material}{b}", recipes="a", block=b, done=True) for b in (1, 2) for layer in CUP]
    ledger = [w for c in cups for w in (weighing(c, c.colour, 0.05), weighing(c, "water", 0.0125 * c.block, 1))]
    shares = [composition.of_cup(test, arm, cups, ledger, block=b)["water"] for b in (1, 2, 0)]
    assert shares == pytest.approx([0.2, 1 / 3, 0.0375 / 0.1375])
    actual = composition.actual_arm(test, arm, cups, ledger, block=2)
    assert actual.water_share == pytest.approx(1 / 3)


def test_volumes_by_role_open_house_mixes_and_use_the_shelfs_densities():
    shelf = [material("teal", density_kg_m3=1100.0), material("conditioner", density_kg_m3=1000.0), material("water", density_kg_m3=998.0),
             material("thin", made_of=(("conditioner", 1.0), ("water", 9.0)))]  # fmt: skip
    found = composition.volumes_by_role({"teal": 0.011, "conditioner": 0.02, "thin": 0.01}, "teal", "conditioner", shelf)
    assert found == pytest.approx({"paint": 10e-6, "medium": 21e-6, "water": 9e-3 / 998.0})
