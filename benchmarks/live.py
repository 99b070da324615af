"""The live figure on Mix: how long one reading takes to be shown, and how soon an overshoot is answered.

Run: .venv/bin/python benchmarks/live.py    (offscreen; a plain widget of the same size is repainted in the same run as reference)
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path
from types import SimpleNamespace

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

READINGS = 400


def spread(times: list[float]) -> str:
    ordered = sorted(times)
    most, worst = ordered[int(len(ordered) * 0.99)] * 1e3, ordered[-1] * 1e3
    return f"median {statistics.median(times) * 1e3:6.2f} ms, 99 of 100 within {most:6.2f} ms, worst {worst:6.2f} ms"


def main() -> None:
    from PyQt6.QtGui import QColor, QPainter
    from PyQt6.QtWidgets import QWidget

    from dribbet.bench.application import application
    from dribbet.bench.stations.mix import page as mix_page
    from dribbet.bench.tour import NOW
    from dribbet.bench.window import Window
    from dribbet.demo.build import build_notebook
    from dribbet.devices import SimulatedScale
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    app = application()

    class Plain(QWidget):
        def paintEvent(self, event: object) -> None:
            p = QPainter(self)
            p.fillRect(self.rect(), QColor("#EDEDED"))
            p.end()

    plain = Plain()
    plain.resize(1280, 800)
    plain.show()
    reference = []
    for _ in range(READINGS):
        at = time.perf_counter()
        plain.update()
        app.processEvents()
        reference.append(time.perf_counter() - at)
    print(f"reference, a plain widget repainted:  {spread(reference)}")
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "Tidewrack.dribbet"
        build_notebook(folder, NOW)
        book = open_notebook(folder)
        desk = Desk(book, lambda: NOW, scale=SimulatedScale(seed=2))
        window = Window(desk)
        while desk.learned.learn_some():  # as the window does between two moments
            pass
        clock = [100.0]
        mix_page.time = SimpleNamespace(monotonic=lambda: clock[0])  # each reading 45 ms later, so that the figure moves
        for size in ((1280, 800), (1920, 1080)):
            window.resize(*size)
            window.show()
            desk.choose_series("k4")
            window.walk("mix")
            page = window.page("mix")
            page.timer.stop()
            desk.scale.pour(2e-3)
            times = []
            for i in range(READINGS):
                if i % 60 == 59:
                    desk.scale.clear()
                    desk.scale.pour(2e-3)
                clock[0] += 0.045
                at = time.perf_counter()
                page.tick()
                app.processEvents()
                times.append(time.perf_counter() - at)
            desk.scale.clear()
            print(f"one live reading shown, {size[0]} x {size[1]}:   {spread(times)}")
            answers = []
            for _ in range(30):
                page.presenter.take_back()
                app.processEvents()
                view = page.presenter.view()
                while view.act:
                    page.presenter.acted()
                    view = page.presenter.view()
                at = time.perf_counter()
                page.presenter.enter(view.target_kg - view.already_kg + 0.9e-3, "typed")
                app.processEvents()
                answers.append(time.perf_counter() - at)
            assert page.view.over
            print(f"overshoot stored and answered, {size[0]} x {size[1]}: {spread(answers)}")
            for name, rounds in (("check", 20), ("shelf", 10)):
                walks = []
                for _ in range(rounds):
                    desk.changed()
                    at = time.perf_counter()
                    window.walk(name)
                    app.processEvents()
                    walks.append(time.perf_counter() - at)
                    window.walk("mix")
                    page.timer.stop()
                print(f"{name.capitalize()} computed anew and shown:        {spread(walks)}")
        window.close()


if __name__ == "__main__":
    main()
