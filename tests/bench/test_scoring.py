"""Scoring blind in the window: one thing at a time, liking last, between the person's own least and most; what all points say."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.plan.responses import value_of
from dribbet.records import DribbetError, RecordError, Response, Score, Word
from dribbet.studio.acts import scoring as acts
from dribbet.studio.standing import choosing, scoring
from dribbet.words import scoring as words
from tests.bench.conftest import press, trouble


def opened(open_window, desk, series_id="d1"):
    desk.choose_series(series_id)
    window = open_window(desk)
    window.walk("decide")
    press(window, "C")
    press(window, "P")
    assert window.current == "scoring"
    return window, window.page("scoring")


def begin(window, page, name="Ilka"):
    page.who.setText(name)
    press(window, "Enter")
    assert trouble(window) == ""


def points_of(run, criterion, panel) -> int:
    """By what was read: least is 1, most 5; liking goes by the cells."""
    response = criterion or Response.CELL_COUNT
    values = [value_of(run.reading(p).result, response) for p in run.panels]
    mine = value_of(run.reading(panel).result, response)
    return 1 + round(4 * (mine - min(values)) / max(max(values) - min(values), 1e-9))


def score_all(desk, judge="Ilka", *, guest=False, turned=False):
    number = scoring.next_sitting(desk.need_run(), judge)
    while (now := scoring.sitting(desk.need_run(), judge, number, guest=guest)).now is not None:
        told = points_of(desk.need_run(), *now.now)
        acts.score(desk, now, 6 - told if turned else told)
    return number


def test_one_panel_without_its_code_between_the_persons_own_least_and_most(open_window, desk, qtbot):
    window, page = opened(open_window, desk)
    press(window, "Enter")
    assert "Say who scores" in trouble(window)
    begin(window, page)
    v = page.view
    assert (v.sentence, v.low, v.high, v.progress, v.thing) == ("How many cells?", "few", "many", "Panel 1 of 10", "Thing 1 of 4")
    qtbot.waitUntil(lambda: all(s.image is not None for s in (page.panel, page.least.stage, page.most.stage)), timeout=20_000)
    assert page.panel.code == page.least.stage.code == page.most.stage.code == ""
    qtbot.waitUntil(lambda: len({s.px_per_unit for s in (page.panel, page.least.stage, page.most.stage)}) == 1)  # one scale for all three
    own = {p.photo.sha256 for p in (v.least, v.most)}
    assert not own & {p.sha256 for p in desk.need_run().photos}  # of other tests


def test_digits_and_touches_give_points_and_z_takes_them_back(open_window, desk):
    window, page = opened(open_window, desk)
    begin(window, page)
    press(window, "4")
    press(window, "Space")
    page.points.given.emit(2)
    run = desk.need_run()
    assert [(s.judge, s.sitting, s.criterion, s.points, s.guest) for s in run.scores] == [
        ("Ilka", 1, Response.CELL_COUNT, 4, False), ("Ilka", 1, Response.CELL_COUNT, None, False), ("Ilka", 1, Response.CELL_COUNT, 2, False),
    ]  # fmt: skip
    assert page.view.done == 3
    press(window, "Z")
    assert page.view.done == 2
    press(window, "7")  # there are no seven points
    assert page.view.done == 2
    press(window, "X")
    assert page.view.asking
    begin(window, page)
    assert page.view.done == 2  # the sitting goes on


def test_liking_comes_last_and_fills_the_wall(open_window, desk):
    window, page = opened(open_window, desk)
    begin(window, page)
    for _ in range(30):
        press(window, "3")
    assert page.view.sentence == "How well do you like it?"
    assert page.view.least is None
    assert page.least.isHidden()
    assert scoring.criteria(desk.need_run()) == (Response.CELL_COUNT, Response.CELL_WIDTH, Response.CRACK_LENGTH, None)


def test_a_sitting_ends_with_what_its_points_say(open_window, desk):
    window, page = opened(open_window, desk)
    begin(window, page)
    assert score_all(desk) == 1
    page.refresh()
    assert page.view.over
    (side,) = page.view.results
    cells = side.told[0]
    assert side.who == "Ilka, 40 scores"
    assert side.note == "Of 8 panels that came twice, 8 got the same points, or one more or less."
    assert cells.rows[0].name == "4 drops"
    assert cells.ends == ("1 few", "3", "5 many")
    assert "Eye and reader rank the panels alike" in cells.note
    assert "Panels with more of it are liked more" in cells.note
    assert side.told[-1].note == ""
    press(window, "A")
    begin(window, page)
    assert {s.sitting for s in desk.need_run().scores} == {1}
    assert page.presenter.number == 2


def test_a_panel_that_drops_out_or_comes_in_moves_no_points_to_another(desk):
    """Half of the cells are scored; a panel is spoilt: what was scored stays scored, what was not comes still, and no panel twice too often."""
    desk.choose_series("d1")
    for _ in range(5):
        acts.score(desk, scoring.sitting(desk.need_run(), "Ilka", 1, guest=False), 3)
    before = scoring.sitting(desk.need_run(), "Ilka", 1, guest=False)
    out = next(p for c, p in before.pending if c is Response.CELL_COUNT)
    desk.notebook.replace(replace(out, spoiled="dropped"))
    desk.changed()
    after = scoring.sitting(desk.need_run(), "Ilka", 1, guest=False)
    assert after.given == 5
    scored = [s.panel_id for s in desk.need_run().scores]
    left = [p.id for c, p in after.pending if c is Response.CELL_COUNT]
    assert out.id not in left
    assert {scored.count(p.id) + left.count(p.id) for _, p in after.order} <= {1, 2}


def test_points_of_guests_stand_apart(desk):
    desk.choose_series("d1")
    score_all(desk, "Ilka")
    score_all(desk, "Marten", guest=True, turned=True)
    run = desk.need_run()
    own, guests = scoring.points(run, guests=False), scoring.points(run, guests=True)
    assert (own.judges, own.scores, guests.judges, guests.scores) == (("Ilka",), 40, ("Marten",), 40)
    assert own.of[0].by_recipe[0][0] == guests.of[0].by_recipe[-1][0]
    assert own.of[0].measured > 0.9
    assert guests.of[0].measured < -0.9
    assert "do not agree" in words.notes(guests.of[0])
    assert scoring.points(desk.load("k2"), guests=False) is None


def test_a_word_needs_more_than_whole_points_leave_open(desk):
    """Two panels each got the very same points: rounding alone scatters by 0.29, so that a difference of a point is none yet."""
    desk.choose_series("d1")
    run = desk.need_run()
    number = scoring.next_sitting(run, "Ilka")
    letters = sorted({p.recipe for p in run.panels})
    while (now := scoring.sitting(desk.need_run(), "Ilka", number, guest=False)).now is not None:
        acts.score(desk, now, 2 + (now.now[1].recipe == letters[0]))
    told = scoring.points(desk.need_run(), guests=False)
    assert {a.word for s in told.of for a in s.answers} == {Word.CHANCE}
    assert words.result(told.of[0], str) == "Number of cells: could be chance."


@pytest.mark.parametrize(("sittings", "sd"), [(1, 0.2887), (4, 0.1443)])
def test_rounding_to_whole_points_scatters_less_over_more_sittings(monkeypatch, sittings, sd):
    """A whole point is off by a twelfth's root, the scatter of an even spread; four sittings halve it."""
    seen = []
    monkeypatch.setattr(scoring, "answers", lambda test: seen.extend(r.measuring_sd for r in test.responses) or ())
    scoring._judged({None: {"p1": 2.0, "p2": 3.0}}, {"p1": "a", "p2": "b"}, sittings)
    assert seen == [pytest.approx(sd, abs=1e-4)]


