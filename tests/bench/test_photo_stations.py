"""Shoot, Read and Decide without a window; the jobs and pictures that serve them."""

from __future__ import annotations

import threading
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent

from dribbet.bench.jobs import Job, Jobs
from dribbet.bench.pictures import load_flat, load_photo
from dribbet.bench.stations.decide.paper import _ledger_rows, report_of
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.read.presenter import ReadPresenter, overlay_of
from dribbet.bench.stations.shoot.presenter import Inspected, ShootPresenter, glare_at, inspect, lamp_named
from dribbet.demo.build import PHOTOS, shipped_readings, shoot_panel
from dribbet.demo.story import CHAPTERS, pour_of
from dribbet.devices import Lapse
from dribbet.lab.verdict.judge import Word
from dribbet.records import Cancelled, DribbetError, Lamp, Photo, Reading, Seen, Series, SeriesState, Sign, Stage, silent
from dribbet.sight.arrays import SightError
from dribbet.sight.corrected import without_cell
from dribbet.sight.photographs import Looks
from dribbet.words.photo import fitness
from tests.bench.conftest import on_series, press, trouble
from tests.sight import drawn

KELP = PHOTOS / "K2-b1-dry-diffuse.jpg"
SIZE = (200.0, 150.0)


def plain_photo(**changed) -> Inspected:
    whole = {
        "width_px": 100, "height_px": 80, "taken_at": None, "corners_px": ((1.0, 1.0), (90.0, 1.0), (90.0, 70.0), (1.0, 70.0)),
        "seen": (Seen(sign=Sign.SHARP, figures=(0.5,)),),
    }  # fmt: skip
    data = changed.pop("data", b"some picture")
    return Inspected(data, "x.jpg", ".jpg", Looks(**(whole | changed)))


# ---------------------------------------------------------------- Shoot


def test_good_photo_is_called_fit_in_words():
    found = inspect(KELP, KELP.read_bytes(), KELP.name, SIZE, silent)
    assert [(f.head, f.fine) for f in map(fitness, found.looks.seen)] == [("Sharp", True), ("Exposure", True), ("Tilt", True)]
    truth = np.array(shipped_readings()["K2-b1"]["result"]["panel"]["corners_px"])
    assert np.abs(np.array(found.looks.corners_px) - truth).max() < 6.0


@pytest.mark.parametrize(("lapse", "head"), [(Lapse.GLARE, "Glare"), (Lapse.BLUR, "Sharp"), (Lapse.NO_CARD, "No card")])
def test_each_lapse_is_said_with_what_to_do(lapse, head):
    chapter = next(c for c in CHAPTERS if c.code == "K2")
    data = shoot_panel(pour_of(chapter, "K2-a1", 0, 0, 1), "diffuse", lapse, seed=3)
    found = inspect(None, data, "p.jpg", SIZE, silent)
    doubts = {f.head: f.words for f in map(fitness, found.looks.seen) if not f.fine}
    assert head in doubts
    assert doubts[head].endswith(".")


def test_photo_without_a_panel_asks_for_the_corners_by_hand(tmp_path):
    Image.fromarray(drawn.flat(900, 700, drawn.TABLE, noise=2.0)).save(tmp_path / "bare.png")
    found = inspect(tmp_path / "bare.png", b"", "bare.png", SIZE, silent)
    assert found.looks.seen == (Seen(sign=Sign.CORNERS_NONE),)
    assert "Drag the four corners" in fitness(found.looks.seen[0]).words
    assert found.looks.corners_px[0] == (0.15 * 900, 0.15 * 700)


def test_inspecting_can_be_stopped():
    def stop(done: int, total: int) -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        inspect(KELP, b"", KELP.name, SIZE, stop)


shoot = on_series("k3", ShootPresenter)


