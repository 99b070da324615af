"""Figures of the reader on what this folder's tests draw, kept under its name in tests/reference/reader.json.

Renewed with a new version of the reader, after it was measured: `python -m tests.sight.same`.
"""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel, linear_of
from dribbet.sight import READER, breaks, cells, colour, lines, trees
from dribbet.sight import measure as sight
from dribbet.sight.card import find_card
from dribbet.sight.corners import find_corners
from dribbet.sight.drips import read_drips
from dribbet.sight.network import see
from dribbet.sight.rings import read_ring
from tests.kept_constants import constants_of
from tests.sight import drawn, test_kinds_of_panels, test_places, test_rings
from tests.sight.same_worlds import WORLDS
from tests.studio.kept import plain

if TYPE_CHECKING:
    from collections.abc import Callable

KEPT = Path(__file__).parents[1] / "reference" / "reader.json"


def drips() -> Any:
    """Dark, pale, nearly white, and one that leaves the card."""
    photo = drawn.drip_card_photo(["#0F6A7A", "#F3F5F6", "#ECE8DC", "#9C2F3C"], (33.0, 44.0, 58.0, 80.0), seed=5)
    return [asdict(d) for d in read_drips(photo)]


def rings() -> Any:
    """A clear ring, a faint one, none."""
    return [asdict(read_ring(test_rings.photo(ratio, cloud=cloud, seed=4))) for ratio, cloud in ((0.35, 0.45), (0.2, 0.25), (0.0, 0.45))]


def panel_of(kind: str) -> Callable[[], Any]:
    """A panel of one kind, corners given."""
    return lambda: sight.as_json(test_kinds_of_panels.read(kind)[1])


def corners() -> Any:
    """A panel on a plain table with its card, on the same without, of a size that is not its own, and turned."""
    panel = draw_panel(Pour(width_mm=120, height_mm=90, palette=("#ECE8DC", "#0F6A7A", "#4C7A3A"), shares=(2, 1, 1), seed=3, cells_per_dm2=20))
    made = []
    for seed, width, card in ((1, 120.0, True), (3, 120.0, False), (2, 140.0, True)):
        photo, _ = photograph(panel, Shot(seed=seed, width_px=1600, height_px=1200, table="#6E6C68", noise=0.005))
        found = find_corners(photo, width, 90.0, find_card(photo) if card else None)
        made.append({"corners": np.round(found.corners_px, 2).tolist(), "doubt": found.doubt})
    return made


def on_other_tables() -> Any:
    """Corners on a lined mat, beside a hard shadow, and on a panel of pieces."""
    panel = draw_panel(Pour(width_mm=120, height_mm=90, palette=("#ECE8DC", "#0F6A7A", "#4C7A3A"), shares=(2, 1, 1), seed=3, cells_per_dm2=20))
    shaded, _ = test_places.shadowed(panel)
    parted = panel.linear.copy()
    parted[:, 430:470] = linear_of("#6E6C68")  # a band of the table's colour through it
    pieces, _ = photograph(replace(panel, linear=parted), Shot(seed=4, width_px=1600, height_px=1200, table="#6E6C68", noise=0.004))
    made = []
    for photo, card in ((test_places.on_a_mat(panel, 1)[0], False), (test_places.on_a_mat(panel, 4)[0], False), (shaded, True), (pieces, True)):
        found = find_corners(photo, 120.0, 90.0, find_card(photo) if card else None)
        made.append({"corners": np.round(found.corners_px, 2).tolist(), "doubt": found.doubt})
    return made


def _scene() -> tuple[Any, ...]:
    drawn_panel, m = test_kinds_of_panels.read("cracked")
    even = m.flat.astype(np.float32) / 255.0
    maps = see(even, m.px_per_mm)
    centres, _ = colour.modes(m.lab, m.spread.covered)
    return m, maps, centres, drawn_panel


def lines_asked() -> Any:
    """What the forests for lines are asked, on the mean: they were grown on these figures, and know no others."""
    m, maps, centres, _ = _scene()
    scene = lines.Scene.of(m.lab, centres, m.cells.labels, m.spread.covered, maps, m.px_per_mm)
    told = {}
    for polarity in lines.RIDGES:
        segments = lines.find_segments(scene, polarity)
        odds = trees.scores(lines.FOREST, segments.features)
        told[str(polarity)] = [len(segments.features), *lines.company(segments, odds).astype(float).mean(axis=0).round(4).tolist()]
    return told


def pieces_asked() -> Any:
    """What the forest for pieces is asked, piece by piece."""
    m, maps, centres, _ = _scene()
    scene = lines.Scene.of(m.lab, centres, m.cells.labels, m.spread.covered, maps, m.px_per_mm)
    ridges = [breaks.Ridge.of(scene, polarity) for polarity in lines.RIDGES]
    return breaks.described(breaks.joined(ridges, m.px_per_mm), ridges, m.px_per_mm).astype(float).round(3).tolist()


def cells_asked() -> Any:
    """What the forest for cells is asked, on the mean and between panels' tenths."""
    m, maps, centres, _ = _scene()
    found, features, _ = cells.candidates(m.lab, centres, m.px_per_mm, maps)
    return [len(found.contours), *np.percentile(features.astype(float), (10, 50, 90), axis=0).round(4).ravel().tolist()]


def more_drips() -> Any:
    """Close together, pale beside dark, in the edge of a shadow."""
    colours = ["#0F6A7A", "#1F262A", "#9C2F3C", "#F3F5F6", "#4C7A3A", "#C9902B", "#1F262A"]
    photo = drawn.drip_card_photo(colours, (55.0, 10.0, 35.0, 44.0, 23.0, 51.0, 30.0), seed=4).astype(np.float32)
    rows, columns = np.mgrid[0 : photo.shape[0], 0 : photo.shape[1]]
    edge = 1 / (1 + np.exp(-(columns + 0.4 * rows - 900) / 30.0))
    return [asdict(d) for d in read_drips(np.clip(photo * (1 - 0.12 * edge)[..., None], 0, 255).astype(np.uint8))]


def constants() -> Any:
    """Tables and thresholds of the reader."""
    return plain(constants_of("dribbet.sight"))


RECORDED: dict[str, Callable[[], Any]] = {
    "constants": constants,
    "drips": drips,
    "rings": rings,
    "corners": corners,
    "on other tables": on_other_tables,
    "more drips": more_drips,
    "lines asked": lines_asked,
    "cells asked": cells_asked,
    "pieces asked": pieces_asked,
    "bare": panel_of("bare"),
    "cracked": panel_of("cracked"),
    "lacing": panel_of("lacing"),
    **WORLDS,
}


@cache
def now(name: str) -> Any:
    """What the reader says now, as the file keeps it."""
    return json.loads(json.dumps(RECORDED[name]()))


if __name__ == "__main__":
    said = {"reader": READER, **{name: now(name) for name in RECORDED}}
    KEPT.write_text("{\n" + ",\n".join(f"{json.dumps(name)}: {json.dumps(told)}" for name, told in said.items()) + "\n}\n")
