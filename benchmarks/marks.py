"""Every mark of the reader, in one run: what it should reach, and what it does.

    PYTHONPATH=. python benchmarks/marks.py [--panels FOLDER] [--held FOLDER] [--photos 8]

`--panels` is a folder with score.py and its cases (rendered photographs with exact truth; not part of this repository), `--held` the one of
`training.grow` (panels that taught neither network nor forests). What is not named is left out of the table, and said to be.
The rest is drawn here: one panel photographed again and again, twelve strengths of mica,
surfaces with pits and waves, cracks under raking lamps, round panels, 12 megapixels, a panel of 300 mm.
"""

from __future__ import annotations

import argparse
import dataclasses
import json
import subprocess
import sys
import tempfile
import time
from collections import defaultdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

import cv2
import numpy as np
from benchmarks import base_or_paint, lamps
from benchmarks.repeats import BASIC, POURS, photographs
from scipy.stats import spearmanr

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.mirror import MIRRORED, REACH_MM
from dribbet.demo.painter import Pour, draw_panel
from dribbet.demo.relief import DrawnFault, scattered, surface
from dribbet.demo.wet import wet
from dribbet.lab.plan.responses import value_of
from dribbet.records import Response
from dribbet.sight import READER
from dribbet.sight import measure as sight
from dribbet.sight.geometry import apply, homography
from dribbet.sight.round_face import Disc
from dribbet.sight.since import since

if TYPE_CHECKING:
    from collections.abc import Iterator

    from dribbet.sight.relief import Relief
    from dribbet.sight.shine_figures import Shine

DRIBBET = str(Path(sys.executable).with_name("dribbet"))
STRENGTHS = np.geomspace(0.02, 0.6, 12)
LARGE_PX = (4000, 3000)

Row = tuple[str, str, str]


def on_panels(folder: Path) -> Iterator[Row]:
    """Marks of score.py, by the command."""
    with tempfile.TemporaryDirectory() as scratch:
        out = Path(scratch) / "marks.json"
        ask = [sys.executable, "score.py", "cases", "--cmd", f"{DRIBBET} measure", "--drip-cmd", f"{DRIBBET} drips", "--out", str(out)]
        subprocess.run(ask, cwd=folder, check=True, capture_output=True)
        told = json.loads(out.read_text())
    families = {name: f for name, f in told["families"].items() if f["cell_f1"] is not None}
    yield "cells F1, mean of families", "0.92", f"{np.mean([f['cell_f1'] for f in families.values()]):.3f}"
    for name, f in families.items():
        yield f"  {name}: F1, precision, recall", "", f"{f['cell_f1']:.3f}, {f['cell_prec']:.2f}, {f['cell_rec']:.2f}"
    for size, (met, there) in told["recall_by_size"].items():
        yield f"cells of {size} found", "80 %" if size.startswith("1-") else "", f"{met} of {there} ({100 * met / max(there, 1):.0f} %)"
    whole = told["overall"]
    yield "count / median width off by", "8 / 4 %", f"{100 * whole['count_err']:.1f} / {100 * whole['diam_err']:.1f} %"
    yield "cracks F1 / length off by", "0.93 / 10 %", f"{whole['crack_f1']:.3f} / {100 * whole['cracklen_err']:.1f} %"
    yield "false cracks, mm per dm2", "2", f"{whole['false_crack_mm_dm2']:.1f}"
    yield "spread IoU", "0.99", f"{whole['spread_iou']:.4f}"
    yield "drips off by, mean / most, mm", "0.1", f"{whole['drip_mean_err']:.3f} / {whole['drip_max_err']:.2f}"
    yield "CPU s of a photograph, mean", "", f"{whole['cpu_s']:.1f}"


def on_held(folder: Path, workers: int) -> Iterator[Row]:
    """Marks on panels that taught nothing."""
    from concurrent.futures import ProcessPoolExecutor
    from functools import partial
    from multiprocessing import get_context

    from training.grow import held_out, names
    from training.mark import mark

    panels = names(260, 200)
    held = [n for n, out in zip(panels, held_out(panels), strict=True) if out]
    kinds: dict[str, list[dict[str, Any]]] = defaultdict(list)
    with ProcessPoolExecutor(workers, mp_context=get_context("spawn")) as pool:  # forked ones would wait for OpenCV's threads for ever
        for row in pool.map(partial(mark, folder), held):
            kinds[row["name"].split("-")[0]].append(row)
    yield from _by_kind("held out", kinds)


