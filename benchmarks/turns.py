"""How long the window's thread is held while several photographs are read beside it, at rest and while a person walks about.

    PYTHONPATH=. python benchmarks/turns.py

A timer of 5 ms notes the time between two of its beats: what lies beyond 5 ms somebody held the thread.
"""

from __future__ import annotations

import itertools
import time

from benchmarks.demo_window import demo_window
from PyQt6.QtCore import QTimer
from PyQt6.QtTest import QTest

BEAT_MS = 5
LONG_MS = 50.0
WALK = ("today", "shelf", "read", "dry", "findings")


def main() -> None:
    """Read the demo's panels that wait, a series at rest, another one walking."""
    from dribbet.bench.application import run_smoothly, warm_up
    from dribbet.bench.tour import settle

    with demo_window() as window:
        warm_up()
        QTest.qWait(6000)
        run_smoothly()
        beats: list[float] = []
        timer = QTimer()
        timer.timeout.connect(lambda: beats.append(time.perf_counter()))
        timer.start(BEAT_MS)
        for series, walking in (("k3", False), ("s1", True)):
            window.desk.choose_series(series)
            for view in (*WALK, "read"):  # pages are made the first time they are shown
                window.walk(view)
                settle(window)
            beats.clear()
            page = window.page("read")
            page.press("A")
            begun, step = time.perf_counter(), 0
            while page.several.busy:
                QTest.qWait(150)
                if walking:
                    step += 1
                    window.walk(WALK[step % len(WALK)])
            turns = sorted(1e3 * (b - a) - BEAT_MS for a, b in itertools.pairwise(beats))
            how, over = "walking about" if walking else "at rest", sum(t > LONG_MS for t in turns)
            most = turns[int(0.99 * len(turns))]
            print(f"{series}, {how}: {len(turns)} turns in {time.perf_counter() - begun:.0f} s", flush=True)
            print(f"  99 of 100 within {most:.0f} ms, longest {turns[-1]:.0f} ms, {over} above {LONG_MS:.0f} ms", flush=True)


if __name__ == "__main__":
    main()
