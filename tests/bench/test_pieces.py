"""Several recipes side by side on one panel: one photograph, each piece measured by itself."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.read.presenter import ReadPresenter
from dribbet.bench.stations.shoot.presenter import ShootPresenter
from dribbet.lab.plan import layouts, pieces
from dribbet.records import PanelWeight, Photo, silent
from dribbet.sight import geometry
from dribbet.sight.photographs import Looks
from dribbet.studio.acts import pouring as acts
from dribbet.studio.standing import panels


@pytest.fixture
def side_by_side(desk):
    """Three water shares side by side on two panels, lots drawn; photographed dry, as the demo's thick film was."""
    photo = next(p for p in desk.notebook.all(Photo) if p.name.startswith("K2-b1-dry"))
    data = desk.notebook.photos.path_of(photo).read_bytes()
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("design", "paired")
    ask.draw_lots()
    return desk, data, photo


def shoot(desk, data: bytes, photo: Photo, number: int = 0):
    from dribbet.bench.stations.shoot.presenter import Inspected

    looks = Looks(width_px=photo.width_px, height_px=photo.height_px, taken_at=None, corners_px=photo.corners_px, seen=())
    found = Inspected(data + bytes(number + 1), f"sheet{number}.jpg", ".jpg", looks)
    presenter = ShootPresenter(desk)
    if number:
        presenter.next_panel()
    return presenter.keep(found, presenter.target())


def test_one_photograph_serves_all_pieces_of_its_panel(side_by_side):
    desk, data, photo = side_by_side
    kept = shoot(desk, data, photo)
    run = desk.need_run()
    panel = next(p for p in run.panels if p.id == kept.panel_id)
    mine = run.together(panel)
    assert len(mine) == 3
    assert all(run.photo(p) is not None for p in mine)
    assert len({run.photo(p).sha256 for p in mine}) == 1
    others = [p for p in run.panels if p not in mine]
    assert all(run.photo(p) is None for p in others)
    assert len({p.id for p in run.photos}) == 3


def test_corners_moved_for_one_piece_move_for_all(side_by_side):
    desk, data, photo = side_by_side
    kept = shoot(desk, data, photo)
    desk.take("shoot", kept.panel_id)
    moved = [(x + 3.0, y + 2.0) for x, y in photo.corners_px]
    ShootPresenter(desk).move_corners(moved)
    assert {p.corners_px for p in desk.need_run().photos} == {tuple((round(x, 2), round(y, 2)) for x, y in moved)}


def test_each_piece_is_measured_as_a_panel_of_its_own(side_by_side):
    desk, data, photo = side_by_side
    kept = shoot(desk, data, photo)
    run = desk.need_run()
    panel = next(p for p in run.panels if p.id == kept.panel_id)
    read = ReadPresenter(desk)
    results = {p.id: read.reading_of(p)(silent).result for p in run.together(panel)}
    widths = sorted(r["panel"]["width_mm"] for r in results.values())
    assert widths == pytest.approx([200 / 3 - 20, 200 / 3 - 10, 200 / 3 - 10])
    whole = next(r for r in desk.load("k2").readings if r.photo_id == photo.id).result
    found = sum(r["cells"]["count"] for r in results.values())
    assert 0.5 * whole["cells"]["count"] < found <= 1.1 * whole["cells"]["count"]  # the strips hold the rest
    cracks = sum(r["cracks"]["length_mm"] for r in results.values())
    assert cracks < 1.1 * whole["cracks"]["length_mm"]
    for p in run.together(panel):
        corners = np.array(results[p.id]["panel"]["corners_px"])
        flat = geometry.apply(np.linalg.inv(geometry.homography(np.array(photo.corners_px), 1.0, 1.0)), corners)
        np.testing.assert_allclose(flat[[0, 2]].ravel(), run.box(p), atol=2e-3)


def test_pieces_are_compared_like_panels_of_their_own(side_by_side):
    desk, data, photo = side_by_side
    read = ReadPresenter(desk)
    first = shoot(desk, data, photo)
    once = read.reading_of(next(p for p in desk.need_run().panels if p.id == first.panel_id))(silent)
    for number in range(2):
        kept = shoot(desk, data, photo, number) if number else first
        run = desk.need_run()
        panel = next(p for p in run.panels if p.id == kept.panel_id)
        for p in run.together(panel):
            read.keep(replace(once, id=p.id, panel_id=p.id, photo_id=run.photo(p).id))
    view = DecidePresenter(desk).view()
    assert not view.empty
    assert view.size_mm[0] < 70.0
    assert len(view.strips) == 3


def test_area_of_a_piece_is_its_region_and_the_measured_part_is_smaller(side_by_side):
    desk, _, _ = side_by_side
    run = desk.need_run()
    arm = run.arms[0]
    sheet = [p for p in run.panels if p.sheet == 1]
    assert sum(pieces.area_m2(next(a for a in run.arms if a.letter == p.recipe), p) for p in sheet) == pytest.approx(0.03)
    for p in sheet:
        left, top, right, bottom = pieces.measured_box(run.series, arm, p)
        assert p.region[0] <= left < right <= p.region[2]
        assert (top, bottom) == (0.0, 1.0)
    whole = replace(sheet[0], region=(), sheet=0)
    assert pieces.measured_mm(run.series, arm, whole) == pytest.approx((200.0, 150.0))
    assert layouts.left_out_share([p.region for p in sheet], 0.2, 0.15, 0.01) == pytest.approx(0.2)


def test_a_region_keeps_its_share_of_what_stayed_on_the_sheet(side_by_side):
    """Of the sheet's gain in weight a region has the part that it was given; its film follows from its own area."""
    desk, _, _ = side_by_side
    run = desk.need_run()
    sheet = run.together(next(p for p in run.panels if p.sheet == 1))
    acts.weigh(desk, sheet[0], PanelWeight.BARE, 0.3000)
    acts.weigh(desk, sheet[0], PanelWeight.POURED, 0.3300)
    run = desk.need_run()
    films = [panels.film(desk, run, p) for p in sheet]
    given = [1 / 3 * run.held(p).poured_kg + run.held(p).activator_kg + panels.base_kg(desk, run, p) for p in sheet]
    assert sum(f.left_kg for f in films) == pytest.approx(0.030)
    for p, film, gave in zip(sheet, films, given, strict=True):
        assert film.left_kg == pytest.approx(0.030 * gave / sum(given))
        assert film.wet_m == pytest.approx(film.left_kg / (desk.density(run, p) * run.area_m2(p)))
        assert film.run_off_kg == pytest.approx(0.068 - 0.030)  # one cup of 68 g on each sheet
