"""Where a standing fact is nought, or begins to be none: each seen from both sides."""

from __future__ import annotations

from dataclasses import fields as fields_of
from dataclasses import replace
from datetime import timedelta
from types import SimpleNamespace

import pytest

from dribbet.lab.cup.bottles import SPOILS_AFTER_D
from dribbet.lab.plan import amounts, planning
from dribbet.lab.plan.axes import axis_of
from dribbet.lab.verdict.laws import Kind
from dribbet.records import After, BasePlan, Factor, Grade, Layer, Level, Response, Stage, Treated, Varied
from dribbet.records import Kind as MaterialKind
from dribbet.studio.standing import cups, differs, fate, next_pour, panels, pots, rehearsal, shelf, since
from tests.made_up import numbers
from tests.studio.test_fate import read_as


def test_a_share_that_nobody_has_measured_is_played_about_the_middle():
    desk = SimpleNamespace(learned=SimpleNamespace(scatter=lambda _: None, noise=lambda *_: SimpleNamespace(sd=0.5), doubt=lambda _: 0.0))
    played = rehearsal._played(desk, Response.SPREAD, 3.0)
    assert (played.kind, played.mean, played.sd) == (Kind.SHARE, 0.5, 0.1)
    counted = rehearsal._played(desk, Response.CELL_COUNT, 3.0)
    assert (counted.kind, counted.mean, counted.sd) == (Kind.AMOUNT, *rehearsal.UNKNOWN)


