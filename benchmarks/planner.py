"""How long a change of a plan takes in the window: 5 factors, 16 recipes, 64 panels; against a plain repaint of the same page.

QT_QPA_PLATFORM=offscreen python benchmarks/planner.py
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from dribbet.bench.application import application
from dribbet.bench.window import Window
from dribbet.demo.build import build_notebook
from dribbet.notebook import open_notebook
from dribbet.studio.desk import Desk

NOW = datetime(2026, 11, 19, 14, 20, tzinfo=UTC)
CHANGES = 40


def main() -> None:
    """Print the median and the worst time of a change, of computing the margin alone, and of a repaint."""
    app = application()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "Tidewrack.dribbet"
        build_notebook(path, NOW)
        book = open_notebook(path)
        desk = Desk(book, lambda: NOW)
        window = Window(desk)
        window.resize(1280, 800)
        window.show()
        window.walk("ask")
        page = window.page("ask")
        ask = page.presenter
        ask.planning.new_series()
        ask.choose("levels", "10, 20")
        for factor in ("silicone", "heat", "film left", "base"):
            ask.choose("crossed", factor)
        ask.choose("repeats", "4")
        app.processEvents()
        run = desk.need_run()
        print(f"{len(run.series.varied)} factors, {len(run.arms)} recipes, {sum(a.panels for a in run.arms)} panels")
        whole, margin, repaint = [], [], []
        for i in range(CHANGES):
            begun = time.perf_counter()
            ask.choose("levels", f"{5 + i * 0.25}, {20 + i * 0.5}")
            app.processEvents()
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
        window.close()


if __name__ == "__main__":
    main()
