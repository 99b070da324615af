"""Six plans that failed once: asked, mixed on the practice scale with its faults, checked and matched, by acts alone."""

from __future__ import annotations

import math

import pytest

from dribbet.devices import DeviceError
from dribbet.lab.cup import composition
from dribbet.lab.plan import design, planning, stops
from dribbet.records import (
    BasePlan,
    CheckKind,
    Design,
    DribbetError,
    DropsBy,
    Equal,
    Factor,
    Kind,
    Level,
    MarkKind,
    PanelWeighing,
    PanelWeight,
    Stream,
    Technique,
    Varied,
    order,
)
from dribbet.studio.acts import asking
from dribbet.studio.acts.checking import Checking
from dribbet.studio.acts.mixing import Mixing
from dribbet.studio.acts.planning import Planning, PlanStopped
from dribbet.studio.standing import cups, pots
from tests.made_up import numbers

STEP_KG = 1.5e-4  # the practice scale's digit and its noise


def with_container(behind: Factor, **containers: str) -> tuple[Level, ...]:
    return tuple(Level(name=word, brings=((behind, Level(name=name)),)) for word, name in containers.items())


def own(name: str, ratio: float, water: float | None = None) -> Level:
    brings = [(Factor.RATIO, Level(value=ratio))] + ([(Factor.WATER_SHARE, Level(value=water))] if water is not None else [])
    return Level(name=name, brings=tuple(brings))


class Bench:
    """A pair of hands at a desk: asks, draws lots, weighs every cup on the practice scale, checks each pot."""

    def __init__(self, desk) -> None:
        self.desk, self.plan, self.mix, self.check = desk, Planning(desk), Mixing(desk), Checking(desk)
        self.seconds = 0.0
        self.plan.new_series()

    def ask(self, change, *args, **kwargs) -> None:
        s = self.desk.need_run().series
        self.plan.keep(s, change(s, *args, **kwargs))

    def vary(self, varied: Varied, which: int = 0) -> None:
        self.ask(asking.vary, which, varied, self.desk.shelf())

    def pour_in(self, kg: float) -> float:
        """Put so much on the scale, and read it once it is steady: cable, battery, unit and bench do what they do."""
        shown = 0.0
        while abs(shown - kg) > STEP_KG or shown <= 0.0:  # its battery sagged in between: a person sees that and weighs again
            self.desk.scale.clear()
            before = self.steady()
            self.desk.scale.put(kg)
            shown = self.steady() - before
        return shown

    def steady(self) -> float:
        """Reading once nothing moves and no fault is on."""
        for _ in range(4000):
            self.seconds += 0.05
            try:
                reading = self.desk.scale.read(self.seconds)
            except DeviceError:
                continue
            if reading.steady and not reading.note and self.desk.scale.fault is None:
                return reading.mass_kg
        raise AssertionError("the scale never came to rest")

    def mix_all(self) -> None:
        """Every cup of the series, whatever it asks for."""
        for mix in self.desk.need_run().mixes:
            self.mix.choose(mix.id)
            for _ in range(60):
                run = self.desk.need_run()
                now = cups.filling_of(self.desk, run, next(m for m in run.mixes if m.id == mix.id))
                if now.acts:
                    self.mix.acted()
                elif now.by_eye and now.held.get("water", 0.0) > 0.0:
                    self.mix.looks(Stream.MOUND)
                    self.mix.looks_right()
                elif now.left and now.left[0][0] == mix.drop_material and mix.drops:
                    self.mix.count_drops()
                elif now.left:
                    self.mix.enter(self.pour_in(now.left[0][1]), "practice scale")
                else:
                    break
            self.mix.finish()

    def check_all(self) -> None:
        """A drip of every pot; all run alike, but for the cause that is tested."""
        for mix in self.desk.need_run().mixes:
            self.check.keep(mix.id, CheckKind.DRIP, 0.062, "typed", seconds=10.0)

    def walked(self) -> None:
        """Lots, cups, checks; then nothing bars the first pour, and the cups hold what the recipes ask."""
        self.plan.draw_lots()
        self.mix_all()
        assert pots.held_back(self.desk, self.desk.need_run(), self.desk.need_run().in_order()[0]) is not None  # nothing was checked yet
        self.check_all()
        run = self.desk.need_run()
        assert all(pots.standing(self.desk, run, g).ready for g in pots.groups(run))
        for panel in run.panels:
            assert pots.held_back(self.desk, run, panel) is None
        self.holds_what_was_asked()

    def holds_what_was_asked(self) -> None:
        run = self.desk.need_run()
        for arm in run.arms:
            for colour in arm.colours:
                mix = next(m for m in run.mixes if m.colour == colour and arm.letter in m.recipes)
                held = cups.held(run, mix)
                oil = held.pop(arm.held.silicone, 0.0)
                total = sum(held.values())
                assert {n: kg / total for n, kg in held.items()} == pytest.approx(design.mix_fractions(arm, colour), abs=3 * STEP_KG / total)
                asked = arm.dose_of(colour)
                got = oil / arm.held.drop_kg / (total * 10.0)
                assert got == pytest.approx(asked, rel=stops.OFF_FAR) if asked else got == 0.0
        for arm, actual in zip(run.arms, run.actual_arms, strict=True):
            assert actual.silicone_drops_per_100g == pytest.approx(arm.silicone_drops_per_100g, rel=stops.OFF_FAR)


