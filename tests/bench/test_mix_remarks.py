"""What Mix says of a cup beside its amounts, and what of it stands beside the verdict."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.dry.presenter import DryPresenter
from dribbet.bench.stations.mix.presenter import MixPresenter
from dribbet.bench.stations.pour.presenter import PourPresenter
from dribbet.lab.cup.matching import Outvoted
from dribbet.lab.panel.progress import Station
from dribbet.records import BlockBy, Check, CheckKind, DribbetError, MarkKind, MishapKind, PanelWeighing, PanelWeight, Weighing
from dribbet.studio.standing import panel_costs
from dribbet.studio.standing import pots as flow_set
from dribbet.words import costs
from tests.bench.conftest import drip, fill, on_series, stopped, trouble, weigh


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
    assert ring.note == Outvoted.BY_RING.value
    assert any("thinner than the base already" in line for line in check.view().cautions)


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
    assert stopped(window) == ""  # a note, no error


def test_cup_of_panels_that_are_all_poured_does_not_ring(planned, mix):
    """It is in the cup that bubbles are waited for, not on the panel."""
    fill(mix)
    mix.acts.finish()
    run = planned.need_run()
    (done,) = [m for m in run.mixes if m.done]
    first, *others = [p for p in run.panels if p.recipe in done.recipes]
    assert others

    def pour(panel):
        planned.notebook.add(PanelWeighing(id=f"w-{panel.id}", panel_id=panel.id, kind=PanelWeight.POURED, mass_kg=0.3, at=planned.now()))
        planned.changed()

    for panel in others:
        pour(panel)
    before, after = planned.now(), planned.now() + timedelta(hours=2)
    assert flow_set.rested_between(planned, planned.need_run(), before, after) == [done.colour]
    pour(first)
    assert flow_set.rested_between(planned, planned.need_run(), before, after) == []


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


pour = on_series("k3", PourPresenter)


dry = on_series("k3", DryPresenter)
