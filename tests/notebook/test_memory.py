"""Records read once and kept: never more than what is stored, never less."""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dribbet.notebook.memory import Memory


@dataclass(frozen=True)
class Thing:
    id: str
    group: str


@dataclass(frozen=True)
class Other:
    id: str


class Stored:
    """What a database would hold; counts how often it is asked."""

    def __init__(self) -> None:
        self.things: dict[str, Thing] = {}
        self.asked = 0

    def read(self, kind: type) -> list:
        self.asked += 1
        return list(self.things.values()) if kind is Thing else []


@pytest.fixture
def stored():
    return Stored()


def test_kind_is_read_once_and_then_remembered(stored):
    memory = Memory(stored.read)
    stored.things["a"] = Thing("a", "x")
    for _ in range(5):
        assert memory.all(Thing) == [Thing("a", "x")]
        assert memory.get(Thing, "a") == Thing("a", "x")
        assert memory.where(Thing, "group", ["x"]) == [Thing("a", "x")]
    assert stored.asked == 1
    assert memory.all(Other) == []
    assert stored.asked == 2


def test_what_was_not_asked_for_yet_is_not_half_remembered(stored):
    memory = Memory(stored.read)
    stored.things["a"] = Thing("a", "x")
    memory.written(Thing("b", "x"))
    stored.things["b"] = Thing("b", "x")
    assert [t.id for t in memory.all(Thing)] == ["a", "b"]


def test_forgetting_reads_anew(stored):
    memory = Memory(stored.read)
    memory.all(Thing)
    stored.things["a"] = Thing("a", "x")
    assert memory.all(Thing) == []
    memory.forget()
    assert memory.all(Thing) == [Thing("a", "x")]
    assert memory.get(Thing, "b") is None


@given(st.lists(st.tuples(st.sampled_from("abcdef"), st.sampled_from("xyz")), max_size=30), st.sets(st.sampled_from("xyz")))
def test_memory_always_holds_what_was_written_last(writes, wanted):
    stored = Stored()
    memory = Memory(stored.read)
    memory.all(Thing)
    for id_, group in writes:
        memory.where(Thing, "group", wanted)  # builds groups that the next write must undo
        stored.things[id_] = Thing(id_, group)
        memory.written(stored.things[id_])
    assert memory.all(Thing) == list(stored.things.values())
    assert sorted(t.id for t in memory.where(Thing, "group", wanted)) == sorted(t.id for t in stored.things.values() if t.group in wanted)
    assert stored.asked == 1
