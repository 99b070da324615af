"""Today: what is due, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records.wording import first_up
from dribbet.studio.standing.today import Todo
from dribbet.words.night import moved_text
from dribbet.words.tongue import Sentence, n, t
from dribbet.words.units import in_words

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from datetime import datetime

    from dribbet.studio.standing.today import Due

TODO: Final = {
    Todo.LOOK: t("Look at it: {look} check."),
    Todo.MIX: t("Mix its cups."),
    Todo.CHECK: t("Check its colours."),
    Todo.POUR: t("Pour it."),
    Todo.SHOOT: t("Photograph it."),
    Todo.READ: t("Read its photo."),
    Todo.DECIDE: t("All panels of {series} are read. Decide."),
}
AGAIN: Final = t("Read the photo that was taken again.")
NOTHING: Final = t("Nothing is due.")
HINT: Final = t("Ask a question, and its steps appear here.")


def task(due: Due) -> str:
    """What to do, with how many more are alike."""
    words = AGAIN if due.again else TODO[due.todo].format(look=due.look, series=due.series_name)
    if not due.now and not due.overdue and due.moved_s:
        words = words.removesuffix(".") + moved_text(due.moved_s) + "."
    return words + (t(" Then {number} more.", number=in_words(due.panels - 1)) if due.panels > 1 else "")


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
    many = sum(d.now for d in dues)
    return n("{number} thing to do now.", "{number} things to do now.", many, number=first_up(in_words(many))) if many else t("Nothing is due yet.")


def note(now: datetime, local: Callable[[datetime], datetime]) -> str:
    """The day and the hour."""
    return t("{local:%A %-d %B, %H:%M}, all series", local=local(now))


LOOKS_ARE_IN: Final = Sentence("{many} looks are in {name}. Save it anew after the next pour: a file does not follow by itself.")
LOOKS_AS_A_CALENDAR: Final = t("Looks as a calendar")