def on_other_hands(workers: int) -> Iterator[Row]:
    """Marks on panels of a fourth, a fifth and a sixth hand, drawn anew."""
    from training import fifth_hand, other_hand, sixth_hand
    from training.mark import drawn_and_marked

    for hand, by in (("fourth hand", other_hand), ("fifth hand", fifth_hand), ("sixth hand", sixth_hand)):
        with tempfile.TemporaryDirectory() as scratch:
            kinds = drawn_and_marked(Path(scratch), by.photographed, by.COUNTS, workers)
        means = [float(np.mean([r["f1"] for r in rows if "f1" in r])) for rows in kinds.values() if any("f1" in r for r in rows)]
        yield f"{hand}: cells F1, mean of kinds", "0.85", f"{np.mean(means):.3f}"
        yield from _by_kind(hand, kinds)


def on_bases(workers: int) -> Iterator[Row]:
    """Bare base and paint: right, asked about, wrong without a word."""
    for kind, counts in base_or_paint.marked(90, 90, workers).items():
        yield f"{kind}: right / asked about / wrong without a word", "0.99 or asked", " / ".join(map(str, counts))


def _by_kind(where: str, kinds: dict[str, list[dict[str, Any]]]) -> Iterator[Row]:
    for kind, rows in kinds.items():
        for key, what, least in (
            ("f1", "cells F1", "0.85"),
            ("count", "count off by", ""),
            ("cracks", "cracks F1", "0.93"),
            ("length", "crack length off by", "0.10"),
            ("false", "false cracks", "2"),
        ):
            if values := [r[key] for r in rows if key in r]:
                yield f"{where}, {kind} ({len(values)}): {what}", least, f"{np.mean(values):.3f}"


def again(count: int) -> Iterator[Row]:
    """Scatter of one panel over poses and lights, pooled, as a share of its mean."""
    read = {name: photographs(pour, count) for name, pour in POURS.items()}
    for response, on, least in (
        (Response.CELL_COUNT, ("cells", "more cells"), "3 %"),
        (Response.CELL_WIDTH, ("cells", "more cells"), "2 %"),
        (Response.CRACK_LENGTH, ("cracks", "more cracks"), "5 %"),
        (Response.SPREAD, ("bare corners",), "0.5 %"),
        (Response.SHIMMER, ("mica",), "3 %"),
    ):
        for name in on:
            values = np.array([v for r in read[name] if (v := value_of(r, response)) is not None])
            share = f"{100 * values.std(ddof=1) / values.mean():.1f} %" if values.mean() else "none read"
            yield f"scatter over {count} photographs, {response.value} of '{name}'", least, f"{share} (mean {values.mean():.1f})"


def mica() -> Iterator[Row]:
    """Rank of the shimmer index over strengths of mica."""
    found = []
    for i, strength in enumerate(STRENGTHS):
        panel = draw_panel(dataclasses.replace(BASIC, mica=float(strength), cells_per_dm2=10, seed=700 + i))
        shot = Shot(seed=i, width_px=1800, height_px=1350, noise=0.005)
        lamps = sight.Lamps(**{name: photograph(panel, shot, lamp)[0] for name, lamp in (("main", "diffuse"), ("left", "left"), ("right", "right"))})
        told = sight.measure(lamps, BASIC.width_mm, BASIC.height_mm).shimmer
        found.append(told.index if told is not None else 0.0)
    yield f"shimmer, rank over {len(found)} strengths", "0.95", f"{spearmanr(STRENGTHS, found).statistic:.3f}"


