"""Where panels stand, what is due, and when."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from dribbet.lab.panel import progress
from dribbet.lab.panel.progress import Station
from dribbet.lab.plan import design, planning
from dribbet.lab.plan.responses import SCALES, value_of
from dribbet.records import Check, CheckKind, Lamp, Look, PanelWeighing, PanelWeight, Photo, Reading, Response, Stage, Step, StepMark
from tests.made_up import NOON, ids, result, series

S = series(seed=1)
PANELS = design.panels(S, ids("p"))
PANEL = PANELS[0]
MIXES = planning.mixes(S, ids("m"))


def poured(hours_ago: float) -> PanelWeighing:
    return PanelWeighing(id="w", panel_id=PANEL.id, kind=PanelWeight.POURED, mass_kg=0.25, at=NOON - timedelta(hours=hours_ago))


def photo(stage: Stage) -> Photo:
    return Photo(
        id=f"f-{stage}", panel_id=PANEL.id, sha256="0" * 64, suffix=".jpg", name="x.jpg", stage=stage, lamp=Lamp.DIFFUSE, width_px=100, height_px=100,
        taken_at=None, added_at=NOON,
    )  # fmt: skip


def reading(stage: Stage) -> Reading:
    return Reading(id=f"r-{stage}", panel_id=PANEL.id, photo_id=f"f-{stage}", stage=stage, reader="t", at=NOON, result=result())


def station(s=S, **given) -> Station:
    nothing = {"mixes": (), "checks": (), "weighings": (), "steps": (), "photos": (), "readings": ()}
    return progress.station_of(s, PANEL, **(nothing | given), now=NOON)


DONE = [replace(m, done=True) for m in MIXES]
CHECKED = [Check(id=f"c{m.id}", mix_id=m.id, kind=CheckKind.MOUND, value=2.0, at=NOON) for m in MIXES]


@pytest.mark.parametrize(
    ("given", "where"),
    [
        ({}, Station.MIX),
        ({"mixes": MIXES}, Station.MIX),
        ({"mixes": DONE}, Station.CHECK),
        ({"mixes": DONE, "checks": CHECKED}, Station.POUR),
        ({"mixes": DONE, "checks": CHECKED, "weighings": [poured(20)]}, Station.DRY),
        ({"weighings": [poured(120)]}, Station.SHOOT),
        ({"weighings": [poured(120)], "photos": [photo(Stage.DRY)]}, Station.READ),
        ({"weighings": [poured(120)], "photos": [photo(Stage.DRY)], "readings": [reading(Stage.DRY)]}, Station.DECIDE),
        ({"photos": [photo(Stage.DRY)]}, Station.READ),
    ],
)
def test_panel_stands_at_the_first_station_with_something_left_to_do(given, where):
    assert station(**given) is where


def test_panel_without_lots_is_still_asked_about():
    assert station(series()) is Station.ASK


def test_pour_is_over_at_the_last_weighing_or_the_step_that_stands_for_it():
    step = StepMark(id="s", panel_id=PANEL.id, step=Step.WEIGH, planned_s=20.0, at=NOON)
    assert progress.poured_at(PANEL, [], [step]) == NOON
    later = replace(poured(-2.0), number=2)
    assert progress.poured_at(PANEL, [later], [replace(step, number=1)]) == later.at
    assert progress.poured_at(PANEL, [replace(later, number=1)], [replace(step, number=2)]) == NOON, "by what happened last, not by the clock"
    assert progress.poured_at(PANEL, [replace(poured(1), taken_back=True)], []) is None


def test_looks_come_due_in_order_and_go_overdue():
    at = NOON - timedelta(hours=11)
    first = progress.next_look(PANEL, at, [], NOON)
    assert (first.name, first.overdue) == ("wet", True)
    made = [Look(id="l", panel_id=PANEL.id, due="wet", at=NOON)]
    second = progress.next_look(PANEL, at, made, NOON)
    assert (second.name, second.now, second.overdue) == ("12 h", True, False)
    every = [Look(id=n, panel_id=PANEL.id, due=n, at=NOON) for n in ("wet", "12 h", "24 h", "48 h", "dry")]
    assert progress.next_look(PANEL, at, every, NOON) is None


def test_look_taken_back_is_due_again():
    made = [Look(id="l", panel_id=PANEL.id, due="wet", at=NOON, taken_back=True)]
    assert progress.next_look(PANEL, NOON - timedelta(hours=1), made, NOON).name == "wet"


@pytest.mark.parametrize(("hours", "stage"), [(1, Stage.WET), (24, None), (100, Stage.DRY)])
def test_photo_is_due_wet_and_dry(hours, stage):
    assert progress.photo_due(PANEL, NOON - timedelta(hours=hours), [], NOON) is stage


def test_last_three_mounds_count():
    mix = MIXES[0]
    checks = [
        Check(id=str(i), mix_id=mix.id, kind=CheckKind.MOUND, value=v, at=NOON + timedelta(minutes=i)) for i, v in enumerate((9.0, 1.0, 2.0, 3.0))
    ]
    assert progress.mound_s(mix, checks) == pytest.approx(2.0)
    assert progress.mound_s(MIXES[1], checks) is None


def test_latest_drip_counts_unless_it_was_taken_back():
    mix = MIXES[0]
    old = Check(id="1", mix_id=mix.id, kind=CheckKind.DRIP, value=0.05, at=NOON)
    new = Check(id="2", mix_id=mix.id, kind=CheckKind.DRIP, value=0.06, at=NOON + timedelta(minutes=1))
    assert progress.drip_runs([mix], [old, new]) == {mix.id: 0.06}
    assert progress.drip_runs([mix], [old, replace(new, taken_back=True)]) == {mix.id: 0.05}


def test_response_is_read_in_its_unit_and_missing_ones_are_none():
    result = {"spread": {"fraction": 0.97}, "shimmer": None, "cells": {"count": 12}}
    assert value_of(result, Response.SPREAD) == pytest.approx(97.0)
    assert value_of(result, Response.SHIMMER) is None
    assert value_of(result, Response.CRACK_LENGTH) is None
    assert value_of(result, Response.CELL_COUNT) == 12.0
    assert set(SCALES) == set(Response)


def test_panel_goes_to_shoot_with_the_hour_of_its_dry_look():
    assert station(weighings=[poured(95.99)]) is Station.DRY
    assert station(weighings=[poured(96.0)]) is Station.SHOOT


def test_look_opens_a_tenth_of_its_hours_early():
    assert progress.LOOK_OPENS == 0.10
    assert progress.LOOKS_H == (("wet", 0.5), ("12 h", 11.0), ("24 h", 21.0), ("48 h", 48.0), ("dry", 96.0))


def test_stations_stand_in_the_order_of_the_work():
    assert [s.name for s in Station] == ["ASK", "MIX", "CHECK", "POUR", "DRY", "SHOOT", "READ", "DECIDE"]
    assert [int(s) for s in Station] == list(range(8))
