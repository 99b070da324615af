"""A new user takes one question through all eight stations to a verdict and a PDF, by the window alone."""

from __future__ import annotations

import io
from datetime import timedelta

import pytest
from PIL import Image

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.lab.panel.progress import Station
from dribbet.records import Look, Panel, PanelWeighing, PanelWeight, Photo, Reading, Series, SeriesState, Stage
from tests.bench.conftest import choose, press, trouble

CRACKED_MM = {"a": (0.0, 14.0), "b": (420.0, 500.0)}


@pytest.fixture(params=["rectangle", "round"])
def shape(request):
    return request.param


@pytest.fixture
def photographs(tmp_path, shape):
    """Own photographs of the four panels: recipe b cracked."""
    folder = tmp_path
    paths = {}
    for letter, lengths in CRACKED_MM.items():
        for repeat, length in enumerate(lengths, start=1):
            code = f"{letter}{repeat}"
            pour = Pour(
                width_mm=100, height_mm=80, palette=("#F2F0EA", "#1F4E79", "#9C2F3C"), shares=(3, 2, 1), seed=sum(map(ord, code)), cells_per_dm2=14,
                crack_mm=length, rim_lines=0.0, px_per_mm=8.0,
            )  # fmt: skip
            shot = Shot(seed=repeat + ord(letter), width_px=1500, height_px=1125, noise=0.004, table="#8C8C88")
            photo, _ = photograph(draw_panel(pour), shot, is_round=shape == "round")
            buffer = io.BytesIO()
            Image.fromarray(photo).save(buffer, "JPEG", quality=92)
            paths[code] = folder / f"{code}.jpg"
            paths[code].write_bytes(buffer.getvalue())
    return paths