def surfaces() -> Iterator[Row]:
    """Pits and bumps that are found, false ones, and how steep waves are read; the phone nudged by some 0.4 mm between the lamps."""
    size = (BASIC.width_mm, BASIC.height_mm)
    found = {0.0: [0, 0, 0], 0.1: [0, 0, 0]}
    steep, false, flakes = [], 0, (0.0, 0.05, 0.1, 0.2, 0.3, 0.4, 0.6)
    for seed in range(4):
        for strength, told in found.items():
            luck = np.random.default_rng(seed)
            faults = scattered(*size, luck, pits=8, bumps=8)
            read = raked(dataclasses.replace(BASIC, mica=strength, cells_per_dm2=20, seed=820 + seed), faults, 0.003, luck)
            hit = sum(
                any(np.hypot(q.x_mm - f.x_mm, q.y_mm - f.y_mm) < 1.0 and (q.kind == "bump") == (f.height_mm > 0) for q in read.faults) for f in faults
            )
            told[:] = [told[0] + hit, told[1] + len(faults), told[2] + len(read.faults) - hit]
    for strength, (hit, there, wrong) in found.items():
        yield f"pits and bumps (slopes 0.08 to 0.16) found, mica {strength:g}; false beside them", "", f"{hit} of {there}; {wrong}"
    for i, strength in enumerate(flakes):
        read = raked(dataclasses.replace(BASIC, mica=strength, cells_per_dm2=20, seed=800 + i), (), 0.0, np.random.default_rng(i))
        false += len(read.faults)
    yield f"false pits and bumps on {len(flakes)} panels without (mica 0 to 0.6)", "", f"{false}"
    for i, slope in enumerate((0.005, 0.01, 0.02, 0.05)):
        for strength in (0.0, 0.3):
            read = raked(dataclasses.replace(BASIC, mica=strength, cells_per_dm2=20, seed=810), (), slope, np.random.default_rng(i))
            steep.append(read.slope / slope)
    yield "slope of waves (0.5 to 5 %, mica 0 and 0.3), read over true, least to most", "", f"{min(steep):.2f} to {max(steep):.2f}"


def dried() -> Iterator[Row]:
    """A panel wet and dry: cells found again, how much they grew, and cracks that came, with corners found by the reader on both photographs."""
    again, there, off, came = 0, 0, [], []
    for i, (cells, wide, crack) in enumerate(((25.0, 5.0, 0.0), (60.0, 3.5, 0.0), (25.0, 5.0, 250.0), (12.0, 8.0, 400.0))):
        dry = dataclasses.replace(BASIC, cells_per_dm2=cells, cell_mm=wide, crack_mm=crack, seed=860 + i)
        panels = wet(draw_panel(dataclasses.replace(dry, crack_mm=0.0))), draw_panel(dry)
        shots = (Shot(seed=2 * i + j, width_px=1800, height_px=1350, noise=0.005, tilt=0.03 * j) for j in range(2))
        photos = (photograph(panel, shot)[0] for panel, shot in zip(panels, shots, strict=True))
        read = (sight.measure(sight.Lamps(main=photo), dry.width_mm, dry.height_mm) for photo in photos)
        before, after = ({**sight.as_json(m), "outlines": sight.outlines(m)} for m in read)
        told = since(before, after)
        areas = [np.bincount(p.cells.ravel())[1:] for p in panels]
        both = (areas[0] > 0) & (areas[1] > 0)
        again, there = again + len(told.pairs), there + int(both.sum())
        off.append((told.growth or 0.0) / float(np.median(areas[1][both] / areas[0][both])) - 1.0)
        came.append(f"{told.crack_mm:.0f} of {panels[1].crack_mm:.0f}")
    yield "wet to dry, 4 panels: cells paired of those that are on both", "", f"{again} of {there}"
    yield "wet to dry: growth in area off by, most", "", f"{100 * max(map(abs, off)):.1f} %"
    yield "wet to dry: mm of crack that came, of each panel", "", ", ".join(came)


GRAINS_DEG = np.geomspace(0.15, 6.0, 12)
PALETTES = (BASIC.palette, ("#f2ead8", "#e8c9c4", "#cfe0d8"), ("#101418", "#1c2830", "#2a1c20"))


