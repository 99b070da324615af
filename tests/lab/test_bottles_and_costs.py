"""Bottles: water lost and given back, leftovers barred. Costs: of mixes, panels and packs."""

import math
from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.cup import bottles
from dribbet.lab.paint import costs
from dribbet.records import Bottle, BottleKind, BottleWeighing, DribbetError, Kind, Pack
from tests.made_up import NOON, gauging, material

TEAL = material("teal", price_per_kg=28.0)
CONDITIONER = material("conditioner", kind=Kind.MEDIUM, price_per_kg=14.0, density_kg_m3=1025.0, volume_solids=0.15)
WATER = material("water", kind=Kind.THINNER, density_kg_m3=998.0, volume_solids=0.0)
SILICONE = material("silicone", kind=Kind.ADDITIVE, density_kg_m3=968.0, wash_off=True, stock_kg=0.09, volume_solids=1.0)
SHELF = [TEAL, CONDITIONER, WATER, SILICONE]
BOTTLE = Bottle(
    id="b1", code="A10", name="teal, 16 % water", kind=BottleKind.MIX, contents=(("teal", 0.28), ("conditioner", 0.56), ("water", 0.16)),
    stored_at=NOON, stored_kg=0.150, empty_kg=0.050,
)  # fmt: skip


def again(kg, day=3.0, **more):
    return BottleWeighing(**({"id": f"w{day}", "bottle_id": "b1", "mass_kg": kg, "at": NOON + timedelta(days=day)} | more))


def test_untouched_bottle_is_as_it_was_stored():
    now = bottles.stand(BOTTLE)
    assert (now.content_kg, now.lost_kg, now.unchecked, now.barred) == (pytest.approx(0.1), 0.0, False, "")
    assert now.contents == pytest.approx(dict(BOTTLE.contents))


def test_weight_lost_is_water_to_give_back_and_a_check_to_make():
    dry = bottles.stand(BOTTLE, [again(0.146)])
    assert (dry.lost_kg, dry.top_up_kg, dry.unchecked) == (pytest.approx(0.004), pytest.approx(0.004), True)
    assert dry.contents["water"] == pytest.approx(0.012 / 0.096)
    whole = bottles.stand(BOTTLE, [again(0.146, water_added_kg=0.004)])
    assert whole.contents == pytest.approx(dict(BOTTLE.contents))
    assert (whole.lost_kg, whole.top_up_kg, whole.unchecked) == (0.0, 0.0, True)


def test_never_more_water_lost_than_was_in_it():
    assert bottles.stand(BOTTLE, [again(0.100)]).lost_kg == pytest.approx(0.016)
    assert bottles.stand(BOTTLE, [again(0.170)]).lost_kg == 0.0


def test_loss_is_counted_once_over_several_weighings():
    twice = bottles.stand(BOTTLE, [again(0.148, 1), again(0.146, 2)])
    assert twice.lost_kg == pytest.approx(0.004)
    used = bottles.stand(BOTTLE, [again(0.148, 1, water_added_kg=0.002), again(0.150, 2, taken_out_kg=0.050), again(0.099, 3)])
    assert used.content_kg == pytest.approx(0.049)
    assert used.lost_kg == pytest.approx(0.001)


def test_a_bottle_that_is_emptied_holds_nothing_and_keeps_what_it_was():
    now = bottles.stand(BOTTLE, [again(0.150, 1, taken_out_kg=0.100)])
    assert now.content_kg == pytest.approx(0.0, abs=1e-12)
    little = replace(BOTTLE, stored_kg=0.090)  # 40 g, of which 10 g are taken
    left = bottles.stand(little, [again(0.090, 1, taken_out_kg=0.010)])
    assert left.content_kg == pytest.approx(0.030)
    assert left.contents == pytest.approx(dict(BOTTLE.contents))


@given(st.floats(0.0, 0.016), st.floats(0.0, 0.06))
def test_fractions_sum_to_one_whatever_happens_to_a_bottle(lost, taken):
    now = bottles.stand(BOTTLE, [again(0.150 - lost, 1, taken_out_kg=taken)])
    assert math.fsum(now.contents.values()) == pytest.approx(1.0, abs=1e-9)
    assert now.content_kg == pytest.approx(0.1 - lost - taken, abs=1e-9)


