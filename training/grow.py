"""Grow the reader's small forests, which choose cells and lines by what colours and the network's maps say, on panels that taught neither.

    python -m training.grow FOLDER [--worlds 260] [--painted 200] [--also faint strung]

FOLDER keeps photographs with their truth, and what was described of them with the weights that lie in `dribbet/sight`. Cells come first: lines are
seen beside cells that the reader found itself. Every sixth panel and the worlds that never teach are held out for the printed marks; what is
written is grown on all others. Needs scikit-learn, which Dribbet itself does not: forests are evaluated from arrays (`dribbet/sight/trees.py`).
"""

from __future__ import annotations

import argparse
import hashlib
import pickle
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import cv2
import numpy as np

from dribbet.demo.world.draw import HELD_OUT, draw
from dribbet.demo.world.lamps import seen
from dribbet.sight import breaks, cells, colour, lines, looks, network, rims
from dribbet.sight.company import COLUMNS as COMPANY
from dribbet.sight.company import company
from dribbet.sight.outlines import Outlines, filled
from dribbet.sight.skeletons import skeleton_length_px
from dribbet.sight.spread import find_spread
from training.draw import GAPING, HELD_FROM, HIGH_MM, LITTERED, PAINTED, WIDE_MM, K
from training.faint import faint, strung
from training.gaping import gaping_painted
from training.littered import littered
from training.painted import painted

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.demo.world.sheet import Sheet

OUT: Final = Path(cells.__file__).parent
FIRST: Final = 500_000
HELD_EACH: Final = 10
EVERY: Final = 6  # of the panels one is held out
FOLDS: Final = 4
CRACKED: Final = "cracked"
BROKEN: Final = "broken"  # cracked ones of the painter
MORE_CRACKED: Final = 80
MORE_BROKEN: Final = 120
LACED: Final = "laced"  # nets of strands of the painter: what is most like a crack
MORE_LACED: Final = 96
MORE_LITTERED: Final = 240  # hairs and threads over the painter's panels: what is smooth and no crack
MORE_GAPING: Final = 160  # wide cracks of the painter
FAINT: Final = "faint"
MORE_FAINT: Final = 200  # cracks that part from their film by a little
STRUNG: Final = "strung"
MORE_STRUNG: Final = 160  # strands of worlds over the painter's panels, one in three cracked as well
MARKED_ONLY: Final = (FAINT, STRUNG)  # with them among the teachers others' panels are read no better (decisions/0029): `--also` tries again
MORE_FIRST: Final = 600_000  # worlds and painted panels that teach cells alone
MORE_WORLDS: Final = 280
MORE_PAINTED: Final = 80
IS_CELL: Final = (0.45, 0.60)  # overlap with a true cell below and above which a candidate is none, or one
MOST_OF_A_PANEL: Final = 3000  # candidates, so that a crowded panel does not outweigh all others
CRACK_WEIGHT: Final = 2.0  # cracks are few, and missing one costs more than a border taken for one that the second look drops
LITTER_WEIGHT: Final = 0.5  # of lines: smooth ones must be known, and not be most of what is
WORLD_WEIGHT: Final = 0.25  # of lines: worlds taught the eyes for cracks, and would have them trusted more than another hand deserves
TRUE_SHARE: Final = 0.5
NEAR_MM: Final = 0.3
OVER_PAINTED: Final = {LITTERED: littered, GAPING: gaping_painted, FAINT: faint, STRUNG: strung}


def names(worlds: int, painted_ones: int) -> list[str]:
    """All panels: those held out first."""
    held = [f"{kind}-{HELD_FROM + 70_000 + 10_000 * n + i}" for n, kind in enumerate(HELD_OUT) for i in range(HELD_EACH)]
    more = [f"{CRACKED}-{FIRST + i}" for i in range(MORE_CRACKED)] + [f"{BROKEN}-{FIRST + i}" for i in range(MORE_BROKEN)]
    more += [f"{LACED}-{FIRST + i}" for i in range(MORE_LACED)] + [f"{LITTERED}-{FIRST + i}" for i in range(MORE_LITTERED)]
    more += [f"{GAPING}-{FIRST + i}" for i in range(MORE_GAPING)]
    more += [f"{FAINT}-{FIRST + i}" for i in range(MORE_FAINT)] + [f"{STRUNG}-{FIRST + i}" for i in range(MORE_STRUNG)]
    return [*held, *(f"world-{FIRST + i}" for i in range(worlds)), *(f"{PAINTED}-{FIRST + i}" for i in range(painted_ones)), *more]


