"""A monkey at the bench: random keys and clicks in the demo's window, with a heartbeat that counts every stall of the GUI thread.

    python benchmarks/monkey.py [ACTIONS] [SEED]

Prints how often the GUI thread stood still for more than 50 and 100 ms, the worst with what was pressed, errors that nobody expected,
and whether the notebook is whole afterwards. The same seed presses the same things. Stalls during which the machine's host gave processor
time to others (the `steal` of /proc/stat) are counted apart: they say nothing of Dribbet.
"""

from __future__ import annotations

import argparse
import os
import sys
import tempfile
import threading
import time
import traceback
from collections import Counter
from datetime import UTC, datetime, timedelta
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QFileDialog, QLineEdit, QWidget

from dribbet.bench.application import application, practice_camera, run_smoothly, warm_up
from dribbet.bench.window import Window
from dribbet.demo.build import build_notebook
from dribbet.devices import SimulatedScale
from dribbet.notebook import open_notebook
from dribbet.notebook.verify import verify
from dribbet.studio.desk import Desk

NOW = datetime(2026, 11, 19, 14, 20, tzinfo=UTC)
KEYS = [
    Qt.Key.Key_Space,
    Qt.Key.Key_Return,
    Qt.Key.Key_Escape,
    Qt.Key.Key_PageUp,
    Qt.Key.Key_PageDown,
    Qt.Key.Key_Tab,
    Qt.Key.Key_Left,
    Qt.Key.Key_Right,
]
LETTERS = "ABCDEFGHIKLMNOPRSTUVWXYZ"
TYPED = [
    "",
    "1",
    "12.5",
    "nan",
    "inf",
    "1e308",
    "1e-300",
    "-3",
    "0",
    "abc",
    "9**9**9",
    "200 x 150",
    "foam 40, teal 25",
    "<b>x</b>",
    "a & b",
    "14:30",
    "x" * 400,
    "10, 20, 30",
]
STALL_MS = 50.0


def stolen_ms() -> float:
    """Processor time that the host has taken since it started, in steps of 10 ms; nothing where no one counts it."""
    try:
        words = Path("/proc/stat").read_text().split("\n", 1)[0].split()
    except OSError:
        return 0.0
    return 1e3 * int(words[8]) / os.sysconf("SC_CLK_TCK") if len(words) > 8 else 0.0


class Heart:
    """Notes how long each action and what follows from it holds the GUI thread; a thread of its own sees where a long one stands."""

    def __init__(self, where_above_ms: float) -> None:
        self.beats: list[tuple[float, str]] = []
        self.stolen: list[float] = []
        """Milliseconds of processor time that the host took during each beat."""
        self.stood: Counter[str] = Counter()
        self._above, self._since, self._main = where_above_ms / 1e3, 0.0, threading.get_ident()
        threading.Thread(target=self._watch, daemon=True).start()

    def _watch(self) -> None:
        while True:
            time.sleep(0.01)
            since = self._since
            if since and time.perf_counter() - since > self._above:
                frames = traceback.extract_stack(sys._current_frames()[self._main])
                ours = [f for f in frames if "dribbet" in f.filename]
                if ours:
                    self.stood[" < ".join(f"{Path(f.filename).stem}.{f.name}" for f in reversed(ours[-4:]))] += 1
                self._since = 0.0

    def around(self, act: object, what: str) -> None:
        """Do something, let its events run dry, and note how long the longest turn of the loop took."""
        before = stolen_ms()
        self._since = start = time.perf_counter()
        act()  # type: ignore[operator]
        worst = time.perf_counter() - start
        for _ in range(3):
            self._since = start = time.perf_counter()
            QApplication.processEvents()
            worst = max(worst, time.perf_counter() - start)
        self._since = 0.0
        self.beats.append((worst * 1e3, what))
        self.stolen.append(stolen_ms() - before)


class Monkey:
    """Presses, clicks and types; every choice comes from its seed."""

    def __init__(self, window: Window, clock: list[datetime], seed: int) -> None:
        self.window, self.clock, self.rng = window, clock, np.random.default_rng(seed)

    def choose(self, things: list) -> object:
        return things[int(self.rng.integers(len(things)))]

    def act(self) -> tuple[object, str]:
        """Next act and its name."""
        window, page = self.window, self.window.current
        roll = self.rng.random()
        if roll < 0.02:
            self.clock[0] += timedelta(hours=float(self.rng.choice([0.01, 0.5, 6, 30, 200, -1])))
            return window._minute, f"{page}: time passes"
        if roll < 0.06:
            size = self.choose([(1024, 700), (1280, 800), (1920, 1080)])
            return lambda: window.resize(*size), f"{page}: {size[0]}x{size[1]}"
        popup = QApplication.activePopupWidget()
        root: QWidget = popup or window
        if roll < 0.50:
            letter = self.rng.random() < 0.6
            key = Qt.Key[f"Key_{self.choose(list(LETTERS))}"] if letter else self.choose([*KEYS, *[Qt.Key[f"Key_{d}"] for d in range(1, 6)]])
            target = QApplication.focusWidget() or root
            window.pages[page]._last_press = 0.0
            return lambda: QTest.keyClick(target, key), f"{page}: key {Qt.Key(key).name}"
        fields = [f for f in root.findChildren(QLineEdit) if f.isVisible() and f.isEnabled()]
        if roll < 0.62 and fields:
            field, text = self.choose(fields), str(self.choose(TYPED))
            return lambda: (field.setFocus(), field.setText(text), QTest.keyClick(field, Qt.Key.Key_Return)), f"{page}: type {text[:12]!r}"
        buttons = [b for b in root.findChildren(QAbstractButton) if b.isVisible() and b.isEnabled()]
        if not buttons:
            return window.refresh, f"{page}: refresh"
        button = self.choose(buttons)
        spot = QPoint(int(button.width() * self.rng.random()), int(button.height() * self.rng.random()))
        return lambda: QTest.mouseClick(button, Qt.MouseButton.LeftButton, pos=spot), f"{page}: click {button.accessibleName()[:30]!r}"


