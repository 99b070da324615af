"""Simulated artists against `lab.paint.learning`: does the first guess of water get better with each cup, and do its intervals cover?

Run: .venv/bin/python benchmarks/learning.py [artists]
"""

from __future__ import annotations

import sys

import numpy as np

from dribbet.demo.artists import MEDIUM_ML, PAINT_ML, practise

CUPS = (0, 1, 2, 4, 8)


def main(artists: int) -> None:
    rows = [cup for seed in range(artists) for cup in practise(seed)]
    whole = (PAINT_ML + MEDIUM_ML) / 100.0
    print(f"{artists} simulated artists, cups of {PAINT_ML:.0f} mL paint and {MEDIUM_ML:.0f} mL conditioner, thinned to grade 3; figures for 100 mL")
    print("cups before   first guess off by (median, 90 %)   width of its interval   interval holds the truth   corrections a cup")
    for n in CUPS:
        mine = [r for r in rows if r.cups_before == n]
        off, width = np.array([r.off for r in mine]) / whole, np.array([r.width for r in mine]) / whole
        held, steps = np.mean([r.inside for r in mine]), np.mean([r.steps for r in mine])
        print(
            f"{n:11d}   {np.median(off):8.1f} mL, {np.quantile(off, 0.9):5.1f} mL             {np.median(width):8.1f} mL"
            f"                {held:6.1%}                   {steps:5.2f}"
        )
    total, good = sum(r.corrections for r in rows), sum(r.corrections_inside for r in rows)
    print(f"corrections of a cup that was read: the interval holds what was needed in {good / total:.1%} of {total:.0f}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
