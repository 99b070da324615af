"""Pictures that are the panel and nothing else: scans with their resolution, and photographs cropped to the panel."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from dribbet.demo.camera import Shot, encode, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.records import Sign, silent
from dribbet.sight import measure as sight
from dribbet.sight.load import load
from dribbet.sight.photographs import ToRead, look_at, read
from dribbet.sight.whole_picture import as_cropped, as_scanned

POUR = Pour(
    width_mm=120, height_mm=90, palette=("#F2EBDD", "#1F4E5F", "#2E7D6B", "#C88A2B"), shares=(3, 2, 2, 1), seed=11, cells_per_dm2=30.0, cell_mm=4.0,
    px_per_mm=8.0,
)  # fmt: skip


@pytest.fixture(scope="module")
def scan():
    return encode(draw_panel(POUR).linear)


def saved(path, rgb, **more):
    Image.fromarray(rgb).save(path, quality=92, **more)
    return path


def test_a_scan_is_the_panel_from_edge_to_edge(scan, tmp_path):
    path = saved(tmp_path / "scan.jpg", scan, dpi=(203.2, 203.2))  # 8 pixels to each mm
    assert load(path).px_per_mm == pytest.approx(8.0, rel=0.005)
    looks = look_at(silent, path, ".jpg", (120.0, 90.0))
    assert looks.corners_px == ((-0.5, -0.5), (959.5, -0.5), (959.5, 719.5), (-0.5, 719.5))
    assert not any(s.sign in {Sign.CORNERS_FRAME, Sign.CORNERS_FAINT, Sign.CORNERS_SHAPE, Sign.CORNERS_NONE} for s in looks.seen)
    told = read(silent, ToRead(main=path, size_mm=(120.0, 90.0)))
    assert told["cells"]["count"] == pytest.approx(len(np.unique(draw_panel(POUR).cells)) - 1, rel=0.25)
    assert told["panel"]["corner_source"] == "found"
    measured = sight.measure(sight.Lamps(main=scan, px_per_mm=8.0), 120.0, 90.0)
    about_card = [w for w in measured.warnings if "card" in w]
    assert about_card == ["This is a scan, without a photo card: colours are as the scanner saw them. Compare them with other scans only."]


def test_a_scan_of_another_size_than_the_panel_is_no_scan_of_it(scan):
    assert as_scanned(scan, 120.0, 90.0, 8.0) is not None
    assert as_scanned(scan, 122.0, 91.5, 8.0) is not None
    assert as_scanned(scan, 123.0, 92.5, 8.0) is None
    assert as_scanned(scan, 120.0, 90.0, 72 / 25.4) is None  # what files say that know nothing
    assert as_scanned(scan, 90.0, 120.0, 8.0) is None
    assert as_scanned(scan, 120.0, 90.0, 0.0) is None


def test_a_photograph_cropped_to_the_panel_is_taken_whole_and_asked_about(scan, tmp_path):
    looks = look_at(silent, saved(tmp_path / "crop.png", scan), ".png", (120.0, 90.0))
    assert looks.corners_px[2] == (959.5, 719.5)
    assert [s.sign for s in looks.seen if s.sign in {Sign.CORNERS_FRAME, Sign.CORNERS_FAINT, Sign.CORNERS_NONE}] == [Sign.CORNERS_FRAME]
    assert as_cropped(scan, 120.0, 70.0) is None  # not the panel's shape
    assert as_cropped(np.full((720, 960, 3), 140, np.uint8), 120.0, 90.0) is None  # one colour all round may be a table


def test_a_panel_on_its_table_is_found_as_before_whatever_the_file_says():
    photo, truth = photograph(draw_panel(POUR), Shot(seed=3, width_px=1600, height_px=1200, noise=0.004, card=False))
    plain, _, _, _ = sight.locate(photo, 120.0, 90.0, None)
    told, _, _, found = sight.locate(photo, 120.0, 90.0, None, px_per_mm=300 / 25.4)
    np.testing.assert_array_equal(plain, told)
    assert found.sure
    assert np.abs(told - truth).max() < 3.0


def test_a_resolution_that_makes_no_sense_is_none(scan, tmp_path):
    assert load(saved(tmp_path / "odd.jpg", scan, dpi=(300, 150))).px_per_mm == 0.0
    assert load(saved(tmp_path / "none.png", scan)).px_per_mm == 0.0
