"""What else differed, and the sentences of Decide: facts in, words out."""

from __future__ import annotations

from types import SimpleNamespace

import pytest

from dribbet.lab.verdict.laws import Method
from dribbet.records import After, MishapKind, Prediction, Response, Wanted, Word
from dribbet.studio.standing.differs import About, Beside
from dribbet.words import decide, differs
from dribbet.words.parts import Weight
from dribbet.words.units import Units
from tests.conftest import NOW

UNITS = Units()
SIGN, OTHER = (SimpleNamespace(kind=k, note="house paint B, 20 g") for k in (MishapKind.RUNS_FAST, MishapKind.SUBSTITUTED))


def local(at):
    return at


@pytest.mark.parametrize(
    ("fact", "said"),
    [
        (Beside(about=About.LEFT_OUT, codes=("K2-a1",), names=("cup slipped",)), "K2-a1: cup slipped."),
        (Beside(about=About.GOAL, codes=("a", "b"), values=(0.9, 0.4), names=("many",)),
         "By the goal “many”, recipe a (0.90 of 1), then b (0.40 of 1). Goals can be exchanged on Ask."),
        (Beside(about=About.GOAL, codes=("a",), values=(0.9,), names=("many",), record=((Response.SPREAD, "b"),)),
         "By the goal “many”, recipe a (0.90 of 1). By spread alone it would be b. Goals can be exchanged on Ask."),
        (Beside(about=About.HALF_CRACKED, codes=("ab", "c"), values=(4.0, 30.6, 1.0, -1.0)),
         "Recipes a and b: half of 4 panels were cracked by 31\u202fh; recipe c: fewer than half of 1 panel cracked."),
        (Beside(about=About.MISSED, values=(3.0, 12.0)), "3 of 12 looks were never made: when a crack began is less sure."),
        (Beside(about=About.TOGETHER, names=("heat", "silicone", "cell count")),
         "What heat does to cell count depends on silicone: look at each level of it."),
        (Beside(about=About.APART, codes=("K2-a1",), names=("crack length", "spill"), changes=True),
         "K2-a1 lies apart in crack length (spill). Without it the word would be another."),
        (Beside(about=About.FILM, values=(1.24, 1.66)), "The film was not equal: 1.2\u202fmm against 1.7\u202fmm."),
        (Beside(about=About.FILM, values=(1.24, 1.66), record=(), changes=True),
         "The film was not equal: 1.2\u202fmm against 1.7\u202fmm. The figures take it into account."),
        (Beside(about=About.FILM, values=(1.24, 1.66), record=((Response.CELL_COUNT, Word.CHANCE, Word.REAL),), changes=True),
         "The film was not equal: 1.2\u202fmm against 1.7\u202fmm. Cell count: could be chance with the film counted in, real without."),
        (Beside(about=About.MOVED, names=("rest of the mix",), values=(0.8,), changes=True),
         "Rest of the mix was not alike on both sides (r = 0.80). The figures take it into account."),
        (Beside(about=About.MOVED, names=("drying air",), values=(0.5,)), "Drying air was not alike on both sides (r = 0.50)."),
        (Beside(about=About.MENDED, codes=("a", "b"), names=("water", "teal"), values=(0.0032,)),
         "3.2\u202fg water was added to teal of a and b after the check."),
        (Beside(about=About.KEPT, codes=("a",), names=("teal", "too little")), "Teal of a was poured as it was: too little."),
        (Beside(about=About.OVERSHOT, codes=("a",), names=("teal",)), "An overshoot in teal of a was accepted; its real shares are used."),
        (Beside(about=About.TRACE, codes=("K2-a1",), names=("teal", "stick")), "K2-a1 may hold a trace of another cup (teal: stick)."),
        (Beside(about=About.WATER, names=("distilled", "tap")), "The water was not of one kind: distilled and tap."),
        (Beside(about=About.REST, values=(0.5, 2.25)), "The cups rested 0.5 h against 2.2 h before they were poured."),
        (Beside(about=About.SIGN, codes=("K2-a1",), record=SIGN), "While pouring K2-a1: runs fast."),
        (Beside(about=About.ZONE, codes=("K2-a1",), names=("spill",), values=(0.034,)),
         "3.4\u202f% of K2-a1 is left out of every figure (spill)."),
        (Beside(about=About.SUBSTITUTED, codes=("K2-a1",), record=OTHER), "K2-a1, used instead: house paint B, 20 g."),
        (Beside(about=About.MARKED, codes=("K2-a1",), record=SIGN), "K2-a1 is counted, though marked: runs fast."),
        (Beside(about=About.OPEN_BASE, codes=("K2-a1", "K2-b1")), "Spread waits for K2-a1 and K2-b1: say on Read what is base there."),
        (Beside(about=About.OPEN_LINES, codes=("K2-a1", "K2-b1")), "Lines on K2-a1 and K2-b1 may be cracks and count as none: look at them on Read."),
        (Beside(about=About.LAMPED, codes=("K2-a1",)),
         "Cracks of K2-a1 alone were read under raking lamps, which show more of them. Photograph the others so, too, if they were not."),
        (Beside(about=About.COATS, record=((None, ("a1",)), (After.VARNISH, ("b1", "b2")))),
         "Not photographed alike: a1 bare; b1 and b2 varnished. Shine and colour are then not the paint's alone."),
    ],
)  # fmt: skip
def test_each_fact_has_its_sentence(fact, said):
    if fact.about is About.SUBSTITUTED:
        fact.record.kind = MishapKind.SUBSTITUTED
    assert differs.sentence(fact, UNITS, local) == said


