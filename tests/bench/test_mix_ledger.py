"""Mix: what was done is kept in order, can be taken back, and a scale may fail meanwhile."""

from __future__ import annotations

import pytest

from dribbet.bench.stations.ask.presenter import AskPresenter
from dribbet.bench.stations.mix.page import MixPage
from dribbet.bench.stations.mix.presenter import MixPresenter
from dribbet.devices import ScaleReading, SimulatedScale
from dribbet.records import DribbetError, DropsBy, Weighing
from dribbet.words.units import units_of
from tests.bench.conftest import fill, press, trouble, weigh


def test_clock_set_back_reorders_nothing_and_take_back_takes_the_last_act(planned, mix, clock):
    weigh(mix)
    before = clock.now
    clock.pass_(hours=-2)
    weigh(mix)
    first, second = planned.need_run().weighings
    assert (first.at, second.at) == (before, clock.now), "times stay as the clock told them"
    assert [line[1].split(",")[0] for line in mix.ledger_lines()] == [units_of(planned).mass_text(w.mass_kg) for w in (first, second)]
    mix.acts.take_back()
    assert planned.need_run().weighings == (first,)


def test_take_back_goes_step_by_step_and_the_ledger_keeps_it(planned, mix):
    mix.acts.enter(0.02, "typed")
    mix.acts.enter(0.03, "typed")
    mix.acts.take_back()
    assert len(planned.need_run().weighings) == 1
    mix.acts.take_back()
    with pytest.raises(DribbetError, match="nothing to take back"):
        mix.acts.take_back()
    mine = planned.notebook.all(Weighing, mix_id=mix.mix().id)
    assert [w.taken_back for w in mine] == [True, True]


def test_start_anew_empties_the_cup(planned, mix):
    mix.acts.enter(0.5, "typed")
    mix.acts.start_anew()
    assert mix.view().already_kg == 0.0
    assert planned.need_run().weighings == ()


def test_nothing_added_is_refused(mix):
    for bad in (0.0, -0.1, float("nan")):
        with pytest.raises(DribbetError):
            mix.acts.enter(bad, "typed")


def test_done_cup_leads_to_the_next_and_a_correction_opens_it_again(planned, mix):
    first = mix.mix().id
    fill(mix)
    assert mix.view().one_key.startswith("The cup is done")
    mix.acts.finish()
    assert mix.mix().id != first
    mix.acts.choose(first)
    mix.acts.take_back()
    assert not next(m for m in planned.need_run().mixes if m.id == first).done


def test_drops_are_told_when_all_is_in(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("factor", "silicone")
    ask.choose("levels", "0, 2")
    ask.drops_by(DropsBy.GROWN)
    ask.draw_lots()
    mix = MixPresenter(desk)
    dosed = next(m for m in desk.need_run().mixes if m.drops)
    mix.acts.choose(dosed.id)
    while not mix.view().drops:
        weigh(mix) if not mix.view().act else mix.acts.acted()
    assert mix.view().add_name == f"Add {dosed.drops} drop of belt silicone"
    assert (dosed.drops, mix.view().one_key) == (1, "1 drop is in")
    assert "slippery" in mix.view().caution
    mix.acts.count_drops()
    assert mix.view().act == "Stir the drops in"
    fill(mix)
    assert f"{dosed.drops} drops: " in mix.view().facts
    assert "mg in 100 g of the cup" in mix.view().facts


def test_alcohol_brings_its_caution_where_it_is_poured(desk):
    ask = AskPresenter(desk)
    ask.planning.new_series()
    ask.choose("factor", "alcohol")
    ask.choose("levels", "5, 10")
    ask.planning.insist()
    ask.draw_lots()
    mix = MixPresenter(desk)
    while mix.view().add_name != "Add alcohol":
        weigh(mix) if not mix.view().act else mix.acts.acted()
    assert "no flame" in mix.view().caution


def test_nothing_to_mix_before_the_lots(desk):
    AskPresenter(desk).planning.new_series()
    view = MixPresenter(desk).view()
    assert "Draw lots on Ask" in view.empty


def test_page_takes_a_steady_reading_and_waits_for_a_moving_one(open_window, planned):
    window = open_window(planned)
    window.walk("mix")
    page = window.page("mix")
    page.freeze(ScaleReading(mass_kg=0.010, steady=False))
    page._base_kg = 0.0
    page._show_live()
    assert page.strip.buttons[0].key.words == "Wait: not steady"
    press(window, "Space")
    assert planned.need_run().weighings == ()
    page.freeze(ScaleReading(mass_kg=0.0104, steady=True))
    press(window, "Space")
    assert [w.mass_kg for w in planned.need_run().weighings] == [0.0104]


def test_lost_scale_is_said_at_once_and_typing_goes_on(open_window, planned, qtbot):
    window = open_window(planned)
    window.walk("mix")
    page = window.page("mix")
    assert isinstance(planned.scale, SimulatedScale)
    planned.scale.lose()
    qtbot.waitUntil(lambda: page.reading.state == "not answering", timeout=3000)
    assert "Your cup is safe" in trouble(window) or "Your cup is safe" in page.typed_note.text()
    page.typed.setText("11.5")
    page._enter_typed()
    assert planned.need_run().weighings[0].mass_kg == pytest.approx(0.0115)
    page.typed.setText("a lot")
    page._enter_typed()
    assert "no weight" in trouble(window)


def test_practice_scale_pours_until_it_is_stopped(open_window, planned, qtbot):
    window = open_window(planned)
    window.walk("mix")
    page = window.page("mix")
    assert isinstance(page, MixPage)
    press(window, "D")
    assert planned.scale.pouring
    qtbot.waitUntil(lambda: float(page.reading.figure) > 1.0, timeout=5000)
    press(window, "D")
    qtbot.waitUntil(lambda: page.reading.state == "steady", timeout=8000)
    press(window, "Space")
    assert planned.need_run().weighings[0].mass_kg > 0.001
