"""Undo and redo of planning: what a series was before each change, and after."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from dribbet.records import Series

MOST: Final = 200


@dataclass(slots=True)
class History:
    """Steps that can be taken back, and those that were."""

    done: list[Series] = field(default_factory=list)
    undone: list[Series] = field(default_factory=list)

    def changed(self, before: Series) -> None:
        """Remember what was before a change; what was taken back is gone."""
        self.done.append(before)
        del self.done[:-MOST]
        self.undone.clear()

    def back(self, now: Series) -> Series | None:
        """Return what was before the last change; None where there is none."""
        if not self.done:
            return None
        self.undone.append(now)
        return self.done.pop()

    def forth(self, now: Series) -> Series | None:
        """Return what the last step back had undone; None where there is none."""
        if not self.undone:
            return None
        self.done.append(now)
        return self.undone.pop()
