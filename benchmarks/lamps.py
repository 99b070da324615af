"""Cracks read in even light alone, and with a photograph under a lamp at the left and one under a lamp at the right.

    PYTHONPATH=. python benchmarks/lamps.py [--workers 2] [--first 0] [--each]

Panels of the fourth and the fifth hand (training/), cracked and not, and panels whose film is closed over its cracks, so that no colour shows them.
By turns their surface is smooth, glitters, is wavy with pits and bumps, or shows the weave of a canvas; the phone is nudged before each lamp. Prints
for each kind the F1 of its cracks (or the false ones, mm per dm2) and how many millimetres of lines a person is asked about: alone, with the lamps.
"""

from __future__ import annotations

import argparse
import dataclasses
import multiprocessing
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np
from benchmarks.repeats import BASIC
from training import fifth_hand, other_hand
from training.draw import K
from training.mark import of_cracks

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.noise import layered_noise
from dribbet.demo.painter import Drawn, draw_panel
from dribbet.demo.relief import scattered, surface
from dribbet.sight import measure as sight

if TYPE_CHECKING:
    from collections.abc import Iterator

HANDS: Final = {"fourth hand": other_hand, "fifth hand": fifth_hand}
CLOSED: Final = "closed"
COUNTS: Final = {
    ("fourth hand", "broken"): 7, ("fourth hand", "haired"): 4, ("fourth hand", "web"): 2, ("fourth hand", "petals"): 2,
    ("fourth hand", "islands"): 2,
    ("fifth hand", "halved"): 8, ("fifth hand", "crossed"): 4, ("fifth hand", "net"): 4, ("fifth hand", "among"): 4, ("fifth hand", "brushed"): 3,
    (CLOSED, "cracked"): 6, (CLOSED, "whole"): 4,
}  # fmt: skip
SURFACES: Final = ("smooth", "flakes", "waves", "weave")
MICA: Final = 0.35
SLOPE: Final = 0.03
WEAVE_MM: Final = 0.95
WEAVE_HIGH_MM: Final = 0.01
PHOTO_PX: Final = (2000, 1500)
NUDGE_PX: Final = 4.0

Kind = tuple[str, str]


def panel_of(hand: str, kind: str, number: int) -> Drawn:
    """A panel and its truth, smooth."""
    if hand == CLOSED:
        pour = dataclasses.replace(BASIC, width_mm=110.0, height_mm=90.0, cells_per_dm2=15.0, crack_mm=260.0, seed=900 + number)
        drawn = draw_panel(pour)
        over = draw_panel(dataclasses.replace(pour, crack_mm=0.0))
        return over if kind == "whole" else dataclasses.replace(drawn, linear=over.linear)
    sheet = HANDS[hand].drawn(kind, number)
    film = ~np.asarray(sheet.bare, bool)
    nothing = np.zeros(film.shape, np.float32)
    return Drawn(
        linear=np.clip(sheet.linear, 0, 1).astype(np.float32), cells=sheet.cells.astype(np.uint16), cracks=sheet.cracks > 0.5, spread=film,
        lacing=nothing > 0.0, mica=nothing, px_per_mm=K,
    )  # fmt: skip


def surfaced(panel: Drawn, name: str, luck: np.random.Generator) -> Drawn:
    """The same panel with another surface."""
    shape, k = panel.spread.shape, panel.px_per_mm
    if name == "flakes":
        there = np.clip(0.5 + layered_noise(shape, 15 * k, luck, 2), 0, 1) * panel.spread
        return dataclasses.replace(panel, mica=np.float32(MICA) * there.astype(np.float32))
    if name == "waves":
        faults = scattered(shape[1] / k, shape[0] / k, luck, pits=5, bumps=5)
        return dataclasses.replace(panel, height_mm=surface(shape, k, luck, faults=faults, slope=SLOPE))
    if name == "weave":
        rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32) / np.float32(k * WEAVE_MM)
        off = 0.4 * layered_noise(shape, 20 * k, luck, 2).astype(np.float32)
        threads = np.sin(2 * np.pi * (columns + off)) + np.sin(2 * np.pi * (rows + off))
        return dataclasses.replace(panel, height_mm=np.asarray(WEAVE_HIGH_MM * threads, np.float32))
    return panel