@pytest.fixture
def bench(desk):
    return Bench(desk)


def test_silicone_crossed_with_heat(desk, bench):
    bench.vary(Varied(factor=Factor.SILICONE, levels=numbers(0.0, 2.0)))
    bench.vary(Varied(factor=Factor.HEAT, levels=numbers(0.0, 2.0)), 1)
    bench.ask(asking.hold, drops_by=DropsBy.GROWN)
    bench.walked()
    run = desk.need_run()
    dosed = [m for m in run.mixes if m.drops]
    assert [(len(m.recipes), m.drops) for m in dosed] == [(2, 2)]  # one carrying cup for both recipes with drops: 2 in 100 g
    assert sum(kg for _, kg in dosed[0].plan) == pytest.approx(0.1)
    counted = [w for w in run.weighings if w.drops]
    assert [(w.ingredient, w.drops, w.source) for w in counted] == [("belt silicone", 2, "counted")]
    with_oil = [a.letter for a in run.actual_arms if a.silicone_drops_per_100g > 0.0]
    assert with_oil == [a.letter for a in run.arms if a.silicone_drops_per_100g > 0.0]


@pytest.mark.parametrize("by", [DropsBy.GROWN, DropsBy.DILUTED])
def test_silicone_ladder_of_small_cups(desk, bench, by):
    bench.ask(asking.size, 0.15, 0.15)
    bench.ask(asking.hold, poured_kg=0.040)
    bench.vary(Varied(factor=Factor.SILICONE, levels=numbers(0.0, 1.0, 2.0, 4.0)))
    with pytest.raises(PlanStopped) as stopped:
        bench.plan.draw_lots()
    assert {s.why for s in stopped.value.found} == {stops.Why.DROPS}
    assert desk.need_run().series.seed is None
    bench.ask(asking.hold, drops_by=by)
    bench.walked()
    got = [a.silicone_drops_per_100g for a in desk.need_run().actual_arms]
    assert got == pytest.approx([0.0, 1.0, 2.0, 4.0], rel=0.15)
    assert len(set(got)) == 4


def test_opaque_against_transparent_colour(desk, bench):
    levels = with_container(Factor.PAINT, opaque="wet slate", transparent="interference gull")
    bench.vary(Varied(factor=Factor.OPACITY, levels=levels, of="wet slate"))
    bench.walked()
    opaque, clear = desk.need_run().actual_arms
    assert ("wet slate" in opaque.colours, "interference gull" in clear.colours, "wet slate" in clear.colours) == (True, True, False)
    run = desk.need_run()
    first, last = run.panels[0], run.panels[-1]
    assert ("interference gull" in run.cup(first), "interference gull" in run.cup(last)) == (False, True)
    assert {d.name for d in planning.demand(run.series, run.shelf)} >= {"wet slate", "interference gull"}


