"""Round panels: the face is a disc (or an ellipse) in the rectangle of its corners, and what lies in view beyond its rim is table.

The table is painted over before anything is read: by the paint itself, mirrored at the rim, for what is seen (no rim of a table, no false border),
and by the rim's own colour, carried outwards, where it is asked which base reaches the rim. What is found is cut at the rim afterwards.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final, TypeVar

import cv2
import numpy as np

if TYPE_CHECKING:
    from collections.abc import Mapping

    import numpy.typing as npt

    from dribbet.sight.arrays import Mask

    Picture = TypeVar("Picture", bound=npt.NDArray[Any])

WITHIN_RIM: Final = 0.985  # of the way from the middle to the rim: there the colour still is the panel's own, squared up a little off or not


@dataclass(frozen=True, slots=True)
class Disc:
    """The face of a round panel, in mm from the top left of the rectangle that is read: middle, and half its width and height."""

    x_mm: float
    y_mm: float
    half_width_mm: float
    half_height_mm: float

    @classmethod
    def within(cls, width_mm: float, height_mm: float) -> Disc:
        """The disc that touches all four sides.

        >>> Disc.within(200.0, 150.0)
        Disc(x_mm=100.0, y_mm=75.0, half_width_mm=100.0, half_height_mm=75.0)
        """
        return cls(width_mm / 2, height_mm / 2, width_mm / 2, height_mm / 2)

    @classmethod
    def of_piece(cls, sheet_mm: tuple[float, float], box: tuple[float, float, float, float]) -> Disc:
        """The disc of a whole panel as a piece of it sees it; `box` is the piece's left, top, right and bottom as shares of the panel."""
        width, height = sheet_mm
        return cls(width / 2 - box[0] * width, height / 2 - box[1] * height, width / 2, height / 2)

    @classmethod
    def of_result(cls, panel: Mapping[str, Any]) -> Disc | None:
        """The disc that a reading's panel says it has; None for a panel with corners."""
        told = panel.get("disc_mm")
        return cls(*(float(v) for v in told)) if told else None

    @property
    def told(self) -> list[float]:
        """As it stands in a reading."""
        return [round(v, 3) for v in (self.x_mm, self.y_mm, self.half_width_mm, self.half_height_mm)]

    @property
    def box(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Top left and bottom right of the rectangle round it."""
        wide, high = self.half_width_mm, self.half_height_mm
        return (self.x_mm - wide, self.y_mm - high), (self.x_mm + wide, self.y_mm + high)

    def away(self, x_mm: Any, y_mm: Any) -> Any:
        """How far points are from the middle, 1 at the rim; shapes as NumPy broadcasts them."""
        return np.hypot((x_mm - self.x_mm) / self.half_width_mm, (y_mm - self.y_mm) / self.half_height_mm)

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Whether a point lies on the face."""
        return bool(self.covers(x_mm, y_mm))

    def covers(self, x_mm: Any, y_mm: Any) -> Any:
        """Which of many points lie on the face; shapes as NumPy broadcasts them."""
        return np.asarray(self.away(x_mm, y_mm) <= 1.0)

    def smaller(self, rim_mm: float) -> Disc:
        """The same without a rim so wide."""
        least = 1e-6
        return Disc(self.x_mm, self.y_mm, max(self.half_width_mm - rim_mm, least), max(self.half_height_mm - rim_mm, least))

    def mask(self, shape: tuple[int, ...], px_per_mm: float) -> Mask:
        """Which pixels of a rectified picture lie on the face."""
        x, y = _grid(shape, px_per_mm)
        return np.asarray(self.covers(x, y))

    def mirrored(self, picture: Picture, px_per_mm: float) -> Picture:
        """The picture with what lies beyond the rim replaced by what lies as far within it."""
        return self._beyond(picture, px_per_mm, 2.0, -1.0)

    def carried_out(self, picture: Picture, px_per_mm: float) -> Picture:
        """The picture with what lies beyond the rim replaced by what lies at the rim in that direction."""
        return self._beyond(picture, px_per_mm, WITHIN_RIM, 0.0)

    def cut_out(self, picture: Picture, px_per_mm: float, colour: tuple[int, int, int]) -> Picture:
        """The picture with one colour beyond the rim: to be looked at, not to be measured."""
        made = picture.copy()
        made[~self.mask(picture.shape, px_per_mm)] = colour
        return made

    def _beyond(self, picture: Picture, px_per_mm: float, start: float, slope: float) -> Picture:
        """Beyond the rim, at `away`, the picture shows what is at `start + slope * away`, held within the face."""
        x, y = _grid(picture.shape, px_per_mm)
        away = np.asarray(self.away(x, y), np.float32)
        outside = away > 1.0
        factor = np.clip(start + slope * away[outside], 0.0, WITHIN_RIM) / away[outside]
        xs = self.x_mm + (np.broadcast_to(x, away.shape)[outside] - self.x_mm) * factor
        ys = self.y_mm + (np.broadcast_to(y, away.shape)[outside] - self.y_mm) * factor
        columns = np.rint(xs * px_per_mm - 0.5).astype(np.intp).clip(0, picture.shape[1] - 1)
        rows = np.rint(ys * px_per_mm - 0.5).astype(np.intp).clip(0, picture.shape[0] - 1)
        made = picture.copy()
        made[outside] = picture[rows, columns]
        return made


def _grid(shape: tuple[int, ...], px_per_mm: float) -> tuple[npt.NDArray[np.float32], npt.NDArray[np.float32]]:
    """Middles of the columns (1, n) and rows (m, 1) in mm."""
    x = (np.arange(shape[1], dtype=np.float32) + np.float32(0.5)) / np.float32(px_per_mm)
    y = (np.arange(shape[0], dtype=np.float32) + np.float32(0.5)) / np.float32(px_per_mm)
    return x[None], y[:, None]


def rim_on(corners_px: npt.NDArray[np.float64], points: int = 96) -> npt.NDArray[np.float64]:
    """Where the rim of a round panel lies in a photograph, from the corners of the square round it, shape (points, 2)."""
    flat = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
    matrix = cv2.getPerspectiveTransform(flat, corners_px.astype(np.float32))
    turn = np.linspace(0.0, 2.0 * np.pi, points, endpoint=False)
    rim = np.stack([0.5 + 0.5 * np.cos(turn), 0.5 + 0.5 * np.sin(turn)], axis=1).astype(np.float32)
    return np.asarray(cv2.perspectiveTransform(rim[None], matrix)[0], np.float64)
