"""Today, Shelf, Findings and the list of series: sentences that hold, and errors that say what to do."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.bench.doors.findings.presenter import FindingsPresenter
from dribbet.bench.doors.shelf.presenter import ShelfPresenter
from dribbet.bench.doors.today.presenter import TodayPresenter
from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.records import Check, CheckKind, DribbetError, Kind, Mishap, MishapKind, Series, SeriesState, Sheen
from dribbet.words import bench as bench_words
from dribbet.words.units import Units


@pytest.fixture
def shelf(desk):
    return ShelfPresenter(desk)


def test_container_is_added_with_what_was_typed_and_starting_figures_for_the_rest(desk, shelf):
    shelf.add("sea glass, Shimmer, #7fb3a8")
    shelf.add("well water, thinner")
    glass, water = (next(m for m in desk.shelf() if m.name == n) for n in ("sea glass", "well water"))
    assert (glass.kind, glass.hex) == (Kind.SHIMMER, "#7FB3A8")
    assert water.density_kg_m3 == pytest.approx(998.0)
    assert water.volume_solids == 0.0


@pytest.mark.parametrize("text", ["", "  , paint", "foam, paint", "x, jam", "x, #12", "x, paint, blue"])
def test_container_that_cannot_be_is_refused(desk, shelf, text):
    before = len(desk.shelf())
    with pytest.raises(DribbetError):
        shelf.add(text)
    assert len(desk.shelf()) == before


@pytest.mark.parametrize(("units", "typed", "kg"), [(Units(), "250", 0.25), (Units(mass="oz"), "8", 0.2268)])
def test_stock_is_weighed_in_the_persons_unit(desk, shelf, units, typed, kg):
    desk.set_units(units)
    foam = next(m for m in desk.shelf() if m.name == "foam")
    shelf.change(foam, "stock_kg", typed)
    assert next(m for m in desk.shelf() if m.name == "foam").stock_kg == pytest.approx(kg, rel=1e-3)


@pytest.mark.parametrize("typed", ["much", "-1", "nan"])
def test_stock_that_cannot_be_is_refused(desk, shelf, typed):
    foam = next(m for m in desk.shelf() if m.name == "foam")
    with pytest.raises(DribbetError):
        shelf.change(foam, "stock_kg", typed)


def test_density_of_a_container_moves_what_follows(desk, shelf):
    desk.choose_series("k3")
    run = desk.need_run()
    before = desk.density(run, run.panels[0])
    foam = next(m for m in desk.shelf() if m.name == "foam")
    shelf.change(foam, "density", "1.6")
    assert next(m for m in desk.shelf() if m.name == "foam").density_kg_m3 == pytest.approx(1600.0)
    assert desk.density(desk.need_run(), run.panels[0]) > before
    for bad in ("0", "words", "500"):
        with pytest.raises(DribbetError):
            shelf.change(foam, "density", bad)


def test_today_says_overdue_first_then_now_then_later(desk, clock):
    clock.pass_(days=3)
    tasks = TodayPresenter(desk).tasks()
    assert tasks[0].due.overdue
    assert [t.due.overdue for t in tasks] == sorted((t.due.overdue for t in tasks), reverse=True)
    assert TodayPresenter(desk).due_now() == sum(t.due.now for t in TodayPresenter(desk).tasks()) > 0


def test_today_says_looks_of_one_kind_in_one_line(desk, clock):
    looks = [look for look in desk.load("k3").due_looks(clock()) if look.now]
    task = next(t for t in TodayPresenter(desk).tasks() if t.station == "dry" and t.due.now)
    assert task.due.panels == len(looks) > 1
    assert task.due.code == min(looks, key=lambda look: look.due).panel.code
    assert "more" in task.words


def test_today_forgets_decided_series_and_plans_without_lots(desk):
    AskPresenter(desk).planning.new_series()
    assert {t.due.series_id for t in TodayPresenter(desk).tasks()}.isdisjoint({"k2", desk.series_id})


def test_today_of_an_empty_notebook_is_empty(empty_desk):
    assert TodayPresenter(empty_desk).tasks() == []
    assert TodayPresenter(empty_desk).due_now() == 0


def test_luck_is_told_for_each_response_with_repeats(desk):
    lines = bench_words.luck(desk.learned, Units())
    assert any(line.startswith("Cell count") for line in lines)
    assert all("repeats" in line for line in lines)
    assert any("\u202fin" in line for line in bench_words.luck(desk.learned, Units(length="in")))


def test_findings_of_an_empty_notebook_are_none(empty_desk):
    view = FindingsPresenter(empty_desk).view()
    assert (view.claims, view.luck, view.sentence) == ((), (), "Nothing was judged yet.")


def test_studio_opens_on_the_series_that_was_in_hand_last(desk, clock):
    from dribbet.studio.desk import Desk

    desk.choose_series("b2")
    assert Desk(desk.notebook, clock).series_id == "b2"


def test_what_was_loaded_is_forgotten_when_something_changes(desk):
    run = desk.load("k2")
    assert desk.load("k2") is run
    desk.notebook.replace(replace(run.series, state=SeriesState.RUNNING))
    assert desk.load("k2").series.state is SeriesState.DECIDED, "until it is told"
    desk.changed()
    assert desk.load("k2").series.state is SeriesState.RUNNING
    assert desk.notebook.get(Series, "k2").state is SeriesState.RUNNING


def test_panel_in_hand_is_kept_for_each_station_of_each_series(desk):
    desk.choose_series("k3")
    desk.take("dry", "p1")
    desk.choose_series("k2")
    assert desk.in_hand("dry") == ""
    desk.choose_series("k3")
    assert desk.in_hand("dry") == "p1"


def test_findings_set_signs_while_pouring_against_the_mounds_before_them(desk):
    assert not any("while pouring" in words for words in bench_words.seen(desk.learned))
    run = desk.load("k2")
    panel = run.panels[0]
    for m in run.mixes:
        desk.notebook.add(Check(id=f"m{m.id}", mix_id=m.id, kind=CheckKind.MOUND, value=1.0, at=desk.now()))
    desk.notebook.add(Mishap(id="sign", panel_id=panel.id, kind=MishapKind.RUNS_FAST, at=desk.now()))
    desk.changed()
    told = next(words for words in bench_words.seen(desk.learned) if "while pouring" in words)
    assert told.startswith("“Runs fast” while pouring: their mounds had held ")
    assert "(1 panels)" not in told


def test_findings_compare_panels_by_the_sheens_in_their_cups(desk):
    told = bench_words.seen(desk.learned)[0]
    assert told.startswith("Sheen: with neighbours of unlike sheen in the cup")
    for m in desk.shelf():
        if m.kind in (Kind.PAINT, Kind.SHIMMER):
            desk.notebook.replace(replace(m, sheen=Sheen.MATTE))
    desk.changed()
    assert bench_words.seen(desk.learned) == []


def test_a_calendar_that_cannot_be_written_says_so_and_one_that_can_says_how_many(open_window, desk, tmp_path, monkeypatch):
    from PyQt6.QtWidgets import QFileDialog

    from tests.bench.conftest import press, trouble

    window = open_window(desk)
    window.walk("today")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "no" / "folder" / "looks.ics"), ""))
    press(window, "C")
    assert "could not be written" in trouble(window)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "looks.ics"), ""))
    press(window, "C")
    assert (tmp_path / "looks.ics").read_bytes().startswith(b"BEGIN:VCALENDAR")
