"""Today: what is due, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.studio.standing.today import Todo
from dribbet.words.night import moved_text
from dribbet.words.units import in_words

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from datetime import datetime

    from dribbet.studio.standing.today import Due

TODO: Final = {
    Todo.LOOK: "Look at it: {look} check.",
    Todo.MIX: "Mix its cups.",
    Todo.CHECK: "Check its colours.",
    Todo.POUR: "Pour it.",
    Todo.SHOOT: "Photograph it.",
    Todo.READ: "Read its photo.",
    Todo.DECIDE: "All panels of {series} are read. Decide.",
}
NOTHING: Final = "Nothing is due."
HINT: Final = "Ask a question, and its steps appear here."


def task(due: Due) -> str:
    """What to do, with how many more are alike."""
    words = TODO[due.todo].format(look=due.look, series=due.series_name)
    if not due.now and not due.overdue and due.moved_s:
        words = words.removesuffix(".") + moved_text(due.moved_s) + "."
    return words + (f" Then {in_words(due.panels - 1)} more." if due.panels > 1 else "")


def when(due: Due, now: datetime, local: Callable[[datetime], datetime]) -> str:
    """overdue, now, or the time; with its day where that is another."""
    if due.overdue or due.now:
        return "overdue" if due.overdue else "now"
    at = local(due.when)
    return f"{at:%H:%M}" if at.date() == local(now).date() else f"{at:%a %H:%M}"


def head(dues: Sequence[Due]) -> str:
    """How many things are to be done now."""
    if not dues:
        return NOTHING
    n = sum(d.now for d in dues)
    return f"{in_words(n).capitalize()} thing{'s' if n != 1 else ''} to do now." if n else "Nothing is due yet."


def note(now: datetime, local: Callable[[datetime], datetime]) -> str:
    """The day and the hour."""
    return f"{local(now):%A %-d %B, %H:%M}, all series"
