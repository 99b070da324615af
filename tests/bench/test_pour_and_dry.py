"""Pour and Dry: steps and weights of a panel, and looks at it while it dries."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from dribbet.bench.stations.dry.presenter import DryPresenter
from dribbet.bench.stations.pour.presenter import PourPresenter
from dribbet.lab.panel.progress import Station
from dribbet.records import Does, DribbetError, Feel, Figure, Mishap, MishapKind, PanelWeight, Step, Weighing
from dribbet.studio.acts import pouring as acts
from dribbet.studio.standing.panels import progress_of
from tests.bench.conftest import on_series

pour = on_series("k3", PourPresenter)


def test_next_panel_is_the_next_in_the_lots(desk, pour):
    run = desk.need_run()
    panel = pour.panel(run)
    assert panel.place == 1 + sum(run.poured_at(p) is not None for p in run.panels)


def test_steps_are_stamped_with_their_times(desk, pour, clock):
    panel = pour.panel(desk.need_run())
    for wanted in (Step.FILL, Step.REST, Step.LIFT, Step.WAIT, Step.TORCH, Step.TILT, Step.WEIGH):
        pour.advance(None, "typed")
        clock.pass_(seconds=30)
        desk.changed()
        marks = {s.step for s in desk.need_run().steps if s.panel_id == panel.id}
        assert wanted in marks
    assert pour.view().need == "poured"
    with pytest.raises(DribbetError, match="No weight yet"):
        pour.advance(None, "typed")
    with pytest.raises(DribbetError, match="not heavier than before"):
        pour.advance(0.1, "typed")
    pour.advance(0.2146 + 0.0613, "typed")
    assert desk.need_run().weight(panel, PanelWeight.POURED) == pytest.approx(0.2759)
    assert pour.film_mm(desk.need_run(), panel) == pytest.approx(1.9, abs=0.2)


def test_caution_stands_beside_the_torch(desk, pour):
    for _ in range(4):
        pour.advance(None, "typed")
    assert "extinguisher" in pour.view().caution


def test_alcohol_takes_the_torch_out_of_the_plan(desk):
    desk.choose_series("s1")
    presenter = PourPresenter(desk)
    run = desk.need_run()
    wet = next(p for p in run.panels if run.arm(p).alcohol_share > 0)
    assert Step.TORCH not in [s for s, _ in presenter.plan(run, wet)]


def test_mishap_is_one_press_and_one_touch(desk, pour):
    pour.mishap(MishapKind.DUST)
    assert pour.view().placing
    pour.place(0.25, 0.75)
    assert not pour.view().placing
    mine = [m for m in desk.notebook.all(Mishap) if m.panel_id == pour.panel(desk.need_run()).id]
    assert (mine[0].kind, mine[0].x_share, mine[0].y_share) == (MishapKind.DUST, 0.25, 0.75)


def test_gauge_shows_all_weighed_panels_and_what_is_expected(desk, pour):
    gauge = pour.view().gauge
    assert len(gauge.marks) == 10
    assert gauge.expected
    assert gauge.hand_mm == pytest.approx(1.7)


def test_bare_weight_is_wanted_first(desk, pour):
    pour.take_back()
    view = pour.view()
    assert view.need == "bare"
    assert view.sentence == f"Write {view.code} on its back, then weigh it bare."


def test_film_uses_the_density_of_what_was_really_mixed(desk, pour):
    run = desk.need_run()
    panel = next(p for p in run.panels if pour.film_mm(run, p) is not None)
    before = pour.film_mm(run, panel)
    mix = next(m for m in run.mixes if panel.recipe in m.recipes and m.colour == "foam")
    heavy = Weighing(id="more", mix_id=mix.id, ingredient="foam", mass_kg=5.0, at=desk.now())
    desk.notebook.add(heavy)
    desk.changed()
    assert pour.film_mm(desk.need_run(), panel) < before


dry = on_series("k3", DryPresenter)


def test_due_look_asks_how_it_feels_and_then_whether_it_cracked(desk, dry):
    view = dry.view()
    assert view.asking == "feel"
    assert view.sentence == f"Press a corner of {view.hand_code} with a nail."  # the dry look: the whole film is asked, not its skin
    looks = len(desk.need_run().looks)
    dry.answer_feel(Feel.FIRM)
    assert dry.view().asking == "crack"
    dry.answer_crack(True)
    made = desk.need_run().looks
    assert len(made) == looks + 1
    newest = max(made, key=lambda look: look.at)
    assert (newest.feel, newest.cracked, newest.at) == (Feel.FIRM, True, desk.now())


def test_only_looking_is_allowed(desk, dry):
    dry.answer_feel(None)
    dry.answer_crack(False)
    newest = max(desk.need_run().looks, key=lambda look: look.at)
    assert newest.feel is None


def test_take_back_undoes_the_answer_in_between_and_then_the_look(desk, dry):
    looks = len(desk.need_run().looks)
    dry.answer_feel(Feel.HARD)
    dry.take_back()
    assert dry.view().asking == "feel"
    dry.answer_feel(Feel.HARD)
    dry.answer_crack(False)
    dry.take_back()
    assert len(desk.need_run().looks) == looks


def test_bands_run_from_the_pour_through_windows_that_widen(desk, dry):
    bands = dry.view().bands
    poured = [b for b in bands.bands if b.poured is not None]
    assert len(poured) == 10
    for band in poured:
        widths = [(late - early).total_seconds() for early, late in band.cuts[:3]]
        assert widths == sorted(widths)
        assert band.cuts[0][0] > band.poured
    assert sum(b.poured is None for b in bands.bands) == 2


def test_crack_found_stands_on_its_band_from_the_look_before(desk, dry):
    band = next(b for b in dry.view().bands.bands if b.crack_seen is not None)
    assert band.crack_from < band.crack_seen


def test_overdue_look_is_said(desk, dry, clock):
    clock.pass_(days=4)
    desk.changed()
    assert any(d.overdue for d in desk.need_run().due_looks(clock()))
    assert dry.view().dues[0].when == "overdue"


def test_nothing_dries_before_a_pour(planned):
    view = DryPresenter(planned).view()
    assert view.empty
    assert view.one_key == "Go to Pour"


def test_silicone_warns_of_varnish(dry):
    assert any(r.head == "Silicone" for r in dry.view().remarks)


def test_panels_stand_at_stations_that_sum_to_the_series(desk):
    for s in desk.all_series():
        run = desk.load(s.id)
        stations = [run.station(p, desk.now()) for p in run.panels]
        assert len(stations) == len(run.panels)
        assert all(isinstance(v, Station) for v in stations)


def test_scatter_of_the_notebook_comes_from_repeats(desk):
    from dribbet.records import Response

    known = desk.learned.scatter(Response.CELL_COUNT)
    assert known.df >= 5
    assert known.sources
    values = [v for s in desk.all_series() for v in desk.load(s.id).values(Response.CELL_COUNT).values() if len(v) > 1]
    pooled = np.sqrt(sum(((np.array(v) - np.mean(v)) ** 2).sum() for v in values) / sum(len(v) - 1 for v in values))
    assert known.sd == pytest.approx(pooled, rel=1e-6)


def test_spoiled_panel_lends_no_value(desk):
    from dribbet.records import Panel, Response

    desk.choose_series("b2")
    run = desk.need_run()
    before = sum(len(v) for v in run.values(Response.CELL_COUNT).values())
    panel = next(p for p in run.panels if not p.spoiled)
    desk.notebook.replace(replace(panel, spoiled="dropped"))
    desk.changed()
    assert sum(len(v) for v in desk.need_run().values(Response.CELL_COUNT).values()) == before - 1
    assert desk.notebook.get(Panel, panel.id).spoiled == "dropped"


def test_what_was_told_of_a_step_fits_its_place_and_is_seen_when_one_looks_back(open_window, desk):
    desk.choose_series("k3")
    window = open_window(desk, 1024, 700)
    window.walk("pour")
    page = window.page("pour")
    panel = page.view.panel
    while (now := progress_of(desk.need_run(), panel).current) is None or now.plan.step is not Step.TORCH:
        acts.go_on(desk, panel)
    acts.once_more(desk, panel)
    acts.tell(desk, panel, Figure(does=Does.GOOD, value=0.8))
    page.presenter.place(0.9, 0.9)
    assert page.view.touching is False
    acts.go_on(desk, panel)
    again = [s for s in page.view.steps if s.name == "Torch"][1]
    assert (again.state, again.note) == ("done", "80\u202f% good")
    acts.go_on(desk, panel)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.2146 + 0.055)
    page.presenter.look_back()
    assert "Torch: 80\u202f% good, best in the near right corner." in page.view.ready