def test_difference_that_is_large_beside_rounding_is_real(desk):
    desk.choose_series("d1")
    letters = sorted({p.recipe for p in desk.need_run().panels})
    for judge in ("Ilka", "Marten", "Sunniva", "Jorin"):
        number = scoring.next_sitting(desk.need_run(), judge)
        while (now := scoring.sitting(desk.need_run(), judge, number, guest=False)).now is not None:
            criterion, panel = now.now
            acts.score(desk, now, (5 if panel.recipe == letters[-1] else 1) if criterion is None else 3)
    told = scoring.points(desk.need_run(), guests=False)
    liking = told.of[-1]
    assert words.result(liking, lambda r: f"recipe {r}").startswith(f"Liking: recipe {letters[-1]} scores higher than recipe ")
    assert {a.word for a in told.of[0].answers} == {Word.CHANCE}


def test_ending_a_sitting_of_points_opens_a_blind_test(blind):
    assert choosing.covered(blind.need_run())
    score_all(blind)
    assert not choosing.covered(blind.need_run())


def test_points_need_a_name_a_panel_and_one_to_five(desk):
    desk.choose_series("d1")
    panel = desk.need_run().panels[0]
    with pytest.raises(RecordError, match="Say who scores"):
        Score(id="x", panel_id=panel.id, judge=" ", sitting=1, criterion=None, points=3, at=desk.now())
    for points in (0, 6):
        with pytest.raises(RecordError, match="Press 1 to 5"):
            Score(id="x", panel_id=panel.id, judge="Ilka", sitting=1, criterion=None, points=points, at=desk.now())
    now = scoring.sitting(desk.need_run(), "Ilka", 1, guest=False)
    with pytest.raises(DribbetError, match="Nothing is scored"):
        acts.take_back(desk, now)
    number = score_all(desk)
    with pytest.raises(DribbetError, match="All panels"):
        acts.score(desk, scoring.sitting(desk.need_run(), "Ilka", number, guest=False), 3)


def test_report_holds_the_points(desk):
    from dribbet.bench.stations.decide.paper import _picked
    from dribbet.bench.stations.decide.presenter import DecidePresenter

    desk.choose_series("d1")
    score_all(desk)
    told = _picked(DecidePresenter(desk), desk.need_run())
    assert told[0].startswith("Ilka, 40 scores.")
    assert any("Number of cells" in s and "4 drops" in s for s in told)