def shines() -> Iterator[Row]:
    """Width and contrast of a mirrored edge against drawn grain, on usual, pale and dark panels; and how one panel's shine scatters."""
    wide, contrast, found = [], [], []
    for i, grain in enumerate(GRAINS_DEG):
        pour = dataclasses.replace(BASIC, palette=PALETTES[i % 3], shares=(0.5, 0.3, 0.2), rough_deg=float(grain), slope=0.003, seed=900 + i)
        told = mirrored_in(pour, i)
        found.append(told.step)
        if told.width_mm is not None:
            wide.append(told.width_mm / (2.0 * REACH_MM * np.tan(np.radians(grain))))
            contrast.append(told.contrast / MIRRORED)
    yield f"shine, rank over {len(found)} grains of 0.15 to 6 degrees", "", f"{-spearmanr(GRAINS_DEG, found).statistic:.3f}"
    yield "mirrored edge, width read over true, least to most (how many seen)", "", f"{min(wide):.2f} to {max(wide):.2f} ({len(wide)})"
    yield "mirrored edge, contrast read over true, least to most", "", f"{min(contrast):.2f} to {max(contrast):.2f}"
    for grain in (0.3, 1.0, 3.0):
        pour = dataclasses.replace(BASIC, rough_deg=grain, slope=0.003, seed=950)
        steps = np.array([100.0 * mirrored_in(pour, 20 + i).step for i in range(8)])
        yield f"shine over 8 photographs, grain {grain:g} degrees", "", f"{steps.mean():.1f} % of white, sd {steps.std(ddof=1):.2f}"


def mirrored_in(pour: Pour, seed: int) -> Shine:
    """Shine of a drawn panel, the phone nudged before the edge is photographed."""
    luck = np.random.default_rng(seed)
    panel = draw_panel(pour)
    shot = Shot(seed=30 + seed, width_px=2400, height_px=1800, noise=0.005)
    main, corners = photograph(panel, shot)
    photo, _ = photograph(panel, shot, "edge")
    frame = np.array([[0, 0], [2400, 0], [2400, 1800], [0, 1800]], np.float32)
    nudge = cv2.getPerspectiveTransform(frame, frame + luck.normal(0.0, 4.0, (4, 2)).astype(np.float32))
    photo = cv2.warpPerspective(photo, nudge, (2400, 1800), flags=cv2.INTER_LANCZOS4)
    told = sight.measure(sight.Lamps(main=main, edge=photo), pour.width_mm, pour.height_mm, corners_px=corners)
    assert told.shine is not None, told.warnings
    return told.shine


def raked(pour: Pour, faults: tuple[DrawnFault, ...], slope: float, luck: np.random.Generator) -> Relief:
    """Relief of a drawn panel under both lamps, the phone nudged before each."""
    panel = draw_panel(pour)
    if faults or slope:
        panel = dataclasses.replace(panel, height_mm=surface(panel.linear.shape[:2], panel.px_per_mm, luck, faults=faults, slope=slope))
    shot = Shot(seed=5, width_px=2400, height_px=1800, noise=0.005)
    taken, corners = {}, None
    for lamp in ("diffuse", "left", "right"):
        photo, where = photograph(panel, shot, lamp)
        frame = np.array([[0, 0], [2400, 0], [2400, 1800], [0, 1800]], np.float32)
        if lamp == "diffuse":
            corners = where
        else:
            nudge = cv2.getPerspectiveTransform(frame, frame + luck.normal(0.0, 4.0, (4, 2)).astype(np.float32))
            photo = cv2.warpPerspective(photo, nudge, (2400, 1800), flags=cv2.INTER_LANCZOS4)
        taken[lamp] = photo
    told = sight.measure(
        sight.Lamps(main=taken["diffuse"], left=taken["left"], right=taken["right"]), pour.width_mm, pour.height_mm, corners_px=np.asarray(corners)
    ).shimmer
    assert told is not None
    return told.relief