def test_whole_line_from_a_question_to_a_verdict_and_a_pdf(open_window, qtbot, empty_desk, clock, photographs, tmp_path, shape):
    window = open_window(empty_desk)
    book = empty_desk.notebook

    # Ask: the window opens on it, says what to do, and Enter does it.
    assert window.current == "ask"
    assert "One question" in window.page("ask").sentence.text()
    press(window, "Enter")
    assert window.page("ask").chooser.isVisible()  # the kinds of test; the question begins as it stands when none is taken
    window.page("ask").chooser.close()
    choose(window, "levels", "8, 24")
    choose(window, "size_mm", "100 x 80")
    choose(window, "outline", shape)
    choose(window, "repeats", "2")
    choose(window, "expect", "more")
    run = empty_desk.need_run()
    assert [lv.value for lv in run.series.levels] == [pytest.approx(0.08), pytest.approx(0.24)]
    press(window, "Enter")
    run = empty_desk.need_run()
    assert len(run.panels) == 4
    assert run.series.seed is not None
    assert {p.place for p in run.panels} == {1, 2, 3, 4}
    press(window, "Enter")
    assert window.current == "mix"

    # Mix: without a scale the grams are typed, cup by cup; one is overshot and mended.
    page = window.page("mix")
    overshot = False
    for _ in range(200):
        if window.current != "mix":
            break
        view = page.view
        if view.finished or view.act:
            press(window, "Space")
            continue
        grams = (view.target_kg - view.already_kg) * 1000
        if not overshot and view.add_name == "Add water":
            grams, overshot = grams + 2.0, True
        page.typed.setText(f"{grams:.2f}")
        page._enter_typed()
        assert trouble(window) == ""
    assert overshot
    assert window.current == "check"
    run = empty_desk.need_run()
    assert all(m.done for m in run.mixes)
    for mix in run.mixes:
        held = page.presenter.cup(run, mix)
        total = sum(held.values())
        planned = sum(kg for _, kg in mix.plan)
        for name, kg in mix.plan:
            assert held[name] / total == pytest.approx(kg / planned, abs=0.01), f"{mix.colour}: the repair brought {name} back"

    # Check: a drip of each colour, and a mound with the stopwatch.
    page = window.page("check")
    for _ in range(len(page.presenter.groups(run))):
        for _ in page.presenter.cups(empty_desk.need_run(), page.presenter.group(empty_desk.need_run())):
            page.typed.setText("60")
            page._typed()
        if page.view.matched:
            press(window, "R") if len(page.view.groups) > 1 else None
    assert page.view.matched
    press(window, "M", "M")
    assert page.view.mounds[0].seconds is not None
    run = empty_desk.need_run()
    assert {run.station(p, clock()) for p in run.panels} == {Station.POUR}
    press(window, "Space")
    assert window.current == "pour"

    # Pour: bare weight, the steps with their key, the weight with paint.
    page = window.page("pour")
    for number in range(4):
        page.typed.setText(f"{100 + number}")
        press(window, "Space")
        for _ in range(8):
            if page.view.need == "poured":
                break
            clock.pass_(seconds=70)
            press(window, "Space")
        page.typed.setText(f"{100 + number + 14.0}")
        press(window, "Space")
        clock.pass_(minutes=4)
        assert trouble(window) == ""
    run = empty_desk.need_run()
    assert all(run.weight(p, PanelWeight.POURED) for p in run.panels)
    assert run.series.prediction.locked_at is not None
    assert run.series.state is SeriesState.RUNNING
    assert page.view.one_key == "Go to Dry"
    press(window, "Space")

    # Dry: every look is made when it is due.
    page = window.page("dry")
    for hours in (1, 11, 10, 28, 49):
        clock.pass_(hours=hours)
        window.refresh()
        for _ in range(4):
            assert page.view.asking, page.view.sentence
            if page.view.asking == "feel":
                press(window, "3")
            press(window, "Space")
    assert len(book.all(Look)) == 4 * 5
    assert page.view.sentence == "All looks are made."
    press(window, "Space")

    # Shoot: own photographs from files, each to its panel.
    assert window.current == "shoot"
    page = window.page("shoot")
    for panel in run.in_order():
        page.presenter.choose(panel.id)
        page.bring([photographs[panel.code.split("-")[1]]])
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
        assert trouble(window) == ""
    photos = book.all(Photo)
    assert {p.panel_id for p in photos} == {p.id for p in run.panels}
    assert all(p.stage is Stage.DRY and len(p.corners_px) == 4 and p.quality for p in photos)
    window.walk("read")

    # Read: each panel with one press.
    page = window.page("read")
    for _ in range(4):
        assert page.view.one_key == "Read this panel"
        press(window, "Space")
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
        assert page.view.is_read
        if page.view.one_key == "Next panel":
            press(window, "Space")
    assert len(book.all(Reading)) == 4
    press(window, "Space")
    assert window.current == "decide"

    # Decide: cracks are really more, and the report says so.
    page = window.page("decide")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    strip = page.view.strips[0]
    assert strip.name == "Cracks"
    assert "less" in strip.words
    assert any("More water also means less paint" in r.body for r in page.view.differs)
    page.write_report(tmp_path / "report.pdf")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    assert (tmp_path / "report.pdf").read_bytes().startswith(b"%PDF-")
    press(window, "Space")
    assert book.all(Series)[0].state is SeriesState.DECIDED
    assert book.all(Series)[0].concluded
    press(window, "Space")
    assert window.current == "ask"
    assert len(book.all(Series)) == 2


def test_nothing_is_lost_when_the_window_is_closed_in_the_middle_of_a_pour(open_window, desk, clock):
    window = open_window(desk)
    desk.choose_series("k3")
    window.walk("pour")
    page = window.page("pour")
    code = page.view.code
    press(window, "Space", "Space")
    steps = len(desk.need_run().steps)
    again = open_window(desk)
    again.walk("pour")
    clock.pass_(seconds=10)
    again.refresh()
    assert again.page("pour").view.code == code
    assert len(desk.need_run().steps) == steps
    assert desk.notebook.all(Panel, code=code)


def test_pressing_early_is_allowed_and_taking_back_goes_step_by_step(window, desk, clock):
    desk.choose_series("k3")
    window.walk("pour")
    page = window.page("pour")
    before = len(desk.need_run().steps)
    press(window, "Space")
    clock.pass_(seconds=5)
    window.refresh()
    assert "early" in page.view.one_key
    press(window, "Space")
    assert len(desk.need_run().steps) == before + 2
    press(window, "Z", "Z")
    assert len(desk.need_run().steps) == before
    press(window, "Z")
    assert not [w for w in desk.need_run().panel_weighings if w.panel_id == page.presenter.panel(desk.need_run()).id]
    assert desk.notebook.all(PanelWeighing), "taken back is kept in the ledger"
    assert clock.now - timedelta(seconds=5)
