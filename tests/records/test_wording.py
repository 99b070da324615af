"""A capital at the head of a sentence, and nothing lowered behind it."""

from __future__ import annotations

import pytest

from dribbet.records.wording import first_up


@pytest.mark.parametrize(
    ("words", "said"), [("baked at 150 °C", "Baked at 150 °C"), ("deep Teal", "Deep Teal"), ("PVA glue", "PVA glue"), ("öl", "Öl"), ("", "")]
)
def test_first_letter_alone_is_changed(words, said):
    assert first_up(words) == said