def marked(asked: tuple[str, str, int]) -> tuple[Kind, str, dict[str, Any], dict[str, Any]]:
    """Marks of one panel in even light alone, and with the lamps."""
    cv2.setNumThreads(1)
    hand, kind, number = asked
    luck = np.random.default_rng([sorted(COUNTS).index((hand, kind)), number, 41])
    name = SURFACES[number % len(SURFACES)]
    panel = surfaced(panel_of(hand, kind, number), name, luck)
    wide, high = PHOTO_PX
    shot = Shot(seed=number, width_px=wide, height_px=high, noise=0.005, fill=1.0, card=False)
    frame = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32)
    taken, corners = {}, np.zeros((4, 2))
    for lamp, key in (("diffuse", "main"), ("left", "left"), ("right", "right")):
        photo, where = photograph(panel, shot, lamp)
        if lamp == "diffuse":
            corners = where
        else:
            nudge = cv2.getPerspectiveTransform(frame, frame + luck.normal(0.0, NUDGE_PX, (4, 2)).astype(np.float32))
            photo = cv2.warpPerspective(photo, nudge, PHOTO_PX, flags=cv2.INTER_LANCZOS4)
        taken[key] = photo
    size = panel.spread.shape[1] / panel.px_per_mm, panel.spread.shape[0] / panel.px_per_mm
    told = []
    for lamps in (sight.Lamps(main=taken["main"]), sight.Lamps(**taken)):
        read = sight.measure(lamps, *size, corners_px=corners)
        true = cv2.resize(panel.cracks.astype(np.float32), read.cracks.mask.shape[::-1], interpolation=cv2.INTER_AREA) > 0.3
        told.append(of_cracks(true, read.cracks, read.px_per_mm) | {"asked": read.cracks.doubtful_mm, "used": read.cracks.under_lamps is not None})
    return (hand, kind), name, told[0], told[1]


def rows(workers: int, first: int = 0, *, each: bool = False) -> Iterator[tuple[str, str, str]]:
    """Marks by kind: what, what is asked for, what was measured."""
    panels = [(*kind, first + i) for kind, n in COUNTS.items() for i in range(n)]
    found: dict[Kind, list[tuple[dict[str, Any], dict[str, Any]]]] = defaultdict(list)
    with ProcessPoolExecutor(workers, mp_context=multiprocessing.get_context("spawn")) as pool:
        for kind, name, alone, lamps in pool.map(marked, panels):
            found[kind].append((alone, lamps))
            if each:
                print(kind, name, *({k: round(float(v), 2) for k, v in told.items()} for told in (alone, lamps)), flush=True)
    for (hand, kind), told in found.items():
        key = "cracks" if "cracks" in told[0][0] else "false"
        marks, asked = ([[pair[i][what] for pair in told] for i in (0, 1)] for what in (key, "asked"))
        measured = " / ".join(f"{np.mean(m):.2f}" if key == "cracks" else f"{np.mean(m):.0f} on {sum(v > 0 for v in m)}" for m in marks)
        what = "cracks F1" if key == "cracks" else "false cracks, mm/dm2"
        used = sum(pair[1]["used"] for pair in told)
        yield (
            f"lamps: {hand}, {kind} ({len(told)}, lamps used on {used}): {what}, alone / lamps",
            "0.93" if key == "cracks" else "2",
            f"{measured}; asked {np.mean(asked[0]):.0f} / {np.mean(asked[1]):.0f} mm",
        )


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    words.add_argument("--workers", type=int, default=2)
    words.add_argument("--first", type=int, default=0, help="number of the first panel of each kind")
    words.add_argument("--each", action="store_true", help="a line for each panel, too")
    asked = words.parse_args()
    for row in rows(asked.workers, asked.first, each=asked.each):
        print(f"{row[0]:96} {row[1]:>6}   {row[2]}", flush=True)


if __name__ == "__main__":
    main()
