"""Train the reader's network from panels that `training.draw` drew; goes on from its last checkpoint.

    nice python -m training.train FOLDER [--steps 30000] [--batch 6] [--hours 12] [--finish 0] [--begin OLD.onnx]

Every `MARK_EVERY` steps it is marked on worlds that never teach, and both the working and the averaged weights are kept in FOLDER/reader.pt. Panels
are drawn from all files teach*.npy, those with much to learn more often. The rate stays as it is until `--finish N` steps are asked for, in which
it falls to nothing: so training may be ended well at any time, and gone on with from a copy. Where the checkpoint is lost, `--begin OLD.onnx` goes on
from weights that were shipped.
"""

from __future__ import annotations

import argparse
import json
import math
import sys
import time
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
import torch
from torch import Tensor, nn

from dribbet.demo.world.lamps import linear_of_srgb, seen
from training.draw import PLANES, K, opened
from training.learner import Learner, fullest, turned
from training.network import FOLD, Reader, unfolded, weights_of

CROP: Final = 320
RATE: Final = 1.5e-3
AVERAGED: Final = 0.999
MARK_EVERY: Final = 1000
KEEP_EVERY: Final = 250
KNOWN_BY: Final = 24  # photographs that show how large each channel usually is
WEIGHT: Final = {"inside": 1.5, "rim": 1.0, "centre": 1.0, "border": 0.7, "lacing": 0.7, "bare": 0.5, "cracks": 1.5}
CRACK_ODDS: Final = 3.0  # a pixel of a crack counts so much more than one of none


LOOKS: Final = 4  # places looked at for one that holds something to learn
PLAIN: Final = 0.25  # crops that are taken as they come


def _content(cracks: Any, planes: Any) -> float:
    """How much there is to learn in a crop: cells, their rims, cracks."""
    return float((planes[PLANES.index("inside")] > 127).mean() + 3.0 * (planes[PLANES.index("border")] > 127).mean() + 30.0 * (cracks > 127).mean())


