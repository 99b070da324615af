"""What hands do at a pour, for tests of what follows from it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from dribbet.studio.acts import pouring as acts
from dribbet.studio.standing import panels

if TYPE_CHECKING:
    from dribbet.records import How, Step


def steps(desk, panel) -> list[tuple[str, How]]:
    return [(m.step.value, m.how) for m in desk.need_run().steps if m.panel_id == panel.id]


def go_to(desk, panel, step: Step) -> None:
    while panels.progress_of(desk.need_run(), panel).current is None or panels.progress_of(desk.need_run(), panel).current.plan.step is not step:
        assert acts.go_on(desk, panel)