def more_names() -> list[str]:
    """Panels that teach cells and nothing else, none of them held out."""
    return [f"world-{MORE_FIRST + i}" for i in range(MORE_WORLDS)] + [f"{PAINTED}-{MORE_FIRST + i}" for i in range(MORE_PAINTED)]


def photographed(kind: str, seed: int) -> tuple[Any, Sheet]:
    """A photograph (rows, columns, 3), uint8, of one panel, and its truth."""
    if kind in OVER_PAINTED:
        sheet = OVER_PAINTED[kind](seed, WIDE_MM, HIGH_MM, K)
    elif kind in (PAINTED, BROKEN, LACED):
        sheet = painted(seed, WIDE_MM, HIGH_MM, K, {BROKEN: CRACKED, LACED: "lacing"}.get(kind, ""))
    else:
        sheet = draw(seed, width_mm=WIDE_MM, height_mm=HIGH_MM, k=K, kind="" if kind == "world" else kind)
    return seen(sheet.linear, K, np.random.default_rng([seed, 3])), sheet


def photograph(folder: Path, name: str, take: Callable[[str, int], tuple[Any, Sheet]] = photographed) -> None:
    """Draw one panel (`kind-seed`) and photograph it, once."""
    cv2.setNumThreads(1)
    path = folder / f"{name}.npz"
    if path.exists():
        return
    kind, seed = name.split("-")
    photo, sheet = take(kind, int(seed))
    shares = {n: np.round(np.clip(getattr(sheet, n), 0, 1) * 255).astype(np.uint8) for n in ("cracks", "lacing")}
    np.savez_compressed(path, photo=photo, cells=sheet.cells.astype(np.uint16), bare=sheet.bare, **shares)


def looked_at(folder: Path, name: str) -> tuple[Any, Any, Any, Any, network.Maps]:
    """A panel, its colours, where paint is, its colour modes, and what the network sees."""
    panel = np.load(folder / f"{name}.npz")
    srgb = panel["photo"].astype(np.float32) / 255.0
    lab = colour.lab_of(srgb)
    maps = network.see(srgb, K)
    film = find_spread(lab, maps.bare, K).covered
    centres, _ = colour.modes(lab, film)
    return panel, lab, film, centres, maps


def _made_with(*files: Path) -> str:
    """Short name of what a description rests on, so that none outlives a change of weights."""
    return hashlib.sha256(b"".join(f.read_bytes() for f in files)).hexdigest()[:10]


@dataclass(frozen=True)
class Told:
    """Candidates of a panel: what they are, what each looks like, and how much of a true cell it is."""

    found: Outlines
    features: Any
    colours: Any
    film: Any
    k: float
    overlap: Any


def describe_cells(folder: Path, name: str) -> Told:
    """Candidates of a panel and their overlap with true cells."""
    cv2.setNumThreads(1)
    kept = folder / f"{name}.{_made_with(network.WEIGHTS)}.cells"
    if not kept.exists():
        panel, lab, film, centres, maps = looked_at(folder, name)
        shrink = cells.CELL_PX_PER_MM / K
        small = np.asarray(cv2.resize(lab, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA), np.float32)
        k = small.shape[1] / lab.shape[1] * K
        found, features, colours = cells.candidates(small, centres, k, maps)
        truth, cover = (
            cv2.resize(p, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST) for p in (panel["cells"], film.astype(np.uint8))
        )
        kept.write_bytes(pickle.dumps(Told(found, features, colours, cover > 0, k, overlaps(found.contours, truth))))
    told: Told = pickle.loads(kept.read_bytes())
    return told


def overlaps(contours: list[Any], truth: Any) -> Any:
    """Largest overlap (intersection over union) of each outline with a true cell."""
    areas = np.bincount(truth.ravel())
    best = np.zeros(len(contours), np.float32)
    for i, contour in enumerate(contours):
        window, blob = filled(contour)
        inside = truth[window][blob]
        counts = np.bincount(inside)
        counts[:1] = 0
        if counts.any():
            cell = int(counts.argmax())
            best[i] = counts[cell] / (areas[cell] + inside.size - counts[cell])
    return best


