"""A panel taken up and photographed again: what the photographs differ by is the noise of every test, and their mean counts."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.bench.doors.today.presenter import TodayPresenter
from dribbet.bench.stations.decide.presenter import DecidePresenter
from dribbet.bench.stations.read.presenter import ReadPresenter
from dribbet.bench.stations.shoot.presenter import ShootPresenter, ShotAim
from dribbet.lab.plan.responses import SCALES
from dribbet.lab.verdict.gauge import Repeated
from dribbet.notebook.store import new_id
from dribbet.records import MENDED, DribbetError, Lamp, Photo, Reading, Response, Series, SeriesState, Stage, Word
from dribbet.sight import READER
from dribbet.studio.acts.following import follow
from dribbet.studio.standing import again, verdict
from dribbet.studio.standing.next_pour import Act, Proposal
from tests.bench.conftest import as_it_lies, on_series, press
from tests.bench.test_shoot import plain_photo

shoot = on_series("d1", ShootPresenter)


def code(desk, name: str):
    return next(p for p in desk.need_run().panels if p.code == name)


def photograph(desk, shoot: ShootPresenter, counts: list[int], name: str = "D1-b1") -> list[Photo]:
    """Photograph a panel again, and have such counts of cells read from the photographs."""
    panel = code(desk, name)
    shoot.choose(panel.id)
    shoot.photograph_again()
    kept = [shoot.keep(plain_photo(data=f"{name} {i}".encode()), shoot.target()) for i in range(len(counts))]
    shoot.photograph_again()
    was = desk.need_run().reading(panel)
    assert was.reader == READER
    for photo, count in zip(kept, counts, strict=True):
        items = (was.result["cells"]["items"] * 9)[:count]
        cells = was.result["cells"] | {"count": count, "items": items, "count_sd": 0.0}
        with desk.notebook.transaction():
            told = as_it_lies(was.result | {"cells": cells}, photo, (200.0, 150.0))
            desk.notebook.add(replace(was, id=new_id(), photo_id=photo.id, at=desk.now(), result=told))
    desk.changed()
    return kept


def test_each_lies_beside_the_one_that_stands_for_the_panel(desk, shoot):
    panel = code(desk, "D1-b1")
    before = desk.need_run().photo(panel)
    kept = photograph(desk, shoot, [60, 62])
    run = desk.need_run()
    assert [p.take for p in kept] == [1, 2]
    assert run.photo(panel) == before
    assert run.again == tuple(kept)
    assert run.reading(panel).photo_id == before.id
    assert desk.notebook.get(Photo, before.id).left_out is False


def test_it_is_asked_for_photograph_after_photograph_until_five(desk, shoot):
    panel = code(desk, "D1-b1")
    shoot.choose(panel.id)
    assert shoot.view().can_again
    assert not shoot.view().again
    shoot.photograph_again()
    for i, words in enumerate(("two", "three", "four", "five")):
        assert shoot.view().sentence == f"Take D1-b1 up and lay it down anew: photograph {words} of five."
        assert shoot.view().one_key == "Take it: lamp diffuse"
        shoot.keep(plain_photo(data=str(i).encode()), shoot.target())
    assert shoot.view().sentence.startswith("Five photographs of D1-b1.")
    assert shoot.view().one_key == "Go to Read"
    shoot.photograph_again()
    assert not shoot.view().again
    assert shoot.view().photo == desk.need_run().photo(panel)


def test_shimmer_takes_all_three_lamps_of_one_photograph_after_the_other(desk):
    desk.choose_series("h1")
    shoot = ShootPresenter(desk)
    panel = desk.need_run().panels[0]
    shoot.choose(panel.id)
    shoot.photograph_again()
    aims = []
    for i in range(4):
        aims.append(shoot.target()[2:])
        shoot.keep(plain_photo(data=str(i).encode()), shoot.target())
    assert aims == [(Lamp.DIFFUSE, 1), (Lamp.LEFT, 1), (Lamp.RIGHT, 1), (Lamp.DIFFUSE, 2)]
    assert again.stands(desk.need_run(), panel).whole == 2  # the second lacks two lamps
    assert [p.take for _, p in again.unread(desk.need_run(), READER)] == [1]
    run, presenter = desk.need_run(), ReadPresenter(desk)
    wanted = presenter.to_read(panel, run.again[0])
    assert wanted.left == desk.notebook.photos.path_of(next(p for p in run.again if p.lamp is Lamp.LEFT))


def test_files_without_names_are_its_photographs_in_order(desk, shoot, tmp_path):
    panel = code(desk, "D1-b1")
    shoot.choose(panel.id)
    shoot.photograph_again()
    sure, doubtful = shoot.deal([tmp_path / "IMG 3.jpg", tmp_path / "IMG 1.jpg", tmp_path / "IMG 2.jpg"])
    assert [(path.stem, aim.take, aim.panel.code, aim.stage) for path, aim in sure] == [
        (f"IMG {i}", i, "D1-b1", Stage.DRY) for i in (1, 2, 3)
    ]  # fmt: skip
    assert doubtful == []


def test_panel_that_was_not_photographed_dry_cannot_be_photographed_again(desk):
    desk.choose_series("k4")
    with pytest.raises(DribbetError, match="Photograph the panel dry first"):
        ShootPresenter(desk).photograph_again()


def test_what_they_differ_by_is_the_noise_of_this_and_of_other_tests(desk, shoot):
    desk.choose_series("b2")
    other = verdict.noise(verdict.shown(desk, desk.need_run()), Response.CELL_COUNT)
    desk.choose_series("d1")
    first = desk.need_run().value(code(desk, "D1-b1"), Response.CELL_COUNT)
    photograph(desk, shoot, [10, 30, 50, 70])
    mean = (first + 160.0) / 5.0
    squares = sum((v - mean) ** 2 for v in (first, 10.0, 30.0, 50.0, 70.0))
    assert desk.learned._repeated(Response.CELL_COUNT) == [Repeated((first, 10.0, 30.0, 50.0, 70.0), 3.0)]
    own = desk.learned.noise(Response.CELL_COUNT, 3.0)
    assert own.sd == pytest.approx(((4.0 * 6.25 * 3.0 / 1.65 + squares) / 8.0) ** 0.5)
    assert (own.photographs, own.panels) == (5, 1)
    told = verdict.shown(desk, desk.need_run())
    noises = dict(zip((p.code for p in told.panels), next(r for r in told.test.responses if r.name == "cell count").noise_sd, strict=True))
    assert noises["D1-a1"] == pytest.approx(own.sd)
    assert noises["D1-b1"] == pytest.approx(own.sd / 5.0**0.5)  # five photographs of it even each other out
    assert verdict.noise_from(desk, desk.need_run(), Response.CELL_COUNT)[0] is verdict.NoiseFrom.OWN
    desk.choose_series("b2")
    assert verdict.noise(verdict.shown(desk, desk.need_run()), Response.CELL_COUNT) > 2.0 * other


def test_their_mean_is_what_counts_and_read_says_how_they_range(desk, shoot):
    panel = code(desk, "D1-b1")
    first = desk.need_run().value(panel, Response.CELL_COUNT)
    photograph(desk, shoot, [30, 50])
    assert desk.need_run().value(panel, Response.CELL_COUNT) == pytest.approx((first + 80.0) / 3.0)
    told = verdict.shown(desk, desk.need_run())
    shown = {p.code: v for p, v in verdict.figures(told, Response.CELL_COUNT)}
    assert shown["D1-b1"] == pytest.approx((first + 80.0) / 9.0)  # on three dm2
    desk.take("read", panel.id)
    read = ReadPresenter(desk).view()
    assert f"30 to {first:.0f}\u202fcells" in read.figures[0].words.replace(" cells", "\u202fcells")
    assert "on three photographs; their mean counts." in read.figures[0].words


def test_what_a_hand_has_mended_stands_alone_and_tells_nothing_of_photographing(desk, shoot):
    panel = code(desk, "D1-b1")
    photograph(desk, shoot, [30, 50])
    reading = desk.need_run().reading(panel)
    cells = reading.result["cells"] | {"count": 5, "items": reading.result["cells"]["items"][:5]}
    with desk.notebook.transaction():
        desk.notebook.add(replace(reading, id=new_id(), reader=READER + MENDED, at=desk.now(), result=reading.result | {"cells": cells}))
    desk.changed()
    assert desk.need_run().value(panel, Response.CELL_COUNT) == 5.0
    assert len(desk.learned._repeated(Response.CELL_COUNT)[0].values) == 3  # as the reader left them


def test_another_reader_is_not_told_together_with_this_one(desk, shoot):
    kept = photograph(desk, shoot, [30, 50])
    for reading in desk.notebook.all(Reading, photo_id=kept[0].id):
        desk.notebook.replace(replace(reading, reader="sight-1"))
    desk.changed()
    run = desk.need_run()
    assert len(run.photographed(code(desk, "D1-b1"))) == 2
    assert [p.id for _, p in again.unread(run, READER)] == [kept[0].id]


def test_photograph_left_out_is_none_of_them(desk, shoot):
    kept = photograph(desk, shoot, [30, 50])
    shoot.photograph_again()
    assert shoot.view().photo == kept[1]
    shoot.leave_out()
    assert desk.need_run().again == (kept[0],)
    assert len(desk.need_run().photographed(code(desk, "D1-b1"))) == 2
    assert shoot.target().take == 2


def test_reading_them_opens_a_series_that_was_closed(desk):
    desk.choose_series("k2")
    assert desk.need_run().series.state is SeriesState.DECIDED
    shoot = ShootPresenter(desk)
    panel = desk.need_run().in_order()[0]
    kept = photograph(desk, shoot, [30], panel.code)[0]
    reading = desk.notebook.all(Reading, photo_id=kept.id)[0]
    ReadPresenter(desk).keep(replace(reading, id=new_id()), in_hand=False)
    assert desk.notebook.get(Series, "k2").state is not SeriesState.DECIDED


def test_next_pour_that_wants_more_photographs_begins_with_the_first_panel(desk):
    desk.choose_series("d1")
    assert follow(desk, Proposal(act=Act.PHOTOGRAPH, gain=0.0)) == "shoot"
    first = desk.need_run().in_order()[0]
    assert desk.in_hand(again.IN_HAND) == desk.in_hand("shoot") == first.id
    assert ShootPresenter(desk).view().again


def test_today_names_photographs_taken_again_until_they_are_read(desk, shoot):
    run = desk.need_run()
    with desk.notebook.transaction():
        desk.notebook.replace(replace(run.series, state=SeriesState.RUNNING))
    desk.changed()
    today = TodayPresenter(desk)
    before = today.due_now()
    assert not any(t.due.again for t in today.tasks())
    panel = code(desk, "D1-b1")
    shoot.choose(panel.id)
    shoot.photograph_again()
    kept = [shoot.keep(plain_photo(data=f"again {i}".encode()), shoot.target()) for i in range(2)]
    (task,) = [t for t in today.tasks() if t.due.again]
    assert (task.words, task.station, task.due.code) == ("Read the photo that was taken again. Then one more.", "read", "D1-b1")
    assert not any("Decide" in t.words for t in today.tasks() if t.due.series_id == run.series.id)
    was = run.reading(panel)
    for photo in kept:
        with desk.notebook.transaction():
            told = as_it_lies(was.result, photo, (200.0, 150.0))
            desk.notebook.add(replace(was, id=new_id(), photo_id=photo.id, at=desk.now(), result=told))
        desk.changed()
    assert not any(t.due.again for t in today.tasks())
    assert today.due_now() == before
    assert any("Decide" in t.words for t in today.tasks() if t.due.series_id == run.series.id)


def test_in_the_window_it_is_photographed_read_and_judged(open_window, desk, monkeypatch):
    desk.choose_series("d1")
    desk.take("shoot", code(desk, "D1-b1").id)
    window = open_window(desk)
    window.walk("shoot")
    press(window, "R")
    assert window.page("shoot").view.again
    kept = photograph_by(desk, window.page("shoot").presenter)
    press(window, "R")
    window.walk("read")
    page = window.page("read")
    assert page.view.unread_again == 1
    assert "one photograph taken again is still to read" in page.view.note
    started = []
    monkeypatch.setattr(page.several, "start", started.append)
    press(window, "A")
    assert [(panel.code, photo.id) for panel, photo in started[0]] == [("D1-b1", kept.id)]
    window.walk("decide")
    assert "Noise of cells: " in window.page("decide").view.foot
    assert SCALES[Response.CELL_COUNT].measuring_sd == 2.5


def photograph_by(desk, presenter: ShootPresenter) -> Photo:
    return presenter.keep(plain_photo(data=b"again"), presenter.target())


def test_what_a_person_said_of_a_reading_holds_when_a_new_reader_reads_it(desk):
    desk.choose_series("d1")
    panel, presenter = code(desk, "D1-b1"), ReadPresenter(desk)
    first = desk.need_run().reading(panel)
    desk.take("read", panel.id)
    presenter.remove_cell(3)
    taken = desk.need_run().reading(panel)
    assert (taken.mended, taken.result["cells"]["count"]) == (True, first.result["cells"]["count"] - 1)
    presenter.keep(replace(first, id=new_id(), at=desk.now()))  # the same once more: that takes it back
    assert desk.need_run().reading(panel).result["cells"]["count"] == first.result["cells"]["count"]
    presenter.remove_cell(3)
    presenter.keep(replace(first, id=new_id(), reader="other-1", at=desk.now()))
    now = desk.need_run().reading(panel)
    assert (now.reader, now.result["cells"]["count"]) == ("other-1" + MENDED, first.result["cells"]["count"] - 1)
    presenter.keep(replace(first, id=new_id(), reader="other-1", at=desk.now()))  # by it once more: taken back again
    assert not desk.need_run().reading(panel).mended


def test_whoever_photographs_again_goes_on_with_the_next_panel(desk, shoot):
    panel = code(desk, "D1-b1")
    shoot.choose(panel.id)
    shoot.photograph_again()
    shoot.next_panel()
    now = shoot.panel(desk.need_run())
    assert now.id != panel.id
    assert shoot.view().again
    shoot.photograph_again()
    shoot.next_panel()
    assert not shoot.view().again


def test_lamps_that_are_still_wanted_are_to_come(desk):
    desk.choose_series("h1")
    shoot = ShootPresenter(desk)
    shoot.choose(desk.need_run().panels[0].id)
    assert dict(shoot.view().lamps) == {"diffuse": "taken", "left": "taken", "right": "taken", "edge": "-"}
    shoot.photograph_again()
    shoot.keep(plain_photo(data=b"one"), shoot.target())
    assert dict(shoot.view().lamps) == {"diffuse": "taken", "left": "now", "right": "later", "edge": "-"}
    desk.choose_series("d1")
    assert dict(shoot.view().lamps)["left"] == "-"


def test_all_lamps_see_a_panel_as_it_lies_and_a_photograph_taken_anew_too(desk):
    """A glaring photograph is taken once more before anything was moved: the panel lies where it lay."""
    desk.choose_series("h1")
    shoot, told = ShootPresenter(desk), []
    panel = desk.need_run().panels[0]
    desk.notebook.replace(*[replace(p, left_out=True) for p in desk.need_run().photos if p.panel_id == panel.id])
    desk.changed()
    shoot.choose(panel.id)

    def take(data: str) -> None:
        aim = shoot.target()
        told.append((aim.lamp, shoot.laid(aim)))
        shoot.keep(plain_photo(data=data.encode()), aim)

    take("glare")
    shoot.lamp_by_hand = Lamp.DIFFUSE
    for data in ("again", "left", "right"):
        take(data)
    assert told == [(Lamp.DIFFUSE, 0), (Lamp.DIFFUSE, 0), (Lamp.LEFT, 0), (Lamp.RIGHT, 0)]
    shoot.photograph_again()
    for data in ("two", "two left", "two right", "three"):
        take(data)
    assert told[4:] == [(Lamp.DIFFUSE, 1), (Lamp.LEFT, 1), (Lamp.RIGHT, 1), (Lamp.DIFFUSE, 2)]


def test_a_panel_photographed_at_another_stage_was_laid_down_before(desk):
    desk.choose_series("k3")
    shoot = ShootPresenter(desk)
    panel = next(p for p in desk.need_run().panels if desk.need_run().photo(p, stage=Stage.WET) is not None)
    shoot.choose(panel.id)
    assert shoot.laid(ShotAim(panel, Stage.WET, Lamp.DIFFUSE)) == 0
    assert shoot.laid(ShotAim(panel, Stage.DRY, Lamp.DIFFUSE)) == 1


def test_a_difference_within_the_noise_says_so(desk, shoot):
    decide = DecidePresenter(desk)
    run = desk.need_run()
    pair = decide.pairs(run)[0]
    before = dict(decide.differences(run, pair))[Response.CELL_COUNT]
    assert (before.word, decide.strip(Response.CELL_COUNT, before).said) == (Word.REAL, "real")
    told = verdict.shown(desk, run)
    sd = dict(zip((p.code for p in told.panels), next(r for r in told.test.responses if r.name == "cell count").noise_sd, strict=True))
    by_hand = sum(sd[c] ** 2 / 4.0 for c in ("D1-a1", "D1-a2", "D1-d1", "D1-d2")) ** 0.5 / 3.0  # two panels each, on three dm2
    assert before.band == pytest.approx(1.96 * by_hand)
    photograph(desk, shoot, [0, 300, 0, 300])
    run = desk.need_run()
    after = dict(decide.differences(run, pair))[Response.CELL_COUNT]
    assert abs(after.difference) < after.band
    assert (after.word, decide.strip(Response.CELL_COUNT, after).said) == (Word.CHANCE, "within the noise")
    yes_no = replace(after, word=Word.TOO_FEW)
    assert decide.strip(Response.CELL_COUNT, yes_no).said == "too few panels"
