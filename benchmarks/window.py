"""How long the window holds the GUI thread: walking to each page and refreshing it, against an empty page in the same run.

python benchmarks/window.py        prints milliseconds per page (median, worst of 15), and seconds to the first window
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

ROUNDS = 15
START = """
import os, sys, time
begun = time.perf_counter()
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
from pathlib import Path
from dribbet.bench.application import application, local_now, practice_camera
from dribbet.studio.desk import Desk
from dribbet.bench.window import Window
from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook
app = application()
book = open_notebook(Path(sys.argv[1]))
window = Window(Desk(book, local_now, scale=SimulatedScale(), camera=practice_camera(book)))
window.resize(1280, 800)
window.show()
app.processEvents()
print(time.perf_counter() - begun)
window.close()
"""


def timed(act: object) -> list[float]:
    taken = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        act()  # type: ignore[operator]
        taken.append((time.perf_counter() - begun) * 1e3)
    return taken


def main() -> None:
    from PyQt6.QtWidgets import QWidget

    from dribbet.bench.application import application, practice_camera
    from dribbet.bench.tour import NOW, VIEWS, settle
    from dribbet.bench.window import Window
    from dribbet.demo.build import build_notebook
    from dribbet.devices import SimulatedScale
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "Demo.dribbet"
        build_notebook(folder, NOW)
        starts = [float(subprocess.run([sys.executable, "-c", START, folder], capture_output=True, text=True, check=True).stdout) for _ in range(3)]
        print(f"to the first window: {min(starts):.2f} s (best of 3), {max(starts):.2f} s (worst)")
        app = application()
        book = open_notebook(folder)
        desk = Desk(book, lambda: NOW, scale=SimulatedScale(), camera=practice_camera(book, lapses=0.0))
        window = Window(desk)
        window.resize(1280, 800)
        window.show()
        empty = QWidget()
        empty.resize(1280, 800)
        empty.show()
        app.processEvents()

        def repaint_empty() -> None:
            empty.repaint()

        reference = statistics.median(timed(repaint_empty))
        print(f"reference: an empty page repaints in {reference:.2f} ms")
        for _, series_id, view in VIEWS:
            desk.choose_series(series_id)
            window.walk(view)
            settle(window)

            def refresh() -> None:
                window.refresh()
                window.pages[window.current].repaint()

            taken = timed(refresh)
            print(f"{view:9} refresh and repaint {statistics.median(taken):6.1f} ms, worst {max(taken):6.1f} ms")
        window.close()
        empty.close()


if __name__ == "__main__":
    main()
