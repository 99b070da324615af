"""Figures of the standing facts, each held against what can be worked by hand from the cups that were weighed."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.cup import composition, house_rules
from dribbet.lab.paint import containers, flow_scale
from dribbet.lab.paint.consistency import GRADE_VISCOSITY_PA_S
from dribbet.records import (
    Bottle,
    BottleKind,
    CheckKind,
    Dosage,
    DropsBy,
    Equal,
    Factor,
    Form,
    Gauging,
    GaugingKind,
    Grade,
    Kind,
    Layer,
    Level,
    Material,
    Pack,
    PanelWeighing,
    PanelWeight,
    Varied,
)
from dribbet.studio.acts import asking, pouring
from dribbet.studio.acts.checking import Checking
from dribbet.studio.standing import cups, panel_costs, pots, shelf, today
from tests.made_up import numbers
from tests.studio.test_six_plans import Bench


def named(desk, name: str) -> Material:
    return next(m for m in desk.shelf() if m.name == name)


@pytest.fixture
def violet(desk):
    """A new paint in the cups of two series: three of glue 1 : 1, two of conditioner 1 : 2."""
    like = named(desk, "channel teal")
    desk.notebook.add(replace(like, id="violet", key="storm violet", name="storm violet", density_kg_m3=1200.0))
    desk.changed()
    for medium, ratio, waters in (("glue", 1.0, (0.1, 0.16, 0.22)), ("conditioner", 2.0, (0.1, 0.22))):
        bench = Bench(desk)
        bench.ask(asking.fill, (Layer(material="storm violet", share=1.0),))
        bench.ask(asking.hold, medium=medium, medium_parts=ratio)
        bench.vary(Varied(factor=Factor.WATER_SHARE, levels=numbers(*waters)))
        bench.plan.draw_lots()
        bench.mix_all()
        for mix in desk.need_run().mixes:
            Checking(desk).keep(mix.id, CheckKind.MOUND, 2.0, "stopwatch")
    return named(desk, "storm violet")


def test_a_paint_starts_from_the_medium_that_most_of_its_own_cups_had(desk, violet):
    start = shelf.container(desk, violet).start
    assert start is not None
    assert start.medium == "glue"
    assert start.medium_to_paint == pytest.approx(1.0, abs=0.02)
    line = desk.learned.line("storm violet", "glue")
    by_volume = start.medium_to_paint * 1200.0 / named(desk, "glue").density_kg_m3
    step = line.water_per_grade_m3(4, whole_m3=1e-4, medium_to_paint=by_volume)  # from thick (4) to medium (3), for 100 mL
    assert start.step_m3.value == pytest.approx(step.value)
    share = line.water_share_for(0.8, medium_to_paint=by_volume)
    assert start.share.value == pytest.approx(share.value, rel=0.15)  # a flip cup's grade 3 flows at about 0.8 Pa s
    assert start.thinnest == house_rules.grade_of(line.thinnest_pa_s() * flow_scale.MOUND_S_PER_PA_S, desk.rules)


def test_only_paints_have_a_start_and_only_with_cups_of_their_own(desk):
    assert shelf.container(desk, named(desk, "glue")).start is None
    assert shelf.container(desk, named(desk, "belt silicone")).start is None
    like = named(desk, "channel teal")
    desk.notebook.add(replace(like, id="new", key="new red", name="new red"))
    desk.changed()
    assert shelf.container(desk, named(desk, "new red")).start is None


def test_a_pour_takes_its_drops_for_the_share_of_the_cup_that_gets_them(desk):
    bench = Bench(desk)
    bench.vary(Varied(factor=Factor.SILICONE, levels=numbers(0.0, 3.0)))
    bench.ask(asking.hold, silicone_colours=("channel teal",), poured_kg=0.070)
    share = sum(layer.share for layer in desk.need_run().series.layers if layer.material == "channel teal")
    oil = named(desk, "belt silicone")
    desk.notebook.replace(replace(oil, drop_kg=3e-5, stock_kg=0.001))
    desk.changed()
    took = 3.0 * 10.0 * 0.070 * share * 3e-5  # drops in 100 g, ten hundreds in a kilogram
    money = shelf.container(desk, named(desk, "belt silicone")).money
    assert money.per_pour_kg == pytest.approx(took)
    assert money.pours == int(0.001 / took)
    bare = shelf.container(desk, named(desk, "glue")).money
    assert (bare.pours, bare.per_pour_kg) == (None, 0.0)


def test_two_packs_say_from_when_the_large_one_pays_and_one_says_nothing(desk):
    glue = named(desk, "glue")
    packs = (Pack(content_kg=4.0, price=20.0, delivery=4.0), Pack(content_kg=1.0, price=10.0))
    desk.notebook.replace(replace(glue, packs=packs))
    desk.changed()
    money = shelf.container(desk, named(desk, "glue")).money
    assert money.large_pays_from_kg == pytest.approx(2.4)  # 24 in all, against 10 a kilogram
    assert len(money.packs) == 2
    desk.notebook.replace(replace(glue, packs=packs[:1]))
    desk.changed()
    money = shelf.container(desk, named(desk, "glue")).money
    assert (money.large_pays_from_kg, money.packs) == (None, ())
    assert money.per_m3 == pytest.approx(money.per_kg * glue.density_kg_m3)
    assert money.per_dry_m3 == pytest.approx(money.per_m3 / glue.volume_solids)


def test_water_goes_in_by_eye_only_where_the_cup_takes_water(desk):
    bench = Bench(desk)
    bench.ask(asking.hold, thinned=Dosage.BY_EYE, activator="glue", activator_kg=0.004)
    bench.plan.draw_lots()
    run = desk.need_run()
    assert {m.colour: cups.by_eye(run, m) for m in run.mixes} == {m.colour: m.colour != "glue" for m in run.mixes}
    assert {m.colour for m in run.mixes} > {"glue"}


def test_cup_is_the_smallest_that_leaves_room_to_stir(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    mix = desk.need_run().mixes[0]
    for kg, cup_kg in ((0.040, 0.06), (0.045, 0.12), (0.18, 0.25), (0.19, 0.5), (0.9, 0.9 * 1.35)):  # 1.35 times its plan
        assert cups.capacity_kg(desk, replace(mix, plan=(("foam", kg),))) == pytest.approx(cup_kg)


def test_what_is_held_back_counts_further_pots_and_nothing_is_apart_before_it_is_read(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    hold = pots.held_back(desk, run, run.panels[0])
    assert hold is not None
    assert (hold.fault, hold.more, hold.match, hold.apart) == (pots.PotFault.UNREAD, 4, None, 1.0)


def test_what_a_station_waits_for_is_due_now_once_with_all_its_panels(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    (mine,) = [d for d in today.due(desk) if d.series_id == desk.series_id]
    assert (mine.now, mine.overdue, mine.panels, mine.moved_s, mine.look) == (True, False, len(desk.need_run().panels), 0.0, "")
    assert mine.when == pytest.approx(desk.now(), abs=timedelta(seconds=30))


def test_a_panel_costs_its_share_of_the_mix_and_of_what_stays_on_it(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    assert panel_costs.of_recipes(desk, run, "ab")[0][0] == "a"
    whole = panel_costs.of_recipe(desk, run, "a")
    assert whole is not None
    held: dict[str, float] = {}
    for mix in run.mixes:
        if "a" in mix.recipes:
            for name, kg in cups.held(run, mix).items():
                held[name] = held.get(name, 0.0) + kg / (2 * len(mix.recipes))  # two panels of each recipe
    price = {m.key: m.price_per_kg for m in run.shelf}
    assert whole.mixed == pytest.approx(sum(kg * price.get(n, 0.0) for n, kg in held.items()), rel=0.01)
    panel = next(p for p in run.panels if p.recipe == "a")
    for kind, kg in ((PanelWeight.BARE, 0.210), (PanelWeight.POURED, 0.260)):
        desk.notebook.add(PanelWeighing(id=f"w-{kind}", panel_id=panel.id, kind=kind, mass_kg=kg, at=desk.now()))
    desk.changed()
    poured = panel_costs.of_recipe(desk, desk.need_run(), "a")
    assert poured.on_panel == pytest.approx(whole.mixed * 0.050 / sum(held.values()), rel=0.01)


def test_what_is_kept_of_a_mix_is_shared_by_its_panels(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    mix = next(m for m in run.mixes if "a" in m.recipes)
    panels = sum(p.recipe in mix.recipes and mix.block in (0, p.block) for p in run.panels)
    assert panels > 1
    before = panel_costs.of_recipe(desk, run, "a")
    desk.notebook.add(
        Bottle(
            id="b", code="B9", name="rest", kind=BottleKind.LEFTOVER, contents=(("glue", 1.0),), mix_id=mix.id, empty_kg=0.020, stored_kg=0.032,
            stored_at=desk.now(),
        )
    )  # fmt: skip
    desk.changed()
    after = panel_costs.of_recipe(desk, desk.need_run(), "a")
    mixed_kg = sum(sum(composition.weighed_in(m, run.weighings).values()) / panels for m in run.mixes if "a" in m.recipes)
    assert after.kept == pytest.approx(before.mixed * (0.012 / panels) / mixed_kg)
    assert before.kept == 0.0


def test_gel_is_no_paint_of_the_pots(desk):
    bench = Bench(desk)
    bench.ask(asking.hold, drops_by=DropsBy.GROWN)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    assert {pots.pot_of(desk, run, m).gel for m in run.mixes} == {""}
    like = named(desk, "glue")
    assert like.kind is Kind.MEDIUM
    desk.notebook.add(replace(like, id="g", key="peak gel", name="peak gel", form=Form.GEL, density_kg_m3=1120.0))
    desk.changed()
    pot = pots.pot_of(desk, desk.need_run(), run.mixes[0])
    assert (pot.gel, pot.gel_kg_m3) == ("peak gel", 1120.0)


def test_an_empty_container_of_gel_still_counts_as_one_that_was_weighed_empty(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    like = named(desk, "glue")
    gel = replace(like, id="g", key="peak gel", name="peak gel", form=Form.GEL, stock_kg=0.0, full_kg=0.5)
    desk.notebook.add(gel)
    desk.changed()
    mix = desk.need_run().mixes[0]
    assert pots.pot_of(desk, desk.need_run(), mix).gel == ""  # weighed once, and empty now
    desk.notebook.replace(replace(gel, stock_kg=0.05))  # fifty grams are left
    desk.changed()
    assert pots.pot_of(desk, desk.need_run(), mix).gel == "peak gel"


def test_cups_from_elsewhere_are_said_of_one_panel_only(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    one, other = desk.need_run().panels[:2]
    pouring.pour_from_elsewhere(desk, one)
    run = desk.need_run()
    assert pots.held_back(desk, run, one) is None
    hold = pots.held_back(desk, run, other)
    assert hold is not None
    assert hold.fault is pots.PotFault.UNMIXED


def test_scatter_of_a_density_is_of_its_syringes_against_the_empty_one(desk):
    glue = named(desk, "glue")
    readings = (0.0050, 0.0155, 0.0157)  # empty, then two fillings of 10 mL
    desk.notebook.add(Gauging(id="d", material_id=glue.id, kind=GaugingKind.DENSITY, value=1060.0, readings=readings, at=desk.now(), sample_kg=1e-5))
    desk.changed()
    found = shelf.container(desk, glue)
    assert found.density_sd == pytest.approx(containers.density_sd(readings[1:], readings[0]))
    assert found.density_sd == pytest.approx(14.142, abs=0.01)  # 1050 and 1070 kg/m3


def test_a_panel_of_a_recipe_poured_once_bears_its_whole_mix(desk):
    bench = Bench(desk)
    bench.ask(asking.repeat, 1)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    cost = panel_costs.of_recipe(desk, run, "a")
    price = {m.key: m.price_per_kg for m in run.shelf}
    whole = 0.0
    for mix in run.mixes:
        if "a" in mix.recipes:
            whole += sum(kg * price.get(n, 0.0) for n, kg in cups.held(run, mix).items()) / len(mix.recipes)
    assert cost.mixed == pytest.approx(whole, rel=0.01)


def test_paint_to_medium_by_volume_uses_both_densities_the_right_way_up(desk, violet):
    start = shelf.container(desk, violet).start
    line = desk.learned.line("storm violet", "glue")
    heavy, light = 1200.0, named(desk, "glue").density_kg_m3
    right = line.water_share_for(GRADE_VISCOSITY_PA_S[3], medium_to_paint=start.medium_to_paint * heavy / light)
    wrong = line.water_share_for(GRADE_VISCOSITY_PA_S[3], medium_to_paint=start.medium_to_paint * heavy * light)
    assert start.share.value == pytest.approx(right.value)
    assert start.share.value != pytest.approx(wrong.value)


def test_grades_of_paint_are_compared_only_with_others_of_that_grade(desk):
    for m in (named(desk, "foam"), named(desk, "channel teal")):
        desk.notebook.replace(replace(m, grade=Grade.STUDENT))
    desk.changed()
    found = shelf.container(desk, named(desk, "foam")).panels
    assert found.grade is not None
    assert found.grade.panels >= found.own.panels
    desk.notebook.replace(replace(named(desk, "channel teal"), grade=Grade.ARTIST))
    desk.changed()
    assert shelf.container(desk, named(desk, "foam")).panels.grade is None or len([m for m in desk.shelf() if m.grade is Grade.STUDENT]) > 1


def test_what_is_not_mixed_is_named_with_how_many_more(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    run = desk.need_run()
    panel = run.panels[0]
    mine = [m.colour for m in run.mixes if panel.recipe in m.recipes]
    hold = pots.held_back(desk, run, panel)
    assert (hold.fault, hold.colour, hold.more) == (pots.PotFault.UNMIXED, mine[0], len(mine) - 1)


def test_unread_cups_of_a_flow_comparison_are_named_with_their_recipes(desk):
    bench = Bench(desk)
    bench.vary(Varied(factor=Factor.MEDIUM, levels=(Level(name="conditioner"), Level(name="glue"))))
    bench.ask(asking.equalise, Equal.FLOW, desk.shelf())
    bench.plan.draw_lots()
    bench.mix_all()
    first, *rest = desk.need_run().mixes
    for mix in rest[1:]:
        Checking(desk).keep(mix.id, CheckKind.DRIP, 0.062, "typed", seconds=10.0)
    run = desk.need_run()
    hold = pots.held_back(desk, run, run.panels[0])
    assert (hold.fault, hold.colour, hold.recipes, hold.more) == (pots.PotFault.UNEQUAL_UNREAD, first.colour, first.recipes, 1)


def test_a_pot_is_outside_only_beyond_the_grades_that_its_way_wants(desk):
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    group = pots.groups(run)[0]
    fresh = pots.standing(desk, run, group)
    assert (fresh.outside, fresh.window) == ((), (3, 3))  # a flip cup wants medium
    for i, mix in enumerate(m for m in run.mixes if m.id in fresh.found.pots):
        Checking(desk).keep(mix.id, CheckKind.MOUND, (0.5, 2.0, 5.0)[i % 3], "stopwatch")
    told = dict(pots.standing(desk, desk.need_run(), group).outside)
    assert set(told.values()) == {pots.Match.TOO_THIN, pots.Match.TOO_THICK}
    assert len(told) < len(fresh.found.pots)


def test_looks_are_told_a_day_and_a_half_ahead(desk):
    desk.choose_series("k3")
    assert timedelta(hours=36) == today.LOOKS_AHEAD
    ahead = [d for d in today.due(desk) if d.todo is today.Todo.LOOK and d.series_id == "k3"]
    assert ahead
    assert all(d.when - desk.now() < timedelta(hours=36) for d in ahead)


def test_a_container_runs_low_below_a_quarter(desk):
    glue = named(desk, "glue")
    for stock, low in ((0.24, True), (0.25, False), (0.26, False)):
        desk.notebook.replace(replace(glue, full_kg=1.0, stock_kg=stock))
        desk.changed()
        assert ("glue" in {m.key for m in shelf.running_low(desk)}) == low


def test_containers_stand_by_what_they_are_used_as(desk):
    kinds = [m.kind for m in shelf.materials(desk)]
    assert kinds == sorted(kinds, key=shelf.ORDER.index)
    assert shelf.ORDER[0] is Kind.PAINT
