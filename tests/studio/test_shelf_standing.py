"""What stands on the shelf: facts that no renaming changes, and acts that leave everything whole."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.records import Bottle, BottleKind, DribbetError, GaugingKind, Hazard, Kind, Material
from dribbet.studio.acts.shelving import Shelving
from dribbet.studio.standing import shelf
from dribbet.studio.standing.today import Todo, due
from dribbet.words import shelf as said
from dribbet.words.units import units_of


def named(desk, name: str) -> Material:
    return next(m for m in desk.shelf() if m.name == name)


def rename(desk, old: str, new: str) -> None:
    desk.notebook.replace(replace(named(desk, old), name=new))
    desk.changed()


def test_a_new_name_for_the_medium_changes_no_figure_and_is_the_name_that_is_said(desk):
    before = shelf.container(desk, named(desk, "dulse red"))
    assert before.start is not None
    assert before.start.medium == "conditioner"
    rename(desk, "conditioner", "river conditioner")
    after = shelf.container(desk, named(desk, "dulse red"))
    assert after.start == before.start
    assert after.panels == before.panels
    assert " : 2.0 river conditioner: " in said._start(after.start, units_of(desk))


def test_an_additive_of_which_nothing_is_left_lasts_for_no_pour(desk):
    m = named(desk, "belt silicone")
    money = shelf.container(desk, m).money
    assert money.drops is not None
    assert money.per_pour_kg > 0.0
    spent = shelf._money(desk, replace(m, stock_kg=0.0))
    assert (spent.drops, spent.pours, spent.per_pour_kg) == (None, None, 0.0)


def test_mediums_that_were_tried_are_known_under_a_new_name_too(desk):
    before = shelf.container(desk, named(desk, "conditioner")).panels
    assert before.tried
    for key, _ in before.tried:
        rename(desk, key, f"new {key}")
    after = shelf.container(desk, named(desk, "conditioner")).panels
    assert after == before
    words = " ".join(r.body for r in said._panels(after, named(desk, "conditioner"), units_of(desk)))
    assert f"new {before.tried[0][0]}: " in words


def test_a_house_mix_keeps_the_care_of_a_part_that_was_renamed(desk):
    silicone = replace(named(desk, "belt silicone"), hazards=(Hazard.SLIPPERY,))
    assert silicone.wash_off
    desk.notebook.replace(replace(silicone, name="slip oil"))
    desk.changed()
    made = Shelving(desk).put_house_mix("oiled glue", (("glue", 0.2), (silicone.key, 0.01)))
    assert made.kind is Kind.HOUSE_MIX
    assert made.wash_off
    assert made.hazards == silicone.hazards
    assert made.stock_kg == pytest.approx(0.21)


def test_a_leftover_counts_the_drops_by_the_silicones_own_drop(desk):
    acts = Shelving(desk)
    desk.notebook.replace(replace(named(desk, "belt silicone"), drop_kg=5e-5))
    desk.changed()
    with_it = next(
        (f"{s.code}-{a.letter}", a, s)
        for s in desk.all_series()
        for a in desk.load(s.id).arms
        if a.silicone_drops_per_100g > 0.0 and a.held.silicone_colours
    )
    recipe, arm, series = with_it
    made = acts.scrape_together([(recipe, 0.035)], "leftover")
    carrying = sum(layer.share for layer in series.layers if layer.material in arm.held.silicone_colours)
    share = dict(made.contents)[arm.held.silicone]
    counted = any(w.drops for m in desk.load(series.id).mixes for w in desk.load(series.id).weighings if w.mix_id == m.id)
    assert counted or share == pytest.approx(arm.silicone_drops_per_100g * 10.0 * 5e-5 * carrying, rel=0.02)
    assert made.silicone
    assert made.kind is BottleKind.LEFTOVER
    assert made.stored_kg == pytest.approx(0.035)
    with pytest.raises(DribbetError, match="no recipe Z9-a"):
        acts.scrape_together([("Z9-a", 0.01)], "leftover")


def test_a_measurement_and_the_card_that_follows_are_one(desk, monkeypatch):
    foam = named(desk, "foam")

    def broken(*_):
        raise OSError("the disk is full")

    monkeypatch.setattr(desk.notebook, "add", broken)
    with pytest.raises(DribbetError, match="full"):
        Shelving(desk).measured(replace(foam, density_kg_m3=1234.0), GaugingKind.DENSITY, 1234.0, (0.01, 0.0223))
    monkeypatch.undo()
    assert named(desk, "foam").density_kg_m3 == foam.density_kg_m3


def test_a_bottle_says_its_age_its_series_and_whether_it_may_be_poured(desk):
    bottle = shelf.stored(desk)[0]
    stands = shelf.bottle(desk, bottle)
    assert stands.age_d == pytest.approx((desk.now() - bottle.stored_at).total_seconds() / 86400.0, abs=1e-3)
    assert not stands.old
    old = replace(bottle, stored_at=desk.now() - timedelta(days=400))
    assert shelf.bottle(desk, old).old
    pot = {"id": "x", "code": "X10", "name": "pot", "contents": (("foam", 1.0),), "stored_at": desk.now(), "stored_kg": 0.05}
    oily = Bottle(**pot, kind=BottleKind.LEFTOVER, silicone=True)
    words = said.bottle(shelf.bottle(desk, oily), units_of(desk), desk.local)
    assert words[0].head == "Not for a test"
    assert any(r.head == "Silicone" for r in words)


def test_what_is_due_names_its_station_and_its_first_panel(desk):
    found = due(desk)
    assert {d.todo for d in found} >= {Todo.LOOK, Todo.POUR, Todo.READ, Todo.DECIDE}
    first = next(d for d in found if d.todo is Todo.POUR)
    waiting = [p for p in desk.load(first.series_id).panels if p.id == first.panel_id]
    assert waiting[0].code == first.code
    assert all(d.panels >= 1 for d in found)
    assert all(not d.overdue or d.now for d in found)


def test_a_paint_that_was_mixed_as_often_in_two_mediums_begins_with_the_one_that_was_used_last(desk, monkeypatch):
    paint = named(desk, "dulse red").key
    one = next(p for p in desk.learned.past_mixes() if p.paint == paint)
    for order in (("glue", "conditioner"), ("conditioner", "glue"), ("glue", "glue", "conditioner"), ("glue", "conditioner", "glue", "conditioner")):
        monkeypatch.setattr(desk.learned, "past_mixes", lambda order=order: [replace(one, medium=m) for m in order])
        most = max(order.count(m) for m in order)
        assert shelf.container(desk, named(desk, "dulse red")).start.medium == next(m for m in reversed(order) if order.count(m) == most)
