"""The reader's networks: small U-shaped stacks of 3 × 3 convolutions over the whole panel at 8 px/mm.

The first step folds 2 × 2 pixels into channels, so all work is done at 4 px/mm and coarser; cracks are unfolded to 8 px/mm again.
"""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING, Any, Final

import onnx
import torch
from torch import Tensor, nn

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from pathlib import Path

WIDTHS: Final = (28, 40, 56, 80, 112)
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
    """Logits (batch, planes, rows / 2, columns / 2) of folded colour (batch, 12, rows / 2, columns / 2).

    By default six planes and then the crack at 2 × 2 pixels; `usual`: log odds at which each plane begins.
    """

    def __init__(self, widths: tuple[int, ...] = WIDTHS, usual: tuple[float, ...] = (*USUAL, *[USUAL_CRACK] * FOLD**2)) -> None:
        super().__init__()
        before = COLOURS * FOLD**2
        self.down = nn.ModuleList()
        for width in widths:
            self.down.append(_pair(before, width))
            before = width
        self.across = nn.ModuleList(nn.Conv2d(low, high, 1) for high, low in itertools.pairwise(widths))
        self.up = nn.ModuleList(_single(width) for width in widths[:-1])
        self.heads = nn.Conv2d(widths[0], len(usual), 1)
        with torch.no_grad():  # begin at how often each is so, rather than at a half
            self.heads.bias.copy_(torch.tensor(usual))

    def forward(self, folded: Tensor) -> Tensor:
        """Logits at 4 px/mm."""
        kept = []
        x = folded
        for i, block in enumerate(self.down):
            x = block(x if i == 0 else nn.functional.max_pool2d(x, 2))
            kept.append(x)
        for i in reversed(range(len(self.up))):
            x = kept[i] + nn.functional.interpolate(self.across[i](x), scale_factor=2.0, mode="nearest")
            x = self.up[i](x)
        return torch.as_tensor(self.heads(x))


def unfolded(path: Path, folded: Tensor, reader: Reader | None = None) -> Reader:
    """The reader whose exported weights lie at `path`, ready to learn on; `reader`: of the same shape where it is not the usual one.

    Export folds each batch normalisation into the convolution before it. Each is put back as what does nothing to the channels of `folded`, a
    batch of colours: their own mean and spread are taken out and given back, so that normalising by batches changes little.
    """
    graph = onnx.load(path).graph
    arrays = {a.name: torch.tensor(onnx.numpy_helper.to_array(a)) for a in graph.initializer}
    exported = iter([[arrays[n] for n in node.input[1:]] for node in graph.node if node.op_type == "Conv"])
    reader = (reader or Reader()).eval()

    def put_back(after: nn.BatchNorm2d, bias: Tensor) -> Callable[..., None]:
        def seen(_conv: nn.Module, _before: Any, channels: Tensor) -> None:
            mean, spread = channels.mean((0, 2, 3)), channels.var((0, 2, 3))
            after.running_mean, after.running_var = mean, spread
            after.weight.copy_(torch.sqrt(spread + after.eps))
            after.bias.copy_(bias + mean)

        return seen

    with torch.no_grad():
        hooks = []
        for conv, after in _in_order(reader):
            weight, bias = next(exported)
            conv.weight.copy_(weight)
            if after is None:
                conv.bias.copy_(bias)
            else:
                hooks.append(conv.register_forward_hook(put_back(after, bias)))
        reader(folded)
    for hook in hooks:
        hook.remove()
    return reader.train()


def _in_order(reader: Reader) -> Iterator[tuple[Any, nn.BatchNorm2d | None]]:
    """Convolutions as they are run, with the normalisation behind each."""
    for block in reader.down:
        yield block[0], block[1]
        yield block[3], block[4]
    for i in reversed(range(len(reader.up))):
        yield reader.across[i], None
        yield reader.up[i][0], reader.up[i][1]
    yield reader.heads, None


def weights_of(reader: nn.Module) -> int:
    """How many numbers it learns."""
    return sum(p.numel() for p in reader.parameters())
