"""Check: drips, mounds and the rest of a set, and what mends it."""

from __future__ import annotations

import cv2
import pytest

from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.records import CheckKind, DribbetError, silent
from dribbet.studio.standing import cups
from dribbet.studio.standing import pots as flow_set
from dribbet.words import pots as pot_words
from dribbet.words.units import units_of
from tests.bench.conftest import drip
from tests.sight import drawn


def test_equal_drips_match(check):
    drip(check, *[60.0] * 5)
    view = check.view()
    assert view.matched
    assert view.sentence == "These flow alike. Next are the cups of K1-b."


def test_one_short_drip_gets_one_instruction_with_an_amount(check):
    drip(check, 60, 31, 62, 58, 61)
    view = check.view()
    assert view.sentence == "One of five colours is too thick."
    (lane,) = [lane for lane in view.card.lanes if lane.hand]
    assert lane.verdict == "Too thick"
    assert "water" in lane.instruction
    assert "g" in lane.instruction
    assert view.fix.startswith("Log ")
    assert "Water is what you are testing" in view.cautions[0]
    assert "nothing of yours is known yet" in view.fix_note or "of your own cups" in view.fix_note


def test_logged_correction_changes_the_cup_and_must_be_dripped_again(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    mix = check.cups(planned.need_run(), check.group(planned.need_run()))[1]
    before = cups.held(planned.need_run(), mix)
    assert check.view().fix
    check.log_fix()
    after = cups.held(planned.need_run(), mix)
    assert after["water"] > before["water"]
    view = check.view()
    assert not view.matched
    assert view.sentence.startswith("Drip")
    assert any(w.source == "correction" for w in planned.need_run().weighings)


def test_thin_colour_asks_for_its_own_paint(planned, check):
    planned.take("check", check.groups(planned.need_run())[-1])  # the wettest: a little paint takes much of its water share
    drip(check, 60, 61, 80, 58, 61)
    lane = next(lane for lane in check.view().card.lanes if lane.verdict == "Too thin")
    assert lane.instruction.startswith("add ")
    assert lane.name.lower() in lane.instruction


def test_far_too_thin_a_colour_is_told_to_be_started_anew_and_not_given_an_amount(check):
    drip(check, 60, 61, 95, 58, 61)
    view = check.view()
    lane = next(lane for lane in view.card.lanes if lane.verdict == "Too thin")
    assert lane.instruction == "start it anew"
    assert not view.fix
    assert "more than half of what it holds" in view.fix_note


def test_runs_read_from_a_card_go_to_the_colours_in_the_order_of_the_cup(planned, check):
    check.take_card([0.060, 0.061, 0.059, 0.062, 0.060])
    assert check.view().matched
    with pytest.raises(DribbetError, match="The card shows 3 drips, this recipe has 5 colours"):
        check.take_card([0.06] * 3)


@pytest.mark.parametrize("text", ["far", "", "-4", "900"])
def test_run_that_cannot_be_is_refused(check, text):
    with pytest.raises(DribbetError):
        check.type_run(text)


def test_stopwatch_times_a_mound_on_one_key(planned, check):
    check.time_mound(100.0)
    assert check.view().timing
    check.time_mound(102.3)
    assert not check.view().timing
    (reading,) = planned.need_run().checks
    assert (reading.kind, reading.value) == (CheckKind.MOUND, 2.3)
    assert "flip cup" in check.view().ways_note.lower()
    assert [name for name, _, _ in check.view().way_pots] == [planned.need_run().mixes[0].colour]


def test_flow_cup_is_timed_by_the_same_key_and_refused_outside_its_range(planned, check):
    check.choose_test("flow cup")
    check.time_mound(0.0)
    with pytest.raises(DribbetError, match="covers 30 to 100 s"):
        check.time_mound(12.0)
    for seconds in (60, 61, 44, 58, 62):
        check.type_reading(str(seconds))
    view = check.view()
    assert "Compared by flow cup time." in view.note
    assert [lane.verdict for lane in view.card.lanes].count("Good") == 5  # 44 s is within a quarter of a drip's run
    assert "60.0 s through ISO 2431, 4 mm" in view.read[0]
    first = check.cup
    check.next_cup()
    assert check.cup != first


def test_ring_says_no_thinner_and_outvotes_the_drip(check):
    drip(check, 60, 31, 62, 58, 61)
    check.choose(1)
    check.choose_test("ring")
    check.type_reading("2/4")
    view = check.view()
    assert view.matched
    assert "thinner than the base already" in view.cautions[0]
    assert "a wide ring" in view.read[0]
    with pytest.raises(DribbetError, match="Two figures"):
        check.type_reading("2")


def test_slump_and_stream_are_kept_for_the_pot_in_hand(planned, check):
    check.choose_test("slump")
    check.type_reading("62 x 60")
    check.choose_test("stream")
    assert check.view().streams[5] == "lumpy thread"
    assert check.tick_stream(6)
    assert not check.tick_stream(9)
    run = planned.need_run()
    assert {(c.kind, round(c.value, 4)) for c in run.checks} == {(CheckKind.SLUMP, 0.061), (CheckKind.STREAM, 5.0)}
    assert any("lumps" in words for words in check.view().cautions)


def test_stream_is_touched_or_pressed_by_its_figure(open_window, planned, check):
    window = open_window(planned, 1024, 700)
    window.walk("check")
    page = window.page("check")
    page.presenter.choose_test("stream")
    words = [w for line in page.streams for w in line.words]
    assert [w.test.words for w in words][:2] == ["1  drops like water", "2  thin even thread"]
    assert all(w.height() >= 44 for w in words)
    words[2].click()
    assert page.press_digit(4)
    assert [c.value for c in planned.need_run().checks if c.kind is CheckKind.STREAM] == [2.0, 3.0]


def test_kept_pot_lets_the_set_be_poured_and_its_reason_is_stored(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    run = planned.need_run()
    panel = next(p for p in run.panels if p.recipe == "a")
    assert "is too thick for the others" in pot_words.held_back(flow_set.held_back(planned, run, panel), units_of(planned))
    check.view()
    check.keep_as_it_is("contrast wanted")
    view = check.view()
    assert view.matched
    assert "stays as it is" in view.sentence
    assert flow_set.held_back(planned, planned.need_run(), panel) is None
    assert next(c for c in planned.need_run().checks if c.kind is CheckKind.KEPT).note == "contrast wanted"


def test_two_photos_of_a_card_give_its_speed(check):
    check.take_cards([(0.0, [0.060] * 5), (30.0, [0.072] * 5)])
    assert all("still ran 0.40\u202fmm a second" in words for words in check.view().read)
    assert check.view().matched


@pytest.mark.parametrize(
    ("runs", "said"),
    [((30.0, 80.0, 40.0), "Drip 2 from the left runs off the card."), ((80.0, 80.0, 40.0), "Drips 1 and 2 from the left run off the card.")],
)
def test_run_that_leaves_the_card_is_no_reading(check, tmp_path, runs, said):
    path = tmp_path / "card.png"
    cv2.imwrite(str(path), drawn.drip_card_photo(["#0F6A7A", "#1F262A", "#9C2F3C"], runs)[..., ::-1])
    with pytest.raises(DribbetError, match=said):
        check.read_cards([path], silent)


def test_readings_teach_the_paint_and_the_next_amount_says_what_it_rests_on(planned, check):
    drip(check, 60, 31, 62, 58, 61)
    for seconds in ("2.0", "5.0", "2.1", "1.9", "2.0"):
        check.choose_test("mound")
        check.hand = None
        check.type_reading(seconds)
    check.choose(1)
    assert "of your own cups" in check.view().fix_note


def test_heavy_over_light_is_said_to_sink(check):
    view = check.view()
    assert any(sinks for *_, sinks in view.sinking)
    assert "turn" in view.sink_note


def test_nothing_to_check_before_a_cup_is_mixed(planned):
    assert CheckPresenter(planned).view().empty
