"""Where a standing fact turns: the last moment of one go, the first panel of a recipe, the edge of what is due."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import timedelta
from types import SimpleNamespace

import pytest

from dribbet.lab.panel.progress import DueLook
from dribbet.records import After, CheckKind, Factor, Form, Liked, Prediction, Response, SeriesState, Treated, Varied, Wanted
from dribbet.studio.acts import asking, choosing
from dribbet.studio.acts.checking import Checking
from dribbet.studio.standing import causes, cups, differs, labour, panels, pots, rehearsal, scoring, today, turning, verdict
from dribbet.studio.standing import choosing as standing
from tests.made_up import numbers
from tests.studio.test_six_plans import Bench


def test_a_quarter_of_an_hour_between_two_acts_is_still_one_go_and_a_second_more_is_none(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = next(p for p in run.panels if p.recipe == "a" and sum(s.panel_id == p.id for s in run.steps) > 1)
    first, second = sorted((s for s in run.steps if s.panel_id == panel.id), key=lambda s: s.at)[:2]
    cup = next(m for m in run.mixes if "a" in m.recipes)
    alone = replace(cup, recipes="a", block=panel.block)
    for gap, counts in ((900.0, 900.0), (901.0, 0.0)):
        steps = (replace(first, planned_s=20.0), replace(second, at=first.at + timedelta(seconds=gap), planned_s=20.0))
        mine = replace(run, panels=(panel,), steps=steps, mixes=(alone,), weighings=())
        assert labour.of_recipe(mine, "a") == pytest.approx(counts + 20.0)


def test_weighing_a_cup_for_a_single_panel_is_all_that_panels_own(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = next(p for p in run.panels if p.recipe == "a" and sum(s.panel_id == p.id for s in run.steps) > 1)
    steps = tuple(replace(s, at=run.steps[0].at, planned_s=0.0) for s in run.steps if s.panel_id == panel.id)
    mix = next(m for m in run.mixes if "a" in m.recipes)
    poured = [w for w in run.weighings if w.mix_id == mix.id][:3]
    weighings = tuple(replace(w, at=run.steps[0].at + timedelta(seconds=40 * i)) for i, w in enumerate(poured))
    mine = replace(run, panels=(panel,), steps=steps, mixes=(replace(mix, block=0),), weighings=weighings)
    assert labour.of_recipe(mine, "a") == pytest.approx(80.0)
    other = replace(panel, id="another", place=99)
    assert labour.of_recipe(replace(mine, panels=(panel, other)), "a") == pytest.approx(40.0)


def test_a_cup_that_was_filled_at_once_has_rested_no_time(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = next(p for p in run.panels if p.recipe == "a" and any(s.panel_id == p.id for s in run.steps))
    first = min((s for s in run.steps if s.panel_id == panel.id), key=lambda s: s.at)
    mix = next(m for m in run.mixes if "a" in m.recipes and m.block in (0, panel.block))
    last = max((w for w in run.weighings if w.mix_id == mix.id), key=lambda w: w.at)
    for rested, hours in ((0.0, 0.0), (5400.0, 1.5)):
        at = first.at - timedelta(seconds=rested)
        mine = replace(run, panels=(panel,), steps=(first,), mixes=(mix,), weighings=(replace(last, at=at),), marks=())
        assert pots.rested_h(mine, "a") == pytest.approx(hours, abs=1e-9)


def test_a_look_is_told_of_a_day_and_a_half_ahead_and_no_earlier(desk, monkeypatch):
    desk.choose_series("k2")
    run = desk.need_run()
    now = desk.now()
    for ahead, told in ((today.LOOKS_AHEAD - timedelta(seconds=1), 1), (today.LOOKS_AHEAD, 0)):
        look = DueLook(panel=run.panels[0], name="dry", due=now + ahead, now=False, overdue=False)
        monkeypatch.setattr(type(run), "due_looks", lambda _self, _now, look=look: [look])
        assert len(today._looks(run, now)) == told


def test_a_recipe_of_which_one_panel_was_shown_is_named_and_one_of_two_is_not(desk):
    desk.choose_series("k2")
    picks = 0
    while picks < 40:
        sitting = standing.sitting(desk.need_run(), "me", 1, guest=False)
        if sitting.pair is None:
            break
        choosing.pick(desk, sitting, Liked.LEFT)
        picks += 1
    run = desk.need_run()
    found = standing.preferred(run, guests=False)
    recipe = {p.id: p.recipe for p in run.panels}
    shown: dict[str, set[str]] = {}
    for p in run.picks:
        for panel in (p.panel_id, p.other_id):
            shown.setdefault(recipe[panel], set()).add(panel)
    assert min(len(panels) for panels in shown.values()) >= 2
    assert found.single == ()
    one = run.picks[0]
    alone = standing.preferred(replace(run, picks=(one,)), guests=False)
    assert alone.single == tuple(sorted({recipe[one.panel_id], recipe[one.other_id]}))


def test_whole_points_are_rounded_by_a_uniform_law():
    assert pytest.approx(1.0 / math.sqrt(12.0)) == scoring.WHOLE_SD


def test_cells_of_a_panel_are_said_for_each_square_decimetre(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = run.panels[0]
    wide, high = run.size_mm(panel)
    assert causes._per_dm2(run, panel, Response.CELL_COUNT, 60.0) == pytest.approx(60.0 / (wide * high / 1e4))
    assert causes._per_dm2(run, panel, Response.CRACK_LENGTH, 60.0) == pytest.approx(60.0 / (wide * high / 1e4))
    assert causes._per_dm2(run, panel, Response.SPREAD, 60.0) == 60.0
    assert wide * high != pytest.approx(1e4)


def test_a_plan_that_promises_nothing_is_not_rehearsed(desk):
    desk.choose_series("e1")
    series = replace(desk.need_run().series, repeats=1, prediction=None, state=SeriesState.PLANNED)
    assert desk.learned.scatter(series.responses[0][0]) is not None
    assert rehearsal.rehearsal(desk, series) is None
    faint = replace(series, prediction=Prediction(response=series.responses[0][0], more_or_less=Wanted.MORE, size=0.04))
    assert rehearsal.rehearsal(desk, faint).size == 0.04


def test_each_group_of_pots_is_held_against_the_grade_of_its_own_recipe(desk):
    bench = Bench(desk)
    bench.vary(Varied(factor=Factor.GRADE, levels=numbers(2.0, 4.0)))
    bench.ask(asking.hold, medium="glue")
    bench.plan.draw_lots()
    bench.mix_all()
    run = desk.need_run()
    grades = {a.letter: a.held.grade for a in run.arms}
    assert sorted(grades.values()) == [2.0, 4.0]
    for group in pots.groups(run):
        assert pots.standing(desk, run, group).window == (int(grades[group[0]]),) * 2


def test_area_that_counts_is_the_face_less_what_was_left_out_of_it(desk, monkeypatch):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = run.panels[0]
    wide, high = run.size_mm(panel)
    assert verdict._area_dm2(run, panel) == pytest.approx(wide * high / 1e4)
    monkeypatch.setattr(type(run), "counted", lambda _run, _panel: {"panel": {"left_out": 0.25}})
    assert verdict._area_dm2(run, panel) == pytest.approx(0.75 * wide * high / 1e4)


def test_a_gel_of_which_a_little_is_left_is_still_there_and_an_empty_one_is_not(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    mix = run.mixes[0]
    gel = next((m for m in run.shelf if m.form is Form.GEL), None) or next(m for m in run.shelf if m.key == "glue")
    for left, there in ((0.05, True), (0.0, False)):
        other = tuple(m for m in run.shelf if m.form is not Form.GEL and m.key != gel.key)
        mine = replace(run, shelf=(*other, replace(gel, form=Form.GEL, stock_kg=left, full_kg=0.5)))
        assert bool(pots.pot_of(desk, mine, mix).gel) is there


def test_the_arm_of_a_cup_is_the_first_recipe_that_it_is_for(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    assert len(run.arms) > 1
    for mix in run.mixes:
        assert cups.arm_of(run, mix).letter == mix.recipes[0]


def test_a_cup_from_which_all_was_taken_out_is_taken_as_planned(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    mix = run.mixes[0]
    first = next(w for w in run.weighings if w.mix_id == mix.id)
    planned = pots.pot_of(desk, replace(run, weighings=()), mix).density_kg_m3
    nothing = replace(first, mass_kg=0.0)
    assert pots.pot_of(desk, replace(run, weighings=(nothing,)), mix).density_kg_m3 == pytest.approx(planned)


def test_blocks_are_told_to_the_judge_only_where_there_are_two(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    one = replace(run, panels=tuple(replace(p, block=1) for p in run.panels))
    assert verdict._shown(desk, one).test.block is None
    two = replace(run, panels=tuple(replace(p, block=1 + i % 2) for i, p in enumerate(run.panels)))
    assert set(verdict._shown(desk, two).test.block) == {"1", "2"}


def test_the_film_beside_a_verdict_is_in_millimetres(desk, monkeypatch):
    desk.choose_series("k2")
    run = desk.need_run()
    monkeypatch.setattr(type(run.series), "varies", lambda _series, _factor: False)
    told = verdict.shown(desk, run)
    films = verdict._beside(desk, run, told.panels)[verdict.FILM]
    assert films == pytest.approx([panels.film(desk, run, p).wet_m * 1e3 for p in told.panels])
    assert all(0.2 < mm < 6.0 for mm in films)


def test_pots_with_lumps_and_pots_apart_are_named_with_how_many_more(desk, monkeypatch):
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    for mix in desk.need_run().mixes:
        Checking(desk).keep(mix.id, CheckKind.MOUND, 2.0, "stopwatch")
    run = desk.need_run()
    panel = run.panels[0]
    mine = [m for m in run.mixes if panel.recipe in m.recipes]
    real = pots.standing(desk, run, next(g for g in pots.groups(run) if panel.recipe in g))
    lumps = SimpleNamespace(lumpy=tuple(m.id for m in mine[1:3]), found=real.found)
    monkeypatch.setattr(pots, "standing", lambda *_: lumps)
    hold = pots._own_set(desk, run, panel)
    assert (hold.fault, hold.colour, hold.more) == (pots.PotFault.LUMPY, mine[1].colour, 1)
    apart = {m.id: SimpleNamespace(kept=False, match=pots.Match.TOO_THICK) for m in mine[:3]}
    monkeypatch.setattr(pots, "standing", lambda *_: SimpleNamespace(lumpy=(), found=SimpleNamespace(pots=apart)))
    hold = pots._own_set(desk, run, panel)
    assert (hold.fault, hold.colour, hold.more, hold.match) == (pots.PotFault.APART, mine[0].colour, 2, pots.Match.TOO_THICK)


def test_a_thinner_that_is_a_house_mix_is_as_strong_as_the_water_in_it(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    assert pots.pot_of(desk, run, run.mixes[0]).thinner_strength == 1.0
    mixed = replace(run.shelf[0], id="nine", key="nine to one", name="nine to one", made_of=(("water", 0.9), ("glue", 0.1)))
    arm = cups.arm_of(run, run.mixes[0])
    monkey = replace(run, shelf=(*run.shelf, mixed))
    monkey.__dict__["arms"] = tuple(replace(a, held=replace(a.held, third_liquid="nine to one")) if a.letter == arm.letter else a for a in run.arms)
    assert pots.pot_of(desk, monkey, run.mixes[0]).thinner_strength == pytest.approx(0.9)


def test_coats_are_those_that_lay_on_the_panel_when_the_photo_that_was_read_was_taken(desk):
    desk.choose_series("d1")
    run = desk.need_run()
    panel = next(p for p in run.panels if p.recipe == "b" and not p.spoiled)
    photo = next(f for f in run.photos if f.id == run.reading(panel).photo_id)
    before, after = (photo.added_at + timedelta(hours=h) for h in (-1, 1))
    coats = {}
    for at in (before, after):
        varnish = Treated(id="v", panel_id=panel.id, kind=After.VARNISH, at=at)
        coats[at] = [dict(b.record) for b in differs._coats(replace(run, treated=(varnish,)), "ab")]
    rest = tuple(p.code.split("-")[-1] for p in run.panels if p.recipe in "ab" and not p.spoiled and run.reading(p) and p.id != panel.id)
    assert coats[before] == [{After.VARNISH: (panel.code.split("-")[-1],), None: rest}]
    assert coats[after] == []


@pytest.mark.parametrize(
    ("rate", "shown"), [(0.0, 3600.0), (1e-6, 3600.0), (0.02, 300.0), (9.0, 60.0)]
)  # six growths, an hour at most, a minute at least
def test_cups_are_shown_until_the_quicker_one_has_turned_over(rate, shown):
    assert turning.seconds(SimpleNamespace(rate_per_s=rate / 2), SimpleNamespace(rate_per_s=rate)) == pytest.approx(shown)


def test_hours_to_the_first_crack_lie_between_two_looks_and_whoever_left_early_tells_nothing():
    def hours(*looks):
        told = dict(enumerate(looks))
        return verdict._hours(SimpleNamespace(began=told.get), list(told))

    def seen(from_h, until_h=None):
        return SimpleNamespace(from_h=from_h, until_h=until_h)

    (cracked, whole, early, never), followed = hours(seen(4.0, 6.0), seen(10.0), seen(3.0), None)
    assert (cracked, whole, followed) == (5.0, None, 10.0)
    assert math.isnan(early)
    assert math.isnan(never)
    assert hours(seen(4.0, 6.0), seen(6.0)) == ((5.0, None), 6.0)  # followed for just as long as any cracked
    assert hours(seen(0.05), seen(9.0)) == ((None, None), 0.05)
