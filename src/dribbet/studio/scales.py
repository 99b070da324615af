"""Which scale a notebook weighs on: none (typed), the practice one, or one on a serial line."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Final

from dribbet.devices import FORMATS, LineFormat, SerialScale, SimulatedScale, lines_there
from dribbet.records import HouseRules

if TYPE_CHECKING:
    from dribbet.devices import Scale
    from dribbet.studio.desk import Desk

SETTING: Final = "scale"
PRACTICE: Final = "practice"
FAULTY: Final = "practice, with faults"
FAULTS_EVERY_S: Final = 25.0
WHERE: Final = (Path("/dev"),)
LONGEST: Final = 12  # longer names of lines do not fit their key


def choices(now: str, roots: tuple[Path, ...] = WHERE) -> list[str]:
    """What can be chosen: typed, practice, every serial line there is, and the one in use even while it is unplugged."""
    found = ["", PRACTICE, FAULTY, *(str(p) for p in lines_there(roots))]
    return found if now in found else [*found, now]


def words(choice: str) -> str:
    """A choice as one says it."""
    name = Path(choice).name
    return {"": "typed", PRACTICE: "practice", FAULTY: "practice, faults"}.get(choice, name if len(name) <= LONGEST else "serial line")


def scale_for(choice: str, rules: HouseRules | None = None) -> Scale | None:
    """Make the scale of a choice; a serial one opens its line at the first reading, at the person's speed and line format."""
    if not choice:
        return None
    if choice in (PRACTICE, FAULTY):
        return SimulatedScale(faults_every_s=FAULTS_EVERY_S if choice == FAULTY else 0.0)
    rules = rules or HouseRules()
    own = (LineFormat(name="own", pattern=rules.serial_pattern),) if rules.serial_pattern else ()
    return SerialScale(Path(choice), baud=rules.serial_baud, formats=(*own, *FORMATS))


def chosen(desk: Desk) -> str:
    """What the notebook was set to."""
    return str(desk.notebook.setting(SETTING, PRACTICE if isinstance(desk.scale, SimulatedScale) else ""))


def choose_next(desk: Desk, roots: tuple[Path, ...] = WHERE) -> None:
    """Go on to the next choice; the old line is let go."""
    now = chosen(desk)
    known = choices(now, roots)
    then = known[(known.index(now) + 1) % len(known)]
    if isinstance(desk.scale, SerialScale):
        desk.scale.close()
    desk.notebook.put_setting(SETTING, then)
    desk.scale = scale_for(then, desk.rules)
    desk.changed()


def renew(desk: Desk) -> None:
    """Open a serial scale anew, at the speed and in the line format that Bench rules say now."""
    if isinstance(desk.scale, SerialScale):
        desk.scale.close()
        desk.scale = scale_for(chosen(desk), desk.rules)
