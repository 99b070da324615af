"""Train the eyes for cracks: a network of its own that sees nothing but thin lines, from panels that `training.draw` drew.

    python -m training.breaks FOLDER [--steps 10000] [--finish 3500] [--held GROWN] [--begin OLD.onnx] [--rate 0.002]

FOLDER holds `*.npy` of panels, as many with cracks as without. Each is photographed a few times beforehand (`FOLDER/photos`), because drawing light
costs more than learning from it; crops are turned, mirrored, scaled, their colours exchanged. Keeps `FOLDER/breaks.pt` and goes on from it; marks on
photographs of `training.grow` that were held out (GROWN), a kind a line. At the end it writes `dribbet/sight/breaks.onnx`.
"""

from __future__ import annotations

import argparse
import json
import math
import time
from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
import torch
from torch import Tensor, nn

from dribbet.demo.world.draw import HELD_OUT
from dribbet.demo.world.lamps import linear_of_srgb, seen
from dribbet.sight import network
from training.draw import PLANES, K, opened
from training.export import write
from training.learner import Learner, fullest, turned
from training.network import FOLD, Reader, unfolded, weights_of
from training.train import KNOWN_BY, folded, missed

WIDTHS: Final = (18, 32, 48, 72)
USUAL: Final = -4.5
USUAL_LACE: Final = -3.0
RATE: Final = 2e-3
AVERAGED: Final = 0.998
CROP: Final = 256
BATCH: Final = 12
TAKES: Final = 2
"""Photographs of each panel."""
KEEP_EVERY: Final = 500
MARK_EVERY: Final = 2000
ODDS: Final = 3.0
REACH_PX: Final = 2
CHANCES: Final = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8)


def eyes_anew() -> Reader:
    """Eyes that have learned nothing: cracks at 2 × 2 pixels, and lacing beside them, so that they know what to tell apart."""
    return Reader(WIDTHS, (*[USUAL] * FOLD**2, USUAL_LACE))


def _photograph(path: Path, i: int) -> tuple[Any, Any, Any]:
    cv2.setNumThreads(1)
    srgb, cracks, planes = opened(np.load(path, mmap_mode="r")[i])
    linear = linear_of_srgb(srgb.astype(np.float32) / 255.0)
    rng = np.random.default_rng([i, 41])
    return np.stack([seen(linear, K, rng) for _ in range(TAKES)]), cracks, planes[PLANES.index("lacing")]


def photographs(folder: Path, workers: int) -> list[tuple[Any, Any, Any]]:
    """Photographs, cracks and lacing of every file of panels, drawn once and mapped from disk."""
    there = folder / "photos"
    there.mkdir(exist_ok=True)
    told = []
    for path in sorted(folder.glob("*.npy")):
        kept = [there / f"{path.stem}.{n}.npy" for n in ("photos", "cracks", "lacing")]
        if not kept[2].exists():
            count = len(np.load(path, mmap_mode="r"))
            fresh = [k.with_suffix(".new") for k in kept]  # whole or not at all: what was cut short must not pass for photographs
            with ProcessPoolExecutor(workers) as pool:
                files: list[Any] = []
                for i, parts in enumerate(pool.map(partial(_photograph, path), range(count), chunksize=8)):
                    if not files:
                        files = [
                            np.lib.format.open_memmap(k, mode="w+", dtype=np.uint8, shape=(count, *p.shape))
                            for k, p in zip(fresh, parts, strict=True)
                        ]
                    for file, part in zip(files, parts, strict=True):
                        file[i] = part
            for file, new, whole in zip(files, fresh, kept, strict=True):
                file.flush()
                new.replace(whole)
        told.append(tuple(np.load(k, mmap_mode="r") for k in kept))
    return told


