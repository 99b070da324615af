"""What Read says."""

from __future__ import annotations

from typing import Final

from dribbet.records.wording import first_up
from dribbet.words.tongue import Counted, Sentence, n, name, t
from dribbet.words.units import in_words, percent

ARE_DOTTED_CRACKS: Final = t(" Are the dotted lines cracks?")
COLOURS_OF_THE_FILM: Final = t("Colours of the film")
COULD_NOT_READ: Final = Sentence("{code} was not read: {error}")
CRACKS_IN_ALL: Final = Counted("In {cracks} crack, up to {length} wide.", "In {cracks} cracks, up to {length} wide.")
DASHED_MAY_BE_NONE: Final = Sentence(" {cells}, dashed, may be none.")
DOTTED_MAY_BE_CRACKS: Final = Sentence("{length} of dotted lines may be cracks (D) or none (P). None is counted until you say.")
GO_TO_DECIDE: Final = t("Go to Decide")
GO_TO_SHOOT: Final = t("Go to Shoot")
MORE_DOTTED_MAY_BE_CRACKS: Final = Sentence(" {length} of dotted lines may be cracks, too (D), or none (P).")
NEWLY_LIT: Final = t(". Photographs under other lamps came in since")
NEXT_PANEL: Final = t("Next panel")
READ_IT_AGAIN: Final = t("Read it again")
READ_THIS_PANEL: Final = t("Read this panel")
GLINTS: Final = Sentence("{shimmer:.1f} glints in each cm². A matt panel gives near 0.02.")
HALF_ARE_WIDER: Final = Sentence("Half of them are wider than \x02{length}\x03. {percent} touch another.{lie}{doubted}")
HATCHED_MAY_BE_BASE: Final = Sentence("{percent} of the face, hatched on the photo, may be base (D) or paint (P).")
IS_HATCHED_BASE: Final = t(" Is the hatched field base?")
KEPT_AT_ONCE: Final = t("What is read is kept at once. You may go on elsewhere.")
LEFT_OUT: Final = Sentence("{code} is left out of the verdict: {reason}. ")
LINES: Final = t("Lines: rings are cells, dashed rings may be cells, dashes are cracks, dotted ones may be, double lines the edge of the paint")
LINES_AND_FAULTS: Final = t(
    "Lines: rings are cells, dashed rings may be cells, dashes are cracks, dotted ones may be, double lines the edge of the paint, "
    "triangles on their tip pits, on their base bumps"
)
LINES_MAY_BE_CRACKS: Final = Sentence("{length} of lines may be cracks or strands. None is counted: look at the photo.")
ARE_GROOVES: Final = Sentence(" {length} of it is a groove under the lamps.")
LIE_FLAT: Final = Sentence(" {length} of that lies flat under the lamps, as paint does.")
NONE_FOUND: Final = t("None found.")
NO_GROOVE: Final = t("None found, nor a groove under the lamps.")
NONE_FOUND_BUT: Final = Sentence("None found, but {length} may be missed: some lines are hard to tell apart.")
NONE_OF_1_MM_OR_MORE: Final = t("None of 1 mm or more.")
NOTHING_TO_READ: Final = t("Nothing to read yet. Photograph a panel on Shoot.")
NOT_READ: Final = Sentence("{code} has not been read.")
NO_BARE_CORNER_IS_SEEN: Final = t("No bare corner is seen.")
NO_CELL_IN_HAND: Final = t("No cell is in hand. Touch one on the photo.")
NO_DIFFUSE_PHOTO: Final = Sentence("{code} has no photo with the diffuse lamp. Take one on Shoot.")
NO_EDGE_HERE: Final = t("Too little of the mirrored edge lies here.")
NO_PHOTO_YET: Final = t("No photo of this panel yet.")
READING_SEVERAL: Final = Sentence("Reading {total} photographs: {done} done.")
READ_BY: Final = Sentence("{stage} photo, read by {reader}")
READ_IT_FIRST: Final = t("This panel has not been read. Read it first.")
SHIMMER_IS: Final = Sentence("Shimmer {shimmer:.2f}.")
STOPS_SHORT: Final = Counted("Paint stops short at {bare} corner.", "Paint stops short at {bare} corners.")
THIS_FAULT: Final = Sentence("This {kind} is {length} wide.")
THIS_CELL: Final = Sentence("This cell is {length} wide and {shape}.")
UNEVEN_IS: Final = Sentence("{percent} uneven.")
UNEVEN_WITHIN: Final = Sentence("Uneven by less than {percent}.")
FLAKES_HIDE: Final = Sentence("Flakes hide what is less than {percent}.")
TOUCH_A_CELL_FIRST: Final = t("Touch a cell first.")


def cells_and_cracks(cells: int, length: str, *, unsure: bool) -> str:
    """What was read in one line: how many cells, and how much crack (empty: none, or none for certain)."""
    count = first_up(in_words(cells))
    if length:
        return n("{count} cell and {length} of crack.", "{count} cells and {length} of crack.", cells, count=count, length=length)
    if unsure:
        return n("{count} cell and no crack for certain.", "{count} cells and no crack for certain.", cells, count=count)
    return n("{count} cell and no cracks.", "{count} cells and no cracks.", cells, count=count)


def shine(grade: str, width: str, contrast: float) -> str:
    """How glossy a film is by the edge that it mirrors; `width`: of the edge, in the person's unit, empty where none is seen."""
    if not width:
        return t("No edge is mirrored: matte, or no board in view.")
    return t(
        "{grade}: the edge is smeared over {width}, {share} of white is mirrored.", grade=first_up(name(grade)), width=width, share=percent(contrast)
    )


def faults(pits: int, bumps: int) -> str:
    """Pits and bumps that the raking lamps show."""
    if not pits and not bumps:
        return t("No pit or bump is seen.")
    pit = n("{count} pit", "{count} pits", pits, count=in_words(pits))
    bump = n("{count} bump", "{count} bumps", bumps, count=in_words(bumps))
    if not pits or not bumps:
        return t("{what} in the surface.", what=first_up(pit if pits else bump))
    return t("{pits} and {bumps} in the surface.", pits=first_up(pit), bumps=bump)


FINDING_THE_PANEL: Final = t("finding the panel")
SQUARING_IT: Final = t("squaring it up")
EDGE_OF_THE_PAINT: Final = t("edge of the paint")
CELLS_IN_EACH_DM2: Final = t("cells in each dm²")
FACE_LEFT_OUT: Final = Sentence(", {share} of its face left out")
STILL_TO_READ: Final = Sentence("; {panels} still to read")
