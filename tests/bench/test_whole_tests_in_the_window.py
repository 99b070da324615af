"""Whole tests, from the plan to the verdict, through the window: every way to pour, what happens to panels until they are cured.

Cups are mixed on the practice scale with its faults; panels are poured, dried, looked at and treated by keys and fields; the clock is moved.
Photographs are read once elsewhere (a reading takes its seconds): here each panel gets one made-up reading.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.panel import pouring
from dribbet.notebook.store import new_id
from dribbet.records import After, HouseRules, MishapKind, PanelWeight, Photo, Reading, SeriesState, Stage, Step, Stuck
from dribbet.studio.standing import panels as standing
from dribbet.studio.standing.panels import progress_of
from tests.bench.conftest import choose, press, stopped, trouble
from tests.made_up import result
from tests.studio.test_six_plans import Bench

TARE_G = 214.6


class Studio:
    """A pair of hands in a window: plans, mixes, pours, waits, looks, decides."""

    def __init__(self, window, desk, clock, *asked: tuple[str, str]) -> None:
        self.window, self.desk, self.clock = window, desk, clock
        self.bench = Bench(desk)
        window.walk("ask")
        for part, value in asked:
            choose(window, part, value)
        press(window, "Enter")
        assert trouble(window) == ""
        assert desk.need_run().panels, "lots are drawn"
        self.bench.mix_all()
        self.bench.check_all()

    @property
    def run(self):
        return self.desk.need_run()

    def keys(self, *caps: str) -> None:
        press(self.window, *caps)
        assert stopped(self.window) == "", stopped(self.window)

    def weigh(self, grams: float) -> None:
        page = self.window.page("pour")
        page.typed.setText(f"{grams}")
        self.keys("Space")

    def pour(self, left_g, told=None) -> list[str]:
        """Pour every panel step by step; returns the steps of the first. `left_g` is what stays on each, `told` what a step is answered with."""
        self.window.walk("pour")
        page = self.window.page("pour")
        names: list[str] = []
        for number in range(len(self.run.panels)):
            panel = page.presenter.panel(self.run)
            assert page.view.need == "bare"
            assert panel.code in page.view.sentence  # its name belongs on its back
            self.weigh(TARE_G)
            while page.view.need != "poured":
                self.keys("Space")
                step = progress_of(self.run, panel).current.plan.step
                if not number:
                    names.append(step.value)
                if page.view.asked and told is not None and step in told:
                    page.typed.setText(told[step])
                    self.keys("Space")
                self.clock.pass_(seconds=45)
                self.window.refresh()
            self.weigh(TARE_G + left_g(panel))
            assert self.run.weight(panel, PanelWeight.POURED) == pytest.approx((TARE_G + left_g(panel)) / 1e3)
        assert page.view.empty
        return names

    def look_until(self, hours: float, cracked=lambda panel, hours: False) -> None:
        """Make every look that comes due, hour by hour."""
        self.window.walk("dry")
        page = self.window.page("dry")
        begun = max(self.run.poured_at(p) for p in self.run.panels)
        while self.clock.now < begun + timedelta(hours=hours):
            self.clock.pass_(minutes=30)
            self.window.refresh()
            while page.view.asking in ("feel", "crack"):
                if page.view.asking == "feel":
                    self.keys("3")
                    continue
                panel = page.view.hand
                since = (self.clock.now - self.run.poured_at(panel)).total_seconds() / 3600.0
                if cracked(panel, since):
                    self.keys("K")
                    assert page.view.asking == "where"
                    page.outline.touched.emit(0.95, 0.05, None)
                else:
                    self.keys("Space")

    def read(self, cells, crack_mm=lambda panel: 0.0) -> None:
        """One reading of each panel, as the reader would have made it."""
        book = self.desk.notebook
        like = next(r for r in self.desk.load("k2").readings if r.result["outlines"].get("cracks") is not None)
        with book.transaction():
            for panel in self.run.panels:
                photo = replace(book.get(Photo, like.photo_id), id=new_id(), panel_id=panel.id, stage=Stage.DRY)
                found = like.result | {"cells": result(cells(panel))["cells"], "outlines": {}}
                found["cracks"] = {**found["cracks"], "length_mm": crack_mm(panel), "count": 1 if crack_mm(panel) else 0}
                book.add(
                    photo, Reading(id=new_id(), panel_id=panel.id, photo_id=photo.id, stage=Stage.DRY, reader="test", at=self.clock.now, result=found)
                )
        self.desk.changed()

    def decide(self) -> str:
        """Go to Decide, keep the verdict; everything that stands beside it."""
        self.window.walk("decide")
        page = self.window.page("decide")
        assert not page.view.empty if hasattr(page.view, "empty") else True
        beside = " ".join(f"{r.head} {r.body}" for r in page.view.differs)
        assert page.view.sentence
        return beside


@pytest.fixture
def studio(open_window, desk, clock):
    def begin(*asked: tuple[str, str]) -> Studio:
        return Studio(open_window(desk), desk, clock, *asked)

    return begin


def test_bloom_on_three_pillows_with_two_ways_of_blowing(studio):
    s = studio(
        ("technique", "bloom"), ("base_plan", "pillow"), ("base", "deck satin"), ("activator", "glue"), ("activator_kg", "3"), ("torch", "0"),
        ("factor", "thickness of the base"), ("levels", "1, 2, 3"), ("crossed", "way of blowing"), ("levels1", "hair dryer, straw"),
    )  # fmt: skip
    assert len(s.run.arms) == 6
    names = s.pour(lambda p: 70.0, told={Step.BASE: "24", Step.ACTIVATE: "3.1", Step.BLOW: "14", Step.SPIN: "12"})
    assert names == ["base", "lay", "activate", "blow", "spin", "tilt", "weigh"]
    run = s.run
    for panel in run.panels:
        plan = {p.step: p for p in pouring.planned(run.held(panel))}
        straw = run.held(panel).doing[0].figure.word
        assert straw in ("hair dryer", "straw")
        assert plan[Step.BLOW].figure(run.held(panel).doing[0].figure.does).word == straw
        told = {m.step: m.figures for m in run.steps if m.panel_id == panel.id and m.figures}
        assert told[Step.SPIN][0].value == 12.0
        assert told[Step.BASE][0].value == pytest.approx(0.024)
    assert {run.held(p).base_m for p in run.panels} == {1e-3, 2e-3, 3e-3}
    s.look_until(100.0)
    s.read(lambda p: 20 + 5 * p.settings[0] + p.repeat)
    assert s.decide()


def test_flip_cup_with_silicone_against_straight_pour_without(studio):
    s = studio(
        ("factor", "technique"), ("levels", "flip cup, straight pour"), ("crossed", "silicone"), ("levels1", "0, 2"),
        ("drops_by", "a cup large enough for whole drops"),
    )  # fmt: skip
    run = s.run
    assert len(run.arms) == 4
    for mix in (m for m in run.mixes if m.drops):  # drops were asked for and counted, cup by cup
        assert sum(w.drops for w in run.weighings if w.mix_id == mix.id and w.source == "counted") == mix.drops
    assert {a.silicone_drops_per_100g > 0 for a in run.actual_arms} == {True, False}
    s.pour(lambda p: 52.0)
    run = s.run
    steps = {p.recipe: [m.step.value for m in run.steps if m.panel_id == p.id] for p in run.panels}
    by_way = {run.held(p).technique.value: steps[p.recipe] for p in run.panels}
    assert "rest" in by_way["flip cup"]
    assert "lift" not in by_way["straight pour"]
    s.look_until(100.0)
    s.read(lambda p: 40 if p.settings[1] else 20)
    assert s.decide()


def test_medium_and_film_with_looks_at_own_hours_and_a_late_crack(studio, desk):
    desk.set_rules(replace(HouseRules(), looks=("10 h", "18 h", "48 h")))
    s = studio(("factor", "medium"), ("levels", "conditioner, glue"), ("crossed", "film left"), ("levels1", "1.2, 2.3"))
    thick = {p.id for p in s.run.panels if p.settings[1] == 1}
    s.pour(lambda p: 75.0 if p.id in thick else 40.0)
    first = next(p for p in s.run.in_order() if p.id in thick)
    s.look_until(110.0, cracked=lambda panel, hours: panel.id == first.id and hours > 40)
    run = s.run
    assert {k.due for k in run.looks if k.panel_id == first.id} == {"10 h", "18 h", "48 h", "dry"}
    began = standing.began(run, first)
    assert 16 < began.from_h < 30 < 40 < began.until_h < 60
    assert (began.x_share, began.y_share) == (pytest.approx(0.95), pytest.approx(0.05))  # a corner
    other = next(p for p in run.panels if p.id not in thick)
    assert standing.began(run, other).until_h is None
    assert all(k.late_s >= 0 for k in run.looks)
    assert desk.learned.risk().panels > 0
    s.read(lambda p: 20, crack_mm=lambda p: 40.0 if p.id == first.id else 0.0)
    assert s.decide()


def test_open_cup_flip_cup_and_dirty_pour_with_layers_as_planned(studio):
    s = studio(("factor", "technique"), ("levels", "open cup, flip cup, dirty pour"))
    from dribbet.lab.panel import landing

    run = s.run
    lies = {a.technique.value: [x.material for x in landing.lying(a.layers, a.technique, {})] for a in run.arms}
    assert lies["open cup"] == list(reversed(lies["flip cup"]))
    assert lies["flip cup"] == lies["dirty pour"]
    s.pour(lambda p: 52.0)
    run = s.run
    steps = {run.held(p).technique.value: [m.step.value for m in run.steps if m.panel_id == p.id] for p in run.panels}
    assert steps["open cup"][0] == "stand"
    assert "pour" in steps["dirty pour"]
    s.look_until(100.0)
    s.read(lambda p: 20)
    assert s.decide()


def test_tiles_are_baked_thin_against_thick_and_bear_a_hot_cup(studio, desk, clock):
    for m in desk.shelf():
        desk.notebook.replace(replace(m, bakeable=True))
    desk.changed()
    s = studio(("support", "glazed tile"), ("factor", "film left"), ("levels", "1.0, 2.5"))
    window, page = s.window, s.window.page("dry")
    window.walk("pour")
    assert "Glaze does not drink" in window.page("pour").subline.text()
    s.pour(lambda p: 35.0 if p.settings[0] == 0 else 85.0)
    s.look_until(2.0)
    panel = s.run.in_order()[0]
    page.presenter.choose(panel.id)
    press(window, "T")
    press(window, "4")
    assert "not through-dry yet" in stopped(window) == trouble(window)
    s.keys("Space")
    s.look_until(24 * 25.0)
    window.refresh()
    page.presenter.choose(panel.id)
    s.keys("T", "4")
    assert "cold start" in " ".join(r.body for r in page.view.remarks)  # the caution stands where the act happens
    page.typed.setText("150, 30 min")
    s.keys("Space")
    bake = next(t for t in s.run.treated if t.panel_id == panel.id)
    assert (bake.kind, bake.celsius, bake.seconds, bake.finished_at) == (After.BAKE, 150.0, 1800.0, None)
    window.page("dry").presenter.desk.read_anew()  # the window is closed and opened again: the time runs on
    page.presenter.choose(panel.id)
    clock.pass_(minutes=12)
    window.refresh()
    assert "cold oven, heating to 150\u202f°C for 12\u202fmin" in page.view.sentence
    s.keys("Space")
    assert "30\u202fmin to go" in page.view.sentence
    clock.pass_(minutes=31)
    window.refresh()
    assert "time is up. Oven off, door ajar" in page.view.sentence
    assert "gloves" in " ".join(r.body for r in page.view.remarks)  # the hot tray, while it is hot
    page.presenter.choose(s.run.in_order()[1].id)
    assert page.view.asking != "stuck"  # an oven does not keep the other panels waiting
    page.presenter.choose(panel.id)
    s.keys("Space")
    assert "cools with the door ajar" in page.view.sentence
    s.keys("Z")
    assert "time is up" in page.view.sentence
    s.keys("Space")
    clock.pass_(minutes=45)
    s.keys("Space")
    done = " ".join(r.body for r in page.view.remarks)
    assert "Baked at 150\u202f°C, 31\u202fmin (12\u202fmin to heat, 45\u202fmin to cool)" in done
    page.presenter.choose(panel.id)
    s.keys("T", "5")
    page.typed.setText("90, 40 s, 320 g")
    s.keys("Space")
    assert "40\u202fs to go" in page.view.sentence
    s.keys("2")
    assert "hot cup at 90\u202f°C, 40\u202fs, 320.0\u202fg after 25 days: slight pull" in " ".join(r.body for r in page.view.remarks)
    kinds = {t.kind: t for t in s.run.treated if t.panel_id == panel.id}
    assert kinds[After.BAKE].finished_at is not None
    assert kinds[After.HOT_CUP].stuck is Stuck.SLIGHT
    s.read(lambda p: 20)
    assert s.decide()


def test_a_day_with_a_spill_an_over_heated_zone_and_another_base(studio):
    s = studio(
        ("base_plan", "flood coat"), ("base", "deck satin"), ("factor", "silicone"), ("levels", "0, 2"),
        ("drops_by", "a cup large enough for whole drops"),
    )  # fmt: skip
    window = s.window
    window.walk("pour")
    page = window.page("pour")
    first = page.presenter.panel(s.run)
    s.weigh(TARE_G)
    s.keys("Space", "S", "U")
    assert page.view.noting
    page.typed.setText("deck gloss, 30 g")
    s.keys("Space")
    s.keys("1")  # the first of the further mishaps: a spill
    assert page.view.placing
    page.outline.touched.emit(0.2, 0.3, 0.15)
    s.keys("S", "S", "2")
    page.outline.touched.emit(0.8, 0.7, None)
    while page.view.need != "poured":
        s.clock.pass_(seconds=60)
        s.keys("Space")
    s.keys("A") if page.view.again else None
    s.weigh(TARE_G + 70)
    kinds = {m.kind: m for m in s.run.mishaps if m.panel_id == first.id}
    assert set(kinds) == {MishapKind.SUBSTITUTED, MishapKind.SPILL, MishapKind.OVER_TORCHED}
    assert kinds[MishapKind.SUBSTITUTED].note == "deck gloss, 30 g"
    assert kinds[MishapKind.SPILL].zone_out
    assert kinds[MishapKind.SPILL].reach_share == pytest.approx(0.15)
    rest = len(s.run.panels) - 1
    for _ in range(rest):
        s.weigh(TARE_G)
        while page.view.need != "poured":
            s.keys("Space")
            s.clock.pass_(seconds=60)
        s.weigh(TARE_G + 70)
    s.look_until(100.0)
    s.read(lambda p: 20)
    beside = s.decide()
    assert f"of {first.code} is left out of every figure (spill and over-torched)" in beside
    assert "used instead: deck gloss, 30 g" in beside
    counted = s.run.counted(first)
    assert counted["panel"]["left_out"] > 0.08
    window.walk("read")
    window.page("read").presenter.choose(first.id) if hasattr(window.page("read").presenter, "choose") else None
    state = s.desk.notebook.get(type(s.run.series), s.run.series.id).state
    assert state is SeriesState.RUNNING
