"""A colour set of five at the bench, in the window: weighed on a scale that misbehaves, overshot, mended, dripped, matched."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import pytest
from PIL import Image

from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.mix import page as mix_page
from dribbet.devices import ScaleFault, SimulatedScale
from dribbet.lab.panel.progress import Station
from dribbet.records import TAKEN_OUT, MarkKind, Weigh
from tests.bench.conftest import press, trouble
from tests.sight.drawn import drip_card_photo
from tests.sight.test_rings import photo as ring_photo

TICK_S = 0.045


class BenchTime:
    """The bench's stopwatch in our hands: a tick of the page is 45 ms, whatever the machine takes for it."""

    def __init__(self) -> None:
        self.now_s = 100.0

    def monotonic(self) -> float:
        return self.now_s


@pytest.fixture
def bench(open_window, desk, clock, monkeypatch):
    """A fresh test of two recipes on Mix, with a practice scale whose faults are switched on, and a person's two hands."""
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("levels", "10, 20")
    ask.draw_lots()
    watch = BenchTime()
    monkeypatch.setattr(mix_page, "time", SimpleNamespace(monotonic=watch.monotonic))
    desk.scale = SimulatedScale(seed=4, faults_every_s=20.0)
    window = open_window(desk)
    window.walk("mix")
    page = window.page("mix")
    page.timer.stop()
    faults: list[ScaleFault] = []

    def tick(n: int = 1) -> None:
        for _ in range(n):
            watch.now_s += TICK_S
            clock.pass_(seconds=TICK_S)
            page.tick()
            if desk.scale.fault is not None and (not faults or faults[-1] is not desk.scale.fault):
                faults.append(desk.scale.fault)

    return SimpleNamespace(window=window, page=page, desk=desk, tick=tick, faults=faults)


def quiet(bench, most: int = 600) -> None:
    """Wait until the scale answers and stands still."""
    for _ in range(most):
        bench.tick()
        reading = bench.page._reading
        if reading is not None and reading.steady:
            return
    raise AssertionError("the scale never came to rest")


def pour_in(bench, over_kg: float = 0.0) -> str:
    """Pour what is due until the page takes it by itself, or a press takes it where it went over; says what was poured."""
    page, scale = bench.page, bench.desk.scale
    quiet(bench)
    name, before = page.view.add_name, len(bench.desk.need_run().weighings)
    for attempt in range(8):
        due = page.view.target_kg - page.view.already_kg - page._added() + (over_kg if not attempt else 0.0)
        scale.put(max(due, 0.0))
        for _ in range(120):
            bench.tick()
            if len(bench.desk.need_run().weighings) > before:
                return name
        quiet(bench)
        if over_kg or page._added() > page.view.tolerance_kg:
            press(bench.window, "Space")
            if len(bench.desk.need_run().weighings) > before:
                return name
    raise AssertionError(f"{name} was never taken: {trouble(bench.window)}")


def make_cup(bench, over_kg: float = 0.0) -> None:
    """Weigh, stir and wipe one cup as the page asks; its last ingredient by so much too much."""
    page = bench.page
    mix_id = page.presenter.mix().id
    for _ in range(60):
        if page.presenter.mix().id != mix_id or bench.window.current != "mix":
            return
        if page.view.act or page.view.finished:
            quiet(bench)
            press(bench.window, "Space")
            continue
        last = page.view.add_name == "Add water"
        pour_in(bench, over_kg if last else 0.0)
        over_kg = 0.0 if last else over_kg
    raise AssertionError("the cup was never done")