def test_three_sheens_of_base_as_spots_of_one_sheet(desk, bench):
    bench.ask(asking.size, 0.3, 0.2)
    bench.vary(Varied(factor=Factor.BASE_SHEEN, levels=with_container(Factor.BASE_PAINT, matte="deck matte", satin="deck satin", gloss="deck gloss")))
    bench.ask(asking.side_by_side)
    series = desk.need_run().series
    assert (series.layout.design, series.constants.base_plan) == (Design.PAIRED, BasePlan.FULL)
    bench.walked()
    run = desk.need_run()
    bases = {m.colour: m for m in run.mixes if m.colour.startswith("deck")}
    assert set(bases) == {"deck matte", "deck satin", "deck gloss"}
    density = {m.key: m.density_kg_m3 for m in run.shelf}
    for name, mix in bases.items():  # a third of each of two sheets, 1.5 mm thick, with what stays in the cup
        assert sum(kg for _, kg in mix.plan) == pytest.approx(0.06 / 3 * 2 * 1.5e-3 * density[name] * 1.15, rel=1e-4)
    colours = math.fsum(kg for m in run.mixes if m.colour not in bases for _, kg in m.plan)
    assert colours == pytest.approx(series.constants.poured_kg * 2 * 1.15, rel=1e-4)  # two panels' worth, not six
    one = run.panels[0]
    desk.notebook.add(PanelWeighing(id="w", panel_id=one.id, kind=PanelWeight.BARE, mass_kg=0.21, at=desk.now()))
    desk.changed()
    run = desk.need_run()
    assert [run.weight(p, PanelWeight.BARE) for p in run.together(one)] == [0.21] * 3  # the sheet is weighed once


def test_four_mediums_each_with_a_recipe_of_its_own(desk, bench):
    levels = (own("conditioner", 2.0, 0.12), own("glue", 1.0, 0.10), own("harbour glue", 1.5, 0.05), own("water", 0.5, 0.0))
    bench.vary(Varied(factor=Factor.MEDIUM, levels=levels))
    assert desk.need_run().series.equal is Equal.OWN
    bench.walked()
    shares = [(a.paint_share, a.medium_share, a.water_share) for a in desk.need_run().arms]
    assert shares == [
        pytest.approx((0.88 / 3, 0.88 * 2 / 3, 0.12)), pytest.approx((0.45, 0.45, 0.10)), pytest.approx((0.38, 0.57, 0.05)),
        pytest.approx((2 / 3, 1 / 3, 0.0)),
    ]  # fmt: skip
    actual = desk.need_run().actual_arms
    assert actual[3].medium_share == pytest.approx(1 / 3, abs=0.01)  # water, as the medium it is here
    assert actual[2].water_share > 0.05  # the house mix is opened to its own water


def test_bloom_with_the_additive_in_the_base_only(desk, bench):
    bench.ask(asking.hold, technique=Technique.BLOOM, base_plan=BasePlan.PILLOW, base="deck satin", activator="glue", activator_kg=0.004)
    bench.vary(Varied(factor=Factor.BASE_CRAZE, levels=numbers(0.0, 0.10)))
    bench.walked()
    run = desk.need_run()
    base = [m for m in run.mixes if m.colour == "deck satin"]
    assert [(m.recipes, "anti-craze additive" in dict(m.plan)) for m in base] == [("a", False), ("b", True)]
    dosed = composition.weighed_in(base[1], run.weighings)
    assert dosed["anti-craze additive"] / sum(dosed.values()) == pytest.approx(0.10, abs=0.01)
    assert all("anti-craze additive" not in run.cup(p) for p in run.panels)
    assert {m.colour for m in run.mixes} == {*run.arms[0].colours, "deck satin", "glue"}


# ---------------------------------------------------------------- what else a cup may do


