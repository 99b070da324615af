"""Every station's figures of the demo's notebook stay what they are until somebody means to change them (tests/studio/kept.py)."""

from __future__ import annotations

import pytest

from tests.conftest import NOW
from tests.studio.kept import SECTIONS, apart, desk_of, kept, plain


@pytest.fixture(scope="module")
def standing_desk(demo_folder):
    desk = desk_of(demo_folder, NOW)
    yield desk
    desk.notebook.close()


@pytest.fixture(scope="module")
def was():
    return kept()


@pytest.mark.parametrize("name", SECTIONS)
def test_figures_are_what_they_were(standing_desk, was, name):
    assert apart(was[name], plain(SECTIONS[name](standing_desk))) == []


def test_no_section_is_kept_that_nobody_asks(was):
    assert was.keys() == SECTIONS.keys()


def test_what_differs_is_named_with_its_place():
    assert apart({"a": [1.0, 2.0]}, {"a": [1.0, 2.00001]}) == []
    assert apart({"a": [1.0, 2.0]}, {"a": [1.0, 2.001]}) == ["/a[1]: 2.0 was, 2.001 is"]
    assert apart({"a": 1}, {"b": 1}) == [": ['a', 'b'] are on one side only"]
    assert apart([1], [1, 2]) == [": 1 were, 2 are"]
    assert apart({"word": "real"}, {"word": "could be chance"}) == ["/word: 'real' was, 'could be chance' is"]
    assert apart({"on": True}, {"on": False}) == ["/on: True was, False is"]