def test_five_colours_are_mixed_overshot_mended_dripped_and_matched_while_the_scale_misbehaves(bench, qtbot, tmp_path):
    window, page, desk = bench.window, bench.page, bench.desk
    colours = [m.colour for m in desk.need_run().mixes if m.recipes == "a"]
    assert len(colours) == 5

    make_cup(bench)  # as planned
    make_cup(bench, over_kg=1.5e-3)  # overshot, and mended by what is added
    second = desk.need_run().mixes[1]

    # the third is overshot and thinned out first
    for _ in range(40):
        if page.view.choices:
            break
        if page.view.act:
            quiet(bench)
            press(window, "Space")
        else:
            pour_in(bench, 1.0e-3 if page.view.add_name == "Add water" else 0.0)
    third = page.presenter.mix()
    press(window, "2")
    assert page.view.taking_out
    quiet(bench)
    desk.scale.put(page.view.target_kg - page.view.already_kg)
    quiet(bench)
    bench.tick(30)
    quiet(bench)
    press(window, "Space")
    assert TAKEN_OUT in [w.ingredient for w in desk.need_run().weighings]
    for _ in range(8):
        if page.presenter.mix().id != third.id:
            break
        make_cup(bench)

    while window.current == "mix":
        make_cup(bench)
    run = desk.need_run()
    assert all(m.done for m in run.mixes)
    assert set(bench.faults) >= {ScaleFault.CABLE, ScaleFault.UNIT}, "the faults were switched on"
    for mix in run.mixes:
        held = page.presenter.cup(run, mix)
        total, planned = sum(held.values()), sum(kg for _, kg in mix.plan)
        for name, kg in mix.plan:
            assert held[name] / total == pytest.approx(kg / planned, abs=0.012), f"{mix.colour}: {name}"
    assert sum(page.presenter.cup(run, second).values()) > sum(kg for _, kg in second.plan) + 5e-3  # mending made it grow
    assert sum(page.presenter.cup(run, third).values()) == pytest.approx(sum(kg for _, kg in third.plan), abs=1.5e-3)  # thinning out did not
    stirs = [m for m in run.marks if m.kind is MarkKind.STIRRED]
    assert len(stirs) >= 2 * len(run.mixes)  # each after its medium and after its thinner

    # Check: a rendered drip card with one short drip, read from its photo
    assert window.current == "check"
    check = window.page("check")
    groups = check.presenter.groups(run)
    shelf = {m.name: m for m in desk.shelf()}
    hexes = [shelf[c].hex for c in colours]
    for number, group in enumerate(groups):
        desk.take("check", group)
        window.refresh()
        for attempt, runs in enumerate(((62.0, 38.0, 60.0, 66.0, 63.0), (62.0, 61.0, 60.0, 66.0, 63.0))):
            photo = tmp_path / f"drips-{number}-{attempt}.png"
            Image.fromarray(drip_card_photo(hexes, runs, seed=10 * number + attempt)).save(photo)
            check.read_cards([photo])
            qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=20000)
            qtbot.waitUntil(lambda: all(lane.run is not None for lane in check.view.card.lanes), timeout=5000)
            read = [lane.run for lane in check.view.card.lanes]
            assert read == pytest.approx(runs, abs=0.6)
            if attempt == 0:
                assert check.view.sentence == "One of five colours is too thick."
                before = page.presenter.cup(desk.need_run(), desk.need_run().mixes[0])
                press(window, "W", "Enter")  # log the water that was advised, and drip again
                assert trouble(window) == ""
                assert not check.view.matched
        assert check.view.matched, check.view.sentence
    assert before is not None
    run = desk.need_run()
    assert {run.station(p, desk.now()) for p in run.panels} == {Station.POUR}
    corrected = [w for w in run.weighings if w.source == "correction"]
    assert len(corrected) == len(groups)


def test_weight_that_stands_on_target_is_taken_once_and_by_itself(bench):
    bench.desk.scale = SimulatedScale(seed=1)
    bench.page._zero()
    quiet(bench)
    bench.desk.scale.put(bench.page.view.target_kg)
    bench.tick(150)
    assert len(bench.desk.need_run().weighings) == 1
    assert bench.desk.need_run().weighings[0].source == "practice scale"
    press(bench.window, "Space")  # a press just after meant the same weight
    assert len(bench.desk.need_run().weighings) == 1


