"""Luck, and what the bench has to do with it, as one says it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.paint import experience
from dribbet.lab.plan.responses import SCALES
from dribbet.records import Response
from dribbet.records.wording import first_up
from dribbet.words.tongue import n, name, t

if TYPE_CHECKING:
    from dribbet.studio.learned import Learned
    from dribbet.words.units import Units


def luck(learned: Learned, units: Units) -> list[str]:
    """How much panels poured alike differ, for each response that has repeats."""
    made = []
    for response in Response:
        known = learned.scatter(response)
        if known is None:
            continue
        scale = SCALES[response]
        value = units.length_text(known.sd, scale.digits) if scale.unit == "mm" else f"{known.sd:.{scale.digits}f} {scale.unit}".strip()
        if round(known.sd, scale.digits) == 0.0:
            value = t("less than {least:g} {unit}", least=10.0**-scale.digits, unit=scale.unit).strip()
        made.append(
            n(
                "{response}: panels poured alike differ by {value} (rests on {count} repeat).",
                "{response}: panels poured alike differ by {value} (rests on {count} repeats).",
                known.df, response=first_up(name(response)), value=value, count=known.df,
            )
        )  # fmt: skip
    return made


def seen(learned: Learned) -> list[str]:
    """Sheens in the cup, and signs while pouring against the mounds before it."""
    told = learned.panels_seen()
    made = []
    unlike, alike = experience.by_sheen(told)
    cells = [e.means.get(Response.CELL_COUNT) for e in (unlike, alike)]
    if unlike.panels and cells[0] is not None:
        against = (
            t("; of like sheen: {cells:.0f} on {panels}", cells=cells[1], panels=alike.panels)
            if cells[1] is not None
            else t("; none with neighbours of like sheen yet")
        )
        made.append(
            t(
                "Sheen: with neighbours of unlike sheen in the cup {cells:.0f} cells a dm² on {panels} panels{against}. "
                "Other things differ between them, too: ask it as a test.",
                cells=cells[0], panels=unlike.panels, against=against,
            )
        )  # fmt: skip
    for s in experience.of_signs(told):
        made.append(
            t(
                "“{sign}” while pouring: their mounds had held {noted:.1f} s ({panels}), the others' {others_s:.1f} s ({others}).",
                sign=first_up(str(s.sign)), noted=s.mound_s, panels=n("{count} panel", "{count} panels", s.panels, count=s.panels),
                others_s=s.others_mound_s, others=s.others,
            )
        )  # fmt: skip
    return made


WAIT_NOT_STEADY: Final = t("Wait: not steady")