def on_discs() -> Iterator[Row]:
    """How far the found rim of round panels lies from the true one, and which of their cells are found where it is given."""
    from training.mark import matched

    rim, middle, marks = [], [], []
    turn = np.linspace(0.0, 2.0 * np.pi, 90)
    for seed in range(8):
        side = 110.0 + 10.0 * (seed % 4)
        panel = draw_panel(dataclasses.replace(BASIC, width_mm=side, height_mm=side, cells_per_dm2=20, seed=seed))
        shot = Shot(seed=seed, width_px=1800, height_px=1350, noise=0.005, tilt=0.04 + 0.02 * (seed % 4), table=("#8C8C88", "#C8B89A")[seed % 2])
        photo, truth = photograph(panel, shot, is_round=True)
        found, _, _, _ = sight.locate(photo, side, side, None, is_round=True)
        ring = np.stack([side / 2 * (1 + np.cos(turn)), side / 2 * (1 + np.sin(turn))], axis=1)
        back = apply(np.linalg.inv(homography(truth, side, side)), apply(homography(found, side, side), np.vstack([ring, [side / 2, side / 2]])))
        rim.append(float(np.abs(np.hypot(*(back[:-1] - side / 2).T) - side / 2).max()))
        middle.append(float(np.hypot(*(back[-1] - side / 2))))
        disc = Disc.within(side, side)
        told = sight.measure(sight.Lamps(main=photo), side, side, corners_px=truth, disc=disc).cells.labels
        true = cv2.resize(panel.cells, told.shape[::-1], interpolation=cv2.INTER_NEAREST)
        true[~disc.mask(told.shape, told.shape[1] / side)] = 0
        hit, there, counted = matched(true, told)
        marks.append(2 * len(hit) / (there + counted))
    yield "round panels: rim off by / middle off by, most of 8, mm", "0.3", f"{max(rim):.2f} / {max(middle):.2f}"
    yield "round panels: cells F1, mean of 8, corners given", "", f"{np.mean(marks):.3f}"


def spent_by(*command: str) -> tuple[float, float]:
    """CPU seconds and peak memory (MB) of a command, started by a small process: a child begins with the memory of who starts it."""
    code = (
        "import resource, subprocess, sys; subprocess.run(sys.argv[1:], check=True); u = resource.getrusage(resource.RUSAGE_CHILDREN); "
        "print(u.ru_utime + u.ru_stime, u.ru_maxrss / 1024)"
    )
    told = subprocess.run([sys.executable, "-c", code, *command], check=True, capture_output=True, text=True).stdout.split()
    return float(told[-2]), float(told[-1])


def cost() -> Iterator[Row]:
    """CPU of the whole command on 12 megapixels beside decoding it, and the peak memory of a panel of 300 mm."""
    with tempfile.TemporaryDirectory() as scratch:
        for side, (wide, high) in ((200.0, LARGE_PX), (300.0, LARGE_PX)):
            panel = draw_panel(dataclasses.replace(BASIC, width_mm=side, height_mm=side * 0.75, cells_per_dm2=25, seed=5))
            photo, corners = photograph(panel, Shot(seed=5, width_px=wide, height_px=high, noise=0.005))
            path = Path(scratch) / f"{side:g}.jpg"
            cv2.imwrite(str(path), cv2.cvtColor(photo, cv2.COLOR_RGB2BGR), [cv2.IMWRITE_JPEG_QUALITY, 90])
            begun = time.process_time()
            for _ in range(5):
                cv2.imread(str(path))
            decode = (time.process_time() - begun) / 5
            ask = ["--corners", ",".join(f"{v:.1f}" for c in corners for v in c), "--size", f"{side:g}x{side * 0.75:g}"]
            spent, most = spent_by(DRIBBET, "measure", str(path), *ask, "--json", str(Path(scratch) / "out.json"))
            yield f"panel of {side:g} mm, 12 megapixels: CPU s / times decoding", "8 x and imports", f"{spent:.1f} / {spent / decode:.0f} x"
            yield f"panel of {side:g} mm: peak memory, MB", "600", f"{most:.0f}"
    yield "imports, CPU s", "", f"{spent_by(sys.executable, '-c', 'import dribbet.sight.measure, dribbet.sight.load')[0]:.1f}"


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    words.add_argument("--panels", type=Path)
    words.add_argument("--held", type=Path)
    words.add_argument("--photos", type=int, default=8)
    words.add_argument("--workers", type=int, default=2)
    asked = words.parse_args()
    print(f"{READER}\n{'mark':64} {'at least':>16}   measured")
    parts = [cost(), mica(), surfaces(), shines(), on_discs(), dried(), again(asked.photos), on_bases(asked.workers), on_other_hands(asked.workers)]
    parts += [lamps.rows(asked.workers)]
    parts += [on_panels(asked.panels)] if asked.panels else []
    parts += [on_held(asked.held, asked.workers)] if asked.held else []
    for part in parts:
        for what, least, measured in part:
            print(f"{what:64} {least:>16}   {measured}", flush=True)
    for name, given in (("--panels", asked.panels), ("--held", asked.held)):
        if not given:
            print(f"not measured: {name} names no folder")


if __name__ == "__main__":
    main()
