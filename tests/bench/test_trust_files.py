"""Files and panels: nothing is read wrong in silence, and what counts is what stands."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import pytest
from PIL import Image

from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.read.presenter import ReadPresenter
from dribbet.bench.stations.shoot.presenter import ShootPresenter, codes_in, stage_named
from dribbet.lab.panel.progress import Station
from dribbet.records import (
    DribbetError,
    Lamp,
    Panel,
    Photo,
    Reading,
    Response,
    Series,
    SeriesState,
    Stage,
)
from dribbet.studio.acts import leaving_out as left_out
from tests.bench.conftest import press, trouble
from tests.sight import drawn

if TYPE_CHECKING:
    from pathlib import Path


@pytest.fixture
def photos(tmp_path):
    """Makes photographs under any names, no two alike."""

    def make(*names: str) -> list[Path]:
        paths = []
        for i, name in enumerate(names):
            paths.append(tmp_path / name)
            Image.fromarray(drawn.flat(600, 450 + i, drawn.TABLE, noise=2.0, seed=i)).save(paths[-1])
        return paths

    return make


def added(desk, before: set[str]) -> dict[str, tuple[str, Stage, Lamp]]:
    codes = {p.id: p.code for p in desk.notebook.all(Panel)}
    return {p.name: (codes[p.panel_id], p.stage, p.lamp) for p in desk.notebook.all(Photo) if p.id not in before}


def test_code_in_a_files_name_wins_over_pouring_order(on_shoot, desk, qtbot, photos):
    before = {p.id for p in desk.notebook.all(Photo)}
    run = desk.need_run()
    codes = [p.code for p in reversed(run.in_order())][:4]  # not in pouring order
    on_shoot.page("shoot").bring(photos(*[f"{code}.png" for code in codes]))
    qtbot.waitUntil(lambda: not on_shoot.jobs.busy() and not on_shoot.page("shoot")._queue, timeout=60_000)
    assert {name: got[0] for name, got in added(desk, before).items()} == {f"{code}.png": code for code in codes}


def test_name_may_tell_panel_stage_and_lamp_even_of_another_series(on_shoot, desk, qtbot, photos):
    before = {p.id for p in desk.notebook.all(Photo)}
    on_shoot.page("shoot").bring(photos("D1-a1 wet LEFT.png", "k2_b2_48h.png"))
    qtbot.waitUntil(lambda: not on_shoot.jobs.busy() and not on_shoot.page("shoot")._queue, timeout=60_000)
    assert added(desk, before) == {
        "D1-a1 wet LEFT.png": ("D1-a1", Stage.WET, Lamp.LEFT),
        "k2_b2_48h.png": ("K2-b2", Stage.H48, Lamp.DIFFUSE),
    }


def test_each_file_is_searched_with_its_own_panels_size(on_shoot, desk, photos, monkeypatch):
    sizes = []

    def looked(self, path, size, report, *, is_round):
        sizes.append(size)
        raise DribbetError("seen enough")

    monkeypatch.setattr(ShootPresenter, "inspect_file", looked)
    s = desk.notebook.get(Series, "d1")
    desk.notebook.replace(replace(s, constants=replace(s.constants, panel_width_m=0.3, panel_height_m=0.2)))
    desk.changed()
    page = on_shoot.page("shoot")
    for path in photos("D1-a1.png", "K3-a1.png"):
        page.bring([path])
        on_shoot.jobs._pool.waitForDone()
        page._busy = False
    own = desk.load("k3").series.constants
    assert sizes == [(300.0, 200.0), (own.panel_width_m * 1e3, own.panel_height_m * 1e3)]


def test_doubtful_files_are_asked_for_one_by_one(on_shoot, desk, qtbot, photos):
    before = {p.id for p in desk.notebook.all(Photo)}
    page = on_shoot.page("shoot")
    first, second, *_ = page.presenter.suggestions()
    page.bring(photos("IMG_1.png", "IMG_2.png", "IMG_3.png", "K3-a1 or K3-b1.png"))
    assert added(desk, before) == {}, "nothing is dealt in silence"
    assert page.sentence.text() == f"IMG_1.png names no panel. Is it {first.code}?"
    press(on_shoot, "N")
    assert second.code in page.sentence.text()
    press(on_shoot, "Space")
    assert page.sentence.text().startswith("IMG_2.png")
    press(on_shoot, "X")
    assert page.sentence.text().startswith("IMG_3.png")
    press(on_shoot, "X")
    assert page.sentence.text().startswith("K3-a1 or K3-b1.png names K3-a1 and K3-b1.")
    press(on_shoot, "X")
    qtbot.waitUntil(lambda: not on_shoot.jobs.busy() and not page._queue, timeout=60_000)
    assert {name: got[0] for name, got in added(desk, before).items()} == {"IMG_1.png": second.code}


def test_all_doubtful_files_may_go_in_pouring_order_when_the_person_says_so(on_shoot, desk, qtbot, photos):
    before = {p.id for p in desk.notebook.all(Photo)}
    page = on_shoot.page("shoot")
    wanted = [p.code for p in page.presenter.suggestions()][:3]
    page.bring(photos("a.png", "b.png", "c.png"))
    press(on_shoot, "A")
    qtbot.waitUntil(lambda: not on_shoot.jobs.busy() and not page._queue, timeout=60_000)
    assert [added(desk, before)[n][0] for n in ("a.png", "b.png", "c.png")] == wanted


def test_photos_on_their_way_stay_with_their_panels_when_a_new_series_is_begun(on_shoot, desk, qtbot, photos):
    before = {p.id for p in desk.notebook.all(Photo)}
    page = on_shoot.page("shoot")
    page.bring(photos("K3-a1.png", "K3-b1.png", "K3-c1.png"))
    on_shoot._go("new")
    qtbot.waitUntil(lambda: not on_shoot.jobs.busy() and not page._queue, timeout=60_000)
    assert {name: got[0] for name, got in added(desk, before).items()} == {f"K3-{c}1.png": f"K3-{c}1" for c in "abc"}
    assert on_shoot.stumbles == []


@pytest.mark.parametrize(
    ("stem", "codes"),
    [
        ("K3-b2", ["K3-b2"]), ("k3_b2", ["K3-b2"]), ("dry K3.b2 left", ["K3-b2"]), ("K3-b22", []), ("XK3-b2", []),
        ("K3-b2 K3-a1", ["K3-a1", "K3-b2"]),
        ("K3-b2 and K3-b2", ["K3-b2"]), ("IMG_2031", []), ("K13-b2", ["K13-b2"]),
    ],
)  # fmt: skip
def test_codes_are_told_by_whole_words_of_a_name(desk, stem, codes):
    panels = desk.notebook.all(Panel)
    panels = [*panels, replace(panels[0], id="x", code="K13-b2")]
    assert sorted(p.code for p in codes_in(stem, panels)) == codes


@pytest.mark.parametrize(
    ("stem", "stage"), [("K3-b2 wet", Stage.WET), ("K3-b2_24h", Stage.H24), ("K3-b2 7 d", Stage.D7), ("wet and dry", None), ("K3-b2", None)]
)
def test_stage_is_told_by_a_name(stem, stage):
    assert stage_named(stem, "K3-b2") is stage


def test_photo_that_is_left_out_takes_its_reading_out_of_the_verdict(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = next(p for p in run.panels if run.reading(p) is not None)
    n = len(run.values(Response.CRACK_LENGTH)[panel.recipe])
    desk.take("shoot", panel.id)
    ShootPresenter(desk).leave_out()
    run = desk.need_run()
    assert len(run.values(Response.CRACK_LENGTH).get(panel.recipe, [])) == n - 1
    assert run.reading(panel) is None
    assert run.station(panel, desk.now()) is not Station.DECIDE
    assert len([r for r in desk.notebook.all(Reading) if r.panel_id == panel.id]) >= 1, "the reading itself stays"


def test_shimmer_does_not_outlive_the_lamps_it_was_read_under(desk):
    series = next(s for s in desk.all_series() if any(r is Response.SHIMMER for r, _ in s.responses) and desk.load(s.id).readings)
    desk.choose_series(series.id)
    run = desk.need_run()
    reading = next(r for r in run.readings if r.result["shimmer"])
    lamp = next(p for p in run.photos if p.panel_id == reading.panel_id and p.lamp is Lamp.LEFT)
    desk.notebook.replace(replace(lamp, left_out=True))
    desk.changed()
    assert reading not in desk.need_run().readings


def test_panel_is_left_out_with_a_reason_and_counts_again(desk):
    desk.choose_series("k2")
    run = desk.need_run()
    panel = next(p for p in run.panels if run.reading(p) is not None)
    before = run.values(Response.CRACK_LENGTH)
    with pytest.raises(DribbetError, match="Say why"):
        left_out.leave_out(desk, panel, "  ")
    left_out.leave_out(desk, panel, "dust,  fly\n or damage")
    run = desk.need_run()
    assert len(run.values(Response.CRACK_LENGTH)[panel.recipe]) == len(before[panel.recipe]) - 1
    assert f"{panel.code}: dust, fly or damage." in [r.body for r in DecidePresenter(desk).view().differs]
    left_out.count_again(desk, panel)
    assert desk.need_run().values(Response.CRACK_LENGTH) == before


def test_leaving_a_panel_out_opens_a_decided_series_again(desk):
    decided = next(s for s in desk.all_series() if s.state is SeriesState.DECIDED)
    left_out.leave_out(desk, desk.load(decided.id).panels[0], "dust")
    assert desk.notebook.get(Series, decided.id).state is SeriesState.RUNNING


def test_verdict_is_open_again_when_its_figures_change(desk):
    decided = next(s for s in desk.all_series() if s.state is SeriesState.DECIDED and desk.load(s.id).readings)
    desk.choose_series(decided.id)
    read = ReadPresenter(desk)
    run = desk.need_run()
    panel = next(p for p in run.panels if (r := run.reading(p)) is not None and r.result["cells"]["count"] > 2)
    desk.take("read", panel.id)
    read.remove_cell(0)
    again = desk.notebook.get(Series, decided.id)
    assert (again.state, again.concluded) == (SeriesState.RUNNING, ())
    assert len(desk.notebook.changes(decided.id)[-1]["before"]["concluded"]) == len(decided.concluded) > 0, "what stood is kept"


@pytest.mark.parametrize(("station", "series"), [("pour", "k4"), ("dry", "k3"), ("read", "k2"), ("decide", "k2")])
def test_one_key_leaves_the_panel_in_hand_out_and_takes_it_back(open_window, desk, station, series):
    window = open_window(desk)
    desk.choose_series(series)
    window.walk(station)
    page = window.page(station)
    marked = {p.id for p in desk.notebook.all(Panel) if p.spoiled}
    press(window, "O")
    assert "left out?" in page._why.head.text()
    press(window, "Esc")
    assert not page._why.isVisible()
    press(window, "O", "2")
    (now,) = [p for p in desk.notebook.all(Panel) if p.spoiled and p.id not in marked]
    assert now.spoiled == left_out.REASONS[1]
    assert f"{now.code} is left out of the verdict" in trouble(window)
    press(window, "O")
    assert {p.id for p in desk.notebook.all(Panel) if p.spoiled} == marked
    assert f"{now.code} counts again" in trouble(window)


def test_reason_may_be_typed(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("k2")
    window.walk("read")
    page = window.page("read")
    code = page.view.code
    press(window, "O")
    page._why.field.setText("ice on it")
    page._why.field.returnPressed.emit()
    assert next(p for p in desk.notebook.all(Panel) if p.code == code).spoiled == "ice on it"
    assert "left out of the verdict: ice on it" in page.subline.text()
