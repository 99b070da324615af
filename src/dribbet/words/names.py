"""Names of the records' enumerations, as a catalogue collects them: what is stored is said by `tongue.name`, in the language of the window."""

from __future__ import annotations

from typing import Final

from dribbet.words.tongue import t

NAMES: Final = (
    t("paint"), t("opacity"), t("medium"), t("ratio"), t("water share"), t("third liquid"), t("consistency"), t("source of the water"),
    t("silicone"), t("colour with silicone"), t("kind of silicone"), t("alcohol"), t("strength of alcohol"), t("anti-craze additive"),
    t("shimmer medium"), t("finish of the paint"), t("base"), t("sheen of the base"), t("thickness of the base"), t("water in the base"),
    t("base product"), t("additive in the base"), t("activator"), t("amount of activator"), t("place of the activator"),
    t("how the silicone is stirred in"), t("technique"), t("order of layers"), t("number of layers"), t("paint poured"), t("film left"),
    t("heat"), t("moment of heat"), t("distance of the flame"), t("second heat"), t("rest under the cup"), t("height of the pour"),
    t("way of blowing"), t("distance of the blow"), t("turns of the spin"), t("wait before the stretch"), t("time of tilting"),
    t("way of tilting"), t("where it is heated"), t("height of the lift"), t("which cup is lifted first"), t("where it is poured"),
    t("height of the rings"), t("width of the rings"), t("way of the pull"), t("tool of the swipe"), t("way of the swipe"),
    t("passes of the swipe"), t("direction of the blow"), t("speed of the spin"), t("what is pressed on"),
    t("rest of the mix"), t("treatment when dry"), t("panel size"), t("something of my own in the cup"), t("something of my own"), t("flip cup"),
    t("open cup"), t("straight pour"), t("ring pour"), t("pull-back"), t("swipe"), t("Dutch pour"), t("bloom"), t("dirty pour"),
    t("graduated cups"), t("transposed"), t("crack length"), t("any crack"), t("time to the first crack"), t("cell count"), t("cell width"),
    t("spread"), t("lacing"), t("shimmer"), t("vividness"), t("unevenness"), t("shine"), t("edge"), t("semi-gloss"),
    t("surface faults"), t("pit"), t("bump"), t("more"), t("less"), t("equal recipe"), t("equal flow"), t("equal paint share"),
    t("equal cost"), t("recipe by recipe"), t("every combination"), t("a chosen part of them"), t("side by side on one panel"), t("smudged"),
    t("over-torched"), t("ran off a corner"), t("dust or hair"), t("cup slipped"), t("spill"), t("crumb"), t("insect"), t("water dropped on"),
    t("retouched"), t("another product used"), t("globs on top"), t("runs fast"), t("stays put"), t("sinks at once"), t("splits"), t("matte"),
    t("satin"), t("gloss"), t("opaque"), t("semi-opaque"), t("transparent"), t("thinner"), t("additive"), t("house mix"), t("real"),
    t("could be chance"), t("too few panels to say"), t("diffuse"), t("left"), t("right"), t("wet"), t("12 h"), t("24 h"), t("48 h"), t("dry"),
    t("7 d"), t("cured"), t("no base"), t("water mist"), t("rim only"), t("flood coat"), t("pillow"), t("met"),
    t("met in direction, but smaller than expected"), t("not met"), t("cannot be told yet"), t("thin"), t("safe"), t("risky"), t("cracks"),
    t("skin"), t("touch-dry"), t("through-dry"),
)  # fmt: skip
