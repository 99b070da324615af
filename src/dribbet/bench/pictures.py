"""Pictures off the GUI thread: photographs and rectified panels as QImages, remembered for a while."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtGui import QImage

from dribbet.bench.theme.inks import PAPER, WALL

if TYPE_CHECKING:
    from pathlib import Path

    import numpy.typing as npt
    from PyQt6.QtGui import QColor

    from dribbet.records import Report
    from dribbet.sight.round_face import Disc

KEPT = 12
LONGEST_PX = 2400
THUMB_PX = 96  # longer side of a small picture: sharp on a dense screen too


def _rgb(colour: QColor) -> tuple[int, int, int]:
    return colour.red(), colour.green(), colour.blue()


def qimage(rgb: npt.NDArray[np.uint8]) -> QImage:
    """Copy an RGB array into a QImage."""
    rgb = np.ascontiguousarray(rgb)
    height, width = rgb.shape[:2]
    whole = QImage(rgb.tobytes(), width, height, 3 * width, QImage.Format.Format_RGB888)
    return QImage(whole.copy())


@dataclass(frozen=True, slots=True)
class Flat:
    """A rectified panel."""

    image: QImage
    px_per_mm: float


class Pictures:
    """Small memory of what was shown last."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[object, ...], object] = OrderedDict()

    def get(self, key: tuple[object, ...]) -> object | None:
        if key in self._kept:
            self._kept.move_to_end(key)
        return self._kept.get(key)

    def put(self, key: tuple[object, ...], value: object) -> None:
        self._kept[key] = value
        while len(self._kept) > KEPT:
            self._kept.popitem(last=False)


def load_photo(path: Path, width_px: int, report: Report) -> tuple[QImage, float]:
    """Photo as displayed, shrunk where it is huge; with its pixels for each of the `width_px` that its record counts (in a job)."""
    import cv2

    from dribbet.sight.load import load

    report(0, 2)
    rgb = load(path).rgb
    report(1, 2)
    shrink = min(1.0, LONGEST_PX / max(rgb.shape[:2]))
    if shrink < 1.0:
        rgb = np.asarray(cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA), np.uint8)
    return qimage(rgb), rgb.shape[1] / width_px


def load_thumb(
    path: Path, width_px: int, corners_px: tuple[tuple[float, float], ...], size_mm: tuple[float, float], disc: Disc | None, report: Report
) -> QImage:
    """Small picture of a panel, squared up (in a job); decoded at an eighth where the format can."""
    import cv2

    from dribbet.sight import geometry
    from dribbet.sight.load import load

    report(0, 1)
    small = cv2.imread(str(path), cv2.IMREAD_REDUCED_COLOR_8)
    rgb = load(path).rgb if small is None else np.asarray(cv2.cvtColor(small, cv2.COLOR_BGR2RGB), np.uint8)
    k = THUMB_PX / max(size_mm)
    flat = geometry.rectify(rgb, np.array(corners_px) * (rgb.shape[1] / width_px), *size_mm, k)
    return qimage(flat if disc is None else disc.cut_out(flat, k, _rgb(PAPER.ground)))


def load_flat(
    path: Path, width_px: int, corners_px: tuple[tuple[float, float], ...], size_mm: tuple[float, float], disc: Disc | None, report: Report
) -> Flat:
    """Rectified panel from a stored photo, whose corners its record gives in a picture `width_px` wide (in a job)."""
    from dribbet.sight import geometry
    from dribbet.sight.load import load

    report(0, 2)
    rgb = load(path).rgb
    report(1, 2)
    k = geometry.working_scale(*size_mm)
    flat = geometry.rectify(rgb, np.array(corners_px) * (rgb.shape[1] / width_px), *size_mm, k)
    return Flat(qimage(flat if disc is None else disc.cut_out(flat, k, _rgb(WALL.ground))), k)
