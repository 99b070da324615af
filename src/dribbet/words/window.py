"""What the window says of itself, its notebook and what came due."""

from __future__ import annotations

from typing import Final

from dribbet.words.tongue import Counted, Sentence, t

ANOTHER_HAS_IT_OPEN: Final = t("Another has this notebook open. When it closes, this one takes over.")
BUBBLES_ARE_OUT: Final = Counted("{rested} has rested. The bubbles are out.", "{rested} have rested. The bubbles are out.")
CANNOT_BE_HANDED_OVER: Final = Sentence("{what} cannot be handed over: {error}")
CELLS_FROM: Final = Sentence("{cells} from {least_mm} mm")
COUNTS_AGAIN: Final = Sentence("{code} counts again.")
FILM_IN_UNIT: Final = Sentence("Film on the panel, {unit}")
FILM_ON_PANEL: Final = Sentence("Film on the panel {code}")
LAST_LOST: Final = Counted("{things} thing that was saved last is not there.", "The last {things} things that were saved are not there.")
LEFT_OUT: Final = Sentence("{code} is left out of the verdict: {reason}. {key} counts it again.")
LEFT_OUT_UNREAD: Final = Counted("{entries} entry cannot be read and is left out.", "{entries} entries cannot be read and are left out.")
LOG_FILE_LOST: Final = t(
    "The file notebook.sqlite3-wal was lost, or an older notebook put in its place. If you have it, close this window and put it back."
)
LOOK_AT_PANEL: Final = Sentence("Look at {code}, {look}.")
MAKE_A_WHOLE_COPY: Final = Sentence("Make a whole copy: dribbet verify {name} --repair NEW.dribbet")
MAY_NOT_BE_WRITTEN: Final = Sentence("{folder} may not be written. Copy it to a disk that may.")
MEMORY_IS_FULL: Final = t("The memory is full. Close other programs, then do it again; what was saved stays.")
MORE_DUE: Final = Counted(" {more} more is due.", " {more} more are due.")
NOT_COPIED: Final = Sentence("Today's copy could not be kept. {error}")
ON_THE_SCALE: Final = Sentence("On the scale: {figure} {unit}")
OPEN_AGAIN: Final = Sentence(" {name} was decided; its figures changed, so it is open again.")
OTHER_SERIES: Final = Sentence("{others} other series")
SERIES_IN_HAND: Final = Sentence("Series {name}. Press to choose another.")
STUMBLED: Final = Sentence("Dribbet stumbled over this. What you see is what is stored: do it again, or go on elsewhere.{told}")
THIS_WINDOW_ONLY_READS: Final = t("This window only reads.")
TIME_IS_UP: Final = Sentence("{treatment} of {code}: time is up.")
WHY_LEFT_OUT: Final = Sentence("Why is {code} left out? Press, or type it and press Enter. Esc leaves it as it was.")
WORK_STOPPED: Final = t("The work stopped before it was done; the memory may be full. Close other programs and try again.")
WRITES_NOW: Final = t("The other window is gone. This one writes now.")
WRITTEN_IN: Final = Sentence(" What happened is written in {where}.")