def _cells_of(folder: Path, name: str, found: Callable[[], Any]) -> Any:
    """Cells that the reader finds, kept apart from lines: eyes for cracks and forests for lines may be tried in many ways beside the same cells."""
    kept = folder / f"{name}.{_made_with(network.WEIGHTS, rims.WEIGHTS, OUT / 'cells.npz', OUT / 'cells_again.npz')}.labels.npz"
    if not kept.exists():
        np.savez_compressed(kept, found())
    return np.load(kept)["arr_0"]


def describe_lines(folder: Path, name: str) -> list[dict[str, Any]]:
    """Segments of each kind of ridge as the reader will meet them, beside cells that it found itself, and what each truly is."""
    cv2.setNumThreads(1)
    kept = folder / f"{name}.{_made_with(network.WEIGHTS, network.BREAKS, OUT / 'cells.npz', OUT / 'cells_again.npz')}.lines"
    if not kept.exists():
        panel, lab, film, centres, maps = looked_at(folder, name)
        labels = _cells_of(folder, name, lambda: cells.find_cells(lab, centres, K, film, maps).labels)
        scene = lines.Scene.of(lab, centres, labels, film, maps, K)
        found = [lines.find_segments(scene, polarity) for polarity in lines.RIDGES]
        kept.write_bytes(pickle.dumps([{"segments": f} for f in found if len(f.features)]))
    panel = np.load(folder / f"{name}.npz")  # what is true may be told otherwise one day; what is seen stays
    crack = cv2.dilate((panel["cracks"] > 110).astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    lace = cv2.dilate((panel["lacing"] > 110).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    told = []
    for segments in (look["segments"] for look in pickle.loads(kept.read_bytes())):
        spots = np.nonzero(segments.skeleton)
        which = segments.skeleton[spots] - 1
        cracked, laced = (np.bincount(which, m[spots], minlength=len(segments.features)) / segments.length_px for m in (crack, lace))
        kinds = np.where(cracked > TRUE_SHARE, lines.CRACK, np.where(laced > TRUE_SHARE, lines.LACE, lines.NEITHER))
        told.append({"segments": segments, "y": kinds, "w": segments.length_px / K})
    return told


@dataclass(frozen=True)
class Broken:
    """Pieces that lines were joined into: what each is like, how long, which share of it is truly cracked; and how long the panel's cracks are."""

    features: Any
    length_mm: Any
    right: Any
    true_mm: float


def describe_pieces(folder: Path, name: str, odds: list[tuple[Any, Any]]) -> Broken:
    """Pieces of a panel whose lines have these scores: both looks of each kind of ridge that `describe_lines` told."""
    cv2.setNumThreads(1)
    ridges = ridges_of(describe_lines(folder, name), odds)
    true = true_lines(folder, name)
    true_mm = skeleton_length_px(true) / K
    if not ridges:
        return Broken(np.zeros((0, breaks.COLUMNS), np.float32), np.zeros(0), np.zeros(0), true_mm)
    pieces = breaks.joined(ridges, K)
    right, pixels = on_true_lines(pieces, true)
    return Broken(breaks.described(pieces, ridges, K), pieces.length_mm, right / np.maximum(pixels, 1), true_mm)


def ridges_of(looks: list[dict[str, Any]], odds: list[tuple[Any, Any]]) -> list[breaks.Ridge]:
    """What `describe_lines` told, with these scores of both looks."""
    return [
        breaks.Ridge(
            polarity=int(look["segments"].features[0, 18]), segments=look["segments"], first=first, odds=second,
            inside=~breaks.along_the_edge(look["segments"], K),
        )
        for look, (first, second) in zip(looks, odds, strict=True)
    ]  # fmt: skip


def true_lines(folder: Path, name: str) -> Any:
    """Skeleton of a panel's true cracks."""
    from skimage.morphology import skeletonize

    return np.asarray(skeletonize(np.load(folder / f"{name}.npz")["cracks"] > 127), bool)


def on_true_lines(pieces: breaks.Pieces, true: Any) -> tuple[Any, Any]:
    """Pixels of each piece's spine that lie on a true crack, and all of them."""
    from scipy.ndimage import distance_transform_edt

    there = pieces.numbers[pieces.spine] - 1
    close = distance_transform_edt(~true)[pieces.spine] <= NEAR_MM * K if true.any() else np.zeros(len(there), bool)
    n = len(pieces.length_mm)
    return np.bincount(there, close, minlength=n), np.bincount(there, minlength=n)


@dataclass(frozen=True)
class Forest:
    """Boosted trees of one kind, grown several times, each time on another draw of the panels: their mean hangs less on luck than any of them."""

    models: tuple[Any, ...]

    def scores(self, x: Any) -> Any:
        """Raw scores, shape (rows, classes), of one column where there are two classes."""
        return np.mean([m._raw_predict(x) for m in self.models], axis=0)

    def odds(self, x: Any) -> Any:
        """Log odds of the second of two classes, shape (rows,)."""
        return self.scores(x)[:, 0]

    def guess(self, x: Any) -> Any:
        """The likeliest class of each row."""
        scores = self.scores(x)
        return (scores[:, 0] > 0).astype(int) if scores.shape[1] == 1 else scores.argmax(axis=1)


@dataclass(frozen=True)
class Growth:
    """How a forest grows: trees, how deep and how wide each, how much each adds, and how many columns a split chooses among."""

    trees: int
    depth: int = 7
    leaves: int = 31
    rate: float = 0.1
    least: int = 25
    ridge: float = 1.0
    columns: float = 1.0
    draws: int = 1


OF_CELLS: Final = Growth(150)
OF_LINES: Final = Growth(110, columns=0.5)  # forests that must not hang on one column are less a matter of luck
OF_PIECES: Final = Growth(80, depth=3, leaves=6, rate=0.06, least=40, ridge=10.0, columns=0.2, draws=8)  # few panels: what is small is surer


def plain_arrays(forest: Forest) -> dict[str, Any]:
    """A forest as flat arrays."""
    feature: list[int] = []
    threshold: list[float] = []
    left: list[int] = []
    right: list[int] = []
    value: list[float] = []
    root: list[int] = []
    which: list[int] = []
    stages = [stage for model in forest.models for stage in model._predictors]
    for k, predictor in ((k, predictor) for stage in stages for k, predictor in enumerate(stage)):
        at = len(feature)
        root.append(at)
        which.append(k)
        for node in predictor.nodes:
            leaf = bool(node["is_leaf"])
            feature.append(0 if leaf else int(node["feature_idx"]))
            threshold.append(0.0 if leaf else float(node["num_threshold"]))
            left.append(-1 if leaf else at + int(node["left"]))
            right.append(-1 if leaf else at + int(node["right"]))
            value.append(float(node["value"]) / len(forest.models) if leaf else 0.0)
    return {
        "feature": np.array(feature, np.uint8), "threshold": np.array(threshold, np.float32), "left": np.array(left, np.int32),
        "right": np.array(right, np.int32), "value": np.array(value, np.float32), "root": np.array(root, np.int32),
        "tree_class": np.array(which, np.uint8),
        "baseline": np.mean([np.asarray(m._baseline_prediction, np.float64).ravel() for m in forest.models], axis=0),
        "depth": np.array(max(m.max_depth for m in forest.models)),
    }  # fmt: skip


def fitted(x: Any, y: Any, w: Any, panel: Any, how: Growth) -> Forest:
    """A forest, the same from the same panels; of several draws each takes every panel as often as chance will have it, once on the average."""
    from sklearn.ensemble import HistGradientBoostingClassifier

    models = []
    for draw_ in range(how.draws):
        often = np.random.default_rng(draw_).poisson(1.0, int(panel.max()) + 1) if how.draws > 1 else np.ones(int(panel.max()) + 1)
        drawn = often[panel] > 0
        model = HistGradientBoostingClassifier(
            max_iter=how.trees, max_depth=how.depth, max_leaf_nodes=how.leaves, learning_rate=how.rate, min_samples_leaf=how.least,
            l2_regularization=how.ridge, max_features=how.columns, random_state=draw_, early_stopping=False,
        )  # fmt: skip
        models.append(model.fit(x[drawn], y[drawn], sample_weight=(w * often[panel])[drawn]))
    return Forest(tuple(models))


def marks(name: str, guess: Any, y: Any, w: Any) -> None:
    """Precision and recall of each kind, by weight."""
    for kind in np.unique(y):
        hit = w[(guess == kind) & (y == kind)].sum()
        print(
            f"{name} kind {kind}: precision {hit / max(w[guess == kind].sum(), 1e-9):.3f} "
            f"recall {hit / max(w[y == kind].sum(), 1e-9):.3f} of {int((y == kind).sum())}",
            flush=True,
        )


def keep(name: str, forest: Forest) -> None:
    """Write a forest where the reader looks for it."""
    np.savez_compressed(OUT / f"{name}.npz", **plain_arrays(forest))
    print(name, (OUT / f"{name}.npz").stat().st_size, "bytes", flush=True)


def _rows(told: list[Told], features: list[Any]) -> tuple[Any, Any, Any, Any]:
    """Candidates of all panels that are clearly cells or clearly none: features, which, weight, number of the panel."""
    rng = np.random.default_rng(0)
    xs, ys, ws, panel = [], [], [], []
    for i, (one, x) in enumerate(zip(told, features, strict=True)):
        sure = (one.overlap < IS_CELL[0]) | (one.overlap > IS_CELL[1])
        sure &= rng.random(len(x)) < min(1.0, MOST_OF_A_PANEL / max(len(x), 1))
        xs.append(x[sure])
        ys.append((one.overlap[sure] > IS_CELL[1]).astype(int))
        ws.append(np.full(int(sure.sum()), 1.0 / np.sqrt(max(int(sure.sum()), 50))))
        panel.append(np.full(int(sure.sum()), i))
    return np.concatenate(xs), np.concatenate(ys), np.concatenate(ws), np.concatenate(panel)


def _stands(one: Told, odds: Any) -> Any:
    """What the second look at a panel asks."""
    return company(one.found, one.colours, odds, one.film, one.k) if len(odds) else np.zeros((0, COMPANY), np.float32)


def grow_cells(told: list[Told], held: Any) -> None:
    """First look, then the second one on odds that each panel got from a forest that had not seen it."""
    x, y, w, panel = _rows(told, [one.features for one in told])
    t = held[panel]
    first = fitted(x[~t], y[~t], w[~t], panel[~t], OF_CELLS)
    marks("cells", first.guess(x[t]), y[t], w[t])
    keep("cells", first)
    some = [~t & (panel % FOLDS != f) for f in range(FOLDS)]
    others = [fitted(x[s], y[s], w[s], panel[s], OF_CELLS) for s in some]
    odds = [
        (first if out else others[i % FOLDS]).odds(one.features) if len(one.features) else np.zeros(0)
        for i, (one, out) in enumerate(zip(told, held, strict=True))
    ]
    with ProcessPoolExecutor() as pool:
        beside = list(pool.map(_stands, told, odds, chunksize=4))
    x, y, w, panel = _rows(told, [np.concatenate([one.features, b], axis=1) for one, b in zip(told, beside, strict=True)])
    t, live = held[panel], x[:, looks.COLUMNS] > cells.HOPELESS_ODDS
    second = fitted(x[~t & live], y[~t & live], w[~t & live], panel[~t & live], OF_CELLS)
    marks("cells_again", second.guess(x[t & live]), y[t & live], w[t & live])
    keep("cells_again", second)


def trusted(panels: list[str]) -> Any:
    """How much the lines of each panel count."""
    less = {PAINTED: 1.0, BROKEN: 1.0, LACED: 1.0, GAPING: 1.0, FAINT: 1.0, STRUNG: 1.0, LITTERED: LITTER_WEIGHT}
    return np.array([less.get(p.split("-")[0], WORLD_WEIGHT) for p in panels])


def grow_lines(told: list[list[dict[str, Any]]], held: Any, weight: Any) -> list[list[tuple[Any, Any]]]:
    """First look, then the second one on scores that each panel got from a forest that had not seen it; scores of both, got like that."""
    looks = [(look, i) for i, one in enumerate(told) for look in one]
    x = np.concatenate([look["segments"].features for look, _ in looks])
    y = np.concatenate([look["y"] for look, _ in looks])
    w = np.concatenate([look["w"] for look, _ in looks])
    panel = np.concatenate([np.full(len(look["y"]), i) for look, i in looks])
    w = w * np.where(y == lines.CRACK, CRACK_WEIGHT, 1.0) * weight[panel]
    t = held[panel]
    fold = fold_of(held)[panel]
    first = fitted(x[~t], y[~t], w[~t], panel[~t], OF_LINES)
    marks("lines", first.guess(x[t]), y[t], w[t])
    keep("lines", first)
    scores = np.zeros((len(x), 3))
    for f in range(FOLDS):
        some = ~t & (fold != f)
        scores[fold == f] = fitted(x[some], y[some], w[some], panel[some], OF_LINES).scores(x[fold == f])
    scores[t] = first.scores(x[t])
    at = np.concatenate([[0], np.cumsum([len(look["y"]) for look, _ in looks])])
    again = np.concatenate([lines.company(look["segments"], scores[a:b]) for (look, _), a, b in zip(looks, at[:-1], at[1:], strict=True)])
    cracked = (y == lines.CRACK).astype(int)
    second = fitted(again[~t], cracked[~t], w[~t], panel[~t], OF_LINES)
    marks("lines_again", second.guess(again[t]), cracked[t], w[t])
    keep("lines_again", second)
    odds = np.zeros(len(x))
    for f in range(FOLDS):
        some = ~t & (fold != f)
        odds[fold == f] = fitted(again[some], cracked[some], w[some], panel[some], OF_LINES).odds(again[fold == f])
    odds[t] = second.odds(again[t])
    by_panel: list[list[tuple[Any, Any]]] = [[] for _ in told]
    for (_, i), a, b in zip(looks, at[:-1], at[1:], strict=True):
        by_panel[i].append((scores[a:b], odds[a:b]))
    return by_panel


def fold_of(held: Any) -> Any:
    """Fold of each panel that teaches, -1 of those held out."""
    fold = np.full(len(held), -1)
    fold[~held] = np.arange(int((~held).sum())) % FOLDS
    return fold


def grow_pieces(told: list[Broken], held: Any, weight: Any) -> None:
    """Third look: pieces as wholes."""
    x = np.concatenate([one.features for one in told])
    y = np.concatenate([one.right > TRUE_SHARE for one in told]).astype(int)
    panel = np.concatenate([np.full(len(one.right), i) for i, one in enumerate(told)])
    w = np.sqrt(np.concatenate([one.length_mm for one in told])) * weight[panel]
    t = held[panel]
    third = fitted(x[~t], y[~t], w[~t], panel[~t], OF_PIECES)
    marks("pieces", third.guess(x[t]), y[t], w[t])
    keep("pieces", third)


def asker(told: str | None) -> argparse.ArgumentParser:
    """What both growing and marking ask for."""
    words = argparse.ArgumentParser(description=told)
    words.add_argument("folder", type=Path)
    words.add_argument("--worlds", type=int, default=260)
    words.add_argument("--painted", type=int, default=200)
    words.add_argument("--workers", type=int, default=2)
    return words


def held_out(panels: list[str]) -> Any:
    """Which of `names` the forests never see."""
    never = len(HELD_OUT) * HELD_EACH
    return np.array([i < never or i % EVERY == 0 for i in range(len(panels))])


def main() -> None:
    """Read what was asked for, and do it."""
    words = asker(__doc__)
    words.add_argument("--also", nargs="*", default=[], choices=MARKED_ONLY, help="kinds that teach lines as well")
    asked = words.parse_args()
    asked.folder.mkdir(parents=True, exist_ok=True)
    every = names(asked.worlds, asked.painted)
    taught = np.array([p.split("-")[0] not in set(MARKED_ONLY) - set(asked.also) for p in every])
    panels, held = [p for p, teaches in zip(every, taught, strict=True) if teaches], held_out(every)[taught]
    base = len(HELD_OUT) * HELD_EACH + asked.worlds + asked.painted  # all others are for lines
    with ProcessPoolExecutor(asked.workers) as pool:
        more = more_names()
        list(pool.map(partial(photograph, asked.folder), panels + more))
        told = list(pool.map(partial(describe_cells, asked.folder), panels[:base] + more))
    grow_cells(told, np.concatenate([held[:base], np.zeros(len(more), bool)]))
    with ProcessPoolExecutor(asked.workers) as pool:  # anew: those that live know the forest of before
        seen_lines = list(pool.map(partial(describe_lines, asked.folder), panels))
    odds = grow_lines(seen_lines, held, trusted(panels))
    with ProcessPoolExecutor(asked.workers) as pool:
        pieces = list(pool.map(partial(describe_pieces, asked.folder), panels, odds))
    grow_pieces(pieces, held, trusted(panels))


if __name__ == "__main__":
    main()
