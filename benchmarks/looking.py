"""Frames while two 12-megapixel panels are panned together on Look, against the same page with nothing in it.

QT_QPA_PLATFORM=offscreen python benchmarks/looking.py
"""

from __future__ import annotations

import os
import time

import numpy as np

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from dribbet.bench.application import application
from dribbet.bench.parts.photo_stage import PhotoStage, ShownPlace
from dribbet.bench.pictures import qimage

FRAMES = 120
SIDES = (3000, 4000)


def frames(page: QWidget, stages: list[PhotoStage], zoom: float) -> list[float]:
    """Seconds of each frame while the place moves across."""
    target = QPixmap(page.size())
    told = []
    for i in range(FRAMES):
        began = time.perf_counter()
        for stage in stages:
            stage.show_place(ShownPlace(zoom, 0.3 + 0.4 * i / FRAMES, 0.4 + 0.2 * i / FRAMES))
        page.render(target)
        told.append(time.perf_counter() - began)
    return told


def main() -> None:
    app = application()
    rng = np.random.default_rng(1)
    page = QWidget()
    row = QHBoxLayout(page)
    stages = [PhotoStage(), PhotoStage()]
    for stage in stages:
        row.addWidget(stage)
    page.resize(1280, 800)
    page.show()
    for what, shown in (("nothing", False), ("two of 12 megapixels", True)):
        if shown:
            for stage in stages:
                stage.show_photo(qimage(rng.integers(0, 255, (*SIDES, 3), np.uint8)), unit_per_px=0.05)
        for zoom in (1.0, 3.0, 8.0):
            app.processEvents()
            frames(page, stages, zoom)
            told = np.array(frames(page, stages, zoom)) * 1e3
            middle, most = np.median(told), np.percentile(told, 95)
            print(f"{what}, zoom {zoom:.0f}: middle {middle:.1f} ms, 95 of 100 under {most:.1f} ms, worst {told.max():.1f} ms")


if __name__ == "__main__":
    main()
