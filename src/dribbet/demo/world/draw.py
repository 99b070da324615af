"""One panel of any world: ground, film, lacing, cells, cracks, bare places and what settled, in an order that life allows."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import cv2
import numpy as np

from dribbet.demo.world.cells import SCATTERS, open_cells, packed, parted, pinholes, strung
from dribbet.demo.world.films import film
from dribbet.demo.world.flow import carried, moved
from dribbet.demo.world.fractures import break_up, craze, kinds_of
from dribbet.demo.world.grounds import lay_ground, reach, uncover
from dribbet.demo.world.marks import settle
from dribbet.demo.world.palettes import base_coat, palette
from dribbet.demo.world.sheet import Sheet, between, blank, chance
from dribbet.demo.world.webs import hang

if TYPE_CHECKING:
    from collections.abc import Sequence

KINDS: Final = ("mixed", "cells", "tilted", "lacing", "cracked", "calm", "all")
SHARES: Final = (0.20, 0.30, 0.14, 0.11, 0.11, 0.07, 0.07)  # cells are what is asked most, and take longest to learn
HELD_OUT: Final = ("foam", "chains")
"""Worlds that the reader is marked on: chains never teach; crowds that met everywhere do, but never over a whole panel."""


def draw(seed: int, *, width_mm: float = 96.0, height_mm: float = 80.0, k: float = 8.0, kind: str = "") -> Sheet:
    """Draw one panel; what it holds follows from the seed, or from the kind that is asked for."""
    rng = np.random.default_rng([seed, 7])
    kind = kind or str(rng.choice(KINDS, p=SHARES))
    colours = palette(rng)
    sheet = blank(width_mm, height_mm, k, colours, base_coat(colours, rng), rng)
    relief = lay_ground(sheet)
    ground = sheet.linear.copy()
    sheet.bare = reach(sheet)
    if kind == "tilted":
        _tilt(sheet)
    else:
        sheet.linear = film(sheet.shape, k, colours, rng)
    wants = {
        "mixed": ("cells", "cracks") if chance(rng, 0.4) else ("lacing", "cells"),
        "cells": ("cells", "cells") if chance(rng, 0.35) else ("cells",),
        "lacing": ("lacing", "lacing") if chance(rng, 0.3) else ("lacing",),
        "cracked": ("cracks",),
        "calm": (),
        "tilted": ("lacing",) if chance(rng, 0.2) else (),
        "all": ("lacing", "cells", "cracks"),
        "foam": ("foam",),
        "chains": ("chains", "lacing"),
    }[kind]
    _fill(sheet, wants)
    pinholes(sheet, between(rng, 0.5, 60))
    uncover(sheet, ground)
    if "cracks" in wants:
        (craze if chance(rng, 0.25) else lambda s: break_up(s, kinds_of(s)))(sheet)
    settle(sheet, relief)
    return sheet


def _tilt(sheet: Sheet) -> None:
    """Film and cells drawn out together along one way, as a panel that was tilted far: what opened round is long now, its rim too."""
    rng, k, (high, wide) = sheet.rng, sheet.k, sheet.shape
    ratio = between(rng, 1.5, 5.0)
    along = chance(rng, 0.5)
    size = (high, round(wide / ratio)) if along else (round(high / ratio), wide)
    narrow = blank(size[1] / k, size[0] / k, k, sheet.colours, sheet.base, rng)
    narrow.linear = film(narrow.shape, k, sheet.colours, rng)
    _fill(narrow, ("cells", "cells") if chance(rng, 0.3) else ("cells",))
    shift = carried(sheet.shape, k, rng, reach_mm=between(rng, 1.0, 12.0), eddy_mm=between(rng, 15, 60), tilt=rng.uniform(0, 2))
    sheet.linear = np.asarray(moved(cv2.resize(narrow.linear, (wide, high), interpolation=cv2.INTER_LINEAR), shift), np.float32)
    cells = cv2.resize(narrow.cells.astype(np.float32), (wide, high), interpolation=cv2.INTER_NEAREST)
    cells = np.asarray(moved(cells, shift, exact=True)).astype(np.int32)
    cells[sheet.bare] = 0
    sheet.cells, _ = parted(cells, k)


def _fill(sheet: Sheet, wants: Sequence[str]) -> None:
    teaching = tuple(s for s in SCATTERS if s[0] is not strung)
    for want in wants:
        if want == "lacing":
            hang(sheet)
        elif want == "cells":
            open_cells(sheet, teaching)
        elif want == "foam":
            open_cells(sheet, ((packed, 1.0),))
        elif want == "chains":
            open_cells(sheet, ((strung, 1.0),))
    sheet.lacing[sheet.cells > 0] = 0
    sheet.linear = cv2.GaussianBlur(sheet.linear, (0, 0), 0.35)