class Crops(torch.utils.data.IterableDataset[tuple[Tensor, Tensor, Tensor]]):
    """Endless crops: of panels with cracks half of the time, of others the more often the more lacing they hold."""

    def __init__(self, files: list[tuple[Any, Any, Any]], seed: int) -> None:
        self.files, self.seed = files, seed

    def __iter__(self) -> Any:
        """Photo (3, n, n), cracks (n, n), lacing (n / 2, n / 2), uint8."""
        cv2.setNumThreads(1)
        rng = np.random.default_rng([self.seed, 3])
        rows = [(f, i) for f in self.files for i in range(len(f[0]))]
        cracked = np.array([bool((f[1][i] > 127).any()) for f, i in rows])
        laced = np.array([float((f[2][i] > 127).mean()) for f, i in rows])
        odds = np.where(cracked, 1.0 / cracked.sum(), (0.05 + np.minimum(laced, 0.2)) * ~cracked / ((0.05 + np.minimum(laced, 0.2)) * ~cracked).sum())
        while True:
            (photos, cracks, lacing), i = rows[int(rng.choice(len(rows), p=odds / odds.sum()))]
            yield tuple(torch.from_numpy(p) for p in _crop(photos[i][rng.integers(len(photos[i]))], cracks[i], lacing[i], rng))


