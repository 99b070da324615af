"""Write the averaged weights of a training as ONNX, for OpenCV to run.

    python -m training.export FOLDER OUT.onnx

Needs PyTorch and onnx. Batch normalisation is folded into the convolutions; the answer is checked against PyTorch's own.
"""

from __future__ import annotations

import argparse
from pathlib import Path

import cv2
import numpy as np
import torch
from torch import nn

from training.network import COLOURS, FOLD, Reader

SAME: float = 1e-3
"""Largest difference of a logit between OpenCV and PyTorch."""


def write(model: nn.Module, out: Path) -> str:
    """Write a network of folded colours, and tell how large it is and how far OpenCV's answer lies from PyTorch's."""
    model = model.eval().to(memory_format=torch.contiguous_format)  # type: ignore[call-overload]
    shape = (1, COLOURS * FOLD**2, 256, 256)
    free = {2: "rows", 3: "columns"}
    torch.onnx.export(
        model, (torch.zeros(shape),), str(out), dynamo=False, input_names=["folded"], output_names=["logits"], opset_version=13,
        dynamic_axes={"folded": free, "logits": free},
    )  # fmt: skip
    torch.manual_seed(3)
    seen = torch.randn(1, shape[1], 160, 192)
    with torch.no_grad():
        wanted = model(seen).numpy()
    net = cv2.dnn.readNetFromONNX(str(out))
    net.setInput(seen.numpy())
    apart = float(np.abs(net.forward() - wanted).max())
    assert apart < SAME, f"OpenCV answers otherwise than PyTorch, by {apart:g}"
    return f"{out.stat().st_size} bytes, at most {apart:.1e} from PyTorch"


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("folder", type=Path)
    words.add_argument("out", type=Path)
    asked = words.parse_args()
    kept = torch.load(asked.folder / "reader.pt", weights_only=True)
    reader = Reader()
    reader.load_state_dict(kept["averaged"])
    print(f"step {kept['step']}, {write(reader, asked.out)}")


if __name__ == "__main__":
    main()
