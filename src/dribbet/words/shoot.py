"""What Shoot and Read say of a panel that is photographed again."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.records import Lamp, Where
from dribbet.studio.standing.again import Next
from dribbet.words.decide import amount
from dribbet.words.tongue import Sentence, n, t
from dribbet.words.units import NARROW, in_words

if TYPE_CHECKING:
    from dribbet.records import Response
    from dribbet.words.units import Units


THE_EDGE: Final = t(
    "Now stand a lit white board behind the panel, so that the camera sees its upright edge mirrored across the middle; nothing else moved."
)


def now(lamp: Lamp) -> str:
    """What light the next photograph of the same pose wants."""
    return t("Good.") + " " + THE_EDGE if lamp is Lamp.EDGE else NOW_THE_LAMP(lamp=lamp)


def again(code: str, which: int, lamp: Lamp, first_lamp: Lamp) -> str:
    """How to take the next photograph of the same panel."""
    if lamp is Lamp.EDGE:
        return THE_EDGE
    if lamp is not first_lamp:
        return t("Now the {lamp} lamp, nothing else moved.", lamp=lamp)
    return t("Take {code} up and lay it down anew: photograph {which} of five.", code=code, which=in_words(which))


def enough(code: str, count: int) -> str:
    """Enough of them."""
    return t("{count} photographs of {code}. Read them, or photograph another panel again.", count=in_words(count).capitalize(), code=code)


WHY = t("Turn it a little, and the card. What the photographs differ by, photographing alone does: no smaller difference is called real.")
AGAIN_KEY = t("Again")
ENOUGH_KEY = t("Enough")


def size(size_text: str, *, is_round: bool, measured: bool) -> str:
    """How large the panel is that is photographed."""
    shape = t("{size}, round", size=size_text) if is_round else size_text
    return t("{size}, as you measured it", size=shape) if measured else shape


SIZE_KEY = t("Own size")
KEEP_SIZE_KEY = t("Keep this size")
LEAVE_SIZE_KEY = t("Leave it")


def ask_size(code: str, planned: str) -> str:
    """Ask for the size of a panel."""
    return t("How large is {code}? Planned: {size}.", code=code, size=planned)


def sides(wide: str, high: str) -> tuple[str, str]:
    """What stands at the upper and at the left side of a panel whose size is typed."""
    return t("width {length}", length=wide or "?"), t("height {length}", length=high or "?")


def size_note(*, measured: bool) -> str:
    """What the size is for, and how to take back what was measured."""
    why = t("Type width and height of the whole panel, by the ruler. All millimetres rest on it: what was read of it is read again.")
    return why + " " + t("Nothing typed: the planned size holds again.") if measured else why


def no_size(typed: str, example: str) -> str:
    """What was typed is no size."""
    return t("“{typed}” is no size. Type width and height, such as {example}.", typed=typed[:20], example=example)


TELLING_MM: Final = 5.0  # less than this, a length is as sure as it is written
PARTS = {Where.WHOLE: t("Zone"), Where.MIDDLE: t("Middle"), Where.RIM: t("Rim"), Where.HERE: t("Ring")}
ON = {
    Where.WHOLE: t("on the whole panel"),
    Where.MIDDLE: t("in its middle, dashed on the photo"),
    Where.RIM: t("on its rim, dashed on the photo"),
    Where.HERE: t("in the dashed ring"),
}
DRAW_THE_RING = t("Draw the ring on the photo: press where its middle is, and pull it as wide as you want. Arrows move it.")


def part_cells(where: str, count: int, wide: str, long: float) -> str:
    """Cells of a part of a panel."""
    counted = n("{count} {where}.", "{count} {where}.", count, count=count, where=where)
    return counted + " " + t("Half are wider than {wide}, and {long:.1f} times as long as wide.", wide=wide, long=long)


def none(where: str) -> str:
    """No cells there."""
    return t("None {where}.", where=where)


def off(mm: float, units: Units) -> str:
    """How far a crack length may be off, where that matters."""
    return " " + t("It may be off by {mm}.", mm=units.length_text(mm)) if mm >= TELLING_MM else ""


def waiting(count: int) -> str:
    """Photographs taken again that nobody has read."""
    return n("{count} photograph taken again is still to read", "{count} photographs taken again are still to read", count, count=in_words(count))


def ranged(response: Response, low: float, high: float, count: int, units: Units) -> str:
    """What a figure came out as on all photographs of one panel."""
    most = amount(response, high, units)
    if amount(response, low, units) == most:
        return t("The same on all {count} photographs.", count=in_words(count))
    least = amount(response, low, units).replace(NARROW, " ").partition(" ")[0]
    return t("{low} to {high} on {count} photographs; their mean counts.", low=least, high=most, count=in_words(count))


ALL_SO: Final = Sentence("All {more} so, in pouring order")
CAMERA_READY: Final = Sentence("{name} is ready.")
CANNOT_BE_READ: Final = Sentence("{name} cannot be read. Check that it is still there.")
CAN_BE_READ: Final = Sentence("{code} can be read.")
LAMPS_SHOW_CRACKS: Final = t(
    "Photographs with the lamp left and right, too (L), show cracks that no colour shows. Take them of every panel, or of none."
)
DRY_FIRST: Final = t("Photograph the panel dry first; then it can be taken up and photographed again.")
IN_NOTEBOOK_ALREADY: Final = Sentence("{name} is in the notebook already{where}. Choose another photo.")
IS_IT_PANEL: Final = Sentence("{name} {what}. Is it {code}?")
MORE_TO_ASK: Final = Sentence("{more} more to ask after it.")
NOTHING_TO_SHOOT: Final = t("Nothing to shoot. Draw lots on Ask and pour a panel first.")
NOW_THE_LAMP: Final = Sentence("Good. Now the {lamp} lamp, nothing else moved.")
NO_CAMERA: Final = t("No camera: bring photos in from files, or drop them here.")
NO_PANEL_WANTS_A_PHOTO: Final = t("No panel wants a photo. Draw lots on Ask first.")
NO_PHOTO_FILE: Final = Sentence("{name} is not a photo that can be read. Use JPEG, PNG, TIFF, WebP or HEIC.")
NO_PHOTO_TO_LEAVE_OUT: Final = t("There is no photo to leave out.")
NO_PHOTO_YET: Final = t("No photo yet. Put the card beside the panel and press Space, or drop photos here.")
PANELS_OF_THIS_SERIES: Final = t("Panels of this series")
PANELS_THAT_WANT_A_PHOTO: Final = t("Panels that want a photo")
PHOTOS_OF_THE_PANELS: Final = t("Photos of the panels")
PLAYS_MADE_UP_PHOTOS: Final = Sentence("{name}: plays made-up photos, no real camera is plugged in. Photos from files always work.")
PUT_UNDER_LAMP: Final = Sentence("Put {code} under the {lamp} lamp, the card beside it.")
TAKE_IT_EDGE: Final = t("Take it: mirrored edge")
TAKE_IT_LAMP: Final = Sentence("Take it: lamp {lamp}")
TOO_MANY_PHOTOS: Final = Sentence("{left} photos for {taken} panels. The first {taken} were taken; bring the others in one by one.")
WAIT_LOOKING: Final = t("Wait: looking at the photo")
GO_TO_ASK: Final = t("Go to Ask")
NEXT_KEYS: Final = {Next.BRING: t("Bring photos in"), Next.PANEL: t("Next panel"), Next.READ: t("Go to Read")}


def next_key(does: Next, lamp: Lamp, *, anew: bool = False) -> str:
    """What the one key does: bring photographs in, go on with the next panel, go to Read, or take a photograph; `anew`: the last is spoiled."""
    if anew and does is Next.TAKE:
        return t("Take it again: {lamp}", lamp=lamp)
    return NEXT_KEYS.get(does) or (TAKE_IT_EDGE if lamp is Lamp.EDGE else TAKE_IT_LAMP(lamp=lamp))


NAMES_NO_PANEL: Final = t("names no panel")
