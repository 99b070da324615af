"""Check as facts: ways to pour, other readings, the pot that is due, and the one correction; worked by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from dribbet.lab.cup import matching
from dribbet.lab.cup.matching import Outvoted, PotVerdict
from dribbet.lab.paint.consistency import Match
from dribbet.records import WATER, CheckKind, Form, Kind, Role, Stream
from dribbet.studio.standing import check, cups, pots
from dribbet.words import check as words
from dribbet.words.units import Units
from tests.made_up import mix
from tests.studio.test_six_plans import Bench


@pytest.fixture
def mixed(desk):
    """Water against none, all cups mixed, none checked."""
    bench = Bench(desk)
    bench.plan.draw_lots()
    bench.mix_all()
    return bench


def group_of(bench):
    run = bench.desk.need_run()
    group = pots.groups(run)[0]
    return run, group, pots.cups(run, group)


def drip(bench, *runs_mm):
    _, _, mine = group_of(bench)
    for m, mm in zip(mine, runs_mm, strict=False):
        bench.check.keep(m.id, CheckKind.DRIP, mm / 1e3, "typed", seconds=10.0)


def test_mounds_outside_what_the_way_to_pour_wants_are_named(mixed):
    run, group, mine = group_of(mixed)
    low, high = check.mounds(mixed.desk, run, group).wants_s
    mixed.check.keep(mine[0].id, CheckKind.MOUND, (low + high) / 2.0, "stopwatch")
    mixed.check.keep(mine[1].id, CheckKind.MOUND, high + 0.5, "stopwatch")
    found = check.mounds(mixed.desk, mixed.desk.need_run(), group)
    assert found.outside == (mine[1].colour,)
    assert dict(found.pots)[mine[0].colour] == (low + high) / 2.0
    assert [s for _, s in found.pots[2:]] == [None] * (len(mine) - 2)
    assert found.technique is check.technique_of(run, group)


def test_ways_that_suit_stand_first_and_pots_by_the_mound_they_stand_for(mixed):
    run, group, mine = group_of(mixed)
    assert check.ways_to_pour(mixed.desk, run, group).pots == ()
    for m in mine:
        mixed.check.keep(m.id, CheckKind.MOUND, 2.0, "stopwatch")
    found = check.ways_to_pour(mixed.desk, mixed.desk.need_run(), group)
    assert [s for _, s in found.pots] == pytest.approx([2.0] * len(mine), rel=1e-6)
    suits = [w.suits for w in found.ways]
    assert suits == sorted(suits, reverse=True)
    for way in found.ways:
        low, high = way.wants_s
        assert way.suits == (low < 2.0 <= high)
    assert set(found.fits) == {w.technique for w in found.ways if w.suits}


def test_other_readings_of_a_pot_are_told_as_they_were_read(mixed):
    run, group, mine = group_of(mixed)
    assert check.others(mixed.desk, run, group) == ()
    pot = mine[0].id
    mixed.check.keep(pot, CheckKind.DRIP, 0.030, "typed", seconds=10.0)
    mixed.check.keep(pot, CheckKind.DRIP, 0.045, "typed", seconds=20.0)
    mixed.check.keep(pot, CheckKind.RING, 0.2, "typed", seconds=90.0)
    mixed.check.keep(pot, CheckKind.STREAM, float(list(Stream).index(Stream.ROPE)), "seen")
    for s in (40.0, 44.0):
        mixed.check.keep(pot, CheckKind.FLOW_CUP, s, "typed", tool="ISO 2431, 4 mm")
    (found,) = check.others(mixed.desk, mixed.desk.need_run(), group)
    assert found.drip_m_s == pytest.approx(0.0015)  # 15 mm in 10 s
    assert (found.ring, found.stream, found.slump_m) == (0.2, Stream.ROPE, None)
    assert (found.through.seconds, found.through.runs, found.through.cup) == (42.0, 2, "ISO 2431, 4 mm")
    assert found.through.sd_s == pytest.approx(8.0**0.5)
    said = words.others(found, Units()).replace("\u202f", " ")
    assert "42.0 s through ISO 2431, 4 mm (± 2.8, 2 runs)" in said
    assert "a clear ring in the base (0.20 of the drop)" in said
    assert "1.50 mm a second" in said


def test_speed_of_a_drip_is_that_of_its_last_two_readings(mixed):
    _, group, mine = group_of(mixed)
    for seconds, run in ((10.0, 0.030), (20.0, 0.045), (40.0, 0.055)):
        mixed.check.keep(mine[0].id, CheckKind.DRIP, run, "typed", seconds=seconds)
    (found,) = check.others(mixed.desk, mixed.desk.need_run(), group)
    assert found.drip_m_s == pytest.approx(0.0005)  # 10 mm in the last 20 s


def test_next_reading_is_for_the_pot_with_fewest_and_for_none_once_all_are_dripped(mixed):
    run, _, mine = group_of(mixed)
    assert check.due(run, mine, CheckKind.DRIP, None).id == mine[0].id
    drip(mixed, 60)
    run = mixed.desk.need_run()
    assert check.due(run, mine, CheckKind.DRIP, None).id == mine[1].id
    assert check.due(run, mine, CheckKind.DRIP, mine[0]).id == mine[0].id
    assert check.having(run, mine, CheckKind.DRIP) == 1
    drip(mixed, *[60] * len(mine))
    run = mixed.desk.need_run()
    assert check.due(run, mine, CheckKind.DRIP, None) is None
    assert check.due(run, mine, CheckKind.MOUND, None) is not None


def test_correction_tells_what_the_water_then_is_and_what_the_cup_still_holds(mixed):
    _, group, mine = group_of(mixed)
    drip(mixed, 60, 31, *[60] * (len(mine) - 2))
    desk = mixed.desk
    run = desk.need_run()
    assert check.correction(desk, run, group, mine[0]) is None
    found = check.correction(desk, run, group, mine[1])
    assert found.add == WATER
    held = cups.held(run, mine[1])
    total = sum(held.values())
    before, after = found.water  # water is what is tested
    assert before == pytest.approx(held.get(WATER, 0.0) / total)
    assert after == pytest.approx((held.get(WATER, 0.0) + found.first_kg) / (total + found.first_kg))
    assert found.low_kg <= found.first_kg <= found.high_kg
    assert found.room_kg is None
    desk.set_rules(replace(desk.rules, cups_kg=(total + 1e-4,)))
    tight = check.correction(desk, desk.need_run(), group, mine[1])
    assert tight.room_kg is None or 0.0 < tight.room_kg < found.high_kg
    assert mixed.check.keep(mine[1].id, CheckKind.KEPT, 0.0, "decided").note == ""
    assert check.correction(desk, desk.need_run(), group, mine[1]) is None  # it was kept as it is


def test_only_a_powder_that_thickens_is_to_be_wetted_first(mixed, monkeypatch):
    monkeypatch.setattr(matching, "ANEW_FROM", 10.0)  # of this paint half a cup would go in: else the pot is started anew
    _, group, mine = group_of(mixed)
    drip(mixed, 60, 75.6, *[60] * (len(mine) - 2))
    desk = mixed.desk
    run = desk.need_run()
    found = check.correction(desk, run, group, mine[1])
    assert (found.add, found.powder) == (mine[1].colour, False)
    dusty = replace(run, shelf=tuple(replace(m, form=Form.POWDER, kind=Kind.SHIMMER) if m.key == mine[1].colour else m for m in run.shelf))
    again = check.correction(desk, dusty, group, mine[1])
    assert again.powder


@pytest.mark.parametrize(
    ("v", "said", "told"),
    [
        (PotVerdict(), "Not dripped", ""), (PotVerdict(value=0.06), "one so far", ""), (PotVerdict(value=0.06, match=Match.GOOD), "Good", ""),
        (PotVerdict(value=0.03, match=Match.TOO_THICK, add="water", first_kg=0.0015), "Too thick", "add 1.5 g water"),
        (PotVerdict(value=0.09, match=Match.TOO_THIN, add="paint", first_kg=0.002), "Too thin", "add 2.0 g teal"),
        (PotVerdict(value=0.03, match=Match.TOO_THICK, kept=True), "Kept", "as it is"),
        (PotVerdict(value=0.09, match=Match.TOO_THIN, anew=True), "Too thin", "start it anew"),
        (PotVerdict(value=0.06, match=Match.GOOD, seen=Stream.LUMPS), "Good", "lumps"),
    ],
)  # fmt: skip
def test_each_lane_says_how_its_pot_stands_and_what_to_do(v, said, told):
    assert words.lane(v, CheckKind.DRIP) == said
    assert words.lane_told(v, mix(), Units()).replace("\u202f", " ") == told
    assert words.lane(PotVerdict(), CheckKind.MOUND) == "Not read"


@pytest.mark.parametrize(
    ("v", "said"),
    [
        (PotVerdict(outvoted=Outvoted.NO_THINNER, ring=0.42), "its ring in the base is 0.42 of the drop: no thinner"),
        (PotVerdict(outvoted=Outvoted.BY_RING, ring=0.5), "the drip asks for thinner, but its ring in the base is 0.50 of the drop"),
        (PotVerdict(outvoted=Outvoted.BY_READING, ring=0.5), "its ring asks for no thinner, but the drip comes first in your order"),
        (PotVerdict(kept=True, kept_because="contrast wanted"), "contrast wanted"), (PotVerdict(kept=True), "kept as it is"),
        (PotVerdict(seen=Stream.FOLDS), "it folds: far too thick to pour"),
    ],
)  # fmt: skip
def test_what_to_mind_of_a_pot_is_said_from_facts(v, said):
    (line,) = words.cautions(v, mix(), CheckKind.DRIP, Units())
    assert line.startswith(f"\x02Teal:\x03 {said}")


def test_base_stands_beside_the_colours_in_words():
    one = check.OtherReadings(colour="pillow", beside=(Role.BASE, 0.31))
    assert words.others(one, Units()) == "Pillow: the base runs 0.31 times as far as the colours."
    assert not check.OtherReadings(colour="pillow").any