def test_what_asks_for_care_is_marked_and_nothing_is_said_to_be_nothing():
    calm = differs.remark(Beside(about=About.LEFT_OUT, codes=("K2-a1",), names=("x",)), UNITS, local)
    assert (calm.head, calm.weight) == ("Left out", Weight.PLAIN)
    assert differs.remark(Beside(about=About.REST, values=(0.5, 2.25)), UNITS, local).weight is Weight.CAUTION
    assert [r.body for r in differs.remarks((), UNITS, local)] == [differs.NOTHING]


@pytest.mark.parametrize(
    ("response", "value", "said"),
    [
        (Response.CELL_COUNT, 41.3, "41 cells/dm² more"), (Response.CELL_COUNT, -9.96, "10.0 cells/dm² less"),
        (Response.CELL_COUNT, 0.04, "hardly moves"),
        (Response.CELL_WIDTH, -0.31, "0.3\u202fmm less"), (Response.CELL_WIDTH, 0.04, "hardly moves"), (Response.SPREAD, 1.6, "2 % more"),
    ],
)  # fmt: skip
def test_a_difference_is_said_with_its_way(response, value, said):
    assert decide.difference(response, value, UNITS) == said


def test_how_it_was_judged_stands_at_the_foot():
    assert decide.foot(3, 2, None, 6) == "3 against 2 panels."
    assert decide.foot(3, 2, Method.COUNTS, 1) == "3 against 2 panels: counts, Poisson or wider."
    assert decide.foot(3, 2, Method.COUNTS, 6) == "3 against 2 panels: counts, Poisson or wider; 6 questions taken together."


def test_what_was_expected_is_said_with_what_became_of_it():
    p = Prediction(response=Response.CELL_COUNT, more_or_less=Wanted.MORE, size=30.0)
    assert decide.expected(p, "4 drops", "met", NOW, UNITS) == f"Expected: more cell count by 30 cells at 4 drops, locked {NOW:%-d %b}. Met."
    bare = Prediction(response=Response.CELL_COUNT, more_or_less=Wanted.LESS)
    assert decide.expected(bare, "glue", "cannot be told yet", None, UNITS) == "Expected: less cell count at glue. Cannot be told yet."


def test_levels_say_what_was_really_weighed():
    assert decide.really("17 %", "16 %") == "17 % (planned 16 %)"
    assert decide.instead("a", "b") == "a instead of b"
    assert decide.plotted(Response.CELL_COUNT) == "Cell count, cells/dm²"
    assert decide.plotted(Response.SHIMMER) == "Shimmer"
