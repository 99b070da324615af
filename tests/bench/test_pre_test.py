"""A set of colours is measured without a panel, and later plans use what was found."""

from __future__ import annotations

import pytest

from dribbet.lab.paint import survey
from dribbet.records import DribbetError, GaugingKind, Survey
from dribbet.studio.acts.surveying import Surveying
from dribbet.words import survey as survey_words
from tests.bench.conftest import press, trouble

RUNS_MM = {"foam": 20, "channel teal": 40, "kelp green": 30}
ACROSS_MM = {"foam": 30, "channel teal": 60, "kelp green": 45}


def typed(window, text: str) -> None:
    page = window.page("shelf")
    page.typed.setText(text)
    page._typed()
    assert trouble(window) == ""


@pytest.fixture
def begun(open_window, desk):
    """The window on the table of a pre-test of three colours, begun from Ask's kinds of test."""
    desk.scale = None
    window = open_window(desk)
    window.page("ask").presenter.planning.new_series()
    window.walk("ask")
    press(window, "P")
    window.page("ask").chooser._choose("pre-test")
    assert window.current == "shelf"
    typed(window, "foam, Channel teal, kelp green")
    return window


def test_pre_test_goes_one_tool_at_a_time_and_ends_in_a_table(begun, desk):
    page = begun.page("shelf")
    grams = {"foam": 13.5, "channel teal": 10.5, "kelp green": 10.6}
    assert page.sentence.text() == "Weigh foam next."
    for name, weight in grams.items():
        press(begun, "Space")
        assert page.guide.title == f"Density of {name}"
        for text in ("10.0", f"{10.0 + weight}", f"{10.0 + weight}"):
            typed(begun, text)
        press(begun, "Esc")
    for name, mm in RUNS_MM.items():
        assert page.sentence.text() == f"Drip {name} next."
        press(begun, "Space", "Space")  # the ten seconds are over
        typed(begun, str(mm))
        press(begun, "Esc")
    for mm in ACROSS_MM.values():
        press(begun, "Space")
        typed(begun, "5.0")
        press(begun, "Space")
        typed(begun, str(mm))
        typed(begun, str(mm))
        press(begun, "Esc")
    assert page.sentence.text() == "Every colour is measured. Plans use it from now on."
    table = page.presenter.survey()
    assert [row.due for row in table] == [(), (), ()]
    assert [round(row.density.value) for row in table] == [1350, 1050, 1060]
    spread = survey.by_drip(table)
    assert (spread.most.name, spread.least.name) == ("foam", "channel teal")
    assert spread.times == pytest.approx((40 / 20) ** 3)  # the run goes with the cube root of fluidity
    assert survey.by_density(table).times == pytest.approx(1350 / 1050, rel=1e-3)
    assert [(heavy.name, [m.name for m in under]) for heavy, under in survey.sinking(table)] == [("foam", ["kelp green", "channel teal"])]
    words = " ".join(remark.body for remark in survey_words.found(table))
    assert "Foam is 8.0 times as thick as channel teal." in words
    assert "Foam sinks into kelp green and channel teal." in words
    press(begun, "Space")
    assert Surveying(desk).now() is None
    assert page.shelf_area.isVisible()


def test_what_a_pre_test_found_is_in_later_plans(begun, desk):
    teal = next(m for m in desk.shelf() if m.name == "channel teal")
    before = desk.learned.line(teal.key, "conditioner")
    known = before.readings
    page = begun.page("shelf")
    page.hand = teal.id
    page._begin(GaugingKind.DRIP)
    press(begun, "Space")
    typed(begun, "90")
    after = desk.learned.line(teal.key, "conditioner")
    assert after.readings == known + 1
    assert after.figures_pa_s[0] < before.figures_pa_s[0]  # it ran far: thinner than was thought
    assert desk.learned.line(teal.key, "glue").readings >= 1  # in whatever medium


def test_pre_test_is_kept_and_another_ends_it(desk, clock):
    acts = Surveying(desk)
    first = acts.begin(["foam", "kelp green"])
    assert acts.now() == first
    clock.pass_(hours=1)
    second = acts.begin(acts.offered())
    assert acts.now() == second
    kept = {s.id: s.finished for s in desk.notebook.all(Survey)}
    assert (kept[first.id], kept[second.id]) == (True, False)
    acts.finish()
    with pytest.raises(DribbetError, match="P begins one"):
        acts.finish()


@pytest.mark.parametrize(("names", "words"), [(["foam"], "2 to 24 colours"), (["foam", "no such red"], "not on the shelf")])
def test_pre_test_of_one_colour_or_of_a_stranger_is_refused(desk, names, words):
    with pytest.raises(DribbetError, match=words):
        Surveying(desk).begin(names)


def test_densities_that_a_syringe_cannot_tell_apart_do_not_sink(begun, desk):
    page = begun.page("shelf")
    for name, weight in (("foam", 10.70), ("channel teal", 10.50), ("kelp green", 10.60)):
        press(begun, "Space")
        assert page.guide.title.endswith(name)
        for text in ("10.0", f"{10.0 + weight}", f"{10.0 + weight}"):
            typed(begun, text)
        press(begun, "Esc")
    assert survey.sinking(page.presenter.survey()) == ()
