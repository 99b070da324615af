"""Shoot: photographs come in, and each is judged in words."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent

from dribbet.bench.stations.read.presenter import ReadPresenter
from dribbet.bench.stations.shoot.presenter import Inspected, ShootPresenter, ShotAim, glare_at, inspect, lamp_named
from dribbet.demo.build import PHOTOS, shipped_readings, shoot_panel
from dribbet.demo.story import CHAPTERS, pour_of
from dribbet.devices import Lapse
from dribbet.records import Cancelled, DribbetError, Lamp, Photo, Seen, Sign, Stage, silent
from dribbet.sight.photographs import Looks
from dribbet.studio.standing.again import Next
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


def test_good_photo_is_called_fit_in_words():
    found = inspect(KELP, KELP.read_bytes(), KELP.name, SIZE, silent)
    assert [(f.head, f.fine) for f in map(fitness, found.looks.seen)] == [("Sharp", True), ("Exposure", True), ("Tilt", True)]
    truth = np.array(shipped_readings()["K2-b1"]["result"]["panel"]["corners_px"])
    assert np.abs(np.array(found.looks.corners_px) - truth).max() < 6.0


@pytest.mark.parametrize(("lapse", "head"), [(Lapse.GLARE, "Glare"), (Lapse.BLUR, "Not sharp"), (Lapse.NO_CARD, "No card")])
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
    panel, stage, lamp, take = shoot.target()
    assert take == 0
    kept = shoot.keep(plain_photo(), ShotAim(panel, stage, lamp))
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


read = on_series("d1", ReadPresenter)


def test_photograph_that_is_spoiled_is_taken_again_before_anything_else(desk):
    """Glare hides a part, blur and a white-out spoil the whole: the key does not lead to Read with those."""
    desk.choose_series("h1")
    shoot = ShootPresenter(desk)
    panel = desk.need_run().panels[0]
    shoot.choose(panel.id)
    blurred = (Seen(sign=Sign.BLURRED, figures=(1.4,)),)
    shoot.lamp_by_hand = Lamp.LEFT
    shoot.keep(plain_photo(data=b"soft", seen=blurred), shoot.target())
    view = shoot.view()
    assert (view.does, view.one_key) == (Next.TAKE, "Take it again: left")
    assert dict(view.lamps)["left"] == "now"
    assert shoot.target().lamp is Lamp.LEFT
    shoot.keep(plain_photo(data=b"sharp now"), shoot.target())
    assert shoot.view().does is not Next.TAKE
    assert shoot.spoiled(desk.need_run(), panel) is None
    glaring = (Seen(sign=Sign.GLARE, figures=(0.02, 0.5, 0.5)),)
    shoot.lamp_by_hand = Lamp.LEFT
    shoot.keep(plain_photo(data=b"glare", seen=glaring), shoot.target())
    assert shoot.view().does is not Next.TAKE
