"""How long a change of a plan takes in the window: 5 factors, 16 recipes, 64 panels; against a plain repaint of the same page.

PYTHONPATH=. python benchmarks/planner.py
"""

from __future__ import annotations

import statistics
import time

from benchmarks.demo_window import demo_window
from PyQt6.QtWidgets import QApplication

CHANGES = 40


def main() -> None:
    """Print the median and the worst time of a change, of computing the margin alone, and of a repaint."""
    with demo_window() as window:
        window.walk("ask")
        page = window.page("ask")
        ask = page.presenter
        ask.planning.new_series()
        ask.choose("levels", "10, 20")
        for factor in ("silicone", "heat", "film left", "base"):
            ask.choose("crossed", factor)
        ask.choose("repeats", "4")
        QApplication.processEvents()
        run = window.desk.need_run()
        print(f"{len(run.series.varied)} factors, {len(run.arms)} recipes, {sum(a.panels for a in run.arms)} panels")
        whole, margin, repaint = [], [], []
        for i in range(CHANGES):
            begun = time.perf_counter()
            ask.choose("levels", f"{5 + i * 0.25}, {20 + i * 0.5}")
            QApplication.processEvents()
            whole.append(time.perf_counter() - begun)
            begun = time.perf_counter()
            ask.view()
            margin.append(time.perf_counter() - begun)
            begun = time.perf_counter()
            page.repaint()
            repaint.append(time.perf_counter() - begun)
        for name, times in (("change, stored and drawn", whole), ("view alone, computed again", margin), ("reference: page repainted", repaint)):
            print(f"{name:28s} median {statistics.median(times) * 1e3:6.1f} ms, worst {max(times) * 1e3:6.1f} ms")
        print(f"change over repaint: {statistics.median(whole) / statistics.median(repaint):.2f}")


if __name__ == "__main__":
    main()
