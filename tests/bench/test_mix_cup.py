"""Mix: a cup from its first gram to the tray, its shortages, overshoots and repairs."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.bench.doors.shelf import guide
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.bench.stations.mix.presenter import MixPresenter
from dribbet.records import Bottle, Check, CheckKind, DribbetError, MarkKind
from dribbet.studio.standing import contents
from dribbet.words import cup as sayings
from dribbet.words.units import Units
from tests.bench.conftest import fill, weigh


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
    with pytest.raises(DribbetError, match="Stir first, walls and bottom"):
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
    said = sayings.forecast(contents.forecast(planned, planned.need_run(), mix.mix()), Units())
    assert said == "" or "of your own cups" in said
    foam = next(m for m in planned.need_run().mixes if m.colour == "foam")
    thick = replace(foam, plan=(("foam", 0.06), ("conditioner", 0.02), ("water", 0.0)))
    words = sayings.forecast(contents.forecast(planned, planned.need_run(), thick), Units())
    assert "thick" in words
    assert "g water more" in words
    strange = replace(foam, colour="unheard of", plan=(("unheard of", 0.06), ("conditioner", 0.02)))
    assert contents.forecast(planned, planned.need_run(), strange) is None


def test_day_begins_with_gloves_and_the_care_of_each_material_once(desk):
    desk.choose_series("s1")
    told = MixPresenter(desk).checklist()
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
