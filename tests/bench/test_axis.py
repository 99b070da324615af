"""The time axis of Pour: marks at round times, however long a panel has stood."""

from __future__ import annotations

import itertools

import pytest

from dribbet.bench.stations.pour.page import TICK_PX, axis_ticks


@pytest.mark.parametrize(
    ("total_s", "width_px", "first", "last"),
    [
        (240.0, 900.0, "1 min", "4 min"),
        (900.0, 900.0, "2 min", "14 min"),
        (5400.0, 900.0, "10 min", "90 min"),
        (40_000.0, 900.0, "2 h", "10 h"),
        (3 * 86_400.0, 900.0, "12 h", "72 h"),
        (200 * 86_400.0, 900.0, "20 d", "200 d"),
        (30.0, 900.0, "start", "start"),
    ],
)
def test_marks_are_round_and_their_words_do_not_meet(total_s, width_px, first, last):
    ticks = axis_ticks(total_s, width_px)
    assert ticks[0] == (0.0, "start")
    assert ticks[min(1, len(ticks) - 1)][1] == first
    assert ticks[-1][1] == last
    gaps = [(b - a) / total_s * width_px for (a, _), (b, _) in itertools.pairwise(ticks)]
    assert all(g >= TICK_PX - 0.01 for g in gaps)
    assert ticks[-1][0] <= total_s
