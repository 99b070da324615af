"""Grow the reader's two small forests on panels drawn by our own renderer, and write them as plain arrays.

    python benchmarks/grow_trees.py WORKDIR [--panels 160] [--start 0]     draw panels, keep features and truth
    python benchmarks/grow_trees.py WORKDIR --grow                          grow both forests, print held-out marks, write npz

Needs scikit-learn, which Dribbet itself does not: the forests are evaluated from arrays (src/dribbet/sight/trees.py).
"""

from __future__ import annotations

import argparse
import pickle
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np

from dribbet.demo.camera import Shot, photograph
from dribbet.demo.painter import Pour, draw_panel
from dribbet.sight import cells, colour, geometry, lines
from dribbet.sight.card import find_card
from dribbet.sight.spread import find_spread

OUT = Path(cells.__file__).parent
DEPTH = 6
FOLDS = 4
COARSE_SHARE = 0.6  # of the panels are looked at through a coarser photograph
CRACK_WEIGHT = 2.0  # cracks are few, and missing one costs more than a border taken for one that the second look drops
MIX = {"bands": 0.15, "dense": 0.15, "stretched": 0.15, "lacing": 0.20, "bare": 0.07, "cracked": 0.13, "outlined": 0.05, "mica": 0.05, "plain": 0.05}
"""Kinds of panels drawn, by share: the kinds that were hardest in the first round (lacing) come more often."""


def random_palette(rng: np.random.Generator) -> tuple[str, ...]:
    picked: list[np.ndarray] = []
    while len(picked) < rng.integers(2, 7):
        lab = np.array([rng.uniform(12, 95), rng.normal(0, 32), rng.normal(0, 32)])
        if all(np.linalg.norm(lab - p) > 18 for p in picked):
            picked.append(lab)
    return tuple(colour.hex_of(p) for p in picked)


def random_pour(rng: np.random.Generator, only: str = "") -> Pour:
    kind = only or rng.choice(list(MIX), p=list(MIX.values()))
    palette = random_palette(rng)
    shares = list(rng.uniform(0.5, 3, len(palette)))
    if kind == "outlined":  # thin bands of a dark neutral run along the borders of the others
        dark = colour.hex_of(np.array([rng.uniform(8, 24), rng.normal(0, 3), rng.normal(0, 3)]))
        palette, shares = (*palette[:4], dark), [*shares[:4], float(rng.uniform(0.15, 0.6))]
    if kind == "plain":
        palette = palette[:1]
    dense = kind == "dense"
    long_ = kind == "stretched"
    return Pour(
        width_mm=float(rng.choice([100, 120, 150])),
        height_mm=float(rng.choice([100, 120, 140])),
        palette=palette,
        shares=tuple(shares[: len(palette)]),
        seed=int(rng.integers(1 << 30)),
        band_mm=float(rng.uniform(9, 32)),
        swirl=float(rng.uniform(0.5, 1.6)),
        streak=float(rng.uniform(1.5, 4)) if long_ else float(rng.uniform(1, 1.5)),
        streak_angle=float(rng.uniform(-0.8, 0.8)),
        rim_lines=float(rng.choice([0, rng.uniform(0, 0.9)])),
        cells_per_dm2=float(rng.uniform(60, 320)) if dense else float(rng.uniform(0, 40)) * (kind != "plain") + (kind == "plain") * 0.5,
        cell_mm=float(rng.uniform(2, 5)),
        cell_spread=float(rng.uniform(0.25, 0.6)),
        cell_aspect=float(rng.uniform(1.6, 3.2)) if long_ else float(rng.uniform(1.0, 1.3)),
        ring_share=float(rng.uniform(0.2, 1)),
        clumping=float(rng.uniform(0.2, 0.9)) if dense else float(rng.uniform(0, 0.4)),
        pinholes_per_dm2=float(rng.uniform(0, 25)),
        lacing=float(rng.uniform(0.15, 0.8)) if kind == "lacing" else 0.0,
        lacing_strands=bool(rng.random() < 0.5),
        crack_net=bool(rng.random() < 0.5),
        crack_mm=float(np.exp(rng.uniform(np.log(20), np.log(900))))
        if kind == "cracked" or rng.random() < (0.4 if kind == "outlined" else 0.08)
        else 0.0,
        bare_corners=int(rng.integers(0, 3)) if rng.random() < 0.4 else 0,
        bare_round=float(rng.uniform(0.05, 0.2)) if kind == "bare" else 0.0,
        base=str(rng.choice(["#D9D5C8", "#303030", "#F4F2EC", "#B8A58A", "#8B9298"])),
        mica=float(rng.uniform(0.1, 0.7)) if kind == "mica" else 0.0,
    )


