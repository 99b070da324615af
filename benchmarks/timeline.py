"""How long a frame of Dry's time axis takes: 60 panels over 60 days, scrolled, in milliseconds; against an empty part drawn in the same run.

python benchmarks/timeline.py
"""

from __future__ import annotations

import os
import time
from datetime import UTC, datetime, timedelta

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np

from dribbet.bench.application import application
from dribbet.bench.parts.base import scroller
from dribbet.bench.parts.time_bands import BandsView, BandView, TimeBands

PANELS, DAYS, FRAMES = 60, 60, 200


def main() -> None:
    app = application()
    start = datetime(2026, 10, 1, tzinfo=UTC)
    now = start + timedelta(days=40)
    rng = np.random.default_rng(1)
    bands = []
    for i in range(PANELS):
        poured = start + timedelta(days=float(rng.uniform(0, 38)))
        cuts = tuple((poured + timedelta(hours=a), poured + timedelta(hours=b)) for a, b in ((2, 4), (8, 18), (30, 70), (500, 720)))
        looks = tuple(poured + timedelta(hours=h) for h in (0.5, 11, 21, 48, 96))
        seen = poured + timedelta(hours=30) if i % 7 == 0 else None
        before = poured + timedelta(hours=21) if seen else None
        bands.append(BandView(f"p{i}", f"K9-{chr(97 + i % 6)}{i}", poured, cuts, looks, None, False, before, seen))
    part = TimeBands()
    part.show_bands(BandsView(tuple(bands), start, start + timedelta(days=DAYS), now, "now"))
    area = scroller(part)
    area.resize(1000, 600)
    area.show()
    app.processEvents()
    bar = area.verticalScrollBar()
    times = []
    for frame in range(FRAMES):
        begun = time.perf_counter()
        bar.setValue(int(bar.maximum() * (0.5 - 0.5 * np.cos(frame / FRAMES * 4 * np.pi))))
        app.processEvents()
        times.append((time.perf_counter() - begun) * 1e3)
    empty = TimeBands()
    empty.show_bands(BandsView((), start, start + timedelta(days=DAYS), now, "now"))
    empty.resize(1000, 600)
    empty.show()
    alone = []
    for _ in range(50):
        begun = time.perf_counter()
        empty.update()
        app.processEvents()
        alone.append((time.perf_counter() - begun) * 1e3)
    slow = np.percentile(times, 95)
    print(f"scroll range {bar.maximum()} px; frame: middle {np.median(times):.1f} ms, 95 of 100 under {slow:.1f} ms, worst {max(times):.1f} ms")
    print(f"an empty axis: middle {np.median(alone):.1f} ms")


if __name__ == "__main__":
    main()
