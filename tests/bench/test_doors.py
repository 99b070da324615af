"""Today, Shelf, Findings and the list of series: sentences that hold, and errors that say what to do."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.bench.doors.findings.page import FindingsPresenter
from dribbet.bench.doors.shelf.page import ShelfPresenter
from dribbet.bench.doors.today.page import TodayPresenter
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.units import Units
from dribbet.records import Check, CheckKind, DribbetError, Kind, Mishap, MishapKind, Series, SeriesState, Sheen


@pytest.fixture
def shelf(studio):
    return ShelfPresenter(studio)


def test_container_is_added_with_what_was_typed_and_starting_figures_for_the_rest(studio, shelf):
    shelf.add("sea glass, Shimmer, #7fb3a8")
    shelf.add("well water, thinner")
    glass, water = (next(m for m in studio.shelf() if m.name == n) for n in ("sea glass", "well water"))
    assert (glass.kind, glass.hex) == (Kind.SHIMMER, "#7FB3A8")
    assert water.density_kg_m3 == pytest.approx(998.0)
    assert water.volume_solids == 0.0


@pytest.mark.parametrize("text", ["", "  , paint", "foam, paint", "x, jam", "x, #12", "x, paint, blue"])
def test_container_that_cannot_be_is_refused(studio, shelf, text):
    before = len(studio.shelf())
    with pytest.raises(DribbetError):
        shelf.add(text)
    assert len(studio.shelf()) == before


@pytest.mark.parametrize(("units", "typed", "kg"), [(Units(), "250", 0.25), (Units(mass="oz"), "8", 0.2268)])
def test_stock_is_weighed_in_the_persons_unit(studio, shelf, units, typed, kg):
    studio.set_units(units)
    foam = next(m for m in studio.shelf() if m.name == "foam")
    shelf.change(foam, "stock_kg", typed)
    assert next(m for m in studio.shelf() if m.name == "foam").stock_kg == pytest.approx(kg, rel=1e-3)


@pytest.mark.parametrize("typed", ["much", "-1", "nan"])
def test_stock_that_cannot_be_is_refused(studio, shelf, typed):
    foam = next(m for m in studio.shelf() if m.name == "foam")
    with pytest.raises(DribbetError):
        shelf.change(foam, "stock_kg", typed)


def test_density_of_a_container_moves_what_follows(studio, shelf):
    studio.choose_series("k3")
    run = studio.need_run()
    before = studio.density(run, run.panels[0])
    foam = next(m for m in studio.shelf() if m.name == "foam")
    shelf.change(foam, "density", "1.6")
    assert next(m for m in studio.shelf() if m.name == "foam").density_kg_m3 == pytest.approx(1600.0)
    assert studio.density(studio.need_run(), run.panels[0]) > before
    for bad in ("0", "words", "500"):
        with pytest.raises(DribbetError):
            shelf.change(foam, "density", bad)


def test_today_says_overdue_first_then_now_then_later(studio, clock):
    clock.pass_(days=3)
    tasks = TodayPresenter(studio).tasks()
    assert tasks[0].overdue
    assert [t.overdue for t in tasks] == sorted((t.overdue for t in tasks), reverse=True)
    assert TodayPresenter(studio).due_now() == sum(look.now for look in studio.load("k3").due_looks(clock()))


def test_today_says_looks_of_one_kind_in_one_line(studio, clock):
    looks = [look for look in studio.load("k3").due_looks(clock()) if look.now]
    task = next(t for t in TodayPresenter(studio).tasks() if t.station == "dry" and t.now)
    assert task.panels == len(looks) > 1
    assert task.code == min(looks, key=lambda look: look.due).panel.code
    assert "more" in task.words


def test_today_forgets_decided_series_and_plans_without_lots(studio):
    AskPresenter(studio).new_series()
    assert {t.series_id for t in TodayPresenter(studio).tasks()}.isdisjoint({"k2", studio.series_id})


def test_today_of_an_empty_notebook_is_empty(empty_studio):
    assert TodayPresenter(empty_studio).tasks() == []
    assert TodayPresenter(empty_studio).due_now() == 0


def test_findings_are_the_verdicts_that_were_kept_newest_first(studio):
    presenter = FindingsPresenter(studio)
    assert [s.code for s, _ in presenter.findings()] == ["K2"]
    studio.choose_series("d1")
    DecidePresenter(studio).close()
    assert [s.code for s, _ in presenter.findings()] == ["D1", "K2"]
    assert all(words.endswith(".") for _, words in presenter.findings())


def test_luck_is_told_for_each_response_with_repeats(studio):
    lines = FindingsPresenter(studio).luck()
    assert any(line.startswith("Cell count") for line in lines)
    assert all("repeats" in line for line in lines)
    studio.set_units(Units(length="in"))
    assert any("\u202fin" in line for line in FindingsPresenter(studio).luck())


def test_findings_of_an_empty_notebook_are_none(empty_studio):
    presenter = FindingsPresenter(empty_studio)
    assert presenter.findings() == []
    assert presenter.luck() == []


def test_studio_opens_on_the_series_that_was_in_hand_last(studio, clock):
    from dribbet.bench.studio import Studio

    studio.choose_series("b2")
    assert Studio(studio.notebook, clock).series_id == "b2"


def test_what_was_loaded_is_forgotten_when_something_changes(studio):
    run = studio.load("k2")
    assert studio.load("k2") is run
    studio.notebook.replace(replace(run.series, state=SeriesState.RUNNING))
    assert studio.load("k2").series.state is SeriesState.DECIDED, "until it is told"
    studio.changed()
    assert studio.load("k2").series.state is SeriesState.RUNNING
    assert studio.notebook.get(Series, "k2").state is SeriesState.RUNNING


def test_panel_in_hand_is_kept_for_each_station_of_each_series(studio):
    studio.choose_series("k3")
    studio.take("dry", "p1")
    studio.choose_series("k2")
    assert studio.in_hand("dry") == ""
    studio.choose_series("k3")
    assert studio.in_hand("dry") == "p1"


def test_findings_set_signs_while_pouring_against_the_mounds_before_them(studio):
    findings = FindingsPresenter(studio)
    assert not any("while pouring" in words for words in findings.bench())
    run = studio.load("k2")
    panel = run.panels[0]
    for m in run.mixes:
        studio.notebook.add(Check(id=f"m{m.id}", mix_id=m.id, kind=CheckKind.MOUND, value=1.0, at=studio.now()))
    studio.notebook.add(Mishap(id="sign", panel_id=panel.id, kind=MishapKind.RUNS_FAST, at=studio.now()))
    studio.changed()
    told = next(words for words in findings.bench() if "while pouring" in words)
    assert told.startswith("“Runs fast” while pouring: their mounds had held ")
    assert "(1 panels)" not in told


def test_findings_compare_panels_by_the_sheens_in_their_cups(studio):
    told = FindingsPresenter(studio).bench()[0]
    assert told.startswith("Sheen: with neighbours of unlike sheen in the cup")
    for m in studio.shelf():
        if m.kind in (Kind.PAINT, Kind.SHIMMER):
            studio.notebook.replace(replace(m, sheen=Sheen.MATTE))
    studio.changed()
    assert FindingsPresenter(studio).bench() == []
