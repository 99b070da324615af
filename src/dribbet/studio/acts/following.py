"""What a person does after a verdict: more panels for this test, the next test, or the closed one opened again."""

from __future__ import annotations

import secrets
from dataclasses import replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.plan import further, stops, templates
from dribbet.lab.plan.factors import NATURES
from dribbet.lab.plan.next_pour import EACH
from dribbet.lab.plan.planning import BASE_KG_M3
from dribbet.notebook.store import new_id
from dribbet.records import BETWEEN, DribbetError, Factor, Level, SeriesState, Varied
from dribbet.studio.acts.deciding import opened
from dribbet.studio.acts.planning import Planning, PlanStopped
from dribbet.studio.standing import again
from dribbet.studio.standing.next_pour import Act

if TYPE_CHECKING:
    from collections.abc import Sequence

    from dribbet.records import Extra, Panel, Response, Series, Wanted
    from dribbet.studio.desk import Desk
    from dribbet.studio.standing.findings import Claim
    from dribbet.studio.standing.next_pour import Proposal


def add_block(desk: Desk, repeats: int, extras: Sequence[Extra] = ()) -> tuple[Panel, ...]:
    """Pour so many panels more of each recipe, in a block of their own with lots drawn anew; returns them.

    Raises
    ------
    DribbetError
        If this test cannot have one, in words.
    PlanStopped
        If an added recipe cannot be mixed.
    """
    run = desk.need_run()
    barred = further.why_not(run.series, run.mixes, extras)
    if barred:
        raise DribbetError(barred)
    whole, small = further.with_block(run.series, run.panels, repeats, secrets.randbelow(2**31), extras)
    found = stops.stops(small)
    if found:
        raise PlanStopped(found)
    block = whole.layout.blocks
    density = {m.key: m.density_kg_m3 for m in desk.shelf()}
    panels = further.panels_of(whole, small, run.panels, block, new_id)
    cups = further.cups_of(whole, small, run.mixes, block, new_id, lambda name: density.get(name, BASE_KG_M3))
    with desk.notebook.transaction():
        for mix in run.mixes:
            if mix.block == 0:  # they were for all panels; now they are for those of the first block
                desk.notebook.replace(replace(mix, block=1))
        desk.notebook.replace(opened(whole, desk.now()) if whole.state is SeriesState.DECIDED else whole)
        desk.notebook.add(*panels, *cups)
    desk.changed()
    return panels


def reopen(desk: Desk) -> None:
    """Open a closed series again; what it said then is kept."""
    run = desk.need_run()
    if run.series.state is not SeriesState.DECIDED:
        raise DribbetError("This series is open.")
    desk.notebook.replace(opened(run.series, desk.now()))
    desk.changed()


DOUBTS: Final = (Factor.FILM_LEFT, Factor.WATER_SHARE, Factor.SILICONE, Factor.HEAT, Factor.DWELL)
"""What is asked next of a recipe that is settled, the first that its test did not vary; any other can be chosen on Ask."""


def follow(desk: Desk, one: Proposal) -> str:
    """Make what a proposal says; returns the station at which the work goes on.

    Raises
    ------
    DribbetError
        If nothing can be made of it, in words.
    """
    run, planning = desk.need_run(), Planning(desk)
    series = run.series
    if one.act is Act.READ:
        return "read"
    if one.act is Act.PHOTOGRAPH:
        panel = again.next_panel(run)
        for place in ("shoot", again.IN_HAND):
            desk.take(place, panel)
        return "shoot"
    if one.act in (Act.REPEAT, Act.SEPARATE):
        add_block(desk, one.repeats, one.extras)
        return "mix"
    if one.act is Act.STOP:
        raise DribbetError("Nothing is left to pour here. Close the series, and ask the next question.")
    if one.act is Act.EQUAL or (one.level is None and one.act is Act.CONTROL):
        planning.mend()
    elif one.act is Act.LARGER and one.level is not None and one.best is not None:
        like = templates.one_change(series, _whole(one.settings), Varied(factor=Factor.PANEL_SIZE, levels=(one.best, one.level)))
        planning.start(replace(like, repeats=max(series.repeats, EACH)), series.code)
    elif one.act is Act.CONFIRM:
        factor = next(f for f in DOUBTS if not series.varies(f))
        levels = tuple(Level(value=v) for v in NATURES[factor].start if not isinstance(v, str))
        like = templates.one_change(series, _whole(one.settings), Varied(factor=factor, levels=levels))
        planning.start(replace(like, repeats=max(series.repeats, EACH)), series.code)
    elif one.level is not None and one.best is not None:
        varied = series.varied[one.which]
        like = templates.one_change(series, _whole(one.settings), replace(varied, levels=(one.best, one.level)))
        planning.start(replace(like, repeats=max(one.repeats, EACH)), series.code)
    return "ask"


def _whole(settings: tuple[int, ...]) -> tuple[int, ...] | None:
    return None if BETWEEN in settings or not settings else settings


def _last_of(desk: Desk, claim: Claim) -> Series:
    """The last test of a claim, or the newest that varied the same."""
    like = (
        claim.tests[-1].series
        if claim.tests
        else next((s for s in reversed(desk.all_series()) if any(v.words == claim.varied.words for v in s.varied)), None)
    )
    if like is None:
        raise DribbetError("No test of this is in the notebook any more. Ask it on Ask.")
    return like


def settle(desk: Desk, claim: Claim, repeats: int) -> None:
    """Start the test that would settle a claim: its two ends, so many panels each, all else as in its last test."""
    like = _last_of(desk, claim)
    levels = (claim.first, claim.second)
    made = templates.one_change(like, None, replace(claim.varied, levels=levels))
    made = replace(made, varied=(replace(claim.varied, levels=levels),), repeats=repeats, responses=_first(like, claim.response))
    Planning(desk).start(made, like.code)


def _first(series: Series, response: Response) -> tuple[tuple[Response, Wanted], ...]:
    """What a series asks, one response in front."""
    return tuple(sorted(series.responses, key=lambda r: r[0] is not response))
