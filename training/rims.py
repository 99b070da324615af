"""Grow the small network that draws the rims of cells: unrolled outlines of the panels of `training.grow`, with what of each lies in the true cell.

    python -m training.rims FOLDER [--steps 6000]

FOLDER is the one of `training.grow`; what was unrolled is kept in FOLDER/rims, and the weights are written where the reader looks for them. Panels
that `grow` holds out teach no rim, either. Needs PyTorch and onnx.
"""

from __future__ import annotations

import argparse
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
import torch
from torch import nn

from dribbet.sight import cells, rims
from dribbet.sight.network import MAPS_PX_PER_MM
from dribbet.sight.outlines import filled
from dribbet.sight.unrolled import ACROSS, POINTS, STEPS, Unrolled, curved, pictures
from training.draw import K
from training.grow import describe_cells, held_out, looked_at, more_names, names

CHOSEN: Final = -1.5  # log odds of outlines that teach,
TOGETHER: Final = 0.25  # of which none lies so far on a surer one,
LEAST_OVERLAP: Final = 0.35  # that is so much of a true cell;
MORE: Final = 40  # and so many others of each panel,
MORE_OVERLAP: Final = 0.40  # that are so much of one
BATCH: Final = 96
RATE: Final = 2e-3
SHIFTED: Final = 4  # rows by which half of the pictures begin elsewhere
BLIND: Final = 0.15  # of the pictures show colours alone: what the reader's eyes say may be wrong
WIDE: Final = 20
TOLD_EVERY: Final = 500
DILATED: Final = ((1, 1), (1, 1), (2, 2), (4, 4), (8, 4))


class Rims(nn.Module):
    """Five convolutions that see ever further along and across a rim; log odds of being in the cell."""

    def __init__(self) -> None:
        super().__init__()
        layers: list[nn.Module] = []
        wide = 14
        for reach in DILATED:
            layers += [nn.Conv2d(wide, WIDE, 3, padding=reach, dilation=reach), nn.ReLU()]
            wide = WIDE
        self.layers = nn.Sequential(*layers, nn.Conv2d(wide, 1, 1))

    def forward(self, x: torch.Tensor) -> torch.Tensor:
        """From shape (n, 14, ACROSS, POINTS and what is wrapped) to (n, 1, ...)."""
        said: torch.Tensor = self.layers(x)
        return said


@dataclass(frozen=True)
class Taught:
    """Unrolled outlines of some panels."""

    seen: Any
    within: Any
    """Of the true cell, shape (n, ACROSS, POINTS)."""
    known: Any
    """On the panel at all."""
    lines: Unrolled
    area_mm2: Any
    """Of the true cell."""
    panel: Any
    chosen: Any
    """Outlines that a reader would have chosen; the others lie beside them."""

    @classmethod
    def of(cls, paths: list[Path]) -> Taught:
        """Of what was kept."""
        told = [(i, np.load(p)) for i, p in enumerate(paths)]
        told = [(i, t) for i, t in told if int(t["n"])]
        joined = {k: np.concatenate([t[k] for _, t in told]) for k in ("x", "y", "known", "points", "outward", "reach", "area", "chosen")}
        return cls(
            seen=joined["x"], within=joined["y"], known=joined["known"], area_mm2=joined["area"], chosen=joined["chosen"],
            lines=Unrolled(points=joined["points"], outward=joined["outward"], reach=joined["reach"]),
            panel=np.concatenate([np.full(int(t["n"]), i) for i, t in told]),
        )  # fmt: skip


