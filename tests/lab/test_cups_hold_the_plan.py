"""What all cups hold is what the recipes ask, to the scale's step, every dose included."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from dribbet.lab.cup import composition, dosing
from dribbet.lab.plan import design, planning, stops
from dribbet.records import (
    BasePlan,
    BlockBy,
    Constants,
    Design,
    DribbetError,
    DropsBy,
    Factor,
    Layer,
    Layout,
    Level,
    Varied,
)
from tests.made_up import ids, mix, numbers, series, weighing

COLOURS = ("foam", "teal", "slate", "gull")
STEP_KG = 1e-4


def words(*names: str) -> tuple[Level, ...]:
    return tuple(Level(name=n) for n in names)


THINGS = [
    Varied(factor=Factor.WATER_SHARE, levels=numbers(0.1, 0.2, 0.3)),
    Varied(factor=Factor.RATIO, levels=numbers(1.0, 2.5)),
    Varied(factor=Factor.SILICONE, levels=numbers(0.0, 2.0, 4.0)),
    Varied(factor=Factor.SILICONE_COLOUR, levels=words("teal", "foam + teal")),
    Varied(factor=Factor.HEAT, levels=numbers(0.0, 2.0)),
    Varied(factor=Factor.PAINT, levels=words("slate", "gull"), of="slate"),
    Varied(factor=Factor.PAINT, levels=words("foam", "gull"), of="foam", layer=1),
    Varied(factor=Factor.OPACITY, of="slate", levels=(
        Level(name="opaque", brings=((Factor.PAINT, Level(name="slate")),)), Level(name="clear", brings=((Factor.PAINT, Level(name="gull")),)))),
    Varied(factor=Factor.LAYERS, levels=numbers(1.0, 3.0)),
    Varied(factor=Factor.POURED, levels=numbers(0.05, 0.09)),
    Varied(factor=Factor.ORDER, levels=words("as given", "turned round")),
    Varied(factor=Factor.MEDIUM, levels=(
        Level(name="conditioner", brings=((Factor.RATIO, Level(value=2.0)),)), Level(name="glue", brings=((Factor.RATIO, Level(value=1.0)),)),
        Level(name="water", brings=((Factor.RATIO, Level(value=0.67)), (Factor.WATER_SHARE, Level(value=0.0)))))),
    Varied(factor=Factor.BASE_CRAZE, levels=numbers(0.0, 0.1)),
    Varied(factor=Factor.BASE_PAINT, levels=words("house satin", "house gloss")),
    Varied(factor=Factor.ANTI_CRAZE, levels=numbers(0.0, 0.15)),
    Varied(factor=Factor.THIRD_LIQUID, levels=words("water", "alcohol", "gentle thinner")),
]  # fmt: skip


@st.composite
def plans(draw):
    """Any test of one to three things."""
    chosen = draw(st.lists(st.sampled_from(THINGS), min_size=1, max_size=3, unique_by=lambda v: (v.factor, v.of)))
    layers = draw(st.sampled_from([
        (("foam", 0.5), ("teal", 0.3), ("slate", 0.2)), (("foam", 0.25), ("teal", 0.25), ("foam", 0.25), ("slate", 0.25)),
    ]))  # fmt: skip
    repeats = draw(st.integers(1, 4))
    blocks = draw(st.sampled_from([1, 1, 2]))
    held = Constants(
        poured_kg=draw(st.sampled_from([0.012, 0.034, 0.068])),
        silicone_drops_per_100g=draw(st.sampled_from([0.0, 2.0])),
        silicone_colours=("teal",),
        drops_by=draw(st.sampled_from(list(DropsBy))),
        colour_parts=draw(st.sampled_from([(), (("teal", 1.2),)])),
        base_plan=draw(st.sampled_from([BasePlan.NONE, BasePlan.FULL])),
        base_water_share=0.1,
        activator=draw(st.sampled_from(["none", "activator"])),
        activator_kg=0.004,
    )
    design_ = draw(st.sampled_from([Design.EVERY, Design.PAIRED]))
    made = series(
        varied=tuple(chosen), repeats=repeats, constants=held, layers=tuple(Layer(material=m, share=s) for m, s in layers),
        layout=Layout(design=design_, blocks=min(blocks, repeats), block_by=BlockBy.BATCH),
    )  # fmt: skip
    try:
        arms = design.arms(made)
    except DribbetError:
        assume(False)
    assume(design_ is Design.EVERY or (len(arms) <= 8 and made.layout.blocks == 1 and not made.varies(Factor.PANEL_SIZE)))
    return made


@settings(max_examples=120, deadline=None)
@given(plans())
def test_cups_of_any_plan_hold_what_its_recipes_ask(plan):
    cups = planning.mixes(plan, ids())
    for arm in design.arms(plan):
        for block in sorted({m.block for m in cups}):
            mine = [m for m in cups if arm.letter in m.recipes and m.block == block]
            assert sorted(m.colour for m in mine) == sorted(arm.colours)  # one cup of each colour, no other
            for cup in mine:
                total = sum(kg for _, kg in cup.plan)
                assert {n: kg / total for n, kg in cup.plan} == pytest.approx(design.mix_fractions(arm, cup.colour), abs=STEP_KG / total)
                asked = arm.dose_of(cup.colour)
                if asked:
                    one = dosing.dosing(asked, total, DropsBy.DILUTED if cup.drop_share < 1.0 else DropsBy.NEAREST)
                    assert cup.drops == one.drops
                    assert abs(cup.drops * cup.drop_share - asked * total * 10.0) <= 0.5 * cup.drop_share + 1e-6
                    assert cup.drop_material == arm.held.silicone
                else:
                    assert (cup.drops, cup.drop_material) == (0, "")


@settings(max_examples=120, deadline=None)
@given(plans())
def test_cups_of_any_plan_are_enough_for_every_piece(plan):
    cups = planning.mixes(plan, ids())
    share = planning.piece_share(plan)
    arms = design.arms(plan)
    for colour in planning.colours_in(plan):
        there = math.fsum(kg for m in cups if m.colour == colour for _, kg in m.plan)
        want = math.fsum(a.held.poured_kg * share * a.cup_share(colour) * a.panels for a in arms) * 1.15
        if plan.constants.drops_by is DropsBy.GROWN:
            assert there >= want - STEP_KG
        else:
            assert there == pytest.approx(want, abs=STEP_KG)


@settings(max_examples=80, deadline=None)
@given(plans())
def test_whole_drops_of_a_plan_without_stops_are_near_their_dose(plan):
    far = [b for b in planning.batches(plan) if b.dosing is not None and abs(b.dosing.off) > 0.25]
    assert bool(far) == any(s.why is stops.Why.DROPS for s in stops.stops(plan))
    if plan.constants.drops_by is DropsBy.GROWN:
        assert not far


@pytest.mark.parametrize(
    ("asked", "cup_kg", "by", "drops", "got", "cup"),
    [
        (2.0, 0.100, DropsBy.NEAREST, 2, 2.0, 0.100),  # 2 drops in 100 g
        (2.0, 0.030, DropsBy.NEAREST, 1, 10 / 3, 0.030),  # 0.6 of a drop: one, and 3.33 in 100 g
        (1.0, 0.030, DropsBy.NEAREST, 0, 0.0, 0.030),  # 0.3 of a drop: none, which stops the plan
        (1.0, 0.030, DropsBy.GROWN, 1, 1.0, 0.100),  # one drop wants 100 g
        (4.0, 0.030, DropsBy.GROWN, 2, 4.0, 0.050),  # 1.2 drops: two, in 50 g
        (1.0, 0.030, DropsBy.DILUTED, 3, 1.0, 0.030),  # three drops that hold a tenth each
        (1.5, 0.030, DropsBy.DILUTED, 4, 4 / 3, 0.030),  # 4.5 of them: four, 11 % less than asked
    ],
)
def test_drops_by_hand(asked, cup_kg, by, drops, got, cup):
    one = dosing.dosing(asked, cup_kg, by)
    assert (one.drops, one.got, one.cup_kg) == (drops, pytest.approx(got), pytest.approx(cup))
    assert one.off == pytest.approx(got / asked - 1.0)


def test_dose_in_milligrams_is_drops_times_what_a_drop_weighs():
    assert dosing.mg_per_100g(2.0, 2.9e-5) == pytest.approx(58.0)


def test_silicone_crossed_with_heat_has_a_carrying_cup_for_each_dose():
    silicone, heat = Varied(factor=Factor.SILICONE, levels=numbers(0.0, 2.0)), Varied(factor=Factor.HEAT, levels=numbers(0.0, 2.0))
    for varied in ((silicone, heat), (heat, silicone)):
        plan = series(varied=varied, constants=Constants(silicone_colours=("teal",)))
        cups = planning.mixes(plan, ids())
        dosed = [m for m in cups if m.drops]
        with_drops = "".join(a.letter for a in design.arms(plan) if a.silicone_drops_per_100g)
        assert [(m.colour, m.recipes) for m in dosed] == [("teal", with_drops)]
        assert dosed[0].drops == 2  # 2 in 100 g of 0.068 x 0.3 x 4 x 1.15 = 93.8 g
        assert {m.recipes for m in cups if m.colour != "teal"} == {"abcd"}


def test_pieces_side_by_side_share_the_paint_of_one_panel():
    plan = series(varied=(Varied(factor=Factor.WATER_SHARE, levels=numbers(0.1, 0.2)),), repeats=3, layout=Layout(design=Design.PAIRED))
    assert sum(kg for m in planning.mixes(plan, ids()) for _, kg in m.plan) == pytest.approx(0.068 * 3 * 1.15, rel=1e-4)


def test_more_pieces_than_fit_stop_the_plan():
    varied = tuple(Varied(factor=f, levels=numbers(*v)) for f, v in ((Factor.WATER_SHARE, (0.1, 0.2, 0.3)), (Factor.RATIO, (1.0, 2.0, 3.0))))
    (stop,) = stops.stops(series(varied=varied, layout=Layout(design=Design.PAIRED)))
    assert (stop.why, stop.pieces) == (stops.Why.PIECES, 9)


def test_drops_that_were_counted_are_the_dose_of_the_recipe():
    plan = series(varied=(Varied(factor=Factor.SILICONE, levels=numbers(0.0, 2.0)),), constants=Constants(silicone_colours=("teal",)))
    plain, dosed = design.arms(plan)
    cups = [mix(c, id=f"{c}{r}", recipes=r, done=True) for c, r in (("foam", "ab"), ("teal", "a"), ("teal", "b"), ("slate", "ab"))]
    ledger = [weighing(c, n, kg) for c in cups for n, kg in c.plan]
    ledger.append(weighing(cups[2], "belt silicone", 5 * 2.9e-5, 3))  # five drops into 82 g
    assert composition.actual_arm(plan, dosed, cups, ledger).silicone_drops_per_100g == pytest.approx(5 / 0.82)
    assert composition.actual_arm(plan, plain, cups, ledger).silicone_drops_per_100g == 0.0


def test_water_is_a_medium_of_its_own():
    levels = (Level(name="water", brings=((Factor.RATIO, Level(value=0.5)), (Factor.WATER_SHARE, Level(value=0.0)))), Level(name="conditioner"))
    plan = series(varied=(Varied(factor=Factor.MEDIUM, levels=levels),))
    arm = design.arms(plan)[0]
    assert design.mix_fractions(arm, "teal") == pytest.approx({"teal": 2 / 3, "water": 1 / 3})
    cups = [mix(c, plan=((c, 0.06), ("water", 0.03)), done=True) for c in ("foam", "teal", "slate")]
    actual = composition.actual_arm(plan, arm, cups, [weighing(c, n, kg) for c in cups for n, kg in c.plan])
    assert (actual.paint_share, actual.medium_share, actual.water_share) == pytest.approx((2 / 3, 1 / 3, 0.0))


def test_colour_with_parts_of_its_own_keeps_the_recipes_water():
    arm = design.arms(series(constants=Constants(colour_parts=(("teal", 1.0),))))[1]  # 16 % water
    assert design.mix_fractions(arm, "teal") == pytest.approx({"teal": 0.42, "conditioner": 0.42, "water": 0.16})
    assert design.mix_fractions(arm, "foam") == pytest.approx({"foam": 0.28, "conditioner": 0.56, "water": 0.16})


def test_one_paint_takes_the_place_drops_and_parts_of_another():
    held = Constants(silicone_colours=("teal",), silicone_drops_per_100g=2.0, colour_parts=(("teal", 1.0),))
    plan = series(varied=(Varied(factor=Factor.PAINT, levels=words("teal", "gull"), of="teal"),), constants=held)
    kept, other = design.arms(plan)
    assert ([x.material for x in kept.layers], [x.material for x in other.layers]) == (["foam", "teal", "slate"], ["foam", "gull", "slate"])
    assert (other.dose_of("gull"), other.dose_of("teal"), dict(other.held.colour_parts)) == (2.0, 0.0, {"gull": 1.0})
    strange = series(varied=(Varied(factor=Factor.PAINT, levels=words("teal", "gull"), of="pink"),))
    with pytest.raises(DribbetError, match="Pink is not in the cup"):
        design.arms(strange)


def test_layers_are_repeated_with_the_same_paint_in_all():
    once, thrice = design.arms(series(varied=(Varied(factor=Factor.LAYERS, levels=numbers(1.0, 3.0)),)))
    assert [x.material for x in thrice.layers] == ["foam", "teal", "slate"] * 3
    assert [thrice.cup_share(c) for c in thrice.colours] == pytest.approx([once.cup_share(c) for c in once.colours])
