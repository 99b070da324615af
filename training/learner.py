"""What trainings of whole networks share: crops that are turned and mirrored, weights that are averaged, checkpoints that are gone on from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import numpy as np
import torch
from torch import Tensor, nn

from training.network import FOLD

if TYPE_CHECKING:
    from collections.abc import Callable

    from training.network import Reader

STEEPEST: Final = 5.0  # norm of a gradient beyond which it is scaled down


@cache
def multiplies_bfloat16() -> bool:
    """Whether this machine's processor has instructions for it."""
    told = Path("/proc/cpuinfo")
    return told.exists() and bool({"avx512_bf16", "amx_bf16"} & set(told.read_text().split()))


def fullest(shape: tuple[int, ...], size: int, looks: int, much: Callable[[Any, Any], float], rng: np.random.Generator) -> tuple[Any, Any]:
    """Of so many windows of `size` pixels the one that holds most: at the panel's own scale, and at the scale of the truth beside it."""
    most, best = -1.0, (np.s_[:0, :0], np.s_[:0, :0])
    for _ in range(looks):
        top, left = (int(rng.integers(0, (n - size) // FOLD + 1)) * FOLD for n in shape[:2])
        there = np.s_[top : top + size, left : left + size], np.s_[top // FOLD : (top + size) // FOLD, left // FOLD : (left + size) // FOLD]
        if (held := much(*there)) > most:
            most, best = held, there
    return best


def turned(parts: list[Any], rng: np.random.Generator) -> tuple[Any, ...]:
    """Planes (…, rows, columns) turned by quarters and mirrored, all alike."""
    turn, flip = int(rng.integers(4)), bool(rng.random() < 0.5)
    parts = [np.rot90(p, turn, (-2, -1)) for p in parts]
    return tuple(np.ascontiguousarray(p[..., ::-1] if flip else p) for p in parts)


@dataclass
class Learner:
    """A network that learns, its averaged weights, and how far it is."""

    reader: Reader
    averaged: Reader
    optimizer: torch.optim.Optimizer
    most_kept: float
    """Of the averaged weights, at each step."""
    step: int = 0
    seconds: float = 0.0

    @classmethod
    def of(cls, reader: Reader, averaged: Reader, rate: float, most_kept: float) -> Learner:
        """Begin from the weights of `reader`."""
        reader, averaged = (net.to(memory_format=torch.channels_last) for net in (reader, averaged))  # type: ignore[call-overload]
        averaged.load_state_dict(reader.state_dict())
        return cls(reader, averaged, torch.optim.AdamW(reader.parameters(), lr=rate, weight_decay=1e-4), most_kept)

    def go_on(self, path: Path) -> None:
        """Go on from a checkpoint, where there is one."""
        if not path.exists():
            return
        was = torch.load(path, weights_only=True)
        self.reader.load_state_dict(was["reader"])
        self.averaged.load_state_dict(was["averaged"])
        self.optimizer.load_state_dict(was["learner"])
        self.step, self.seconds = was["step"], was["seconds"]

    def keep(self, path: Path) -> None:
        """Write a checkpoint whole, or leave the one before."""
        fresh = path.with_suffix(".new")
        told = {"reader": self.reader.state_dict(), "averaged": self.averaged.state_dict(), "learner": self.optimizer.state_dict()}
        torch.save(told | {"step": self.step, "seconds": self.seconds}, fresh)
        fresh.replace(path)

    def logits(self, folded: Tensor) -> Tensor:
        """What the network says: in bfloat16 where the machine multiplies it by itself (half the time there, twice as much elsewhere)."""
        with torch.autocast("cpu", torch.bfloat16, enabled=multiplies_bfloat16()):
            said = self.reader(folded.contiguous(memory_format=torch.channels_last))
        return torch.as_tensor(said.float())

    def learn(self, loss: Tensor, rate: float) -> None:
        """One step."""
        for group in self.optimizer.param_groups:
            group["lr"] = rate
        self.optimizer.zero_grad(set_to_none=True)
        loss.backward()  # type: ignore[no-untyped-call]
        nn.utils.clip_grad_norm_(self.reader.parameters(), STEEPEST)
        self.optimizer.step()
        self.step += 1
        keep = min(self.most_kept, (1 + self.step) / (10 + self.step))
        with torch.no_grad():
            for ours, theirs in zip(self.averaged.state_dict().values(), self.reader.state_dict().values(), strict=True):
                if ours.dtype.is_floating_point:
                    ours.mul_(keep).add_(theirs, alpha=1 - keep)
