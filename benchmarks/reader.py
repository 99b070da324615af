"""CPU seconds of the reader, step by step, against plain contour tracing of the same picture in the same run.

python benchmarks/reader.py [PHOTO --size WxH]      a shipped demo photograph where none is named
"""

from __future__ import annotations

import argparse
import time
from pathlib import Path

import cv2
import numpy as np

from dribbet.demo.build import PHOTOS
from dribbet.sight import measure as sight
from dribbet.sight.load import load

NAMES = ("locate", "rectify", "balance", "network", "spread", "cells", "cracks", "shimmer", "colours")


def main() -> None:
    parse = argparse.ArgumentParser()
    parse.add_argument("photo", type=Path, nargs="?", default=PHOTOS / "K2-b1-dry-diffuse.jpg")
    parse.add_argument("--size", default="200x150")
    chosen = parse.parse_args()
    width, height = (float(v) for v in chosen.size.split("x"))
    begun = time.process_time()
    rgb = load(chosen.photo).rgb
    print(f"load      {time.process_time() - begun:6.2f} s  {rgb.shape[1]} x {rgb.shape[0]}")
    marks: list[tuple[int, float]] = []

    def report(done: int, total: int) -> None:
        marks.append((done, time.process_time()))

    begun = time.process_time()
    found = sight.measure(sight.Lamps(main=rgb), width, height, report=report)
    total = time.process_time() - begun
    for step in range(sight.STEPS):
        first = next(t for d, t in marks if d == step)
        last = next(t for d, t in marks if d > step)
        print(f"{NAMES[step]:9} {last - first:6.2f} s")
    grey = cv2.cvtColor(found.flat, cv2.COLOR_RGB2GRAY)
    begun = time.process_time()
    for cut in np.linspace(20, 235, 40):
        cv2.findContours((grey > cut).astype(np.uint8), cv2.RETR_LIST, cv2.CHAIN_APPROX_NONE)
    reference = time.process_time() - begun
    print(f"all       {total:6.2f} s; tracing 40 thresholds of the same picture takes {reference:.2f} s: {total / reference:.1f} times")


if __name__ == "__main__":
    main()
