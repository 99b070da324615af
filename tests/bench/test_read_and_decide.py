"""Read and Decide: figures of a panel, verdicts of a series, and the jobs behind them."""

from __future__ import annotations

import threading
from pathlib import Path

import cv2
import numpy as np
import pytest
from PyQt6.QtCore import QPointF

from dribbet.bench.jobs import Job, Jobs
from dribbet.bench.pictures import load_flat, load_photo
from dribbet.bench.stations.decide.paper import _ledger_rows, report_of
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.read.presenter import ReadPresenter, overlay_of
from dribbet.demo.build import PHOTOS, shipped_readings
from dribbet.records import DribbetError, Reading, Response, Series, SeriesState, Word, silent
from dribbet.sight.arrays import SightError
from dribbet.sight.corrected import without_cell
from tests.bench.conftest import on_series, press, trouble

KELP = PHOTOS / "K2-b1-dry-diffuse.jpg"


SIZE = (200.0, 150.0)


read = on_series("d1", ReadPresenter)


def test_figures_are_said_in_words_and_millimetres(read):
    view = read.view()
    assert view.is_read
    assert "cell" in view.sentence
    assert view.figures[0].unit == "cells"
    assert len(view.overlay.cells) == int(view.figures[0].figure) == len(view.diameters_mm)
    assert view.note.startswith("dry photo, read by")


def test_lines_that_may_be_cracks_are_said_and_not_counted(desk, read):
    run = desk.need_run()
    before = run.reading(read.panel(run))
    unsure = before.result | {"cracks": before.result["cracks"] | {"length_mm": 0.0, "count": 0, "doubtful_mm": 47.0}}
    assert read._sentence(unsure).endswith(" cells and no crack for certain.")
    crack = read._figures(unsure)[1]
    assert crack.figure == "0"
    assert crack.words.startswith("47\u202fmm of lines may be cracks or strands.")


@pytest.mark.parametrize(("off", "sentence", "words"), [
    (12.0, "no crack for certain.", "None found, but 12\u202fmm may be missed: some lines are hard to tell apart."),
    (11.9, "no cracks.", "None found."),
])  # fmt: skip
def test_none_found_where_a_crack_may_be_missed_is_said_so(desk, read, off, sentence, words):
    """From as many millimetres on as would be called cracks, had they been found."""
    run = desk.need_run()
    before = run.reading(read.panel(run)).result
    none = {"length_mm": 0.0, "count": 0, "doubtful_mm": 0.0, "length_sd": off}
    told = before | {"cracks": before["cracks"] | none}
    assert read._sentence(told).endswith(f" cells and {sentence}")
    assert read._figures(told)[1].words == words


@pytest.mark.parametrize(("cracks", "words"), [
    ({"length_mm": 0.0, "count": 0, "under_lamps": {"deep_mm": 0.0, "flat_mm": 0.0}}, "None found, nor a groove under the lamps."),
    ({"length_mm": 80.0, "count": 2, "max_width_mm": 0.4, "under_lamps": {"deep_mm": 61.6, "flat_mm": 0.0}},
     "In two cracks, up to 0.4 mm wide. 62 mm of it is a groove under the lamps."),
    ({"length_mm": 50.0, "count": 2, "max_width_mm": 0.4, "under_lamps": {"deep_mm": 61.6, "flat_mm": 0.0}},  # some of it lies in a zone left out
     "In two cracks, up to 0.4 mm wide. 50 mm of it is a groove under the lamps."),
    ({"length_mm": 0.0, "count": 0, "doubtful_mm": 40.0, "doubtful": {"length_mm": 40.0}, "under_lamps": {"deep_mm": 0.0, "flat_mm": 31.4}},
     "40 mm of dotted lines may be cracks (D) or none (P). None is counted until you say. 31 mm of that lies flat under the lamps, as paint does."),
    ({"length_mm": 0.0, "count": 0, "under_lamps": {"deep_mm": 0.0, "flat_mm": 31.4}}, "None found, nor a groove under the lamps."),
])  # fmt: skip
def test_what_the_lamps_say_of_lines_stands_under_the_figure(desk, read, cracks, words):
    run = desk.need_run()
    before = run.reading(read.panel(run)).result
    plain = {"doubtful_mm": 0.0, "length_sd": 0.0}
    told = before | {"cracks": {k: v for k, v in before["cracks"].items() if k != "doubtful"} | plain | cracks}
    assert read._figures(told)[1].words == words


def test_cells_that_may_be_none_are_counted_and_drawn_apart(desk, read):
    run = desk.need_run()
    result = run.reading(read.panel(run)).result
    items = [c | {"sureness": 0.59 if i == 1 else 0.61} for i, c in enumerate(result["cells"]["items"])]
    told = result | {"cells": result["cells"] | {"items": items}}
    assert read._figures(told)[0].words.endswith(" One, dashed, may be none.")
    assert overlay_of(told).perhaps == {1}
    sure = [c | {"sureness": 0.61} for c in items]
    assert "may be none" not in read._figures(result | {"cells": result["cells"] | {"items": sure}})[0].words


def test_each_step_of_a_reading_has_its_word():
    from dribbet.bench.stations.read import page
    from dribbet.sight import measure

    assert len(page._STEP_WORDS) == measure.STEPS + 1
    assert [page._STEP_WORDS[i] for i in (0, 3, 4, 5, 6, measure.STEPS)] == ["finding the panel", "a first look", "spread", "cells", "cracks", "done"]


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
    assert "1 more of each recipe" in view.next_words


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


def test_next_pour_goes_on_where_cells_still_grow(desk):
    desk.choose_series("d1")
    words = DecidePresenter(desk).view().next_words
    assert "beyond what was tried, beside 4 drops" in words


def test_closing_keeps_the_verdict(desk):
    desk.choose_series("d1")
    decide = DecidePresenter(desk)
    sentence = decide.view().sentence
    decide.close()
    kept = desk.notebook.get(Series, "d1")
    assert kept.state is SeriesState.DECIDED
    assert [(c.response, c.word) for c in kept.concluded][:2] == [(Response.CELL_COUNT, Word.REAL), (Response.CELL_WIDTH, Word.REAL)]
    assert kept.concluded[0].low < kept.concluded[0].difference < kept.concluded[0].high < 0.0
    assert decide.view().sentence == sentence == "No silicone makes fewer cells than 4 drops. That is real."
    assert decide.view().one_key == "Next question"


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
    flat = load_flat(KELP, 2000, ((400.0, 300.0), (1600.0, 300.0), (1600.0, 1200.0), (400.0, 1200.0)), SIZE, None, silent)
    assert flat.image.width() == round(200 * flat.px_per_mm)