def test_water_by_eye_is_weighed_step_by_step_and_becomes_the_paints_own(desk, bench):
    from dribbet.records import Dosage

    bench.ask(asking.hold, thinned=Dosage.BY_EYE)
    bench.plan.draw_lots()
    run = desk.need_run()
    mix = run.mixes[0]
    bench.mix.choose(mix.id)
    steps = []
    while True:
        now = cups.filling_of(desk, desk.need_run(), mix)
        if now.acts:
            bench.mix.acted()
        elif now.by_eye and len(steps) == 3:
            break
        elif now.by_eye:
            steps.append(round(now.left[0][1] * 0.3, 4))
            bench.mix.enter(steps[-1], "practice scale")
            bench.mix.looks(Stream.ROPE if len(steps) < 3 else Stream.MOUND)
        else:
            bench.mix.enter(now.left[0][1], "practice scale")
    assert not now.over
    bench.mix.looks_right()
    now = cups.filling_of(desk, desk.need_run(), mix)
    assert "water" not in dict(now.left)
    run = desk.need_run()
    assert now.held["water"] == pytest.approx(sum(steps))
    looks = [c for c in desk.notebook.all(type(run.checks[0])) if c.mix_id == mix.id]
    assert [list(Stream)[round(c.value)] for c in sorted(looks, key=order)] == [Stream.ROPE, Stream.ROPE, Stream.MOUND]
    assert any(m.kind is MarkKind.RIGHT for m in run.marks)
    bench.mix.take_back()  # the word that it looks right
    assert cups.filling_of(desk, desk.need_run(), mix).by_eye


def test_planned_water_is_not_thinned_by_eye(desk, bench):
    bench.plan.draw_lots()
    with pytest.raises(DribbetError, match="planned, not by eye"):
        bench.mix.looks_right()


def test_too_little_can_be_kept_as_too_much_can(desk, bench):
    bench.plan.draw_lots()
    mix = desk.need_run().mixes[0]
    bench.mix.choose(mix.id)
    with pytest.raises(DribbetError, match="over or short"):
        bench.mix.accept()
    paint = dict(mix.plan)[mix.colour]
    bench.mix.enter(paint * 0.9, "typed")
    assert cups.filling_of(desk, desk.need_run(), mix).short == {mix.colour: pytest.approx(paint * 0.1, abs=1e-4)}
    bench.mix.accept()
    left = cups.filling_of(desk, desk.need_run(), next(m for m in desk.need_run().mixes if m.id == mix.id)).left
    assert mix.colour not in dict(left)
    assert set(dict(left)) == {n for n, _ in mix.plan} - {mix.colour}


def test_other_number_of_drops_is_counted_as_it_fell(desk, bench):
    bench.vary(Varied(factor=Factor.SILICONE, levels=numbers(0.0, 4.0)))
    bench.ask(asking.hold, drops_by=DropsBy.GROWN)
    bench.plan.draw_lots()
    mix = next(m for m in desk.need_run().mixes if m.drops)
    bench.mix.choose(mix.id)
    while cups.filling_of(desk, desk.need_run(), mix).left[0][0] != mix.drop_material or cups.filling_of(desk, desk.need_run(), mix).acts:
        now = cups.filling_of(desk, desk.need_run(), mix)
        bench.mix.acted() if now.acts else bench.mix.enter(now.left[0][1], "typed")
    bench.mix.count_drops(mix.drops + 1)
    while cups.filling_of(desk, desk.need_run(), mix).acts:
        bench.mix.acted()
    bench.mix.finish()
    total = sum(kg for _, kg in mix.plan)
    arm = next(a for a in desk.need_run().actual_arms if a.letter == mix.recipes[0])
    assert arm.silicone_drops_per_100g == pytest.approx((mix.drops + 1) / (total * 10.0), rel=0.01)


def test_what_is_stored_is_what_is_left_and_what_is_taken_cannot_exceed_it(desk, bench):
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    mix = run.mixes[0]
    bench.mix.choose(mix.id)
    whole = sum(cups.held(run, mix).values())
    with pytest.raises(DribbetError, match="can be left"):
        bench.mix.store(full_kg=whole + 0.1, empty_kg=0.01)
    made = bench.mix.store()
    assert made.stored_kg == pytest.approx(whole)
    desk.choose_series("k4")
    begun = {w.mix_id for w in desk.need_run().weighings}
    empty = next(m for m in desk.need_run().mixes if m.colour == mix.colour and not m.done and m.id not in begun)
    bench.mix.choose(empty.id)
    with pytest.raises(DribbetError, match="Take at most that"):
        bench.mix.use_bottle(made.code, taken_kg=whole + 0.05)
    bench.mix.use_bottle(made.code, taken_kg=0.02)
    assert sum(cups.held(desk.need_run(), empty).values()) == pytest.approx(0.02, abs=1e-5)


