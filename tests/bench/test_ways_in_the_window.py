"""Every way to pour is walked on Pour with the one key, from its first step to the scale."""

from __future__ import annotations

import pytest

from dribbet.lab.panel import pouring
from dribbet.records import DribbetError, PanelWeight, Step, Technique
from dribbet.words import pour as pour_words
from tests.bench.conftest import press, trouble
from tests.studio.test_six_plans import Bench

HELD = {
    Technique.BLOOM: {"base_plan": "pillow", "activator": "glue", "activator_kg": 0.004, "torch_passes": 0},
    Technique.DUTCH_POUR: {"base_plan": "flood coat"},
    Technique.STRAIGHT_POUR: {"heat_after_s": 300.0},
}


@pytest.mark.parametrize("technique", list(Technique))
def test_steps_of_a_technique_are_done_one_after_the_other(open_window, desk, clock, technique):
    from dribbet.records import BasePlan
    from dribbet.studio.acts import asking

    bench = Bench(desk)
    held = {k: BasePlan(v) if k == "base_plan" else v for k, v in HELD.get(technique, {}).items()}
    bench.ask(asking.hold, technique=technique, **held)
    bench.plan.draw_lots()
    bench.mix_all()
    bench.check_all()
    window = open_window(desk)
    window.walk("pour")
    page = window.page("pour")
    run = desk.need_run()
    panel = page.presenter.panel(run)
    expected = [s for s, _ in pouring.steps(run.held(panel), alcohol_share=run.arm(panel).alcohol_share)]
    page.typed.setText("210.0")
    press(window, "Space")
    for step in expected:
        assert page.view.need == ""
        press(window, "Space")
        assert trouble(window) == ""
        assert page.view.sentence.startswith(pour_words.said(technique, step).do.split(",")[0])
        clock.pass_(seconds=400)
        window.refresh()
    assert page.view.need == "poured"
    page.typed.setText("262.0")
    press(window, "Space")
    run = desk.need_run()
    assert run.weight(panel, PanelWeight.POURED) == pytest.approx(0.262)
    mine = [s for s in run.steps if s.panel_id == panel.id]
    assert [s.step for s in mine] == expected
    assert dict(pouring.steps(run.held(panel))).items() >= {s.step: s.planned_s for s in mine}.items()
    assert (Step.WAIT in expected) == (technique is not Technique.BLOOM)  # the flame was held at none


def test_nothing_is_poured_from_cups_that_were_not_mixed_unless_said_once(open_window, desk):
    from dribbet.records import Advice
    from dribbet.words import stops as stops_words

    bench = Bench(desk)
    bench.plan.draw_lots()
    window = open_window(desk)
    window.walk("pour")
    page = window.page("pour")
    page.typed.setText("210.0")
    press(window, "Space")
    assert (page.view.sentence, page.view.one_key) == ("Its cups are not mixed yet. Mix them first.", "Go to Mix")
    press(window, "Space")
    assert window.current == "mix"
    window.walk("pour")
    with pytest.raises(DribbetError, match="W pours from elsewhere"):
        page.presenter.advance(None, "typed")
    assert not list(desk.need_run().steps)
    panel = page.presenter.panel(desk.need_run())
    press(window, "W")
    (said,) = desk.need_run().series.insisted
    assert (said.against, said.of) == (Advice.UNMIXED, panel.code)
    assert stops_words.gone_against(said) == f"{panel.code} poured from cups that were not mixed here"
    press(window, "Space")
    assert trouble(window) == ""
    assert [s.step for s in desk.need_run().steps] == [Step.FILL]
    press(window, "W")  # it is begun: the key is another one now
    assert len(desk.need_run().series.insisted) == 1


def test_a_camera_sees_each_step_and_the_last_cup_is_copied_by_one_key(open_window, desk, qtbot):
    from dribbet.bench.application import practice_camera

    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    bench.check_all()
    desk.camera = practice_camera(desk.notebook)
    window = open_window(desk)
    window.walk("pour")
    page = window.page("pour")

    def pour(*, ticks: int) -> None:
        page.typed.setText("210.0")
        press(window, "Space", "Space")
        for _ in range(ticks):
            press(window, "K")

    panel = page.presenter.panel(desk.need_run())
    layers = len(desk.need_run().arm(panel).layers)
    pour(ticks=layers)
    qtbot.waitUntil(lambda: page.view.steps[0].still != b"", timeout=20_000)
    assert page.view.as_last == ""
    page.bench_line.grab()
    assert list(page.bench_line._pictures) == [page.view.steps[0].still]
    while page.view.need != "poured":
        press(window, "Space")
    page.typed.setText("216.0")
    press(window, "Space")
    assert page.view.ran_off
    press(window, "R")
    assert "Pot" in trouble(window)
    assert page.view.ran_off == ""
    press(window, "Y")
    assert (page.view.past, page.view.code, page.view.clock_head) == (True, panel.code, "it took")
    qtbot.waitUntil(lambda: all(s.still for s in page.view.steps), timeout=20_000)  # every step of it can be seen again
    assert (page.view.need, page.view.can_take_back, page.view.again) == ("", False, "")
    press(window, "Space")
    assert (page.view.past, page.view.need) == (False, "bare")
    desk.camera.lose()
    pour(ticks=0)
    qtbot.waitUntil(lambda: "camera does not answer" in trouble(window), timeout=20_000)
    assert page.view.as_last == panel.code.split("-")[-1]
    press(window, "C")
    assert (page.view.ticked, page.view.layer) == (layers, "")
