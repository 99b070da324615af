"""The reader's network: one small U-shaped stack of 3 × 3 convolutions over the whole panel at 8 px/mm.

The first step folds 2 × 2 pixels into channels, so all work is done at 4 px/mm and coarser; cracks are unfolded to 8 px/mm again.
"""

from __future__ import annotations

import itertools
from typing import Final

import torch
from torch import Tensor, nn

WIDTHS: Final = (28, 40, 56, 80, 112)
PLANES: Final = 6
FOLD: Final = 2
COLOURS: Final = 3
USUAL: Final = (-2.0, -2.5, -3.0, -2.2, -3.0, -2.0)
"""Log odds of inside, rim, centre, border, lacing and bare over the drawn panels."""
USUAL_CRACK: Final = -4.5


def _pair(before: int, after: int) -> nn.Sequential:
    return nn.Sequential(
        nn.Conv2d(before, after, 3, padding=1, bias=False), nn.BatchNorm2d(after), nn.ReLU(inplace=True),
        nn.Conv2d(after, after, 3, padding=1, bias=False), nn.BatchNorm2d(after), nn.ReLU(inplace=True),
    )  # fmt: skip


def _single(width: int) -> nn.Sequential:
    return nn.Sequential(nn.Conv2d(width, width, 3, padding=1, bias=False), nn.BatchNorm2d(width), nn.ReLU(inplace=True))


class Reader(nn.Module):
    """Logits (batch, 6 + 4, rows / 2, columns / 2) of folded colour (batch, 12, rows / 2, columns / 2).

    First the six planes, then the crack at 2 × 2 pixels.
    """

    def __init__(self) -> None:
        super().__init__()
        before = COLOURS * FOLD**2
        self.down = nn.ModuleList()
        for width in WIDTHS:
            self.down.append(_pair(before, width))
            before = width
        self.across = nn.ModuleList(nn.Conv2d(low, high, 1) for high, low in itertools.pairwise(WIDTHS))
        self.up = nn.ModuleList(_single(width) for width in WIDTHS[:-1])
        self.heads = nn.Conv2d(WIDTHS[0], PLANES + FOLD**2, 1)
        with torch.no_grad():  # begin at how often each is so, rather than at a half
            self.heads.bias.copy_(torch.tensor([*USUAL, *[USUAL_CRACK] * FOLD**2]))

    def forward(self, folded: Tensor) -> Tensor:
        """Logits at 4 px/mm."""
        kept = []
        x = folded
        for i, block in enumerate(self.down):
            x = block(x if i == 0 else nn.functional.max_pool2d(x, 2))
            kept.append(x)
        for i in reversed(range(len(WIDTHS) - 1)):
            x = kept[i] + nn.functional.interpolate(self.across[i](x), scale_factor=2.0, mode="nearest")
            x = self.up[i](x)
        return torch.as_tensor(self.heads(x))


def weights_of(reader: nn.Module) -> int:
    """How many numbers it learns."""
    return sum(p.numel() for p in reader.parameters())
