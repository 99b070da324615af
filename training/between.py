"""Weights halfway between two networks of one shape, of which one was learned on from the other.

    python -m training.between BEFORE.onnx AFTER.onnx OUT.onnx [--share 0.5]

Where what was learned anew costs some of what was known, weights between the two keep most of both; far apart ones would be neither (mark it:
`training.breaks.marked`). Needs onnx.
"""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

import onnx
from onnx import numpy_helper


def between(before: Any, after: Any, share: float) -> Any:
    """A model whose weights are `share` of those of `after` and the rest of those of `before`; ValueError where they are not of one shape."""
    told = onnx.ModelProto()
    told.CopyFrom(before)
    others = {w.name: numpy_helper.to_array(w) for w in after.graph.initializer}
    if {w.name: tuple(w.dims) for w in told.graph.initializer} != {name: w.shape for name, w in others.items()}:
        raise ValueError("the two networks are not of one shape: name two files that `training.breaks` wrote")
    for weights in told.graph.initializer:
        own = numpy_helper.to_array(weights)
        if own.dtype.kind == "f":
            weights.CopyFrom(numpy_helper.from_array(((1.0 - share) * own + share * others[weights.name]).astype(own.dtype), weights.name))
    return told


def main() -> None:
    """Read what was asked for, and do it."""
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("before", type=Path)
    words.add_argument("after", type=Path)
    words.add_argument("out", type=Path)
    words.add_argument("--share", type=float, default=0.5, help="of AFTER")
    asked = words.parse_args()
    onnx.save(between(onnx.load(asked.before), onnx.load(asked.after), asked.share), asked.out)
    print(asked.out, asked.out.stat().st_size, "bytes")


if __name__ == "__main__":
    main()