def test_photo_goes_to_the_panel_the_stage_and_the_lamp_in_hand(desk, shoot):
    panel, stage, lamp = shoot.target()
    kept = shoot.keep(plain_photo(), (panel, stage, lamp))
    assert (kept.panel_id, kept.stage, kept.lamp) == (panel.id, Stage.DRY, Lamp.DIFFUSE)
    assert desk.notebook.photos.path_of(kept).read_bytes() == b"some picture"
    assert shoot.view().sentence.endswith("can be read.")


def test_same_photo_twice_is_refused_and_names_its_panel(desk, shoot):
    target = shoot.target()
    shoot.keep(plain_photo(), target)
    with pytest.raises(DribbetError, match=f"at {target[0].code}"):
        shoot.keep(plain_photo(), target)


def test_new_photo_takes_the_place_of_the_old_one_which_stays_in_the_notebook(desk, shoot):
    target = shoot.target()
    shoot.keep(plain_photo(data=b"first"), target)
    shoot.keep(plain_photo(data=b"second"), target)
    mine = [p for p in desk.notebook.all(Photo, panel_id=target[0].id) if p.stage is Stage.DRY]
    assert [p.left_out for p in mine] == [True, False]


def test_photo_left_out_wants_another(desk, shoot):
    shoot.keep(plain_photo(), shoot.target())
    shoot.leave_out()
    assert shoot.view().photo is None
    with pytest.raises(DribbetError, match="no photo to leave out"):
        shoot.leave_out()


def test_doubt_is_the_sentence_of_the_page(shoot):
    shoot.keep(plain_photo(seen=(Seen(sign=Sign.GLARE, figures=(0.03, 0.5, 0.25)),)), shoot.target())
    view = shoot.view()
    assert view.sentence.startswith("Glare. On 3\u202f% of the panel.")
    assert not view.fitness[0].fine
    assert glare_at(view.photo) == (0.5, 0.25)


def test_shimmer_wants_three_lamps_one_after_the_other(desk):
    desk.choose_series("h1")
    shoot = ShootPresenter(desk)
    run = desk.need_run()
    panel = run.panels[0]
    desk.notebook.replace(*[replace(p, left_out=True) for p in run.photos if p.panel_id == panel.id])
    desk.take("shoot", panel.id)
    desk.changed()
    for lamp in (Lamp.DIFFUSE, Lamp.LEFT, Lamp.RIGHT):
        assert shoot.target()[2] is lamp
        shoot.keep(plain_photo(data=str(lamp).encode()), shoot.target())
    assert shoot.missing_lamps(desk.need_run(), panel) == []


def test_corners_moved_by_hand_are_kept_and_crossed_ones_refused(shoot):
    shoot.keep(plain_photo(width_px=1000, height_px=800, seen=(Seen(sign=Sign.CORNERS_FAINT), Seen(sign=Sign.TILT, figures=(2.0,)))), shoot.target())
    shoot.move_corners([(100.0, 100.0), (900.0, 110.0), (890.0, 700.0), (110.0, 690.0)])
    view = shoot.view()
    assert view.photo.corners_px[1] == (900.0, 110.0)
    assert view.photo.quality == (Seen(sign=Sign.TILT, figures=(2.0,)), Seen(sign=Sign.CORNERS_BY_HAND))
    with pytest.raises(DribbetError):
        shoot.move_corners([(100.0, 100.0), (890.0, 700.0), (900.0, 110.0), (110.0, 690.0)])


def test_stage_and_lamp_can_be_chosen_by_hand(shoot):
    shoot.next_stage()
    assert shoot.target()[1] is Stage.WET
    shoot.next_lamp()
    assert shoot.target()[2] is Lamp.LEFT


def test_file_that_is_no_photo_is_said_on_the_page_and_nothing_is_kept(open_window, desk, qtbot, tmp_path):
    window = open_window(desk)
    desk.choose_series("k3")
    window.walk("shoot")
    before = len(desk.notebook.all(Photo))
    for name, content, words in (("a.txt", b"x", "not a photo"), ("b.jpg", b"", "is empty"), ("c.jpg", KELP.read_bytes()[:5000], "cut off")):
        (tmp_path / name).write_bytes(content)
        window.page("shoot").bring([tmp_path / name])
        qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=20_000)
        assert words in trouble(window)
    assert len(desk.notebook.all(Photo)) == before