def test_an_open_cup_has_stood_no_time_at_the_moment_it_was_last_touched(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    mix = run.mixes[0]
    last = max([w.at for w in cups.ledger(run, mix)] + [m.at for m in run.marks if m.mix_id == mix.id])
    for ago, minutes in ((0.0, 0.0), (-90.0, 0.0), (90.0, 1.5)):
        clock = SimpleNamespace(now=lambda ago=ago: last + timedelta(seconds=ago))
        assert cups.open_minutes(clock, run, mix) == pytest.approx(minutes, abs=1e-9)


@pytest.mark.parametrize("alike", [1, 2, 3])
def test_a_grade_is_told_apart_from_a_container_where_two_of_it_are_on_the_shelf(desk, alike):
    known = next(m for m in desk.shelf() if shelf.container(desk, m).panels is not None and shelf.container(desk, m).panels.own.panels)
    others = [m for m in desk.shelf() if m.id != known.id]
    graded = [replace(m, grade=Grade.STUDENT if i < alike - 1 else Grade.UNKNOWN) for i, m in enumerate(others)]
    desk.notebook.replace(replace(known, grade=Grade.STUDENT), *graded)
    desk.changed()
    told = shelf.container(desk, next(m for m in desk.shelf() if m.id == known.id)).panels
    assert (told.grade is not None) is (alike > 1)


def test_a_thinner_without_water_in_it_is_taken_to_be_as_strong_as_water(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    dry = replace(run.shelf[0], id="dry", key="dry thinner", name="dry thinner", made_of=(("glue", 1.0),))
    arm = cups.arm_of(run, run.mixes[0])
    mine = replace(run, shelf=(*run.shelf, dry))
    mine.__dict__["arms"] = tuple(replace(a, held=replace(a.held, third_liquid="dry thinner")) if a.letter == arm.letter else a for a in run.arms)
    assert pots.pot_of(desk, mine, run.mixes[0]).thinner_strength == 1.0


@pytest.mark.parametrize(("levels", "without"), [((0.0, 2.0), False), ((1.0, 2.0), True)])
def test_going_without_is_proposed_where_nought_was_not_tried(desk, levels, without):
    desk.choose_series("k2")
    varied = Varied(factor=Factor.SILICONE, levels=tuple(Level(value=v) for v in levels))
    series = replace(desk.need_run().series, varied=(varied,))
    along = next_pour._along(series, 0, varied)
    assert along.without == (axis_of(Factor.SILICONE).to(0.0) if without else None)
    assert numbers(*levels) == varied.levels


def test_colours_of_which_nothing_was_poured_or_nothing_shows_have_no_fate(desk):
    hexes = {m.key: m.hex for m in desk.shelf()}
    run, panel = read_as(desk, (hexes["foam"], 0.0))
    assert fate.fates(desk, run, panel) is None
    run, panel = read_as(desk, (hexes["foam"], 0.5))
    mine = replace(run)
    mine.__dict__["arm"] = lambda _panel: replace(run.arm(panel), layers=(Layer(material="foam", share=0.0),))
    assert fate.fates(desk, mine, panel) is None


@pytest.mark.parametrize(("settings", "level"), [((), 0), ((0,), 0), ((1,), 1), ((next_pour.BETWEEN,), 0)])
def test_the_best_recipe_is_confirmed_and_where_none_is_best_the_first(desk, settings, level):
    desk.choose_series("k2")
    run = desk.need_run()
    one = next_pour._confirm(desk, run, settings)
    assert one.best == run.series.varied[0].levels[level]
    assert one.settings == settings


def test_a_bottle_is_old_from_the_day_after_it_may_have_spoilt():
    fields = {f.name: None for f in fields_of(shelf.BottleStanding)}
    ages = [shelf.BottleStanding(**(fields | {"age_d": SPOILS_AFTER_D + days})).old for days in (-1, 0, 1)]
    assert ages == [False, False, True]


def test_hours_between_two_stages_are_those_between_their_photographs(desk):
    desk.choose_series("d1")
    run = desk.need_run()
    panel = next(p for p in run.panels if run.reading(p) is not None and not p.spoiled)
    dry = run.reading(panel)
    photo = next(f for f in run.photos if f.id == dry.photo_id)
    wet = replace(dry, id="wet", stage=Stage.WET, photo_id="wet photo")
    mine = replace(run, readings=(wet, dry), photos=(replace(photo, id="wet photo", added_at=photo.added_at - timedelta(hours=30)), photo))
    told = since.since(mine, panel, dry)
    assert (told.stage, told.hours) == (Stage.WET, 30.0)
    assert told.cells == len(dry.result["cells"]["items"])
    assert since.since(replace(mine, photos=(photo,)), panel, dry).hours == 0.0


def test_scatter_of_counts_on_the_root_scale_stops_growing_below_half_a_count(desk, monkeypatch):
    """The root of a count has the scatter sd / (2 root of its mean); `mean` is that root, and nought would make it endless."""
    desk.choose_series("d1")
    run = desk.need_run()
    told = next_pour.verdict.shown(desk, run)
    photographs = [next_pour._measuring(told, Response.CELL_COUNT, mean) for mean in (0.1, 0.5, 2.0)]
    assert photographs == pytest.approx([photographs[1], photographs[1], photographs[1] / 4])
    monkeypatch.setattr(next_pour, "_measuring", lambda *_: 0.0)
    poured = [next_pour._scatter(desk, run, Response.CELL_COUNT, [], mean) for mean in (0.1, 0.5, 2.0)]
    assert poured == pytest.approx([poured[1], poured[1], poured[1] / 4])
    assert poured[1] == pytest.approx(desk.learned.scatter(Response.CELL_COUNT).sd / next_pour._area(told))


def test_base_under_a_panel_weighs_what_its_container_does(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = run.panels[0]
    heavy = next(m for m in desk.shelf() if m.kind is MaterialKind.PAINT)
    desk.notebook.replace(replace(heavy, density_kg_m3=1500.0))
    desk.changed()
    run = desk.need_run()
    mine = replace(run)
    for base, density in ((heavy.key, 1500.0), ("of nobody's shelf", planning.BASE_KG_M3)):
        held = replace(run.held(panel), base=base, base_plan=BasePlan.FULL, base_m=1e-3)
        mine.__dict__["held"] = lambda _panel, held=held: held
        assert panels.base_kg(desk, mine, panel) == pytest.approx(amounts.base_m3(held) * density)
        assert amounts.base_m3(held) == pytest.approx(0.2 * 0.15 * 1e-3)


def test_coats_are_those_of_the_photograph_that_was_read(desk):
    """The photograph of the first that was read is from before its varnish, all others are later."""
    desk.choose_series("k2")
    run = desk.need_run()
    photos = {f.id: f for f in run.photos}
    read = sorted((p for p in run.panels if run.reading(p) is not None), key=lambda p: photos[run.reading(p).photo_id].added_at)
    both = "".join(sorted({p.recipe for p in read}))
    photo = next(f for f in run.photos if f.id == run.reading(read[0]).photo_id)
    coated = Treated(id="t", panel_id=read[0].id, kind=After.VARNISH, at=photo.added_at + timedelta(seconds=1))
    desk.notebook.add(coated, replace(photo, id="later", sha256="f" * 64, take=1, added_at=photo.added_at + timedelta(hours=2)))
    desk.changed()
    now = desk.need_run()
    assert panels.coat_at(now, read[0], photo.added_at) is None
    assert panels.coat_at(now, read[0], photo.added_at + timedelta(hours=2)) is After.VARNISH
    assert differs._coats(now, both) == []
