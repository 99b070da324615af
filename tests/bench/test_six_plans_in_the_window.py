"""Six plans that failed once, walked through the window: asked by their lists and fields, weighed, dosed, checked, up to the first pour."""

from __future__ import annotations

import pytest

from dribbet.lab.plan import design, stops
from dribbet.studio.standing import cups, pots
from tests.bench.conftest import choose, press, trouble

STEP_KG = 1.5e-4  # the practice scale's digit and its noise
PLANS = {
    "silicone crossed with heat": (
        ("factor", "silicone"), ("levels", "0, 2"), ("crossed", "heat"), ("levels1", "0, 2"), ("drops_by", "a cup large enough for whole drops"),
    ),
    "a silicone ladder of small cups": (
        ("size_mm", "150 x 150"), ("poured", "40"), ("factor", "silicone"), ("levels", "0, 1, 2, 4"),
        ("drops_by", "a cup large enough for whole drops"),
    ),
    "an opaque against a transparent background": (
        ("factor", "opacity"), ("of", "0 wet slate"), ("levels", "opaque = wet slate, transparent = interference gull"),
    ),
    "three sheens of base as spots": (
        ("size_mm", "300 x 200"), ("design", "paired"), ("factor", "sheen of the base"),
        ("levels", "matte = deck matte, satin = deck satin, gloss = deck gloss"),
    ),
    "four mediums with a ratio of their own": (
        ("factor", "medium"), ("levels", "conditioner 1:2 + 12 % water, glue 1:1 + 10 % water, harbour glue 1:1.5 + 5 % water, water 2:1"),
        ("equal", "recipe by recipe"),
    ),
    "a bloom with the additive in the base only": (
        ("technique", "bloom"), ("base_plan", "pillow"), ("base", "deck satin"), ("activator", "glue"),
        ("factor", "additive in the base"), ("levels", "0, 10"),
    ),
    "something of one's own in the cup": (("factor", "something of my own"), ("own", "anti-craze additive"), ("levels", "0, 4")),
}  # fmt: skip


class Seconds:
    """Time for the scale, so that a test need not wait for it."""

    def __init__(self) -> None:
        self.now = 1000.0

    def monotonic(self) -> float:
        return self.now


def steady(page, seconds: Seconds) -> None:
    """Wait as a person does: until nothing moves, no fault is on and the last taking is over."""
    still = 0
    for _ in range(4000):
        seconds.now += 0.05
        page.tick()
        reading = page._reading
        fine = reading is not None and reading.steady and not reading.note and page.desk.scale.fault is None
        still = still + 1 if fine and seconds.now - page._took_s > 2.0 else 0
        if still >= 40:  # two seconds: a little paint shows late
            return
    raise AssertionError("the scale never came to rest")


def weigh_all(window, seconds: Seconds) -> None:
    """Every cup by the one key and the practice scale, with all that a scale does, until Mix goes on to Check."""
    page = window.page("mix")
    page.timer.stop()
    for _ in range(600):
        if window.current != "mix":
            return
        steady(page, seconds)
        view = page.view
        if view.taking_out and page._added() >= 0.0:
            page.desk.scale.put(view.target_kg - view.already_kg)
            continue
        if not (view.taking_out or view.finished or view.act or view.drops or view.choices):
            missing = view.target_kg - view.already_kg - page._added()
            if missing > view.tolerance_kg:
                page.desk.scale.put(missing)
                continue  # it may be taken by itself
        press(window, "Space" if not view.choices else view.choices[0].digit)
    raise AssertionError(f"Mix never ended: {page.view.one_key}, {trouble(window)}")


@pytest.mark.parametrize("plan", PLANS)
def test_plan_is_asked_weighed_dosed_and_checked_in_the_window(open_window, desk, plan, monkeypatch):
    seconds = Seconds()
    monkeypatch.setattr("dribbet.bench.stations.mix.page.time", seconds)
    window = open_window(desk)
    window.page("ask").presenter.planning.new_series()
    window.walk("ask")
    for part, value in PLANS[plan]:
        choose(window, part, value)
    press(window, "Enter")
    assert trouble(window) == ""
    assert desk.need_run().panels, "lots are drawn"
    press(window, "Enter")
    assert window.current == "mix"
    weigh_all(window, seconds)
    run = desk.need_run()
    assert all(m.done for m in run.mixes)
    assert pots.held_back(desk, run, run.in_order()[0]) is not None, "nothing was checked yet"

    page = window.page("check")
    for _ in pots.groups(run):
        for _ in page.presenter.cups(desk.need_run(), page.presenter.group(desk.need_run())):
            page.typed.setText("62")
            page._typed()
        assert page.view.matched, page.view.sentence
        if page.view.more:
            assert page.view.sentence.startswith("These flow alike. Next are the cups of ")
            press(window, "Space")
    assert page.view.sentence.startswith(("All colours flow alike.", "The colours match each other."))
    run = desk.need_run()
    assert all(pots.held_back(desk, run, panel) is None for panel in run.panels)
    for arm, actual in zip(run.arms, run.actual_arms, strict=True):
        assert actual.silicone_drops_per_100g == pytest.approx(arm.silicone_drops_per_100g, rel=stops.OFF_FAR)
        for colour in arm.colours:
            mix = next(m for m in run.mixes if m.colour == colour and arm.letter in m.recipes)
            held = cups.held(run, mix)
            held.pop(arm.held.silicone, None)
            total = sum(held.values())
            assert {n: kg / total for n, kg in held.items()} == pytest.approx(design.mix_fractions(arm, colour), abs=3 * STEP_KG / total)
    press(window, "Space")
    assert window.current == "pour"
    assert run.panels[0].code.split("-")[0] in window.page("pour").view.code


def test_drops_are_counted_whatever_the_scale_drifts_and_other_things_on_it_are_noticed(open_window, desk, monkeypatch):
    seconds = Seconds()
    monkeypatch.setattr("dribbet.bench.stations.mix.page.time", seconds)
    window = open_window(desk)
    page = window.page("mix")
    window.page("ask").presenter.planning.new_series()
    window.walk("ask")
    for part, value in PLANS["silicone crossed with heat"]:
        choose(window, part, value)
    press(window, "Enter", "Enter")
    page.timer.stop()
    while not page.view.drops:
        view = page.view
        if view.finished or view.act:
            press(window, "Space")
        else:
            page.typed.setText(f"{(view.target_kg - view.already_kg) * 1000:.2f}")
            page._enter_typed()
        steady(page, seconds)
    due = page.view.drops
    desk.scale.put(0.0052)
    steady(page, seconds)
    press(window, "Space")
    assert "these drops weigh 58 mg" in trouble(window)
    assert not [w for w in desk.need_run().weighings if w.drops]
    desk.scale.put(-0.0050)  # 0.2 g stay: as much as a scale drifts
    steady(page, seconds)
    press(window, "Space")
    (counted,) = [w for w in desk.need_run().weighings if w.drops]
    assert (counted.drops, counted.source) == (due, "counted")