def unroll(folder: Path, name: str) -> None:
    """Keep one panel's outlines."""
    cv2.setNumThreads(1)
    path = folder / "rims" / f"{name}.npz"
    if path.exists():
        return
    told = describe_cells(folder, name)
    panel, lab, _, _, maps = looked_at(folder, name)
    odds = cells.judged(told.found, told.features, told.colours, told.film, told.k) if len(told.features) else np.zeros(0)
    taken = np.zeros(told.film.shape, bool)
    chosen: list[int] = []
    for i in np.argsort(-odds, kind="stable"):
        if odds[i] < CHOSEN:
            break
        window, inside = filled(told.found.contours[i])
        if np.count_nonzero(taken[window] & inside) > TOGETHER * np.count_nonzero(inside):
            continue
        taken[window] |= inside
        if told.overlap[i] >= LEAST_OVERLAP:
            chosen.append(int(i))
    beside = np.setdiff1d(np.flatnonzero(told.overlap >= MORE_OVERLAP), chosen)
    more = np.random.default_rng(int(name.split("-")[1])).choice(beside, min(MORE, len(beside)), replace=False)
    which = [*chosen, *(int(i) for i in more)]
    if not which:
        np.savez_compressed(path, n=0)
        return
    truth = panel["cells"]
    small = cv2.resize(truth, told.film.shape[::-1], interpolation=cv2.INTER_NEAREST)
    cell = np.array([_most(small, told.found.contours[i]) for i in which])
    lines = Unrolled.of([told.found.contours[i] for i in which], told.k)
    px = np.round(lines.places() * K - 0.5).astype(int)
    size = np.array(truth.shape[::-1])
    known = ((px >= 0) & (px < size)).all(axis=-1)
    px = px.clip(0, size - 1)
    seen = pictures(lab, K, maps, MAPS_PX_PER_MM, lines).astype(np.float16)
    np.savez_compressed(
        path, n=len(which), x=seen, y=truth[px[..., 1], px[..., 0]] == cell[:, None, None], known=known, points=lines.points,
        outward=lines.outward, reach=lines.reach, area=np.bincount(truth.ravel())[cell] / K**2, chosen=np.arange(len(which)) < len(chosen),
    )  # fmt: skip


def _most(truth: Any, contour: Any) -> int:
    """The true cell on which an outline lies most."""
    window, inside = filled(contour)
    count = np.bincount(truth[window][inside])
    count[:1] = 0
    return int(count.argmax())


def varied(seen: Any, within: Any, known: Any, rng: np.random.Generator) -> tuple[Any, Any, Any]:
    """Pictures of a batch, begun further in or out, mirrored, of other hues and contrasts, some of them without what the eyes said."""
    seen, within, known = seen.astype(np.float32), within.copy(), known.copy()
    n = len(seen)
    for i, by in enumerate(rng.integers(-SHIFTED, SHIFTED + 1, n) * (rng.random(n) < 0.5)):
        rows = np.clip(np.arange(ACROSS) + by, 0, ACROSS - 1)
        seen[i], within[i], known[i] = seen[i][:, rows], within[i][rows], known[i][rows]
    if rng.random() < 0.5:
        seen, within, known = seen[..., ::-1], within[..., ::-1], known[..., ::-1]
    turn, more = rng.uniform(0.0, 2 * np.pi, (n, 1, 1)), rng.uniform(0.7, 1.3, (2, n, 1, 1))
    a, b = seen[:, 1].copy(), seen[:, 2].copy()
    seen[:, 1], seen[:, 2] = more[0] * (np.cos(turn) * a - np.sin(turn) * b), more[0] * (np.sin(turn) * a + np.cos(turn) * b)
    light = seen[:, 0].mean(axis=(1, 2))[:, None, None]
    seen[:, 0] = light + (seen[:, 0] - light) * more[1]
    blind = rng.random(n) < BLIND
    seen[blind, 3:] = seen[blind, 3:].mean(axis=(2, 3), keepdims=True)
    return seen, within, known


def taught(panels: Taught, steps: int, seed: int = 0) -> Rims:
    """Train; the rate falls along half a cosine."""
    torch.manual_seed(seed)
    rng = np.random.default_rng(seed)
    net = Rims().to(memory_format=torch.channels_last)  # type: ignore[call-overload]
    learner = torch.optim.Adam(net.parameters(), RATE)
    chance = 1.0 / np.sqrt(np.bincount(panels.panel)[panels.panel])  # a crowded panel does not outweigh all others
    chance /= chance.sum()
    losses: list[float] = []
    for step in range(steps):
        for group in learner.param_groups:
            group["lr"] = RATE * (0.02 + 0.49 * (1.0 + np.cos(np.pi * step / steps)))
        i = rng.choice(len(panels.seen), BATCH, p=chance)
        seen, within, known = varied(panels.seen[i], panels.within[i], panels.known[i], rng)
        x = torch.from_numpy(rims.shown(np.ascontiguousarray(seen), panels.lines.reach[i])).to(memory_format=torch.channels_last)
        with torch.autocast("cpu", torch.bfloat16):
            said = net(x)
        y, weight = (torch.from_numpy(np.ascontiguousarray(part, dtype=np.float32)) for part in (within, known))
        loss = nn.functional.binary_cross_entropy_with_logits(said.float()[:, 0, :, rims.WRAPPED : -rims.WRAPPED], y, weight=weight)
        learner.zero_grad(set_to_none=True)
        loss.backward()  # type: ignore[no-untyped-call]
        learner.step()
        losses.append(float(loss.detach()))
        if len(losses) % TOLD_EVERY == 0:
            print(len(losses), f"steps, loss {np.mean(losses[-TOLD_EVERY:]):.4f}", flush=True)
    return net.eval()


