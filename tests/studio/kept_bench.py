"""What Ask, Mix and Check say of the demo's series, as figures that are kept."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from dribbet.lab.plan import design
from dribbet.records import Goal, Mix
from dribbet.studio.standing import ask, check, contents, cups, mixing, pots, sheets

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk


def asked(desk: Desk, run: Any) -> Any:
    """What Ask says of the plan: its margin, what it takes of what there is, its sheets."""
    found = ask.asked(desk, run)
    return {
        "margin": found.margin,
        "needs": found.needs,
        "rack": found.rack,
        "offers": [(o.same_as, o.current, found.shown_by(o.offer)) for o in found.offers],
        "taken": sheets.taken(found.demand),
        "days": sheets.days(found.plan),
        "protocol": sheets.protocol(found.series, desk.notebook.all(Goal), desk.rules.looks),
        "held": [sorted(ask.not_held(found.series)), ask.steps_held(found.series), ask.more(found.series, done=True, undone=True)],
        "pieces": sheets.panels_with_pieces(found.series) if design.paired(found.series) else None,
    }


def in_the_cup(desk: Desk, run: Any, mix: Mix) -> Any:
    """What Mix says of a cup."""
    here, now = {m.key: m for m in run.shelf}, cups.filling_of(desk, run, mix)
    return {
        "ratio": contents.ratio(desk, mix, here),
        "forecast": contents.forecast(desk, run, mix),
        "really": contents.contents(desk, run, mix, now, here),
        "back": mixing.way_back(desk, mix, now),
        "went in": mixing.went_in(run, mix, now),
        "minded": mixing.minded(desk, run, mix, now, here),
    }


def beside_the_card(desk: Desk, run: Any, group: str) -> list[Any]:
    """What Check says beside the drip card."""
    mends = [check.correction(desk, run, group, m) for m in pots.cups(run, group)]
    return [check.mounds(desk, run, group), check.ways_to_pour(desk, run, group), check.others(desk, run, group), mends]
