"""What becomes of the paint of a pour: film, layers, run-off, leftovers, and the stills of its steps."""

from __future__ import annotations

import base64
import io
from dataclasses import replace

import pytest
from PIL import Image

from dribbet.bench.application import practice_camera
from dribbet.lab.cup import house_mix
from dribbet.lab.plan import stops
from dribbet.records import (
    BottleKind,
    DribbetError,
    Factor,
    PanelWeight,
    RecordError,
    Step,
    Still,
    Varied,
)
from dribbet.studio.acts import asking, stills
from dribbet.studio.acts import pouring as acts
from dribbet.studio.acts.planning import PlanStopped
from dribbet.studio.acts.shelving import Shelving, with_drops
from dribbet.studio.standing import panels
from dribbet.words import stops as stop_words
from dribbet.words.units import Units
from tests.conftest import NOW
from tests.made_up import numbers
from tests.studio.hands import go_to
from tests.studio.test_six_plans import Bench

UNITS = Units()


def test_three_millimetres_cannot_stay_of_27_grams(desk):
    bench = Bench(desk)
    bench.ask(asking.hold, poured_kg=0.027, film_m=3.0e-3)
    found = stops.stops(desk.need_run().series)
    assert {s.why for s in found} == {stops.Why.FILM}
    arm = desk.need_run().arms[0]
    assert found[0].needed_kg == pytest.approx(3.0e-3 * 0.03 * stops.rough_density_kg_m3(arm) / 0.9)
    assert 0.10 < found[0].needed_kg < 0.12
    assert stop_words.sentence(found[0], UNITS).startswith("A film of 3.0\u202fmm cannot stay of 27.0\u202fg in recipe a. Pour at least 1")
    with pytest.raises(PlanStopped):
        bench.plan.draw_lots()


def test_a_thick_level_of_the_film_brings_the_paint_that_it_needs(desk):
    bench = Bench(desk)
    bench.vary(Varied(factor=Factor.FILM_LEFT, levels=numbers(1.2e-3, 2.3e-3)))
    assert desk.need_run().series.constants.poured_kg >= 0.081
    assert not stops.stops(desk.need_run().series)


def test_little_paint_without_a_film_asked_for_is_said_and_stops_nothing(desk):
    bench = Bench(desk)
    bench.ask(asking.hold, poured_kg=0.040)
    series = desk.need_run().series
    assert not stops.stops(series)
    thin = stops.thinner_than_usual(series)
    arm = desk.need_run().arms[0]
    assert thin[0].film_m == pytest.approx(0.040 * 0.9 / (0.03 * stops.rough_density_kg_m3(arm)))
    assert stop_words.sentence(thin[0], UNITS) == "Of 40.0\u202fg about 1.1\u202fmm of wet film can stay, less than usual."
    assert not stops.thinner_than_usual(replace(series, constants=replace(series.constants, poured_kg=0.068)))


def test_layers_are_ticked_in_their_order_while_the_cup_is_filled(poured):
    desk, panel = poured
    with pytest.raises(DribbetError, match="while the cup is filled"):
        acts.layer_in(desk, panel)
    go_to(desk, panel, Step.FILL)
    count = len(desk.need_run().arm(panel).layers)
    for n in range(count):
        assert acts.layers_in(desk.need_run(), panel) == n
        acts.layer_in(desk, panel)
    assert acts.layers_in(desk.need_run(), panel) == count
    with pytest.raises(DribbetError, match="All layers are in"):
        acts.layer_in(desk, panel)
    go_to(desk, panel, Step.REST)
    assert acts.layers_in(desk.need_run(), panel) == count


def test_density_of_a_colours_mix_is_of_masses_over_volumes(desk):
    from dribbet.lab.plan import design
    from dribbet.studio.standing import turning

    Bench(desk)
    arm = desk.need_run().arms[0]
    shelf = {m.key: m.density_kg_m3 for m in desk.shelf()}
    colour = arm.colours[0]
    shares = design.mix_fractions(arm, colour)
    volume = sum(share / shelf.get(name, 998.0) for name, share in shares.items())
    assert turning.densities_of(desk, arm)[colour] == pytest.approx(1.0 / volume)
    assert 900.0 < 1.0 / volume < 1500.0


def test_pieces_of_one_sheet_share_what_ran_off_and_what_stayed(desk):
    from dribbet.records import Design

    bench = Bench(desk)
    bench.ask(asking.hold, panel_width_m=0.3, panel_height_m=0.2, activator="glue", activator_kg=0.004)
    bench.ask(asking.side_by_side)
    assert desk.need_run().series.layout.design is Design.PAIRED
    bench.plan.draw_lots()
    bench.mix_all()
    bench.check_all()
    run = desk.need_run()
    panel = run.in_order()[0]
    pieces = run.together(panel)
    assert len(pieces) > 1
    cup = run.held(panel).poured_kg + 0.004  # the pieces share what one panel takes: so their cups were planned
    acts.weigh(desk, panel, PanelWeight.BARE, 0.500)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.500 + cup * 0.8)
    film = panels.film(desk, desk.need_run(), panel)
    assert film.run_off_kg == pytest.approx(cup * 0.2, rel=1e-3)
    assert film.too_much_kg == 0.0
    whole = sum(panels.film(desk, desk.need_run(), p).left_kg for p in pieces)
    assert whole == pytest.approx(cup * 0.8, rel=1e-3)


