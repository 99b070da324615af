"""More panels for a test that is poured already: a block of their own, with lots drawn anew.

A block is a sitting: another day, other cups. What a block does to all its panels is taken out of every comparison, so a block
must hold what is to be compared: every recipe of the test, or an added recipe beside the plain ones.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import design, planning
from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from dribbet.records import Extra, Mix, Panel, Series

MOST_BLOCKS: Final = 12
MOST_REPEATS: Final = 12


def why_not(series: Series, mixes: Sequence[Mix], extras: Sequence[Extra]) -> str:
    """Why no block can be added; empty where one can."""
    if series.seed is None:
        return "Lots are not drawn yet. Ask for more repeats on Ask."
    if series.layout.blocks > 1 and any(m.block == 0 for m in mixes):
        return "The days of this test share their cups, so a further day would need the same cups again. Ask a new test instead."
    if series.layout.blocks >= MOST_BLOCKS:
        return f"A test has at most {MOST_BLOCKS} blocks. Ask a new one."
    if extras and series.layout.blind:
        return "The letters of this test were drawn by lot, and a further recipe would change them. Ask a new test instead."
    return ""


def with_block(series: Series, panels: Sequence[Panel], repeats: int, seed: int, extras: Sequence[Extra] = ()) -> tuple[Series, Series]:
    """The series with a further block, and the block as a small test of its own, from which its panels and cups are made.

    Raises
    ------
    DribbetError
        If a recipe would have more repeats than there may be.
    """
    most = max((p.repeat for p in panels), default=0) + repeats
    if most > MOST_REPEATS:
        raise DribbetError(f"Some recipe would be poured {most} times. {MOST_REPEATS} are the most in one test: ask a new one.")
    layout = series.layout
    all_extras = (*layout.extras, *extras)
    grown = tuple(replace(e, panels=e.panels + (repeats if i < len(layout.extras) else 0)) for i, e in enumerate(all_extras))
    centre = layout.centre_points
    whole = replace(
        series, repeats=series.repeats + repeats,
        layout=replace(layout, blocks=layout.blocks + 1, extras=grown, centre_points=min(centre + repeats, 6) if centre else 0),
    )  # fmt: skip
    small = replace(
        series, repeats=repeats, seed=seed,
        layout=replace(
            layout, blocks=1, extras=tuple(replace(e, panels=repeats) for e in all_extras), centre_points=min(repeats, 6 - centre) if centre else 0,
            blind=False,
        ),
    )  # fmt: skip
    return whole, small


def panels_of(series: Series, small: Series, before: Sequence[Panel], block: int, new_id: Callable[[], str]) -> tuple[Panel, ...]:
    """Panels of a further block: codes, places and sheets go on where those before ended."""
    letters = dict(zip((a.letter for a in design.arms(small)), (a.letter for a in _same_order(series, small)), strict=True))
    repeats = {letter: max((p.repeat for p in before if p.recipe == letter), default=0) for letter in letters.values()}
    last, sheet = max((p.place for p in before), default=0), max((p.sheet for p in before), default=0)
    made = []
    for p in design.panels(small, new_id):
        letter = letters[p.recipe]
        repeat = repeats[letter] + p.repeat
        made.append(
            replace(
                p, recipe=letter, repeat=repeat, code=f"{series.code}-{letter}{repeat}", place=last + p.place, block=block,
                sheet=sheet + p.sheet if p.sheet else 0,
            )
        )  # fmt: skip
    return tuple(made)


def cups_of(
    series: Series, small: Series, before: Sequence[Mix], block: int, new_id: Callable[[], str], density: Callable[[str], float]
) -> tuple[Mix, ...]:
    """Cups of a further block."""
    letters = dict(zip((a.letter for a in design.arms(small)), (a.letter for a in _same_order(series, small)), strict=True))
    mixes = planning.mixes(small, new_id)
    mixes += planning.side_mixes(small, new_id, len(mixes) + 1, density)
    last = max((m.place for m in before), default=0)
    return tuple(
        replace(m, recipes="".join(letters[one] for one in m.recipes), place=last + m.place, block=block) for m in mixes
    )  # fmt: skip


def _same_order(series: Series, small: Series) -> list[design.Arm]:
    """Recipes of the whole series in the order in which the small test has them: blind letters were drawn by lot."""
    by_what = {(a.settings, a.extra.instead if a.extra else None): a for a in design.arms(series)}
    return [by_what[a.settings, a.extra.instead if a.extra else None] for a in design.arms(small)]