def test_weight_off_target_waits_for_a_press(bench):
    bench.desk.scale = SimulatedScale(seed=1)
    bench.page._zero()
    quiet(bench)
    bench.desk.scale.put(bench.page.view.target_kg - 2e-3)
    bench.tick(150)
    assert bench.desk.need_run().weighings == ()
    press(bench.window, "Space")
    assert len(bench.desk.need_run().weighings) == 1


def test_tare_after_each_shows_what_is_poured_now_and_weighs_the_same(bench):
    bench.desk.set_rules(replace(bench.desk.rules, weigh=Weigh.TARE))
    bench.desk.scale = SimulatedScale(seed=1)
    bench.page._zero()
    pour_in(bench)
    first = bench.desk.need_run().weighings[0].mass_kg
    quiet(bench)
    assert abs(float(bench.page.reading.figure)) <= 0.2
    pour_in(bench)
    run = bench.desk.need_run()
    plan = dict(bench.page.presenter.mix().plan)
    assert [w.mass_kg for w in run.weighings] == pytest.approx(list(plan.values())[:2], abs=0.4e-3)
    assert first == run.weighings[0].mass_kg


def test_lifted_cup_is_asked_back_before_a_stir_counts(bench):
    bench.desk.scale = SimulatedScale(seed=1)
    bench.page._zero()
    pour_in(bench)
    pour_in(bench)
    assert bench.page.view.act == "Stir to the bottom"
    bench.desk.scale.put(-0.02)
    quiet(bench)
    press(bench.window, "Space")
    assert "Put it back" in trouble(bench.window)
    bench.desk.scale.put(0.02)
    quiet(bench)
    press(bench.window, "Space")
    assert trouble(bench.window) == ""
    assert bench.page.view.add_name == "Add water"


def test_scale_that_comes_back_with_another_zero_goes_on_from_the_cup_as_logged(bench):
    scale = bench.desk.scale = SimulatedScale(seed=1)
    bench.page._zero()
    pour_in(bench)
    logged = bench.page.view.already_kg
    quiet(bench)
    scale.lose()
    bench.tick(3)
    assert "Your cup is safe" in trouble(bench.window)
    assert bench.page.reading.state == "not answering"
    scale.mend()
    scale._zero_kg = scale._load_kg  # switched off and on: it starts at zero with the cup on it
    bench.tick(60)
    assert "another zero" in trouble(bench.window)
    assert float(bench.page.reading.figure) == pytest.approx(logged * 1e3, abs=0.3)


def test_cup_in_hand_is_as_it_was_after_a_crash(bench, clock):
    from dribbet.bench.stations.mix.presenter import MixPresenter
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    bench.desk.scale = SimulatedScale(seed=1)
    bench.page._zero()
    pour_in(bench)
    pour_in(bench)
    press(bench.window, "Space")
    before = bench.page.presenter.view()
    folder, mix_id = bench.desk.notebook.folder, bench.page.presenter.mix().id
    bench.desk.notebook.close()  # as the kernel would: nothing of ours is asked
    again = MixPresenter(Desk(open_notebook(folder), clock))
    assert again.mix().id == mix_id
    assert replace_tray(again.view()) == replace_tray(before)
    again.desk.notebook.close()


def replace_tray(view):
    return replace(view, tray=())


def test_ring_is_read_from_a_photo_in_the_window(open_window, desk, qtbot, tmp_path):
    desk.choose_series("k4")
    desk.take("check", "a")
    window = open_window(desk)
    window.walk("check")
    page = window.page("check")
    page.presenter.choose_test("ring")
    page.presenter.hand = 1
    picture = tmp_path / "ring.png"
    Image.fromarray(ring_photo(0.35)).save(picture)
    page.read_ring(picture)
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=20000)
    qtbot.waitUntil(lambda: bool(page.view.read), timeout=5000)
    assert trouble(window) == ""
    assert "Channel teal: a clear ring in the base (0.3" in page.view.read[0]
    blank = tmp_path / "blank.png"
    Image.new("RGB", (800, 600), (230, 228, 220)).save(blank)
    page.read_ring(blank)
    qtbot.waitUntil(lambda: "No drop is seen" in trouble(window), timeout=20000)