def told(net: Rims | None, panels: Taught) -> str:
    """How near rims lie, of outlines that a reader would choose: width off by (median; with its sign), overlap with the true cell.

    Without a network: as they were found.
    """
    lines = panels.lines
    ends = np.zeros((len(panels.seen), POINTS), np.float32)
    if net is not None:
        for begin in range(0, len(ends), 256):
            part = np.s_[begin : begin + 256]
            with torch.no_grad():
                said = net(torch.from_numpy(rims.shown(panels.seen[part].astype(np.float32), lines.reach[part])))
            ends[part] = rims.ends(said[:, 0, :, rims.WRAPPED : -rims.WRAPPED].numpy())
    points = curved(lines.at(ends))
    x, y = points[..., 0], points[..., 1]
    area = 0.5 * np.abs((x * np.roll(y, -1, 1) - y * np.roll(x, -1, 1)).sum(axis=1))
    along = np.linalg.norm(np.roll(lines.points, -1, 1) - np.roll(lines.points, 1, 1), axis=2) / 2
    pixel = along[:, None] * (lines.reach * 2.0 / ACROSS)[:, None, None]
    said_in = STEPS[None, :, None] < ends[:, None]
    false = (pixel * (said_in & ~panels.within)).sum(axis=(1, 2))
    missed = (pixel * (~said_in & panels.within)).sum(axis=(1, 2))
    true = np.maximum(area - false, 0.0)
    overlap = true / (true + false + np.maximum(panels.area_mm2 - true, missed))
    off = np.sqrt(area / panels.area_mm2) - 1.0
    c = panels.chosen
    half = float((overlap[c] >= 0.5).mean())
    return f"width off {np.median(abs(off[c])):.3f} ({np.median(off[c]):+.3f}), overlap {overlap[c].mean():.3f}, by half and more {half:.3f}"


def export(net: Rims) -> None:
    """Write the weights where the reader looks for them."""
    like = torch.zeros(1, 14, ACROSS, POINTS + 2 * rims.WRAPPED)
    torch.onnx.export(
        net.to(memory_format=torch.contiguous_format), (like,), str(rims.WEIGHTS), input_names=["x"], output_names=["y"],  # type: ignore[call-overload]
        opset_version=13, dynamo=False, dynamic_axes={"x": {0: "n"}, "y": {0: "n"}},
    )  # fmt: skip
    print(rims.WEIGHTS.name, rims.WEIGHTS.stat().st_size, "bytes", flush=True)


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("folder", type=Path)
    words.add_argument("--steps", type=int, default=6000)
    words.add_argument("--workers", type=int, default=2)
    asked = words.parse_args()
    (asked.folder / "rims").mkdir(parents=True, exist_ok=True)
    panels = names(260, 200)
    held = [n for n, out in zip(panels, held_out(panels), strict=True) if out]
    every = [*panels, *more_names()]
    with ProcessPoolExecutor(asked.workers) as pool:
        list(pool.map(partial(unroll, asked.folder), every))
    paths = {n: asked.folder / "rims" / f"{n}.npz" for n in every}
    net = taught(Taught.of([paths[n] for n in every if n not in held]), asked.steps)
    for kind in dict.fromkeys(n.split("-")[0] for n in held):
        these = [paths[n] for n in held if n.split("-")[0] == kind]
        if any(int(np.load(p)["n"]) for p in these):
            panels_of = Taught.of(these)
            print(f"{kind}: as found {told(None, panels_of)}; drawn anew {told(net, panels_of)}", flush=True)
    export(net)


if __name__ == "__main__":
    main()
