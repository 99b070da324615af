"""The order of a cup, its stirs and looks."""

import pytest

from dribbet.lab.cup import additions
from dribbet.lab.cup.additions import CupAct
from dribbet.records import Form, Kind
from tests.made_up import mark, material, mix, weighing

SHELF = {
    m.name: m
    for m in (
        material("teal"),
        material("conditioner", kind=Kind.MEDIUM),
        material("water", kind=Kind.THINNER, volume_solids=0.0),
        material("silicone", kind=Kind.ADDITIVE, wash_off=True),
        material("anti-craze", kind=Kind.ADDITIVE),
        material("mica", kind=Kind.SHIMMER, form=Form.POWDER),
    )
}
CUP = mix()
IN = [weighing(CUP, "teal", 0.023, 0), weighing(CUP, "conditioner", 0.046, 1), weighing(CUP, "water", 0.013, 4)]


def test_order_follows_the_craft_whatever_the_plan_says():
    plan = [("silicone", 1e-4), ("water", 0.01), ("anti-craze", 0.002), ("conditioner", 0.04), ("teal", 0.02)]
    assert [n for n, _ in additions.in_order(plan, SHELF)] == ["teal", "anti-craze", "conditioner", "water", "silicone"]


def test_powder_is_wetted_by_the_medium_before_the_paint_comes():
    plan = [("teal", 0.02), ("water", 0.01), ("conditioner", 0.04), ("mica", 0.002)]
    assert [n for n, _ in additions.in_order(plan, SHELF)] == ["mica", "conditioner", "teal", "water"]
    powder = [weighing(CUP, "mica", 0.002, 0), weighing(CUP, "conditioner", 0.04, 1)]
    assert additions.acts_due(CUP, powder, [], ["teal"], SHELF) == [CupAct.WET]
    assert additions.acts_due(CUP, powder, [mark(CUP, "powder wetted", 2)], ["teal"], SHELF) == []


@pytest.mark.parametrize(
    ("in_so_far", "marks", "left", "due"),
    [
        (0, [], ["teal", "conditioner", "water"], []),
        (1, [], ["conditioner", "water"], []),
        (2, [], ["water"], [CupAct.STIR_FIRST]),
        (2, [mark(CUP, "stirred", 2)], ["water"], []),
        (2, [], [], [CupAct.STIR_FIRST, CupAct.RIM]),
        (3, [mark(CUP, "stirred", 2)], [], [CupAct.STIR_THIN, CupAct.RIM]),
        (3, [mark(CUP, "stirred", 2)], ["silicone"], [CupAct.STIR_THIN]),
        (3, [mark(CUP, "stirred", 5)], [], [CupAct.RIM]),
        (3, [mark(CUP, "stirred", 5), mark(CUP, "rim wiped", 6)], [], []),
        (3, [mark(CUP, "stirred", 5), mark(CUP, "rim wiped", 6), mark(CUP, "lumps seen", 7)], [], [CupAct.STRAIN]),
        (3, [mark(CUP, "stirred", 5), mark(CUP, "rim wiped", 6), mark(CUP, "lumps seen", 7), mark(CUP, "strained", 8)], [], []),
    ],
)
def test_stirs_and_looks_come_when_they_are_due(in_so_far, marks, left, due):
    assert additions.acts_due(CUP, IN[:in_so_far], marks, left, SHELF) == due


def test_addition_after_the_last_stir_makes_it_due_again():
    done = [mark(CUP, "stirred", 5), mark(CUP, "rim wiped", 6)]
    assert additions.acts_due(CUP, [*IN, weighing(CUP, "water", 0.002, 9)], done, [], SHELF) == [CupAct.STIR_THIN, CupAct.RIM]
    assert additions.acts_due(CUP, [*IN, weighing(CUP, "silicone", 1e-4, 9)], done, [], SHELF) == [CupAct.STIR_LAST, CupAct.RIM]


def test_shimmer_that_settles_asks_for_a_stir_before_pouring():
    assert additions.restir_needed({"mica": 0.08, "teal": 0.92}, SHELF) == "mica"
    assert additions.restir_needed({"mica": 0.01, "teal": 0.99}, SHELF) == ""