def test_leftover_inherits_composition_and_the_silicone_flag_and_is_barred():
    oily = {"teal": 0.5, "conditioner": 0.4, "silicone": 0.1}
    contents, silicone = bottles.leftover([(oily, 0.02), ({"teal": 1.0}, 0.03)], SHELF)
    assert contents == pytest.approx({"teal": 0.8, "conditioner": 0.16, "silicone": 0.04})
    assert silicone
    assert not bottles.leftover([({"teal": 1.0}, 0.03)], SHELF)[1]
    pot = replace(BOTTLE, kind=BottleKind.LEFTOVER, silicone=True)
    assert "leftover, silicone included" in bottles.barred(pot)
    assert bottles.barred(BOTTLE) == ""
    with pytest.raises(DribbetError, match="Nothing is in"):
        bottles.leftover([], SHELF)


def test_codes_are_short_different_and_without_letters_that_look_like_figures():
    made = [bottles.code_for(n) for n in range(3000)]
    assert len(set(made)) == 3000
    assert all(len(c) <= 4 for c in made)
    assert not set("".join(made)) & set("BGIOQSZ")
    assert bottles.next_code(made[:5]) == made[5]
    assert bottles.next_code([made[0], made[2]]) == made[1]


def test_oldest_bottle_is_used_first_and_empty_ones_not_at_all():
    young = replace(BOTTLE, id="b2", stored_at=NOON + timedelta(days=5))
    found = bottles.use_first([young, replace(BOTTLE, id="b3", finished=True), BOTTLE], NOON + timedelta(days=10))
    assert [(b.id, round(age)) for b, age in found] == [("b1", 10), ("b2", 5)]


def test_label_says_what_nobody_may_overlook():
    lines = bottles.label_lines(replace(BOTTLE, silicone=True, activator=True), "teal 28 %, conditioner 56 %, water 16 %")
    assert lines[:3] == ["teal, 16 % water", "SILICONE", "ACTIVATOR"]
    assert "19 November 2026" in lines


def test_cost_is_price_times_what_was_weighed_and_says_what_it_leaves_out():
    cup = {"teal": 0.023, "conditioner": 0.046, "water": 0.013, "silicone": 0.001}
    assert costs.of_amounts(cup, SHELF) == pytest.approx(0.023 * 28 + 0.046 * 14)
    assert costs.unpriced(cup, SHELF) == ["silicone"]


def test_house_mix_costs_what_is_in_it():
    mixed = material("half", made_of=(("teal", 1.0), ("conditioner", 1.0)))
    assert costs.price_per_kg(mixed, [*SHELF, mixed]) == pytest.approx(21.0)


def test_panel_cost_parts_into_what_lies_there_and_what_was_lost():
    found = costs.of_panel(18.0, mixed_kg=0.080, on_panel_kg=0.0613, kept_kg=0.005)
    assert (found.mixed, found.on_panel, found.kept) == pytest.approx((1.44, 1.1034, 0.09))
    assert found.lost == pytest.approx(0.0137 * 18)
    assert found.lost_share == pytest.approx(0.0137 / 0.08)
    with pytest.raises(DribbetError, match=r"only 50.0 g were mixed"):
        costs.of_panel(18.0, mixed_kg=0.050, on_panel_kg=0.0613)


def test_packs_stand_cheapest_first_by_the_kilogram_with_delivery():
    small, large = Pack(content_kg=0.1, price=6.0), Pack(content_kg=1.0, price=30.0, delivery=8.0)
    worth = costs.packs_of(replace(CONDITIONER, packs=(small, large)))
    assert [w.pack for w in worth] == [large, small]
    assert worth[0].per_kg == pytest.approx(38.0)
    assert costs.break_even_kg(small, large) == pytest.approx(38.0 / 60.0)
    assert costs.break_even_kg(large, small) is None or costs.break_even_kg(large, small) > 0.1


def test_dear_additive_lasts_as_long_as_its_drops():
    assert costs.drops_left(SILICONE, [gauging("silicone", "drop", 0.03e-3, count=20)]) == 3000
    assert costs.pours_left(SILICONE, 0.06e-3) == 1500
    assert costs.pours_left(SILICONE, 0.0) is None