def test_new_notebook_invents_nothing(empty_desk):
    bench = Bench(empty_desk)
    shelf = empty_desk.shelf()
    assert {(m.stock_kg, m.full_kg, m.price_per_kg) for m in shelf} == {(0.0, 0.0, 0.0)}
    demand = planning.demand(empty_desk.need_run().series, shelf)
    assert all(d.stock_kg is None and d.short_kg == 0.0 for d in demand)
    assert all(empty_desk.notebook.setting(what) is None for what in ("have_panels", "rack_slots", "sitting_h"))
    bench.plan.draw_lots()
    assert len(empty_desk.need_run().panels) == 6


def test_something_of_ones_own_in_the_cup_is_weighed_and_stands_against_none(desk, bench):
    bench.vary(Varied(factor=Factor.OWN, levels=(Level(name="gently"), Level(name="hard")), name="stirring"))
    bench.ask(asking.place_own, 0, "anti-craze additive", desk.shelf())
    (varied,) = desk.need_run().series.varied
    assert (varied.factor, varied.of, [lv.value for lv in varied.levels]) == (Factor.ADDED, "anti-craze additive", [0.0, 0.02, 0.05])
    bench.walked()
    run = desk.need_run()
    none, some, more = run.arms
    assert (none.added, some.added, more.added) == (
        (("anti-craze additive", 0.0),),
        (("anti-craze additive", 0.02),),
        (("anti-craze additive", 0.05),),
    )
    assert none.paint_share - more.paint_share == pytest.approx(0.05 / 3.0)  # one part of paint to two of conditioner give way alike
    assert more.water_share == none.water_share
    cup = next(m for m in run.mixes if m.recipes == "c")
    assert dict(cup.plan)["anti-craze additive"] / sum(kg for _, kg in cup.plan) == pytest.approx(0.05, abs=1e-3)
    assert [dict(a.added)["anti-craze additive"] for a in run.actual_arms] == pytest.approx([0.0, 0.02, 0.05], abs=3e-3)
    assert run.actual_arms[2].medium_share == pytest.approx(more.medium_share, abs=5e-3)  # it is not taken for medium


def test_something_of_ones_own_can_become_doing_only_again(desk, bench):
    bench.vary(Varied(factor=Factor.OWN, levels=(Level(name="gently"), Level(name="hard")), name="stirring"))
    bench.ask(asking.place_own, 0, "glue", desk.shelf())
    bench.ask(asking.place_own, 0, "", desk.shelf())
    (varied,) = desk.need_run().series.varied
    assert (varied.factor, [lv.name for lv in varied.levels]) == (Factor.OWN, ["without", "with"])
    with pytest.raises(DribbetError, match="not on the shelf"):
        bench.ask(asking.place_own, 0, "marble dust", desk.shelf())
    bench.vary(Varied(factor=Factor.HEAT, levels=numbers(0.0, 2.0)))
    with pytest.raises(DribbetError, match="not something of your own"):
        bench.ask(asking.place_own, 0, "", desk.shelf())


def test_what_is_added_must_stand_against_a_recipe_without_it(desk, bench):
    bench.vary(Varied(factor=Factor.ADDED, of="anti-craze additive", levels=numbers(0.02, 0.05)))
    with pytest.raises(DribbetError, match="goes without anti-craze additive"):
        bench.plan.draw_lots()
    with pytest.raises(DribbetError, match=r"out of reach. Choose 0 % to 50 %"):
        bench.vary(Varied(factor=Factor.ADDED, of="anti-craze additive", levels=numbers(0.0, 0.6)))
    bench.vary(Varied(factor=Factor.ADDED, levels=numbers(0.0, 0.1)))
    assert desk.need_run().series.varied[0].of == next(m.key for m in desk.shelf() if m.kind is Kind.ADDITIVE)
