"""A whole test of shine: glue against conditioner, a diffuse photograph and one with a mirrored edge each, by the practice camera, all by keys."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.records import Lamp, Mishap, MishapKind, Response, Where, Word
from dribbet.sight.zones import part_of
from dribbet.studio.acts import planning
from dribbet.studio.standing import verdict
from tests.bench.conftest import press, stopped
from tests.bench.test_surface import LOTS
from tests.bench.test_whole_tests_in_the_window import Studio


def test_glue_against_conditioner_for_shine(open_window, desk, clock, qtbot, monkeypatch):
    monkeypatch.setattr(planning.secrets, "randbelow", lambda below: LOTS)
    window = open_window(desk)
    studio = Studio(window, desk, clock, ("factor", "medium"), ("response", "shine"), ("repeats", "3"), ("equal", "equal recipe"))
    studio.pour(lambda panel: 57.0 + 1.3 * panel.place)
    studio.look_until(120.0)
    window.walk("shoot")
    page = window.page("shoot")
    assert page.view.wants_three
    press(window, "Space")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    assert "mirrored across the middle" in page.view.sentence
    assert page.view.one_key == "Take it: mirrored edge"
    assert dict(page.view.lamps) == {"diffuse": "taken", "left": "-", "right": "-", "edge": "now"}
    assert page.lamps[Lamp.EDGE].isVisible()
    assert not page.lamps[Lamp.LEFT].isVisible()
    for _ in range(4 * len(studio.run.panels)):
        if page.view.does.name == "READ":
            break
        press(window, "Space")
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    assert {p.lamp for p in studio.run.photos} == {Lamp.DIFFUSE, Lamp.EDGE}
    press(window, "Space")
    press(window, "A")
    qtbot.waitUntil(lambda: all(studio.run.reading(p) is not None for p in studio.run.panels), timeout=300_000)
    assert stopped(window) == ""
    figure = window.page("read").view.figures[3]
    assert figure.unit == "% shine"
    assert "of white is mirrored" in figure.words
    by_medium = {
        arm.held.medium: [studio.run.reading(p).result["shine"] for p in studio.run.panels if p.recipe == arm.letter] for arm in studio.run.arms
    }
    assert min(s["step"] for s in by_medium["glue"]) > max(s["step"] for s in by_medium["conditioner"])
    (answer,) = [a for a in verdict.shown(desk, studio.run).answers if a.response == Response.SHINE]
    assert answer.word is Word.REAL
    window.walk("decide")
    assert window.page("decide").view.sentence == "Medium conditioner gives less shine than glue. That is real."


def test_reading_of_shine_no_longer_holds_where_its_photograph_is_left_out(open_window, desk, clock, qtbot, monkeypatch):
    monkeypatch.setattr(planning.secrets, "randbelow", lambda below: LOTS)  # among other lots is a panel that Read asks about first
    window = open_window(desk)
    studio = Studio(window, desk, clock, ("factor", "medium"), ("response", "shine"), ("repeats", "2"), ("equal", "equal recipe"))
    studio.pour(lambda panel: 60.0)
    studio.look_until(120.0)
    window.walk("shoot")
    for _ in range(2):
        press(window, "Space")
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    panel = next(p for p in studio.run.panels if studio.run.photo(p) is not None)
    window.walk("read")
    press(window, "Space")
    qtbot.waitUntil(lambda: studio.run.reading(panel) is not None, timeout=120_000)
    assert studio.run.reading(panel).result["shine"]["contrast"] > 0.1
    page, told = window.page("read"), {}
    qtbot.waitUntil(lambda: any(f.unit == "% shine" for f in page.view.figures) and not window.jobs.busy(), timeout=60_000)
    for _ in range(3):
        (figure,) = [f for f in page.view.figures if f.unit == "% shine"]
        told[page.presenter.part] = (figure.figure, figure.words)
        press(window, "Z")
    whole, middle = (float(told[part][0]) for part in (Where.WHOLE, Where.MIDDLE))
    assert middle == pytest.approx(whole, rel=0.1)  # of one film, from fewer pieces
    run = studio.run
    inner = part_of(run.reading(panel).result, Where.MIDDLE)["shine"]
    assert f"{inner['step'] * 100:.1f}" == told[Where.MIDDLE][0]
    assert 4 <= len(inner["pieces"]) < len(run.reading(panel).result["shine"]["pieces"])
    outer = part_of(run.reading(panel).result, Where.RIM)["shine"]
    assert (
        told[Where.RIM] == ("–", "Too little of the mirrored edge lies here.")
        if outer is None
        else told[Where.RIM][0] == f"{outer['step'] * 100:.1f}"
    )
    desk.notebook.add(
        Mishap(id="spill", panel_id=panel.id, kind=MishapKind.SPILL, at=desk.now(), x_share=0.6, y_share=0.5, reach_share=0.45, zone_out=True)
    )
    desk.changed()
    page.refresh()
    (figure,) = [f for f in page.view.figures if f.unit == "% shine"]
    assert (figure.figure, figure.words) == ("–", "Too little of the mirrored edge lies here.")
    edge = studio.run.photo(panel, Lamp.EDGE)
    desk.notebook.replace(replace(edge, left_out=True))
    desk.changed()
    assert studio.run.reading(panel) is None
