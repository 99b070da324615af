"""What the reader makes of worlds that the tests draw, and what a person's corrections then make of that, folded (kept by `same`).

Many small panels of all kinds instead of a few: what one of them never asks for, another does.
No truth of their own, as in `tests/studio/kept_upset.py`.
"""

from __future__ import annotations

import tempfile
from functools import cache, partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.demo.world.draw import KINDS, draw
from dribbet.demo.world.lamps import seen
from dribbet.records import silent
from dribbet.sight.corrected import with_base_told, with_lines_told, without_cell
from dribbet.sight.photographs import ToRead, look_at, read
from dribbet.sight.retold import retold
from dribbet.sight.round_face import Disc
from dribbet.sight.since import since
from dribbet.sight.zones import Where, Zone, part_of
from tests.studio.kept import plain
from tests.studio.kept_upset import folded, tried

if TYPE_CHECKING:
    from collections.abc import Callable

WIDE_MM, HIGH_MM, K = 88.0, 66.0, 8.0
SEEDS = range(900_000, 900_021)
SHEET_MM = (100.0, 75.0)
SHOTS = (("#6E6C68", 0.002, 0.04, 0.62), ("#C8B08A", 0.012, 0.1, 0.5), ("#2E3136", 0.002, 0.02, 0.8), ("#DADADA", 0.012, 0.07, 0.62))
PALETTES = (("#ECE8DC", "#0F6A7A", "#4C7A3A"), ("#FFFFFF", "#1F262A", "#9C2F3C", "#C9902B"), ("#243B6B", "#7FA8C9", "#F0C94A"))


def _kept_in_a_file(rgb: Any) -> Path:
    with tempfile.NamedTemporaryFile(suffix=".png", delete=False) as file:
        path = Path(file.name)
    cv2.imwrite(str(path), cv2.cvtColor(rgb, cv2.COLOR_RGB2BGR))
    return path


@cache
def of_world(seed: int) -> dict[str, Any]:
    """A world that fills the picture."""
    sheet = draw(seed, width_mm=WIDE_MM, height_mm=HIGH_MM, k=K, kind=KINDS[seed % len(KINDS)])
    photo = seen(sheet.linear, K, np.random.default_rng([seed, 3]))
    path = _kept_in_a_file(photo)
    high, wide = photo.shape[:2]
    try:
        corners = ((0.0, 0.0), (wide - 1.0, 0.0), (wide - 1.0, high - 1.0), (0.0, high - 1.0))
        return read(silent, ToRead(main=path, size_mm=(WIDE_MM, HIGH_MM), corners_px=corners))
    finally:
        path.unlink()


def _folded(result: Any) -> Any:
    told = plain(result)
    return {k: folded(v) for k, v in told.items()} if isinstance(told, dict) else folded(told)


def world(seed: int) -> Callable[[], Any]:
    """Figures, outlines and patches of one."""
    return lambda: _folded(of_world(seed))


def mended() -> Any:
    """Cells taken out, base and cracks told, parts and zones of every world, and what holds when it is read anew."""
    made = {}
    for seed in SEEDS:
        result = of_world(seed)
        told, cells = result, len(result["cells"]["items"])
        for i in (cells - 1, cells // 2, 0):
            told = tried(partial(without_cell, told, i)) if cells > 2 else told
        say = [tried(partial(ask, result, yes)) for ask in (with_base_told, with_lines_told) for yes in (True, False)]
        zones = (Zone(20.0, 15.0, 12.0), Zone(70.0, 60.0, 25.0))
        parts = [part_of(result, where, z, here) for where in Where for z in ((), zones) for here in (None, Zone(40.0, 30.0, 18.0))]
        again = [retold(result, result, s) for s in (told, *say) if isinstance(s, dict)]
        made[str(seed)] = [folded(plain(x)) for x in (told, *say, *parts, *again)]
    return made


def beside() -> Any:
    """Every world beside the next, as if it were its earlier stage, upright and turned."""
    told = [since(of_world(a), of_world(b)) for a in SEEDS for b in (a, a + 1) if b in SEEDS]
    return [folded(plain(t)) for t in told]


def _sheet(seed: int) -> Any:
    colours = PALETTES[seed % len(PALETTES)]
    cells = (8, 30, 70)[seed % 3]
    return draw_panel(
        Pour(width_mm=SHEET_MM[0], height_mm=SHEET_MM[1], palette=colours, shares=(2, 1, 1, 1)[: len(colours)], seed=seed, cells_per_dm2=cells)
    )


def photographed() -> Any:
    """Painted panels on tables, corners not given: what each photograph shows of itself, and what is read."""
    made = []
    for seed, (table, noise, tilt, fill) in enumerate(SHOTS):
        photo, _ = photograph(_sheet(seed), Shot(seed=seed + 40, width_px=1500, height_px=1125, table=table, noise=noise, tilt=tilt, fill=fill))
        path = _kept_in_a_file(photo)
        order = ToRead(main=path, size_mm=SHEET_MM)
        try:
            made.append([_folded(look_at(silent, path, "", SHEET_MM)), tried(lambda o=order: _folded(read(silent, o)))])
        finally:
            path.unlink()
    return made


def as_discs() -> Any:
    """Two worlds as the face of a round panel, and two panels with pits, bumps, waves and mica under three lamps."""
    made = []
    for seed in (900_001, 900_004):
        sheet = draw(seed, width_mm=80.0, height_mm=80.0, k=K, kind=KINDS[seed % len(KINDS)])
        panel = draw_panel(
            Pour(
                width_mm=80.0, height_mm=80.0, palette=PALETTES[seed % 3], shares=(3.0, 2.0, 1.0, 1.0)[: len(PALETTES[seed % 3])], seed=seed,
                cells_per_dm2=25.0, mica=0.03 * (seed % 4), slope=0.004, pits=3, bumps=2,
            )
        )  # fmt: skip
        shots = [
            photograph(panel, Shot(seed=seed + n, width_px=1200, height_px=900), lamp)[0] for n, lamp in ((0, "diffuse"), (0, "left"), (3, "right"))
        ]
        paths = [_kept_in_a_file(seen(sheet.linear, K, np.random.default_rng([seed, 3]))), *map(_kept_in_a_file, shots)]
        full = ((0, 0), (639.0, 0), (639.0, 639.0), (0, 639.0))
        try:
            made += [
                _folded(read(silent, ToRead(main=paths[0], size_mm=(80.0, 80.0), corners_px=full, disc=Disc.within(80.0, 80.0)))),
                _folded(read(silent, ToRead(main=paths[1], left=paths[2], right=paths[3], size_mm=(80.0, 80.0)))),
            ]
        finally:
            for path in paths:
                path.unlink()
    return made


WORLDS: dict[str, Callable[[], Any]] = {
    **{f"world {seed}": world(seed) for seed in SEEDS},
    "worlds mended": mended,
    "worlds beside others": beside,
    "photographed": photographed,
    "discs and lamps": as_discs,
}