def one_panel(seed: int, only: str = "") -> dict[str, np.ndarray]:
    rng = np.random.default_rng(seed)
    pour = random_pour(rng, only)
    drawn = draw_panel(pour)
    shot = Shot(
        seed=seed,
        width_px=int(rng.choice([2000, 2400, 2800])),
        height_px=int(rng.choice([1500, 1800, 2100])),
        table=str(rng.choice(["#8C8C88", "#5A5A5A", "#B9B4A8", "#4A3524"])),
        exposure_ev=float(rng.normal(0.1, 0.25)),
        balance=tuple(rng.normal(1, 0.05, 3)),
        noise=float(rng.uniform(0.003, 0.015)),
        blur_px=float(rng.uniform(0.5, 1.4)),
        gradient=float(rng.uniform(0, 0.2)),
        card=bool(rng.random() < 0.85),
    )
    photo, corners = photograph(drawn, shot)
    _, packed = cv2.imencode(".jpg", photo[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, int(rng.integers(82, 96))])
    photo = cv2.imdecode(packed, cv2.IMREAD_COLOR)[..., ::-1]
    k = geometry.working_scale(pour.width_mm, pour.height_mm)
    flat = geometry.rectify(np.ascontiguousarray(photo), corners.astype(float), pour.width_mm, pour.height_mm, k)
    card = find_card(photo)
    return {
        "flat": flat,
        "k": np.array(k),
        "gain": np.array(card.gain if card else (1.0, 1.0, 1.0)),
        "cells": drawn.cells,
        "cracks": drawn.cracks,
        "lacing": drawn.lacing,
    }


