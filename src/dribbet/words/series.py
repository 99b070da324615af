"""What the list of series says."""

from __future__ import annotations

from typing import Final

from dribbet.words.tongue import Sentence, t

ASK_NAME: Final = t("Type a name for the series in hand and press Enter.")
CHOOSE_OR_START: Final = t("Choose a series, or start a new one.")
NONE_HOLDS_THESE_WORDS: Final = t("No series holds these words. Take some away.")
NO_SERIES_YET: Final = t("No series yet. Start one.")
QUESTION: Final = Sentence("Does {asked} of {levels} change {responses}{others}?")
QUESTION_IN_SHORT: Final = Sentence("Does {asked} change {responses}?")
FIND_A_SERIES: Final = t("find a series: name, code or what it varies")
NAME_OF_THIS_SERIES: Final = t("name of this series")
THIS_WINDOW_ONLY_READS: Final = t(" (this window only reads: another one has it open)")