def play(actions: int, seed: int, *, where_above_ms: float = 60.0) -> tuple[Heart, list[str], list[str], Counter[str]]:
    """Let a monkey play; returns the heart, errors, faults of the notebook and how often each page was seen."""
    application()
    QFileDialog.getSaveFileName = lambda *_: ("/proc/none/x.pdf", "")  # a place that may not be written
    QFileDialog.getOpenFileNames = lambda *_: ([], "")
    QFileDialog.getOpenFileName = lambda *_: ("", "")
    with tempfile.TemporaryDirectory(prefix="monkey-") as scratch:
        folder = Path(scratch) / "Monkey.dribbet"
        build_notebook(folder, NOW)
        book = open_notebook(folder)
        clock = [NOW]
        desk = Desk(book, lambda: clock[0], scale=SimulatedScale(seed=seed), camera=practice_camera(book))
        warm_up()
        window = Window(desk)
        errors: list[str] = []
        take = window.guard.take

        def taken(error: BaseException, trace: object = None) -> None:
            lines = traceback.format_exception(type(error), error, trace or error.__traceback__)  # type: ignore[arg-type]
            errors.append("".join(lines[-4:]))
            take(error, trace)  # type: ignore[arg-type]

        window.guard.take = taken  # type: ignore[method-assign]
        window.guard.stand()
        window.resize(1280, 800)
        window.show()
        QTest.qWait(1500)  # what is imported beside the window is there
        for page in window._makers:
            window.walk(page)
            QTest.qWait(30)
        run_smoothly()
        heart, seen = Heart(where_above_ms), Counter()
        monkey = Monkey(window, clock, seed)
        for _ in range(actions):
            seen[window.current] += 1
            act, what = monkey.act()
            heart.around(act, what)
            if not window.isVisible():
                window.show()
        window.jobs.stop_all()
        window.close()
        faults = [f.sentence for f in verify(folder)]
        again = open_notebook(folder)
        Desk(again, lambda: clock[0])
        again.close()
    return heart, errors, faults, seen


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("actions", type=int, nargs="?", default=2000)
    words.add_argument("seed", type=int, nargs="?", default=1)
    asked = words.parse_args()
    start = time.perf_counter()
    heart, errors, faults, seen = play(asked.actions, asked.seed)
    times = sorted(ms for ms, _ in heart.beats)
    above = {limit: sum(t > limit for t in times) for limit in (50, 100, 200)}
    print(f"{len(times)} actions in {time.perf_counter() - start:.0f} s, seed {asked.seed}; pages {dict(seen)}")
    print(
        f"median {times[len(times) // 2]:.1f} ms, 99 of 100 within {times[int(len(times) * 0.99)]:.0f} ms, worst {times[-1]:.0f} ms; above: {above}"
    )
    own = [beat for beat, stolen in zip(heart.beats, heart.stolen, strict=True) if stolen == 0.0]
    left = {limit: sum(ms > limit for ms, _ in own) for limit in (50, 100, 200)}
    print(f"the host took time from {len(times) - len(own)} of them, {sum(heart.stolen) / 1e3:.0f} s in all; of the other {len(own)} above: {left}")
    kinds: Counter[str] = Counter(what for ms, what in own if ms > STALL_MS)
    for what, n in kinds.most_common(25):
        print(f"  {n:4d} x {what} (worst {max(ms for ms, w in own if w == what):.0f} ms)")
    print("where it stood:", dict(heart.stood.most_common(15)))
    print(f"{len(errors)} errors that nobody expected; {len(set(errors))} kinds")
    for error, n in Counter(errors).most_common(10):
        print(f"--- {n} x\n{error}")
    print("notebook: " + ("whole" if not faults else "; ".join(faults[:5])))
    sys.stdout.flush()  # what is in a pipe's buffer would be lost with the process
    os._exit(0 if not errors and not faults else 1)


if __name__ == "__main__":
    main()