def features_of(seen: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    k, flat = float(seen["k"]), seen["flat"]
    lab = colour.lab_of(colour.balanced(flat, tuple(seen["gain"])))
    spread = find_spread(lab, k)
    centres, _ = colour.modes(lab, spread.covered)
    small = cv2.resize(lab, None, fx=cells.CELL_PX_PER_MM / k, fy=cells.CELL_PX_PER_MM / k, interpolation=cv2.INTER_AREA)
    ck = small.shape[1] / lab.shape[1] * k
    found, features = cells.candidates(small, centres, ck)
    truth = cv2.resize(seen["cells"], (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    areas = np.bincount(truth.ravel())
    best = np.zeros(len(found.contours), np.float32)
    for i, contour in enumerate(found.contours):
        left, top, width, height = cv2.boundingRect(contour)
        blob = np.zeros((height, width), np.uint8)
        cv2.drawContours(blob, [contour], -1, 1, -1, offset=(-left, -top))
        inside = truth[top : top + height, left : left + width][blob > 0]
        counts = np.bincount(inside)
        counts[:1] = 0
        if counts.size > 1:
            j = int(counts.argmax())
            best[i] = counts[j] / (areas[j] + inside.size - counts[j]) if counts[j] else 0
    return {"cell_x": features, "cell_y": best}


def looks_of(seen: dict[str, np.ndarray], seed: int) -> list[dict[str, object]]:
    """Line segments as the reader will meet them: beside cells that it found itself, often on a coarser photograph."""
    rng = np.random.default_rng(seed)
    k, flat = float(seen["k"]), seen["flat"]
    if rng.random() < COARSE_SHARE:
        shrink = rng.uniform(0.55, 0.9)
        coarse = cv2.resize(flat, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
        coarse = np.clip(coarse + rng.normal(0.0, rng.uniform(0.0, 2.5), coarse.shape), 0, 255).astype(np.uint8)
        flat = cv2.resize(coarse, (flat.shape[1], flat.shape[0]), interpolation=cv2.INTER_LINEAR)
    lab = colour.lab_of(colour.balanced(flat, tuple(seen["gain"])))
    spread = find_spread(lab, k)
    centres, _ = colour.modes(lab, spread.covered)
    labels = cells.find_cells(lab, centres, k, spread.covered).labels
    crack = cv2.dilate(seen["cracks"].astype(np.uint8), np.ones((5, 5), np.uint8)).astype(bool)
    lace = cv2.dilate(seen["lacing"].astype(np.uint8), np.ones((3, 3), np.uint8)).astype(bool)
    size = (lab.shape[1], lab.shape[0])
    crack, lace = (cv2.resize(m.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST).astype(bool) for m in (crack, lace))
    looks: list[dict[str, object]] = []
    for polarity in (0, 1):
        seg = lines.find_segments(lab, centres, labels, spread.covered, k, polarity)
        if not len(seg.features):
            continue
        rows, columns = np.nonzero(seg.skeleton)
        which = seg.skeleton[rows, columns] - 1
        share_crack = np.bincount(which, crack[rows, columns], minlength=len(seg.features)) / seg.length_px
        share_lace = np.bincount(which, lace[rows, columns], minlength=len(seg.features)) / seg.length_px
        truth = np.where(share_crack > 0.5, lines.CRACK, np.where(share_lace > 0.5, lines.LACE, lines.NEITHER))
        looks.append({"segments": seg, "y": truth, "w": seg.length_px / k})
    return looks


def draw_many(work: Path, start: int, panels: int, only: str = "") -> None:
    work.mkdir(parents=True, exist_ok=True)
    for seed in range(start, start + panels):
        out = work / f"{seed}.npz"
        if not out.exists():
            np.savez_compressed(out, **one_panel(seed, only))
            print(seed, flush=True)


def plain_arrays(model: object, depth: int) -> dict[str, np.ndarray]:
    """A fitted HistGradientBoostingClassifier as flat arrays."""
    feature, threshold, left, right, value, root, which = [], [], [], [], [], [], []
    for stage in model._predictors:
        for k, predictor in enumerate(stage):
            nodes, at = predictor.nodes, len(feature)
            root.append(at)
            which.append(k)
            for node in nodes:
                leaf = bool(node["is_leaf"])
                feature.append(0 if leaf else int(node["feature_idx"]))
                threshold.append(0.0 if leaf else float(node["num_threshold"]))
                left.append(-1 if leaf else at + int(node["left"]))
                right.append(-1 if leaf else at + int(node["right"]))
                value.append(float(node["value"]) if leaf else 0.0)
    return {
        "feature": np.array(feature, np.uint8), "threshold": np.array(threshold, np.float32), "left": np.array(left, np.int32),
        "right": np.array(right, np.int32), "value": np.array(value, np.float32), "root": np.array(root, np.int32),
        "tree_class": np.array(which, np.uint8), "baseline": np.asarray(model._baseline_prediction, np.float64).ravel(),
        "depth": np.array(depth),
    }  # fmt: skip


def described(work: Path, what: str) -> list[object]:
    files = sorted(work.glob("[0-9]*.npz"), key=lambda p: int(p.stem))
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(_describe, files, [what] * len(files)))


def _describe(file: Path, what: str) -> object:
    kept = file.with_suffix(f".{what}")
    if not kept.exists():
        seen = dict(np.load(file))
        kept.write_bytes(pickle.dumps(features_of(seen) if what == "cells" else looks_of(seen, int(file.stem))))
    return pickle.loads(kept.read_bytes())


def fitted(x: np.ndarray, y: np.ndarray, w: np.ndarray, trees: int) -> object:
    from sklearn.ensemble import HistGradientBoostingClassifier

    model = HistGradientBoostingClassifier(
        max_iter=trees, max_depth=DEPTH, max_leaf_nodes=31, learning_rate=0.12, min_samples_leaf=25, l2_regularization=1.0,
        random_state=0, early_stopping=False,
    )  # fmt: skip
    return model.fit(x, y, sample_weight=w)


def marks(name: str, guess: np.ndarray, y: np.ndarray, w: np.ndarray) -> None:
    for kind in np.unique(y):
        hit = w[(guess == kind) & (y == kind)].sum()
        print(
            f"{name} class {kind}: precision {hit / max(w[guess == kind].sum(), 1e-9):.3f} "
            f"recall {hit / max(w[y == kind].sum(), 1e-9):.3f} of {int((y == kind).sum())}"
        )


def keep(name: str, model: object) -> None:
    np.savez_compressed(OUT / f"{name}.npz", **plain_arrays(model, DEPTH))
    print(name, (OUT / f"{name}.npz").stat().st_size, "bytes")


def grow_cells(sets: list[dict[str, object]], held: np.ndarray) -> None:
    xs, ys, test = [], [], []
    for s, out in zip(sets, held, strict=True):
        good = (s["cell_y"] >= 0.62) | (s["cell_y"] < 0.45)
        xs.append(s["cell_x"][good])
        ys.append((s["cell_y"][good] >= 0.62).astype(int))
        test.append(np.full(good.sum(), out))
    x, y, t = np.concatenate(xs), np.concatenate(ys), np.concatenate(test)
    w = np.ones(len(y))
    marks("cells", fitted(x[~t], y[~t], w[~t], 90).predict(x[t]), y[t], w[t])
    keep("cells", fitted(x, y, w, 90))


def grow_lines(sets: list[list[dict[str, object]]], held: np.ndarray) -> None:
    """First look, then the second one on scores that each panel got from a forest that had not seen it."""
    looks = [(look, i) for i, one in enumerate(sets) for look in one]
    x = np.concatenate([look["segments"].features for look, _ in looks])
    y = np.concatenate([look["y"] for look, _ in looks])
    w = np.concatenate([look["w"] for look, _ in looks])
    w = w * np.where(y == lines.CRACK, CRACK_WEIGHT, 1.0)
    panel = np.concatenate([np.full(len(look["y"]), i) for look, i in looks])
    t = held[panel]
    first = fitted(x[~t], y[~t], w[~t], 80)
    marks("lines", first.predict(x[t]), y[t], w[t])
    others = [fitted(x[panel % FOLDS != h], y[panel % FOLDS != h], w[panel % FOLDS != h], 80) for h in range(FOLDS)]
    again = np.concatenate(
        [lines.company(look["segments"], np.asarray(others[i % FOLDS]._raw_predict(look["segments"].features))) for look, i in looks]
    )
    cracked = (y == lines.CRACK).astype(int)
    marks("lines_again", fitted(again[~t], cracked[~t], w[~t], 80).predict(again[t]), cracked[t], w[t])
    keep("lines", fitted(x, y, w, 80))
    keep("lines_again", fitted(again, cracked, w, 80))


def grow(work: Path) -> None:
    for what, grower in (("cells", grow_cells), ("looks", grow_lines)):  # in this order: lines are seen beside found cells
        sets = described(work, what)
        held = np.arange(len(sets)) % 5 == 0
        print(what, len(sets), "panels,", int(held.sum()), "held out for the marks", flush=True)
        grower(sets, held)


if __name__ == "__main__":
    parse = argparse.ArgumentParser()
    parse.add_argument("work", type=Path)
    parse.add_argument("--panels", type=int, default=160)
    parse.add_argument("--start", type=int, default=0)
    parse.add_argument("--only", default="", choices=["", *MIX], help="draw panels of one kind only")
    parse.add_argument("--grow", action="store_true")
    chosen = parse.parse_args()
    grow(chosen.work) if chosen.grow else draw_many(chosen.work, chosen.start, chosen.panels, chosen.only)