def _crop(photo: Any, cracks: Any, lacing: Any, rng: np.random.Generator) -> tuple[Any, Any, Any]:
    scale = float(np.exp(rng.uniform(-0.25, 0.25)))
    size = int(CROP / scale) // 2 * 2

    def much(window: Any, half: Any) -> float:
        return float((cracks[window] > 127).mean()) + 0.1 * float((lacing[half] > 127).mean())

    window, half = fullest(photo.shape, size, 1 if rng.random() < 0.3 else 3, much, rng)
    way = cv2.INTER_LINEAR if scale > 1 else cv2.INTER_AREA
    parts = [
        cv2.resize(np.ascontiguousarray(p), (n, n), interpolation=way)
        for p, n in ((photo[window], CROP), (cracks[window], CROP), (lacing[half], CROP // FOLD))
    ]
    picture = parts[0].astype(np.float32)
    if rng.random() < 0.4:
        picture = picture[..., rng.permutation(3)]
    if rng.random() < 0.2:  # a negative: what is dark in one panel may be light in the next
        picture = 255.0 - picture
    if rng.random() < 0.5:
        picture = 255.0 * np.clip(picture / 255.0 * rng.uniform(0.75, 1.25), 0, 1) ** rng.uniform(0.75, 1.3)
    parts[0] = np.round(picture).astype(np.uint8).transpose(2, 0, 1)
    picture, crack, lace = turned(parts, rng)
    return picture, crack, lace


def loss_of(logits: Tensor, cracks: Tensor, lacing: Tensor) -> tuple[Tensor, float, float]:
    """Loss of a batch, and its two parts."""
    line = nn.functional.pixel_shuffle(logits[:, : FOLD**2], FOLD)[:, 0]
    true = cracks.float() / 255.0
    crack = 4.0 * nn.functional.binary_cross_entropy_with_logits(line, true, weight=1.0 + (ODDS - 1.0) * (true > 0.3)) + 0.5 * missed(line, true)
    laced = lacing.float() / 255.0
    lace = nn.functional.binary_cross_entropy_with_logits(logits[:, FOLD**2], laced) + 0.2 * missed(logits[:, FOLD**2], laced)
    return crack + 0.3 * lace, float(crack.detach()), float(lace.detach())


def chances(eyes: nn.Module, photo: Any) -> Any:
    """Chance of a crack at each pixel of a photograph (rows, columns, 3), uint8."""
    with torch.no_grad():
        x = folded(torch.from_numpy(np.ascontiguousarray(photo.transpose(2, 0, 1)))[None])
        return torch.sigmoid(nn.functional.pixel_shuffle(eyes(x)[:, : FOLD**2], FOLD))[0, 0].numpy()


def agreement(chance: Any, true: Any) -> Any:
    """Pixels right, said, met and true at each of `CHANCES`; shape (8, 4)."""
    size = np.ones((2 * REACH_PX + 1,) * 2, np.uint8)
    wide = cv2.dilate(true.astype(np.uint8), size) > 0
    told = []
    for least in CHANCES:
        said = chance > least
        near = cv2.dilate(said.astype(np.uint8), size) > 0
        told.append([(said & wide).sum(), said.sum(), (near & true).sum(), true.sum()])
    return np.array(told, float)


def marked(eye: Any, grown: Path, kinds: tuple[str, ...] = ("world", "cracked", "broken", "painted")) -> dict[str, str]:
    """Best F1 of pixels on photographs held out, by kind, at which chance; and the share of crackless panels' pixels said at that chance."""
    from training.grow import held_out, names

    panels = names(260, 200)
    sums: dict[str, Any] = defaultdict(lambda: np.zeros((len(CHANCES), 4)))
    false: dict[str, Any] = defaultdict(lambda: np.zeros(len(CHANCES)))
    count: dict[str, int] = defaultdict(int)
    for name, out in zip(panels, held_out(panels), strict=True):
        kind = name.split("-")[0]
        if not out or kind not in (*kinds, *HELD_OUT):
            continue
        panel = np.load(grown / f"{name}.npz")
        chance = eye(panel["photo"])
        if (panel["cracks"] > 127).any():
            sums[kind] += agreement(chance, panel["cracks"] > 127)
        else:
            false[kind] += np.array([(chance > c).mean() for c in CHANCES])
            count[kind] += 1
    told = {}
    for kind in (*kinds, *HELD_OUT):
        if kind in sums:
            right, said, met, true = sums[kind].T
            p, r = right / np.maximum(said, 1), met / np.maximum(true, 1)
            f1 = 2 * p * r / np.maximum(p + r, 1e-9)
            i = int(f1.argmax())
            told[kind] = f"{f1[i]:.3f} at {CHANCES[i]} ({p[i]:.2f}, {r[i]:.2f})"
        if count[kind]:
            told[kind] = told.get(kind, "") + f" false at 0.5 {1e4 * false[kind][4] / count[kind]:.2f} in 10,000"
    return told


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("folder", type=Path)
    words.add_argument("--steps", type=int, default=10_000)
    words.add_argument("--finish", type=int, default=3500, help="of the steps, those at a falling rate")
    words.add_argument("--held", type=Path)
    words.add_argument("--begin", type=Path, help="weights that were shipped, to go on from where there is no checkpoint")
    words.add_argument("--rate", type=float, default=RATE, help="of learning, before it falls")
    words.add_argument("--threads", type=int, default=2)
    asked = words.parse_args()
    torch.set_num_threads(asked.threads)
    torch.manual_seed(7)
    files = photographs(asked.folder, asked.threads)
    print("panels", sum(len(f[0]) for f in files), flush=True)
    eyes, kept = eyes_anew(), asked.folder / "breaks.pt"
    if asked.begin and not kept.exists():
        some = torch.utils.data.DataLoader(Crops(files, 1), batch_size=KNOWN_BY)
        eyes = unfolded(asked.begin, folded(next(iter(some))[0]), eyes)
    learner = Learner.of(eyes, eyes_anew(), asked.rate, AVERAGED)
    learner.go_on(kept)
    print(weights_of(learner.reader), "weights, from step", learner.step, flush=True)
    feed = iter(torch.utils.data.DataLoader(Crops(files, 100 + learner.step), batch_size=BATCH, num_workers=1, prefetch_factor=4))
    before, begun, sums = learner.seconds, time.perf_counter(), np.zeros(2)
    while learner.step < asked.steps:
        left = (asked.steps - learner.step) / max(asked.finish, 1)
        photo, cracks, lacing = next(feed)
        loss, *parts = loss_of(learner.logits(folded(photo)), cracks, lacing)
        learner.learn(loss, asked.rate * min(1.0, (learner.step + 1) / 300) * (0.5 * (1 - math.cos(math.pi * left)) if left < 1 else 1.0) + 1e-5)
        sums += parts
        learner.seconds = before + time.perf_counter() - begun
        if learner.step % KEEP_EVERY == 0 or learner.step == asked.steps:
            print(f"{learner.step} {learner.seconds:.0f} s cracks {sums[0] / KEEP_EVERY:.3f} lacing {sums[1] / KEEP_EVERY:.3f}", flush=True)
            sums[:] = 0
            learner.keep(kept)
        if asked.held and (learner.step % MARK_EVERY == 0 or learner.step == asked.steps):
            learner.averaged.eval()
            print(json.dumps(marked(partial(chances, learner.averaged), asked.held)), flush=True)
    print(network.BREAKS.name, write(learner.averaged, network.BREAKS), flush=True)


if __name__ == "__main__":
    main()
