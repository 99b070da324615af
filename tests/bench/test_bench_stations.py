"""Mix, Check, Pour and Dry without a window: what a press does, what is due, what is said."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from dribbet.bench.doors.shelf import guide
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.dry.presenter import DryPresenter
from dribbet.bench.stations.mix.page import MixPage
from dribbet.bench.stations.mix.presenter import MixPresenter
from dribbet.bench.stations.pour.presenter import PourPresenter
from dribbet.devices import ScaleReading, SimulatedScale
from dribbet.lab.panel.progress import Station
from dribbet.records import BlockBy, Bottle, Check, CheckKind, DribbetError, DropsBy, Feel, MarkKind, Mishap, MishapKind, PanelWeight, Step, Weighing
from dribbet.studio.standing import panel_costs
from dribbet.studio.standing import pots as flow_set
from dribbet.words import costs
from dribbet.words import cup as sayings
from dribbet.words import pots as pot_words
from dribbet.words.units import units_of
from tests.bench.conftest import on_series, press, trouble


@pytest.fixture
def planned(desk):
    """A fresh series with lots drawn, nothing mixed yet."""
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("levels", "10, 20")
    ask.draw_lots()
    return desk


@pytest.fixture
def mix(planned):
    return MixPresenter(planned)


def fill(presenter: MixPresenter, over_g: float = 0.0) -> None:
    """Weigh and stir the cup in hand to its end; the last ingredient by so much too much."""
    while not presenter.view().finished:
        view = presenter.view()
        if view.act:
            presenter.acts.acted()
            continue
        last = sum(s.state in ("now", "planned") for s in view.slices) == 1
        presenter.acts.enter(view.target_kg - view.already_kg + (over_g / 1e3 if last else 0.0), "typed")
        over_g = 0.0 if last else over_g


def weigh(presenter: MixPresenter, over_kg: float = 0.0) -> None:
    """Pour in what is due, after whatever is to be stirred first."""
    while presenter.view().act:
        presenter.acts.acted()
    view = presenter.view()
    presenter.acts.enter(view.target_kg - view.already_kg + over_kg, "typed")


# ---------------------------------------------------------------- Mix


def test_order_of_mixing_is_paint_then_medium_then_thinner(mix):
    names = [s.name for s in mix.view().slices]
    assert names[1:] == ["conditioner", "water"]
    assert names[0] == mix.mix().colour
    assert [s.state for s in mix.view().slices] == ["now", "planned", "planned"]


def test_targets_are_cumulative(mix):
    first = mix.view()
    mix.acts.enter(first.target_kg, "scale")
    second = mix.view()
    assert second.already_kg == pytest.approx(first.target_kg, abs=1e-4)
    assert second.target_kg > first.target_kg
    assert second.add_name == "Add conditioner"


def test_what_was_really_weighed_is_kept_with_its_source(planned, mix):
    mix.acts.enter(0.0123, "practice scale")
    entry = planned.need_run().weighings[0]
    assert (entry.mass_kg, entry.source) == (0.0123, "practice scale")


def test_overshoot_is_answered_at_once_with_the_smallest_repair(planned, mix):
    fill(mix)
    mix.acts.finish()
    colour = mix.mix().colour
    weigh(mix)
    weigh(mix)
    weigh(mix, 0.0024)
    view = mix.view()
    assert view.over == "2.4\u202fg too much water"
    assert colour in view.mend
    assert "conditioner" in view.mend
    assert view.mend_then.startswith("Then it is 10\u202f% water again")
    assert {s.state for s in view.slices} == {"done", "over", "now", "planned"}
    fill(mix)
    held = mix.cup(planned.need_run(), mix.mix())
    assert held["water"] / sum(held.values()) == pytest.approx(0.10, abs=0.003)


def test_overshoot_beyond_the_cup_says_pour_some_off(planned, mix):
    weigh(mix)
    weigh(mix)
    weigh(mix, 0.02)
    view = mix.view()
    assert "more than the cup holds" in view.note
    assert "into a spare cup first (2)" in view.note
    assert view.choices[0].words.startswith("Take ")


def test_taking_paint_out_ends_on_the_recipe_in_the_planned_amount(planned, mix):
    whole = sum(kg for _, kg in mix.mix().plan)
    for over in (0.0, 0.0, 0.001):
        weigh(mix, over)
    mix.acts.take_out()
    view = mix.view()
    assert view.taking_out
    assert view.target_kg < view.already_kg
    mix.acts.enter(view.already_kg - view.target_kg, "typed")
    fill(mix)
    held = mix.cup(planned.need_run(), mix.mix())
    assert sum(held.values()) == pytest.approx(whole, abs=0.5e-3)
    assert held["water"] / sum(held.values()) == pytest.approx(0.10, abs=0.004)


def test_accepted_overshoot_stays_and_is_what_the_recipe_now_holds(planned, mix):
    for over in (0.0, 0.0, 0.001):
        weigh(mix, over)
    stands = mix.view().choices[-1].words
    mix.acts.accept()
    assert mix.view().over == ""
    fill(mix)
    run = planned.need_run()
    held = mix.cup(run, mix.mix())
    assert stands == f"Keep {held['water'] / sum(held.values()) * 100:.1f}\u202f%"
    assert "(planned 10.0" in mix.view().facts
    assert next(m for m in run.mixes if m.id == mix.mix().id).kept_over
    mix.acts.take_back()  # the rim
    mix.acts.take_back()  # the stir
    mix.acts.take_back()  # the acceptance
    assert mix.view().over


def test_paint_and_medium_are_stirred_before_the_thinner_and_lumps_ask_for_the_strainer(planned, mix):
    weigh(mix)
    view = mix.view()
    mix.acts.enter(view.target_kg - view.already_kg, "typed")
    assert mix.view().act == "Stir to the bottom"
    with pytest.raises(DribbetError, match="Stir to the bottom first"):
        mix.acts.enter(0.001, "typed")
    mix.acts.acted()
    assert mix.view().add_name == "Add water"
    mix.acts.lumps()
    assert mix.view().act == "Strain it"
    mix.acts.acted()
    fill(mix)
    kinds = [m.kind for m in planned.need_run().marks]
    assert kinds == [MarkKind.STIRRED, MarkKind.LUMPS, MarkKind.STRAINED, MarkKind.WATER, MarkKind.STIRRED, MarkKind.RIM]


def test_covered_cup_waits_and_goes_on_as_it_was(planned, mix, clock):
    weigh(mix)
    before = mix.view()
    clock.pass_(minutes=14)
    assert "has stood open for 14 min. Cover it." in mix.view().caution
    mix.acts.cover()
    assert mix.view().covered
    assert mix.view().caution == ""
    mix.acts.acted()
    assert mix.view().covered == ""
    assert (mix.view().add_name, mix.view().already_kg) == (before.add_name, before.already_kg)


def test_finished_cup_rests_until_its_bubbles_are_out_and_its_own_check_says_better(planned, mix, clock):
    fill(mix)
    view = mix.view()
    assert view.rest_s > 0.0
    assert "by the recipe" in view.rest
    mix.acts.finish()
    first = next(m for m in planned.need_run().mixes if m.done)
    planned.notebook.add(Check(id="c1", mix_id=first.id, kind=CheckKind.MOUND, value=8.0, at=clock() + timedelta(minutes=1)))
    planned.changed()
    mix.acts.choose(first.id)
    assert "by its own check" in mix.view().rest
    assert mix.view().rest_s > view.rest_s
    clock.pass_(hours=9)
    assert mix.view().rest_s == 0.0


def test_list_of_cups_says_until_when_each_must_be_mixed(planned, mix, clock):
    fill(mix)
    mix.acts.finish()
    mix.set_pour_at(f"{clock() + timedelta(hours=3):%H:%M}")
    lines = mix.list_of_batches()
    assert lines[-1].when.startswith("rest")
    assert all(line.when.startswith("mix by") for line in lines[:-1])
    assert [line.state for line in lines].count("now") == 1
    with pytest.raises(DribbetError, match="no time of the day"):
        mix.set_pour_at("soon")


def test_contaminated_cup_says_why_and_the_flag_comes_off_again(planned, mix):
    mix.acts.contaminate("stick from the silicone cup")
    assert next(line for line in mix.list_of_batches() if line.flagged).note == "contaminated: stick from the silicone cup"
    mix.acts.contaminate("")
    assert not any(line.flagged for line in mix.list_of_batches())


def test_rest_of_a_cup_goes_into_a_bottle_with_what_it_really_holds(planned, mix):
    fill(mix)
    made = mix.acts.store()
    assert dict(made.contents)["water"] == pytest.approx(0.10, abs=0.003)
    assert made.code == "A12"  # two stand on the demo's shelf
    held = sum(mix.cup(planned.need_run(), mix.mix()).values())
    assert made.stored_kg == pytest.approx(held)
    assert planned.need_run().marks[-1].note == "A12"
    with pytest.raises(DribbetError, match="Nothing is left"):  # all of it is in the bottle by now
        mix.acts.store()


def test_stored_mix_fills_a_cup_as_it_is_and_a_leftover_is_refused(planned, mix):
    teal = next(m for m in planned.need_run().mixes if m.colour == "channel teal")
    mix.acts.choose(teal.id)
    with pytest.raises(DribbetError, match="Give it back on Shelf first"):
        mix.acts.use_bottle("a10")
    bottle = next(b for b in planned.notebook.all(Bottle) if b.code == "A10")
    whole = guide.bottle(planned, bottle)
    whole.take(0.158)
    whole.take(0.0041)
    with pytest.raises(DribbetError, match="leftover"):
        mix.acts.use_bottle("A11")
    with pytest.raises(DribbetError, match="has the code"):
        mix.acts.use_bottle("Z99")
    mix.acts.use_bottle("a10")
    held = mix.cup(planned.need_run(), teal)
    assert held["water"] / sum(held.values()) == pytest.approx(0.16, abs=1e-3)
    assert {w.source for w in planned.need_run().weighings} == {"bottle A10"}
    assert mix.view().over.endswith("too much water")  # the plan has 10 %
    foam = next(m for m in planned.need_run().mixes if m.colour == "foam")
    mix.acts.choose(foam.id)
    with pytest.raises(DribbetError, match="not foam"):
        mix.acts.use_bottle("A10")


def test_plan_is_said_as_a_ratio_with_names_by_weight_and_by_volume(mix):
    words = mix.view().note_line
    assert words.startswith(f"{mix.mix().colour} 1 : conditioner 2 : water 0.333 (30, 60, 10 %), by mass; by volume 1 : ")
    assert "shares ± 0." in words


def test_forecast_from_own_cups_says_what_a_plan_will_be_like_and_is_silent_without_any(planned, mix):
    said = sayings.forecast(planned, planned.need_run(), mix.mix())
    assert said == "" or "of your own cups" in said
    foam = next(m for m in planned.need_run().mixes if m.colour == "foam")
    thick = replace(foam, plan=(("foam", 0.06), ("conditioner", 0.02), ("water", 0.0)))
    words = sayings.forecast(planned, planned.need_run(), thick)
    assert "thick" in words
    assert "g water more" in words
    strange = replace(foam, colour="unheard of", plan=(("unheard of", 0.06), ("conditioner", 0.02)))
    assert sayings.forecast(planned, planned.need_run(), strange) == ""


def test_day_begins_with_gloves_and_the_care_of_each_material_once(desk):
    desk.choose_series("s1")
    told = sayings.checklist(desk)
    assert told[0][1].startswith("Gloves")
    assert [who for who, _ in told[1:]] == ["Alcohol", "Alcohol"]
    assert len({words for _, words in told}) == len(told)


def test_base_is_mixed_and_checked_like_a_colour_and_its_flow_stands_beside_theirs(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("base_plan", "flood coat")
    ask.draw_lots()
    mix = MixPresenter(desk)
    run = desk.need_run()
    base = next(m for m in run.mixes if m.colour == run.series.constants.base)
    assert set(base.recipes) == {a.letter for a in run.arms}
    while not mix.all_done():
        fill(mix)
        mix.acts.finish()
    check = CheckPresenter(desk)
    n = len(check.cups(desk.need_run(), check.group(desk.need_run())))
    assert n == 6
    check.take_card([0.06, 0.061, 0.062, 0.06, 0.059, 0.03])
    view = check.view()
    assert view.matched
    assert any("the base runs 0.50 times as far as the colours" in words for words in view.read)


def test_ledger_tells_every_entry_with_its_time(planned, mix):
    weigh(mix)
    weigh(mix)
    mix.acts.acted()
    told = mix.ledger_lines()
    assert [head.split("  ")[1] for head, _ in told] == ["Foam", "Conditioner", "Stirred"]
    assert told[0][1].endswith(", typed")


def test_conditioner_that_stood_long_is_to_be_strained(planned, mix):
    medium = next(m for m in planned.shelf() if m.name == "conditioner")
    planned.notebook.replace(replace(medium, strained_at=planned.now() - timedelta(days=30)))
    planned.changed()
    weigh(mix)
    assert mix.view().caution == "Conditioner was last strained 30 days ago. Shake and strain it, and rinse the strainer at once."


def test_shimmer_below_what_shows_is_said_with_its_share_of_the_film(desk):
    desk.choose_series("h1")
    mix = MixPresenter(desk)
    gull = [m for m in desk.need_run().mixes if m.colour == "interference gull"]
    thin, rich = (next(m for m in gull if letter in m.recipes) for letter in "ad")
    mix.acts.choose(thin.id)
    assert "Iridescent medium: 28\u202f% of the wet mix" in mix.view().facts
    assert "below the 33\u202f% from which it shows" in mix.view().facts
    mix.acts.choose(rich.id)
    assert "of the dry film" in mix.view().facts
    assert "from which it shows" not in mix.view().facts.split("Iridescent medium")[1].split(".")[0]


def test_outvoted_check_keeps_its_reason_with_the_reading(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    check.choose(1)
    check.choose_test("ring")
    check.type_reading("2/4")
    ring = next(c for c in planned.need_run().checks if c.kind is CheckKind.RING)
    assert "thinner than the base already" in ring.note


def test_rested_cup_rings_on_whatever_page_is_open(open_window, planned, mix, clock):
    fill(mix)
    mix.acts.finish()
    window = open_window(planned)
    window.walk("shelf")
    window._minute()
    assert trouble(window) == ""
    clock.pass_(hours=2)
    window._minute()
    assert trouble(window) == "Foam has rested. The bubbles are out."


def test_another_kind_of_water_is_said_where_it_is_poured_and_on_decide(planned, mix):
    fill(mix)
    assert [m.note for m in planned.need_run().marks if m.kind is MarkKind.WATER] == ["tap"]
    mix.acts.finish()
    planned.set_rules(replace(planned.rules, water_source="distilled"))
    weigh(mix)
    weigh(mix)
    while mix.view().act:
        mix.acts.acted()
    assert mix.view().caution == "Other cups of this series took tap water; Bench rules say distilled now."
    weigh(mix)
    decide = DecidePresenter(planned)
    run = planned.need_run()
    assert any("not of one kind: distilled and tap" in r.body for r in decide._differs(run, decide.pairs(run)[0]))
    before = len(planned.need_run().weighings)
    mix.acts.take_back()
    assert len(planned.need_run().weighings) == before - 1
    assert sum(m.kind is MarkKind.WATER for m in planned.need_run().marks) == 1


def test_paint_below_the_persons_own_limit_is_said(planned, mix):
    planned.set_rules(replace(planned.rules, least_paint=0.5))
    fill(mix)
    assert "Only 30\u202f% paint, below your 50\u202f%." in mix.view().facts


def test_batches_of_blocks_are_checked_each_for_itself(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("repeats", "2")
    run = desk.need_run()
    desk.notebook.replace(replace(run.series, layout=replace(run.series.layout, blocks=2, block_by=BlockBy.BATCH)))
    desk.changed()
    ask.draw_lots()
    mix = MixPresenter(desk)
    while not mix.all_done():
        fill(mix)
        mix.acts.finish()
    check = CheckPresenter(desk)
    known = check.groups(desk.need_run())
    assert known == [f"{a.letter}/{b}" for b in (1, 2) for a in desk.need_run().arms]
    for group in known:
        desk.take("check", group)
        assert len(check.cups(desk.need_run(), group)) == 5
        assert f"batch {group[-1]}" in check.view().note
        check.take_card([0.06] * 5)
    run = desk.need_run()
    assert all(flow_set.held_back(desk, run, p) is None for p in run.panels)
    assert {run.station(p, desk.now()) for p in run.panels} == {Station.POUR}


def test_plan_follows_the_paint_in_hand_before_anything_is_weighed(planned, mix):
    before = dict(mix.mix().plan)
    told = mix.scale_to_paint("10")
    plan = dict(mix.mix().plan)
    assert plan["foam"] == pytest.approx(0.010)
    assert {n: kg / sum(plan.values()) for n, kg in plan.items()} == pytest.approx(
        {n: kg / sum(before.values()) for n, kg in before.items()}, abs=1e-5
    )
    assert "too little for every panel" in told
    mix.scale_to_paint(f"{before['foam'] * 2000:.2f}")
    assert sum(kg for _, kg in mix.mix().plan) == pytest.approx(2 * sum(before.values()), rel=1e-3)
    weigh(mix)
    with pytest.raises(DribbetError, match="before the first addition"):
        mix.scale_to_paint("10")


def test_amount_may_be_typed_as_volume_spoons_or_ounces_of_what_is_due(planned, mix):
    foam = next(m for m in planned.shelf() if m.name == "foam")
    assert mix.view().add_name == "Add foam"
    assert mix.typed_kg("12,4") == pytest.approx(0.0124)
    assert mix.typed_kg("10 ml") == pytest.approx(10e-6 * foam.density_kg_m3)
    assert mix.typed_kg("2 tsp") == pytest.approx(10e-6 * foam.density_kg_m3)
    assert mix.typed_kg("1 oz") == pytest.approx(0.0283495, rel=1e-4)
    for wrong in ("much", "3 cups", "1.2.3", "2 squirts"):
        with pytest.raises(DribbetError):
            mix.typed_kg(wrong)
    assert " oz) in all" in mix.view().note_line.replace("\u202f", " ")


def test_signs_while_pouring_are_kept_without_a_place_and_cost_nothing(desk):
    desk.choose_series("k3")
    pour = PourPresenter(desk)
    pour.mishap(MishapKind.RUNS_FAST)
    assert pour.placing == ""
    pour.mishap(MishapKind.DUST)
    assert pour.placing
    kinds = [m.kind for m in desk.need_run().mishaps][-2:]
    assert [k.is_sign for k in kinds] == [True, False]


def test_cup_that_rests_or_was_contaminated_is_said_before_it_is_poured(planned, mix, clock):
    while not mix.all_done():
        fill(mix)
        mix.acts.finish()
    check = CheckPresenter(planned)
    for group in ("a", "b"):
        planned.take("check", group)
        check.take_card([0.06] * 5)
    pour = PourPresenter(planned)
    assert "Bubbles are still in" in pour.view().caution
    clock.pass_(hours=5)
    assert pour.view().caution == ""
    mix.acts.choose(planned.need_run().mixes[0].id)
    mix.acts.contaminate("a drip of silicone")
    mix.acts.choose(planned.need_run().mixes[5].id)
    mix.acts.contaminate("the same stick")
    assert "trace of another cup" in pour.view().caution


def test_verdict_names_what_was_really_weighed_in(desk):
    desk.choose_series("k3")
    decide = DecidePresenter(desk)
    run = desk.need_run()
    assert decide.level(run, 0, 0) == "10\u202f%"
    for m in run.mixes:
        if "a" in m.recipes:
            desk.notebook.add(Weighing(id=f"x{m.id}", mix_id=m.id, ingredient="water", mass_kg=0.01, at=desk.now()))
    desk.changed()
    words = decide.level(desk.need_run(), 0, 0)
    assert words.endswith("(planned 10\u202f%)")
    assert float(words.split("\u202f")[0]) > 12.0


def test_cups_that_rested_unlike_are_said_beside_the_verdict(desk):
    desk.choose_series("k2")
    decide = DecidePresenter(desk)
    run = desk.need_run()
    pair = decide.pairs(run)[0]
    assert not any("rested" in r.body for r in decide._differs(run, pair))
    for m in run.mixes:
        if pair.second in m.recipes and pair.first not in m.recipes:
            raise AssertionError("both recipes of Kelp 02 share their cups")
    late = [
        replace(step, at=step.at + timedelta(hours=6)) for p in run.panels if p.recipe in pair.second for step in run.steps if step.panel_id == p.id
    ]
    desk.notebook.replace(*late)
    desk.changed()
    told = [r.body for r in decide._differs(desk.need_run(), pair) if "rested" in r.body]
    assert len(told) == 1
    first, second = (float(x) for x in re.findall(r"[\d.]+(?= h)", told[0]))
    assert second - first == pytest.approx(6.0, abs=1.5)


def test_what_was_learned_holds_until_one_of_its_cups_changes(desk):
    before = desk.learned.line("foam", "conditioner")
    desk.changed()
    assert desk.learned.line("foam", "conditioner") is before
    cup = next(m for m in desk.load("k4").mixes if m.colour == "foam" and m.done)
    desk.notebook.add(Check(id="new", mix_id=cup.id, kind=CheckKind.MOUND, value=2.0, at=desk.now()))
    desk.changed()
    after = desk.learned.line("foam", "conditioner")
    assert after.readings == before.readings + 1


def test_cost_of_a_panel_says_how_much_was_poured_off(desk):
    words = costs.panels(panel_costs.of_recipes(desk, desk.load("k2"), "ab"))
    assert words.startswith("Paint cost: a 1.")
    assert words.count("poured off") == 2


def test_clock_set_back_reorders_nothing_and_take_back_takes_the_last_act(planned, mix, clock):
    weigh(mix)
    before = clock.now
    clock.pass_(hours=-2)
    weigh(mix)
    first, second = planned.need_run().weighings
    assert (first.at, second.at) == (before, clock.now), "times stay as the clock told them"
    assert [line[1].split(",")[0] for line in mix.ledger_lines()] == [units_of(planned).mass_text(w.mass_kg) for w in (first, second)]
    mix.acts.take_back()
    assert planned.need_run().weighings == (first,)


def test_take_back_goes_step_by_step_and_the_ledger_keeps_it(planned, mix):
    mix.acts.enter(0.02, "typed")
    mix.acts.enter(0.03, "typed")
    mix.acts.take_back()
    assert len(planned.need_run().weighings) == 1
    mix.acts.take_back()
    with pytest.raises(DribbetError, match="nothing to take back"):
        mix.acts.take_back()
    mine = planned.notebook.all(Weighing, mix_id=mix.mix().id)
    assert [w.taken_back for w in mine] == [True, True]


def test_start_anew_empties_the_cup(planned, mix):
    mix.acts.enter(0.5, "typed")
    mix.acts.start_anew()
    assert mix.view().already_kg == 0.0
    assert planned.need_run().weighings == ()


def test_nothing_added_is_refused(mix):
    for bad in (0.0, -0.1, float("nan")):
        with pytest.raises(DribbetError):
            mix.acts.enter(bad, "typed")


def test_done_cup_leads_to_the_next_and_a_correction_opens_it_again(planned, mix):
    first = mix.mix().id
    fill(mix)
    assert mix.view().one_key.startswith("The cup is done")
    mix.acts.finish()
    assert mix.mix().id != first
    mix.acts.choose(first)
    mix.acts.take_back()
    assert not next(m for m in planned.need_run().mixes if m.id == first).done


def test_drops_are_told_when_all_is_in(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("factor", "silicone")
    ask.choose("levels", "0, 2")
    ask.drops_by(DropsBy.GROWN)
    ask.draw_lots()
    mix = MixPresenter(desk)
    dosed = next(m for m in desk.need_run().mixes if m.drops)
    mix.acts.choose(dosed.id)
    while not mix.view().drops:
        weigh(mix) if not mix.view().act else mix.acts.acted()
    assert mix.view().add_name == f"Add {dosed.drops} drop of belt silicone"
    assert (dosed.drops, mix.view().one_key) == (1, "1 drop is in")
    assert "slippery" in mix.view().caution
    mix.acts.count_drops()
    assert mix.view().act == "Stir the drops in"
    fill(mix)
    assert f"{dosed.drops} drops: " in mix.view().facts
    assert "mg in 100 g of the cup" in mix.view().facts


def test_alcohol_brings_its_caution_where_it_is_poured(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("factor", "alcohol")
    ask.choose("levels", "5, 10")
    ask.planning.insist()
    ask.draw_lots()
    mix = MixPresenter(desk)
    while mix.view().add_name != "Add alcohol":
        weigh(mix) if not mix.view().act else mix.acts.acted()
    assert "no flame" in mix.view().caution


def test_nothing_to_mix_before_the_lots(desk):
    AskPresenter(desk).planning.new_series()
    view = MixPresenter(desk).view()
    assert "Draw lots on Ask" in view.empty


def test_page_takes_a_steady_reading_and_waits_for_a_moving_one(open_window, planned):
    window = open_window(planned)
    window.walk("mix")
    page = window.page("mix")
    page.freeze(ScaleReading(mass_kg=0.010, steady=False))
    page._base_kg = 0.0
    page._show_live()
    assert page.strip.buttons[0].key.words == "Wait: not steady"
    press(window, "Space")
    assert planned.need_run().weighings == ()
    page.freeze(ScaleReading(mass_kg=0.0104, steady=True))
    press(window, "Space")
    assert [w.mass_kg for w in planned.need_run().weighings] == [0.0104]


def test_lost_scale_is_said_at_once_and_typing_goes_on(open_window, planned, qtbot):
    window = open_window(planned)
    window.walk("mix")
    page = window.page("mix")
    assert isinstance(planned.scale, SimulatedScale)
    planned.scale.lose()
    qtbot.waitUntil(lambda: page.reading.state == "not answering", timeout=3000)
    assert "Your cup is safe" in trouble(window) or "Your cup is safe" in page.typed_note.text()
    page.typed.setText("11.5")
    page._enter_typed()
    assert planned.need_run().weighings[0].mass_kg == pytest.approx(0.0115)
    page.typed.setText("a lot")
    page._enter_typed()
    assert "no weight" in trouble(window)


def test_practice_scale_pours_until_it_is_stopped(open_window, planned, qtbot):
    window = open_window(planned)
    window.walk("mix")
    page = window.page("mix")
    assert isinstance(page, MixPage)
    press(window, "D")
    assert planned.scale.pouring
    qtbot.waitUntil(lambda: float(page.reading.figure) > 1.0, timeout=5000)
    press(window, "D")
    qtbot.waitUntil(lambda: page.reading.state == "steady", timeout=8000)
    press(window, "Space")
    assert planned.need_run().weighings[0].mass_kg > 0.001


# ---------------------------------------------------------------- Check


@pytest.fixture
def check(planned):
    mix = MixPresenter(planned)
    while not mix.all_done():
        fill(mix)
        mix.acts.finish()
    return CheckPresenter(planned)


def drip(check: CheckPresenter, *runs_mm: float) -> None:
    for mm in runs_mm:
        check.type_run(f"{mm}")


def test_equal_drips_match(check):
    drip(check, *[60.0] * 5)
    view = check.view()
    assert view.matched
    assert view.sentence == "These flow alike. Next are the cups of K1-b."


def test_one_short_drip_gets_one_instruction_with_an_amount(check):
    drip(check, 60, 31, 62, 58, 61)
    view = check.view()
    assert view.sentence == "One of five colours is too thick."
    (lane,) = [lane for lane in view.card.lanes if lane.hand]
    assert lane.verdict == "Too thick"
    assert "water" in lane.instruction
    assert "g" in lane.instruction
    assert view.fix.startswith("Log ")
    assert "Water is what you are testing" in view.cautions[0]
    assert "nothing of yours is known yet" in view.fix_note or "of your own cups" in view.fix_note


def test_logged_correction_changes_the_cup_and_must_be_dripped_again(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    mix = check.cups(planned.need_run(), check.group(planned.need_run()))[1]
    before = check.held(planned.need_run(), mix)
    assert check.view().fix
    check.log_fix()
    after = check.held(planned.need_run(), mix)
    assert after["water"] > before["water"]
    view = check.view()
    assert not view.matched
    assert view.sentence.startswith("Drip")
    assert any(w.source == "correction" for w in planned.need_run().weighings)


def test_thin_colour_asks_for_its_own_paint(planned, check):
    planned.take("check", check.groups(planned.need_run())[-1])  # the wettest: a little paint takes much of its water share
    drip(check, 60, 61, 80, 58, 61)
    lane = next(lane for lane in check.view().card.lanes if lane.verdict == "Too thin")
    assert lane.instruction.startswith("add ")
    assert lane.name.lower() in lane.instruction


def test_far_too_thin_a_colour_is_told_to_be_started_anew_and_not_given_an_amount(check):
    drip(check, 60, 61, 95, 58, 61)
    view = check.view()
    lane = next(lane for lane in view.card.lanes if lane.verdict == "Too thin")
    assert lane.instruction == "start it anew"
    assert not view.fix
    assert "more than half of what it holds" in view.fix_note


def test_runs_read_from_a_card_go_to_the_colours_in_the_order_of_the_cup(planned, check):
    check.take_card([0.060, 0.061, 0.059, 0.062, 0.060])
    assert check.view().matched
    with pytest.raises(DribbetError, match="The card shows 3 drips, this recipe has 5 colours"):
        check.take_card([0.06] * 3)


@pytest.mark.parametrize("text", ["far", "", "-4", "900"])
def test_run_that_cannot_be_is_refused(check, text):
    with pytest.raises(DribbetError):
        check.type_run(text)


def test_stopwatch_times_a_mound_on_one_key(planned, check):
    check.time_mound(100.0)
    assert check.view().timing
    check.time_mound(102.3)
    assert not check.view().timing
    (reading,) = planned.need_run().checks
    assert (reading.kind, reading.value) == (CheckKind.MOUND, 2.3)
    assert "flip cup" in check.view().ways_note.lower()
    assert [name for name, _, _ in check.view().way_pots] == [planned.need_run().mixes[0].colour]


def test_flow_cup_is_timed_by_the_same_key_and_refused_outside_its_range(planned, check):
    check.choose_test("flow cup")
    check.time_mound(0.0)
    with pytest.raises(DribbetError, match="covers 30 to 100 s"):
        check.time_mound(12.0)
    for seconds in (60, 61, 44, 58, 62):
        check.type_reading(str(seconds))
    view = check.view()
    assert "Compared by flow cup time." in view.note
    assert [lane.verdict for lane in view.card.lanes].count("Good") == 5  # 44 s is within a quarter of a drip's run
    assert "60.0 s through ISO 2431, 4 mm" in view.read[0]
    first = check.cup
    check.next_cup()
    assert check.cup != first


def test_ring_says_no_thinner_and_outvotes_the_drip(check):
    drip(check, 60, 31, 62, 58, 61)
    check.choose(1)
    check.choose_test("ring")
    check.type_reading("2/4")
    view = check.view()
    assert view.matched
    assert "thinner than the base already" in view.cautions[0]
    assert "a wide ring" in view.read[0]
    with pytest.raises(DribbetError, match="Two figures"):
        check.type_reading("2")


def test_slump_and_stream_are_kept_for_the_pot_in_hand(planned, check):
    check.choose_test("slump")
    check.type_reading("62 x 60")
    check.choose_test("stream")
    assert check.view().streams[5] == "lumpy thread"
    assert check.tick_stream(6)
    assert not check.tick_stream(9)
    run = planned.need_run()
    assert {(c.kind, round(c.value, 4)) for c in run.checks} == {(CheckKind.SLUMP, 0.061), (CheckKind.STREAM, 5.0)}
    assert any("lumps" in words for words in check.view().cautions)


def test_stream_is_touched_or_pressed_by_its_figure(open_window, planned, check):
    window = open_window(planned, 1024, 700)
    window.walk("check")
    page = window.page("check")
    page.presenter.choose_test("stream")
    words = [w for line in page.streams for w in line.words]
    assert [w.test.words for w in words][:2] == ["1  drops like water", "2  thin even thread"]
    assert all(w.height() >= 44 for w in words)
    words[2].click()
    assert page.press_digit(4)
    assert [c.value for c in planned.need_run().checks if c.kind is CheckKind.STREAM] == [2.0, 3.0]


def test_kept_pot_lets_the_set_be_poured_and_its_reason_is_stored(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    run = planned.need_run()
    panel = next(p for p in run.panels if p.recipe == "a")
    assert "is too thick for the others" in pot_words.held_back(flow_set.held_back(planned, run, panel), units_of(planned))
    check.view()
    check.keep_as_it_is("contrast wanted")
    view = check.view()
    assert view.matched
    assert "stays as it is" in view.sentence
    assert flow_set.held_back(planned, planned.need_run(), panel) is None
    assert next(c for c in planned.need_run().checks if c.kind is CheckKind.KEPT).note == "contrast wanted"


def test_two_photos_of_a_card_give_its_speed(check):
    check.take_cards([(0.0, [0.060] * 5), (30.0, [0.072] * 5)])
    assert all("still ran 0.40\u202fmm a second" in words for words in check.view().read)
    assert check.view().matched


def test_readings_teach_the_paint_and_the_next_amount_says_what_it_rests_on(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    for seconds in ("2.0", "5.0", "2.1", "1.9", "2.0"):
        check.choose_test("mound")
        check.hand = None
        check.type_reading(seconds)
    check.choose(1)
    assert "of your own cups" in check.view().fix_note


def test_heavy_over_light_is_said_to_sink(check):
    view = check.view()
    assert any(sinks for *_, sinks in view.sinking)
    assert "turn" in view.sink_note


def test_nothing_to_check_before_a_cup_is_mixed(planned):
    assert CheckPresenter(planned).view().empty


# ---------------------------------------------------------------- Pour


pour = on_series("k3", PourPresenter)


def test_next_panel_is_the_next_in_the_lots(desk, pour):
    run = desk.need_run()
    panel = pour.panel(run)
    assert panel.place == 1 + sum(run.poured_at(p) is not None for p in run.panels)


def test_steps_are_stamped_with_their_times(desk, pour, clock):
    panel = pour.panel(desk.need_run())
    for wanted in (Step.FILL, Step.REST, Step.LIFT, Step.TORCH, Step.TILT, Step.WEIGH):
        pour.advance(None, "typed")
        clock.pass_(seconds=30)
        desk.changed()
        marks = {s.step for s in desk.need_run().steps if s.panel_id == panel.id}
        assert wanted in marks
    assert pour.view().need == "poured"
    with pytest.raises(DribbetError, match="No weight yet"):
        pour.advance(None, "typed")
    with pytest.raises(DribbetError, match="not heavier than before"):
        pour.advance(0.1, "typed")
    pour.advance(0.2146 + 0.0613, "typed")
    assert desk.need_run().weight(panel, PanelWeight.POURED) == pytest.approx(0.2759)
    assert pour.film_mm(desk.need_run(), panel) == pytest.approx(1.9, abs=0.2)


def test_caution_stands_beside_the_torch(desk, pour):
    for _ in range(3):
        pour.advance(None, "typed")
    assert "extinguisher" in pour.view().caution


def test_alcohol_takes_the_torch_out_of_the_plan(desk):
    desk.choose_series("s1")
    presenter = PourPresenter(desk)
    run = desk.need_run()
    wet = next(p for p in run.panels if run.arm(p).alcohol_share > 0)
    assert Step.TORCH not in [s for s, _ in presenter.plan(run, wet)]


def test_mishap_is_one_press_and_one_touch(desk, pour):
    pour.mishap(MishapKind.DUST)
    assert pour.view().placing
    pour.place(0.25, 0.75)
    assert not pour.view().placing
    mine = [m for m in desk.notebook.all(Mishap) if m.panel_id == pour.panel(desk.need_run()).id]
    assert (mine[0].kind, mine[0].x_share, mine[0].y_share) == (MishapKind.DUST, 0.25, 0.75)


def test_gauge_shows_all_weighed_panels_and_what_is_expected(desk, pour):
    gauge = pour.view().gauge
    assert len(gauge.marks) == 10
    assert gauge.expected
    assert gauge.hand_mm == pytest.approx(1.7)


def test_bare_weight_is_wanted_first(desk, pour):
    pour.take_back()
    view = pour.view()
    assert view.need == "bare"
    assert view.sentence == "Weigh the bare panel first."


def test_film_uses_the_density_of_what_was_really_mixed(desk, pour):
    run = desk.need_run()
    panel = next(p for p in run.panels if pour.film_mm(run, p) is not None)
    before = pour.film_mm(run, panel)
    mix = next(m for m in run.mixes if panel.recipe in m.recipes and m.colour == "foam")
    heavy = Weighing(id="more", mix_id=mix.id, ingredient="foam", mass_kg=5.0, at=desk.now())
    desk.notebook.add(heavy)
    desk.changed()
    assert pour.film_mm(desk.need_run(), panel) < before


# ---------------------------------------------------------------- Dry


dry = on_series("k3", DryPresenter)


def test_due_look_asks_how_it_feels_and_then_whether_it_cracked(desk, dry):
    view = dry.view()
    assert view.asking == "feel"
    assert view.sentence == f"Touch a corner of {view.hand_code} now."
    looks = len(desk.need_run().looks)
    dry.answer_feel(Feel.FIRM)
    assert dry.view().asking == "crack"
    dry.answer_crack(True)
    made = desk.need_run().looks
    assert len(made) == looks + 1
    newest = max(made, key=lambda look: look.at)
    assert (newest.feel, newest.cracked, newest.at) == (Feel.FIRM, True, desk.now())


def test_only_looking_is_allowed(desk, dry):
    dry.answer_feel(None)
    dry.answer_crack(False)
    newest = max(desk.need_run().looks, key=lambda look: look.at)
    assert newest.feel is None


def test_take_back_undoes_the_answer_in_between_and_then_the_look(desk, dry):
    looks = len(desk.need_run().looks)
    dry.answer_feel(Feel.HARD)
    dry.take_back()
    assert dry.view().asking == "feel"
    dry.answer_feel(Feel.HARD)
    dry.answer_crack(False)
    dry.take_back()
    assert len(desk.need_run().looks) == looks


def test_bands_run_from_the_pour_through_windows_that_widen(desk, dry):
    bands = dry.view().bands
    poured = [b for b in bands.bands if b.poured is not None]
    assert len(poured) == 10
    for band in poured:
        widths = [(late - early).total_seconds() for early, late in band.cuts[:3]]
        assert widths == sorted(widths)
        assert band.cuts[0][0] > band.poured
    assert sum(b.poured is None for b in bands.bands) == 2


def test_crack_found_stands_on_its_band_from_the_look_before(desk, dry):
    band = next(b for b in dry.view().bands.bands if b.crack_seen is not None)
    assert band.crack_from < band.crack_seen


def test_overdue_look_is_said(desk, dry, clock):
    clock.pass_(days=4)
    desk.changed()
    assert any(d.overdue for d in desk.need_run().due_looks(clock()))
    assert dry.view().dues[0].when == "overdue"


def test_nothing_dries_before_a_pour(planned):
    view = DryPresenter(planned).view()
    assert view.empty
    assert view.one_key == "Go to Pour"


def test_silicone_warns_of_varnish(dry):
    assert any(r.head == "Silicone" for r in dry.view().remarks)


def test_panels_stand_at_stations_that_sum_to_the_series(desk):
    for s in desk.all_series():
        run = desk.load(s.id)
        stations = [run.station(p, desk.now()) for p in run.panels]
        assert len(stations) == len(run.panels)
        assert all(isinstance(v, Station) for v in stations)


def test_scatter_of_the_notebook_comes_from_repeats(desk):
    from dribbet.records import Response

    known = desk.learned.scatter(Response.CELL_COUNT)
    assert known.df >= 5
    assert known.sources
    values = [v for s in desk.all_series() for v in desk.load(s.id).values(Response.CELL_COUNT).values() if len(v) > 1]
    pooled = np.sqrt(sum(((np.array(v) - np.mean(v)) ** 2).sum() for v in values) / sum(len(v) - 1 for v in values))
    assert known.sd == pytest.approx(pooled, rel=1e-6)


def test_spoiled_panel_lends_no_value(desk):
    from dribbet.records import Panel, Response

    desk.choose_series("b2")
    run = desk.need_run()
    before = sum(len(v) for v in run.values(Response.CELL_COUNT).values())
    panel = next(p for p in run.panels if not p.spoiled)
    desk.notebook.replace(replace(panel, spoiled="dropped"))
    desk.changed()
    assert sum(len(v) for v in desk.need_run().values(Response.CELL_COUNT).values()) == before - 1
    assert desk.notebook.get(Panel, panel.id).spoiled == "dropped"