def test_photos_are_dropped_onto_the_page(open_window, desk, qtbot, tmp_path):
    window = open_window(desk)
    desk.choose_series("k4")
    window.walk("shoot")
    page = window.page("shoot")
    path = tmp_path / "dropped.jpg"
    path.write_bytes(KELP.read_bytes() + b" ")  # not the same original as the demo's
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    code = page.view.code
    page.dropEvent(QDropEvent(QPointF(10, 10), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=20_000)
    assert trouble(window) == ""
    panel = next(p for p in desk.need_run().panels if p.code == code)
    assert desk.need_run().photo(panel) is not None


def test_three_photos_named_by_their_lamps_are_one_panels(open_window, desk, qtbot, tmp_path):
    window = open_window(desk)
    desk.choose_series("k3")
    window.walk("shoot")
    page = window.page("shoot")
    panel = page.presenter.panel(desk.need_run())
    paths = []
    for i, lamp in enumerate(("diffuse", "left", "right")):
        paths.append(tmp_path / f"panel_{lamp}.png")
        Image.fromarray(drawn.flat(600, 450 + i, drawn.TABLE, noise=2.0, seed=i)).save(paths[-1])
    before = {p.id for p in desk.notebook.all(Photo)}
    page.bring(paths)
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    added = [p for p in desk.notebook.all(Photo) if p.id not in before]
    assert {(p.panel_id, p.lamp, p.name) for p in added} == {(panel.id, Lamp(path.stem.split("_")[1]), path.name) for path in paths}


@pytest.mark.parametrize(
    ("stem", "lamp"), [("photo_left", Lamp.LEFT), ("H1-a1-dry-RIGHT", Lamp.RIGHT), ("leftover", None), ("left-right", None), ("IMG_2031", None)]
)
def test_lamp_is_told_by_a_whole_word_of_the_name(stem, lamp):
    assert lamp_named(stem) is lamp


def test_when_no_panel_wants_a_photo_the_one_key_leads_on(desk):
    desk.choose_series("s1")
    view = ShootPresenter(desk).view()
    assert view.one_key == "Go to Read"
    assert view.list_head == "Panels of this series"
    assert len(view.photo.corners_px) == 4


def test_practice_camera_is_named_as_one_and_takes_a_photo(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("k4")
    window.walk("shoot")
    page = window.page("shoot")
    assert "no real camera" in page.view.camera
    press(window, "Space")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=30_000)
    assert page.view.photo is not None
    assert page.view.photo.name.startswith("practice-")


def test_lost_camera_says_what_to_do(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("k4")
    window.walk("shoot")
    desk.camera.lose()
    press(window, "Space")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=10_000)
    assert "bring photos in from files" in trouble(window)


# ---------------------------------------------------------------- Read


read = on_series("d1", ReadPresenter)


def test_figures_are_said_in_words_and_millimetres(read):
    view = read.view()
    assert view.is_read
    assert "cell" in view.sentence
    assert view.figures[0].unit == "cells"
    assert len(view.overlay.cells) == int(view.figures[0].figure) == len(view.diameters_mm)
    assert view.note.startswith("dry photo, read by")


def test_cell_in_hand_is_described(read):
    words = read.view(0).cell_words
    assert "mm wide" in words
    assert words.split()[-1].rstrip(".") in ("round", "oval", "stretched")


def test_cell_is_removed_by_a_new_reading_that_says_so(desk, read):
    run = desk.need_run()
    panel = read.panel(run)
    before = run.reading(panel)
    read.remove_cell(0)
    after = desk.need_run().reading(panel)
    assert after.id != before.id
    assert after.result["cells"]["count"] == before.result["cells"]["count"] - 1
    assert "by hand" in after.reader
    assert desk.notebook.get(Reading, before.id) == before
    with pytest.raises(DribbetError, match="No cell is in hand"):
        read.remove_cell(None)


def test_figures_without_a_cell_are_counted_again():
    result = shipped_readings()["D1-d1"]["result"]
    n = result["cells"]["count"]
    for i in (0, n // 2, n - 1):
        cells, gone = without_cell(result, i)["cells"], result["cells"]["items"][i]
        items = [c for j, c in enumerate(result["cells"]["items"]) if j != i]
        sizes = [c["diameter_mm"] for c in items]
        assert (cells["count"], cells["items"]) == (n - 1, items)
        assert cells["per_dm2"] == pytest.approx((n - 1) / 3.0, abs=0.01)
        assert cells["area_fraction"] == pytest.approx(result["cells"]["area_fraction"] - gone["area_mm2"] / 30_000.0, abs=1e-5)
        assert [cells[k] for k in ("d10_mm", "median_diameter_mm", "d90_mm")] == pytest.approx(np.percentile(sizes, [10, 50, 90]), abs=1e-3)
        assert cells["mean_circularity"] == pytest.approx(np.mean([c["circularity"] for c in items]), abs=1e-3)
        assert len(without_cell(result, i)["outlines"]["cells"]) == n - 1
    assert result["cells"]["count"] == n, "the old reading is untouched"
    with pytest.raises(SightError, match="no longer there"):
        without_cell(result, n)


def test_outlines_lie_on_the_panel():
    overlay = overlay_of(shipped_readings()["D1-d1"]["result"])
    assert all(0 <= x <= 200 and 0 <= y <= 150 for line in (*overlay.cells, *overlay.cracks) for x, y in line)


def test_reading_can_be_stopped_and_leaves_nothing(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("s1")
    window.walk("read")
    page = window.page("read")
    before = len(desk.notebook.all(Reading))
    press(window, "Space")
    assert page.strip.buttons[0].key.busy
    press(window, "Esc")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=30_000)
    assert len(desk.notebook.all(Reading)) == before
    assert page.view.one_key == "Read this panel"


def test_photo_that_is_gone_is_said_and_the_next_can_be_read(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("s1")
    window.walk("read")
    page = window.page("read")
    panel = page.presenter.panel(desk.need_run())
    desk.notebook.photos.path_of(desk.need_run().photo(panel)).unlink()
    press(window, "Space")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=30_000)
    assert "no photo at" in trouble(window)


# ---------------------------------------------------------------- Decide


decide = on_series("k2", DecidePresenter)


def test_clear_effect_is_called_real_and_the_sentence_says_it(desk, decide):
    view = decide.view()
    crack = view.strips[0]
    assert (crack.name, crack.word) == ("Cracks", str(Word.REAL))
    assert crack.middle < 0
    assert crack.low < crack.middle < crack.high < 0
    assert "real" in view.sentence


def test_null_result_is_called_chance(desk):
    desk.choose_series("b2")
    view = DecidePresenter(desk).view()
    assert {s.word for s in view.strips} <= {"could be chance", "real"}
    assert view.strips[0].word == "could be chance"


def test_one_panel_each_is_too_few(desk):
    desk.choose_series("h1")
    view = DecidePresenter(desk).view()
    assert all(s.word == "too few panels to say" for s in view.strips)
    assert "Pour a repeat" in view.sentence
    assert "repeat" in view.next_words


def test_what_else_differed_stands_beside_the_verdict(desk):
    desk.choose_series("b2")
    words = " ".join(r.body for r in DecidePresenter(desk).view().differs)
    assert "B2-b3: cup slipped" in words
    assert "shine" in words


def test_pairs_panels_and_lamps_are_walked(desk):
    desk.choose_series("d1")
    decide = DecidePresenter(desk)
    heads = set()
    for _ in range(decide.view().pairs):
        heads.add(decide.view().head)
        decide.next_pair()
    assert len(heads) == 4
    first = decide.view().left.code
    decide.next_panel(0)
    assert decide.view().left.code != first
    desk.choose_series("h1")
    lamps = DecidePresenter(desk)
    lamps.next_lamp()
    assert lamps.view().lamp == "left"


def test_next_pour_lies_between_the_two_best_levels(desk):
    desk.choose_series("d1")
    words = DecidePresenter(desk).view().next_words
    assert "between the two best" in words


def test_closing_keeps_the_verdict(desk):
    desk.choose_series("d1")
    decide = DecidePresenter(desk)
    sentence = decide.view().sentence
    decide.close()
    kept = desk.notebook.get(Series, "d1")
    assert (kept.state, kept.verdict) == (SeriesState.DECIDED, sentence)
    assert decide.view().one_key == "Ask the next question"


def test_report_holds_recipe_ledger_results_and_pictures(desk, decide):
    data = report_of(decide)(silent)
    assert data.startswith(b"%PDF-")
    assert data.count(b"/Subtype /Image") >= 6
    rows = _ledger_rows(decide, desk.need_run())
    assert len(rows) == 1 + len(desk.need_run().weighings)


def test_report_that_cannot_be_written_says_so(open_window, desk, qtbot, tmp_path):
    window = open_window(desk)
    desk.choose_series("k2")
    window.walk("decide")
    window.page("decide").write_report(tmp_path / "none" / "r.pdf")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=60_000)
    assert "could not be written" in trouble(window)
    assert not list(tmp_path.glob("**/*.pdf"))


def test_two_photos_share_place_and_scale(open_window, desk, qtbot):
    window = open_window(desk)
    desk.choose_series("k2")
    window.walk("decide")
    page = window.page("decide")
    qtbot.waitUntil(lambda: not window.jobs.busy(), timeout=30_000)
    page.left.zoom_by(2.5, QPointF(60, 60))
    assert page.right.place == page.left.place
    assert page.right.scale() / page.right.unit_per_px == pytest.approx(page.left.scale() / page.left.unit_per_px, rel=0.02)
    press(window, "W")
    assert not page.left.wiping


# ---------------------------------------------------------------- jobs and pictures


def test_cancelled_job_gives_no_result(qtbot):
    gate, jobs = threading.Event(), Jobs()

    def work(report):
        gate.wait(5)
        report(1, 2)
        return "done"

    done: list[object] = []
    job = jobs.start(work, done.append, done.append)
    with qtbot.assertNotEmitted(job.succeeded), qtbot.waitSignal(job.cancelled):
        job.cancel()
        gate.set()
    assert done == []
    assert not jobs.busy()


def test_job_reports_and_ends_with_its_result_or_its_error(qtbot):
    jobs, heard = Jobs(), []

    def work(report):
        for i in range(3):
            report(i, 3)
        return 42

    job = jobs.start(work, heard.append, heard.append, lambda done, total: heard.append((done, total)))
    qtbot.waitUntil(lambda: 42 in heard, timeout=5000)
    assert heard == [(0, 3), (1, 3), (2, 3), 42]
    assert isinstance(job, Job)
    jobs.start(lambda report: 1 // 0, heard.append, heard.append)
    qtbot.waitUntil(lambda: isinstance(heard[-1], ZeroDivisionError), timeout=5000)
    assert not jobs.busy()


def test_huge_photos_are_shrunk_for_the_screen_and_flat_ones_keep_their_millimetres(tmp_path):
    path = Path(tmp_path) / "big.png"
    cv2.imwrite(str(path), np.zeros((3000, 4000, 3), np.uint8))
    image, shrink = load_photo(path, 4000, silent)
    assert max(image.width(), image.height()) == 2400
    assert shrink == pytest.approx(0.6)
    flat = load_flat(KELP, 2000, ((400.0, 300.0), (1600.0, 300.0), (1600.0, 1200.0), (400.0, 1200.0)), SIZE, silent)
    assert flat.image.width() == round(200 * flat.px_per_mm)