def photographed(row: Any, rng: np.random.Generator, crop: int = CROP) -> tuple[Any, Any, Any]:
    """A crop of a panel as a camera sees it: turned, mirrored, a little larger or smaller, its colours exchanged at times."""
    srgb, cracks, planes = opened(row)
    scale = float(np.exp(rng.uniform(-0.22, 0.22)))
    size = min(int(crop / scale) // 4 * 4, srgb.shape[0] // 4 * 4)

    def much(window: Any, half: Any) -> float:
        return min(_content(cracks[window], planes[(slice(None), *half)]), 1.0)

    window, half = fullest(srgb.shape, size, 1 if rng.random() < PLAIN else LOOKS, much, rng)
    linear = linear_of_srgb(np.asarray(srgb[window], np.float32) / 255.0)
    if rng.random() < 0.25:
        linear = linear[..., rng.permutation(3)]
    if rng.random() < 0.08:  # a negative: what is dark in a world may be light in the next
        linear = np.clip(0.9 - linear, 0.004, 1) ** 1.3
    whole = cv2.resize(linear, (crop, crop), interpolation=cv2.INTER_LINEAR if scale > 1 else cv2.INTER_AREA)
    crack = cv2.resize(cracks[window], (crop, crop), interpolation=cv2.INTER_LINEAR if scale > 1 else cv2.INTER_AREA)
    small = cv2.resize(
        np.ascontiguousarray(planes[(slice(None), *half)].transpose(1, 2, 0)), (crop // FOLD,) * 2, interpolation=cv2.INTER_LINEAR
    ).transpose(2, 0, 1)
    photo = seen(whole, K, rng).transpose(2, 0, 1)
    photo, crack, small = turned([photo, crack, small], rng)
    return photo, crack, small


class Photographs(torch.utils.data.IterableDataset[tuple[Tensor, Tensor, Tensor]]):
    """Endless photographs of the panels in some files."""

    def __init__(self, paths: list[Path], seed: int) -> None:
        self.paths, self.seed = paths, seed

    def __iter__(self) -> Any:
        """Photo (3, n, n), cracks (n, n), planes (6, n / 2, n / 2), all uint8."""
        cv2.setNumThreads(1)
        info = torch.utils.data.get_worker_info()
        rng = np.random.default_rng([self.seed, info.id if info else 0])
        files = [np.load(p, mmap_mode="r") for p in self.paths]
        rows = [(f, i) for f in files for i in range(len(f))]
        much = np.array([0.15 + min(_content(*opened(f[i])[1:]), 1.0) for f, i in rows])
        while True:
            file, i = rows[int(rng.choice(len(rows), p=much / much.sum()))]
            yield tuple(torch.from_numpy(p) for p in photographed(file[i], rng))


def folded(photo: Tensor) -> Tensor:
    """Colours of 2 × 2 pixels as channels, about -1 … 1."""
    return nn.functional.pixel_unshuffle(photo.float() / 127.5 - 1.0, FOLD)


def loss_of(logits: Tensor, cracks: Tensor, planes: Tensor) -> tuple[Tensor, dict[str, float]]:
    """Loss of a batch, and its parts."""
    wanted = planes.float() / 255.0
    losses: dict[str, Tensor] = {}
    for i, name in enumerate(PLANES):
        said, true = logits[:, i], wanted[:, i]
        if name in ("rim", "centre"):  # shares of their own: an absolute difference would draw them to nought, which most pixels are
            losses[name] = nn.functional.binary_cross_entropy_with_logits(said, true)
        else:
            losses[name] = nn.functional.binary_cross_entropy_with_logits(said, true) + 0.3 * missed(said, true)
    line = nn.functional.pixel_shuffle(logits[:, len(PLANES) :], FOLD)[:, 0]
    true = cracks.float() / 255.0
    weight = 1.0 + (CRACK_ODDS - 1.0) * (true > 0.3)
    losses["cracks"] = 4.0 * nn.functional.binary_cross_entropy_with_logits(line, true, weight=weight) + 0.3 * missed(line, true)
    total = torch.stack([WEIGHT[n] * v for n, v in losses.items()]).sum()
    return total, {n: float(v.detach()) for n, v in losses.items()}


def missed(said: Tensor, true: Tensor) -> Tensor:
    """One minus the overlap (Dice) over the batch; nought where there is nothing to be found."""
    share = torch.sigmoid(said)
    return 1.0 - (2 * (share * true).sum() + 50.0) / (share.sum() + true.sum() + 50.0)


def marked(reader: nn.Module, path: Path) -> dict[str, float]:
    """Overlap (intersection over union) of inside, cracks, lacing and bare on a file of panels, one photograph of each by a fixed seed."""
    rows = np.load(path, mmap_mode="r")
    rng = np.random.default_rng(11)
    both = dict.fromkeys(("inside", "cracks", "lacing", "bare"), (0.0, 0.0))
    reader.eval()
    with torch.no_grad():
        for row in rows:
            photo, cracks, planes = (torch.from_numpy(p)[None] for p in photographed(row, rng))
            logits = reader(folded(photo))
            said = {n: logits[0, i] > 0 for i, n in enumerate(PLANES)} | {
                "cracks": nn.functional.pixel_shuffle(logits[:, len(PLANES) :], FOLD)[0, 0] > 0
            }
            true = {n: planes[0, i] > 127 for i, n in enumerate(PLANES)} | {"cracks": cracks[0] > 127}
            for n, (met, any_) in both.items():
                both[n] = met + float((said[n] & true[n]).sum()), any_ + float((said[n] | true[n]).sum())
    reader.train()
    return {n: met / max(any_, 1.0) for n, (met, any_) in both.items()}


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("folder", type=Path)
    words.add_argument("--steps", type=int, default=30_000)
    words.add_argument("--batch", type=int, default=6)
    words.add_argument("--hours", type=float, default=12.0)
    words.add_argument("--threads", type=int, default=2)
    words.add_argument("--finish", type=int, default=0)
    words.add_argument("--begin", type=Path, help="weights that were shipped, to go on from where there is no checkpoint")
    asked = words.parse_args()
    torch.set_num_threads(asked.threads)
    torch.manual_seed(5)
    kept = asked.folder / "reader.pt"
    teach = sorted(asked.folder.glob("teach*.npy"))
    reader = Reader()
    if asked.begin and not kept.exists():
        some = torch.utils.data.DataLoader(Photographs(teach, 1), batch_size=KNOWN_BY)
        reader = unfolded(asked.begin, folded(next(iter(some))[0]))
    learner = Learner.of(reader, Reader(), RATE, AVERAGED)
    learner.go_on(kept)
    print(f"{weights_of(reader)} weights, from step {learner.step}", flush=True)
    last = learner.step + asked.finish if asked.finish else asked.steps
    feed = iter(torch.utils.data.DataLoader(Photographs(teach, 100 + learner.step), batch_size=asked.batch, num_workers=1, prefetch_factor=4))
    before, begun, sums = learner.seconds, time.perf_counter(), dict.fromkeys(WEIGHT, 0.0)
    while learner.step < last and time.perf_counter() - begun < asked.hours * 3600:
        fall = 0.5 * (1 + math.cos(math.pi * (1 - (last - learner.step) / asked.finish))) if asked.finish else 1.0
        photo, cracks, planes = next(feed)
        loss, parts = loss_of(learner.logits(folded(photo)), cracks, planes)
        learner.learn(loss, RATE * min(1.0, (learner.step + 1) / 500) * fall + 1e-5)
        sums = {n: v + parts[n] for n, v in sums.items()}
        learner.seconds = before + time.perf_counter() - begun
        if learner.step % KEEP_EVERY == 0 or learner.step == last:
            said = " ".join(f"{n} {v / KEEP_EVERY:.3f}" for n, v in sums.items())
            print(f"{learner.step} {learner.seconds:.0f} s {said}", flush=True)
            sums = dict.fromkeys(WEIGHT, 0.0)
            learner.keep(kept)
        if learner.step % MARK_EVERY == 0:
            told = {n: round(v, 4) for n, v in marked(learner.averaged, asked.folder / "hold.npy").items()}
            print(json.dumps({"step": learner.step, **told}), flush=True)


if __name__ == "__main__":
    sys.exit(main())
