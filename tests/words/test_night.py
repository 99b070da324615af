"""What is said of a look that the night moved."""

from __future__ import annotations

import pytest

from dribbet.words.night import moved_text


@pytest.mark.parametrize(
    ("moved_s", "said"),
    [(0.0, ""), (59.0, ""), (-59.0, ""), (60.0, " (1 min later, by day)"), (3600.0, " (1 h later, by day)"),
     (-3.2 * 3600, " (3.2 h sooner, by day)"), (59.6 * 60, " (1 h later, by day)")],
)  # fmt: skip
def test_it_is_said_by_how_much_and_which_way(moved_s, said):
    assert moved_text(moved_s).replace("\u202f", " ") == said