def test_what_ran_off_is_worth_its_share_of_the_cup(poured):
    from dribbet.words import dry as dry_words

    desk, panel = poured
    go_to(desk, panel, Step.WEIGH)
    acts.weigh(desk, panel, PanelWeight.POURED, 0.2146 + 0.048)
    run = desk.need_run()
    film = panels.film(desk, run, panel)
    assert film.run_off_kg == pytest.approx(0.020)
    price = {m.key: m.price_per_kg for m in run.shelf}
    assert film.wasted == pytest.approx(sum(share * 0.020 * price.get(n, 0.0) for n, share in run.cup(panel).items()))
    said = dry_words.film(0.048, 0.020, 0.314, 1.52e-3, 0.45e-3, UNITS)
    assert said == "48.0\u202fg stay: 1.5\u202fmm wet, about 0.5\u202fmm dry. 20.0\u202fg ran off or stayed in the cup (0.31)."


def finish(desk, panel, bare_kg: float, poured_kg: float) -> None:
    if desk.need_run().weight(panel, PanelWeight.BARE) is None:
        acts.weigh(desk, panel, PanelWeight.BARE, bare_kg)
    while acts.go_on(desk, panel):
        pass
    acts.weigh(desk, panel, PanelWeight.POURED, poured_kg)


def test_layers_are_ticked_as_in_the_last_cup_that_held_the_same(poured):
    desk, panel = poured
    acts.go_on(desk, panel)
    with pytest.raises(DribbetError, match="No cup with these layers"):
        acts.all_layers_in(desk, panel)
    count = len(desk.need_run().arm(panel).layers)
    for _ in range(count):
        acts.layer_in(desk, panel)
    finish(desk, panel, 0.2146, 0.2500)
    after = next(p for p in desk.need_run().in_order() if p.id != panel.id)
    acts.weigh(desk, after, PanelWeight.BARE, 0.2150)
    acts.go_on(desk, after)
    assert acts.as_before(desk.need_run(), after).id == panel.id
    acts.all_layers_in(desk, after)
    assert acts.layers_in(desk.need_run(), after) == count
    with pytest.raises(DribbetError, match="All layers are in"):
        acts.layer_in(desk, after)


def test_what_ran_off_goes_into_one_pot_with_the_mean_of_what_it_is(poured):
    desk, panel = poured
    shelf = Shelving(desk)
    first, second = panel, next(p for p in desk.need_run().in_order() if p.recipe != panel.recipe)
    finish(desk, first, 0.2146, 0.2346)
    run = desk.need_run()
    off = acts.ran_off(desk, run)
    cup = run.held(first).poured_kg + run.held(first).activator_kg + panels.base_kg(desk, run, first)
    assert off[0].id == first.id
    assert off[1] == pytest.approx(cup - 0.020)
    pot = shelf.keep_run_off(first)
    assert (pot.kind, pot.stored_kg) == (BottleKind.LEFTOVER, pytest.approx(off[1]))
    assert acts.ran_off(desk, desk.need_run()) is None
    with pytest.raises(DribbetError, match="Nothing of"):
        shelf.keep_run_off(first)
    finish(desk, second, 0.2146, 0.2446)
    more = acts.ran_off(desk, desk.need_run())[1]
    both = shelf.keep_run_off(second)
    assert both.id == pot.id
    assert both.stored_kg == pytest.approx(off[1] + more)
    one, other = with_drops(desk.need_run(), first.recipe), with_drops(desk.need_run(), second.recipe)
    raw = [house_mix.raw(c, desk.shelf()) for c in (one, other)]
    for name, share in both.contents:
        assert share == pytest.approx((raw[0].get(name, 0.0) * off[1] + raw[1].get(name, 0.0) * more) / (off[1] + more))
    assert sum(s for _, s in both.contents) == pytest.approx(1.0)


def test_a_pot_that_was_capped_or_is_empty_is_not_added_to(poured):
    desk, panel = poured
    finish(desk, panel, 0.2146, 0.2346)
    shelf = Shelving(desk)
    pot = shelf.keep_run_off(panel)
    shelf.finish_bottle(pot)
    after = next(p for p in desk.need_run().in_order() if p.id != panel.id)
    finish(desk, after, 0.2150, 0.2350)
    assert shelf.keep_run_off(after).id != pot.id


def test_less_than_five_grams_are_not_offered(poured):
    desk, panel = poured
    run = desk.need_run()
    cup = run.held(panel).poured_kg + run.held(panel).activator_kg + panels.base_kg(desk, run, panel)
    finish(desk, panel, 0.2146, 0.2146 + cup - 0.004)
    assert acts.ran_off(desk, desk.need_run()) is None


def test_a_still_is_kept_of_the_step_it_was_taken_of(poured):
    desk, panel = poured
    assert stills.wanted(desk, desk.need_run(), panel) is None  # no camera
    desk.camera = practice_camera(desk.notebook)
    acts.go_on(desk, panel)
    mark = stills.wanted(desk, desk.need_run(), panel)
    stills.keep(desk, mark, stills.small(desk.camera.still(panel.code, str(mark.step)).data))
    kept = stills.of_panel(desk, panel)
    assert list(kept) == [mark.id]
    with Image.open(io.BytesIO(kept[mark.id])) as picture:
        assert (picture.format, max(picture.size)) == ("JPEG", 320)
    acts.take_back(desk)
    stills.keep(desk, mark, stills.small(desk.camera.still(panel.code, "fill").data))
    assert len(stills.of_panel(desk, panel)) == 1  # a step that was taken back meanwhile keeps none


@pytest.mark.parametrize("jpeg", ["no picture", "aGVsbG8=", base64.b64encode(b"\xff\xd8" + b"0" * 130_000).decode()])
def test_a_still_is_a_small_jpeg(jpeg):
    with pytest.raises(RecordError, match="still"):
        Still(id="s", panel_id="p", step_id="m", at=NOW, jpeg=jpeg)
