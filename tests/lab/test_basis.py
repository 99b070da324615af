"""What is made equal between recipes, what is then not, and what cannot be."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.lab.plan import basis, design
from dribbet.lab.plan.arm import grade_viscosity_pa_s, mix_fractions
from dribbet.lab.plan.basis import Quantity
from dribbet.records import Constants, DribbetError, Equal, Factor, Level
from tests.made_up import series

MEDIUMS = (Level(name="conditioner"), Level(name="glue"))
PRICES = (("foam", 20.0), ("teal", 20.0), ("slate", 20.0), ("conditioner", 8.0), ("glue", 5.0))


def mediums(**changed):
    return series(factor=Factor.MEDIUM, levels=MEDIUMS, **changed)


def standings(s):
    return [basis.standing(a, dict(PRICES)) for a in design.arms(s)]


def test_equal_recipe_of_two_mediums_flows_and_costs_unlike():
    found = basis.differs(standings(mediums()))
    assert set(found) == {Quantity.FLOW, Quantity.COST}


def test_equal_flow_gives_each_recipe_its_own_water_and_unlike_paint():
    first, second = design.arms(mediums(equal=Equal.FLOW))
    assert second.viscosity_pa_s == pytest.approx(first.viscosity_pa_s, rel=1e-6)
    assert second.water_share > first.water_share  # glue is thicker
    assert Quantity.PAINT in basis.differs(standings(mediums(equal=Equal.FLOW)))


def test_equal_paint_share_lets_water_give_way():
    s = series(factor=Factor.RATIO, levels=(Level(value=1.5), Level(value=2.0)), equal=Equal.PAINT, constants=Constants(water_share=0.3))
    first, second = design.arms(s)
    assert second.paint_share == pytest.approx(first.paint_share)
    assert second.medium_share / second.paint_share == pytest.approx(2.0)
    assert second.water_share < first.water_share


def test_equal_cost_changes_the_parts_of_the_medium():
    s = mediums(equal=Equal.COST, prices=PRICES)
    one, two = standings(s)
    assert two.cost_per_kg == pytest.approx(one.cost_per_kg, rel=0.01)
    assert two.medium_parts < one.medium_parts  # the cheaper medium leaves money for paint
    assert two.thinner_share == pytest.approx(one.thinner_share)


def test_what_cannot_be_made_equal_says_so_and_stays_as_it_was():
    s = series(factor=Factor.RATIO, levels=(Level(value=0.5), Level(value=3.0)), equal=Equal.PAINT)
    assert "no room for its medium" in design.arms(s)[1].trouble
    thin = series(factor=Factor.ALCOHOL, levels=(Level(value=0.0), Level(value=0.4)), equal=Equal.FLOW)
    assert "thinner than that even without water" in design.arms(thin)[1].trouble
    assert design.arms(thin)[1].water_share == 0.0  # it gets none, and stays as thick as it can be
    dear = mediums(equal=Equal.COST, prices=(("conditioner", 8.0), ("glue", 90.0), ("foam", 1.0), ("teal", 1.0), ("slate", 1.0)))
    assert "whatever its parts" not in design.arms(dear)[0].trouble


def test_water_that_makes_room_for_alcohol_counts_with_it_as_thinner():
    """As much medium as paint: 0.06 of paint leave 0.88 for thinner, 0.04 leave 0.92, and no more than 0.9 may be, alcohol included."""
    s = series(constants=Constants(medium_parts=1.0, water_share=0.3))
    arm = design.arms(s)[0]
    for alcohol, paint, fits in ((0.3, 0.06, True), (0.3, 0.04, False), (0.0, 0.06, True), (0.0, 0.04, False)):
        one = basis._at_paint(replace(arm, alcohol_share=alcohol), paint)
        assert ("more water than paint can take" not in one.trouble) == fits


@given(st.sampled_from(Equal), st.floats(0.5, 4.0), st.floats(0.0, 0.4))
def test_shares_sum_to_one_whatever_is_made_equal(equal, ratio, water):
    s = mediums(equal=equal, prices=PRICES, constants=Constants(medium_parts=ratio, water_share=water))
    for arm in design.arms(s):
        assert sum(mix_fractions(arm, "foam").values()) == pytest.approx(1.0)
        assert min(arm.parts.values()) >= 0.0


@pytest.mark.parametrize(("equal", "factor"), [(Equal.FLOW, Factor.WATER_SHARE), (Equal.PAINT, Factor.WATER_SHARE), (Equal.COST, Factor.RATIO)])
def test_a_basis_that_undoes_the_question_is_refused(equal, factor):
    with pytest.raises(DribbetError, match="would undo"):
        basis.need_no_clash(equal, [factor])
    basis.need_no_clash(Equal.RECIPE, [factor])


def test_a_grade_is_thinned_to_its_viscosity():
    s = series(factor=Factor.GRADE, levels=(Level(value=2.0), Level(value=2.5), Level(value=3.0)), constants=Constants(medium_parts=1.0))
    made = design.arms(s)
    assert [a.viscosity_pa_s for a in made] == pytest.approx([grade_viscosity_pa_s(g) for g in (2.0, 2.5, 3.0)], rel=1e-3)
    assert made[0].water_share > made[1].water_share > made[2].water_share


def test_alcohol_brings_only_its_strength_of_alcohol():
    weak, strong = design.arms(
        series(factor=Factor.ALCOHOL_STRENGTH, levels=(Level(value=0.7), Level(value=0.99)), constants=Constants(alcohol_share=0.1))
    )
    assert weak.isopropyl_share == pytest.approx(0.1 * 0.7 * 785 / (0.7 * 785 + 0.3 * 998))
    assert strong.isopropyl_share > weak.isopropyl_share


def test_third_liquid_takes_the_place_of_water():
    s = series(factor=Factor.THIRD_LIQUID, levels=(Level(name="water"), Level(name="alcohol"), Level(name="nothing")))
    water, alcohol, nothing = design.arms(s)
    assert (water.water_share, water.alcohol_share) == (pytest.approx(0.16), 0.0)
    assert (alcohol.water_share, alcohol.alcohol_share) == (0.0, pytest.approx(0.16))
    assert nothing.water_share == nothing.alcohol_share == 0.0
    gentle = design.arms(replace(s, varied=(replace(s.varied[0], levels=(Level(name="gentle thinner"), Level(name="water"))),)))[0]
    assert gentle.parts["gentle thinner"] == pytest.approx(0.16)
    assert "water" not in gentle.parts


def test_blend_of_mediums_is_mixed_from_both():
    s = series(factor=Factor.MEDIUM, levels=(Level(name="conditioner"), Level(name="conditioner 60 + glue 40")))
    parts = mix_fractions(design.arms(s)[1], "foam")
    assert parts["conditioner"] / parts["glue"] == pytest.approx(1.5)
    with pytest.raises(DribbetError, match="no blend"):
        design.arms(series(factor=Factor.MEDIUM, levels=(Level(name="glue"), Level(name="glue + 0"))))


def test_parts_of_medium_below_one_are_parts_and_no_thinner():
    s = series(factor=Factor.RATIO, levels=(Level(value=0.5), Level(value=0.9)))
    found = basis.differs(standings(s))
    assert found[Quantity.PARTS] == pytest.approx((0.5, 0.9))
    assert Quantity.THINNER not in found


def test_costs_are_unequal_from_a_twentieth_of_their_mean_on():
    def found(low: float, high: float) -> bool:
        one, *_ = standings(mediums())
        return Quantity.COST in basis.differs([replace(one, cost_per_kg=low), replace(one, cost_per_kg=high)])

    assert not found(10.00, 10.50)  # 0.5 of 10.25: 4.9 %
    assert found(10.00, 10.52)  # 0.52 of 10.26: 5.1 %
    assert not found(0.0, 0.0)
