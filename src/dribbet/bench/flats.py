"""Squared-up panels for stages: from memory where they were shown lately, else in a job; what comes too late is dropped."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.bench.pictures import Flat, Pictures, load_flat

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.jobs import Jobs
    from dribbet.bench.parts.photo_stage import PhotoStage
    from dribbet.records import Lamp, Panel, Photo, Stage
    from dribbet.sight.round_face import Disc
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run


CORNERS = 4


@dataclass(frozen=True, slots=True)
class FlatShot:
    """A photograph of a panel with its corners, and how large the panel is."""

    photo: Photo
    corners: tuple[tuple[float, float], ...]
    size_mm: tuple[float, float]
    disc: Disc | None = None
    """The face of a round panel: beyond it the wall is shown, not the table."""

    @property
    def key(self) -> tuple[object, ...]:
        """By which its flat picture is remembered."""
        return ("flat", self.photo.sha256, self.corners, self.size_mm, self.disc)


def shot_of(run: Run, panel: Panel, lamp: Lamp, stage: Stage) -> FlatShot | None:
    """A panel's photograph at a stage, with the corners by which it was read; None where there is none, or its corners are not known."""
    photo = run.photo(panel, lamp, stage)
    if photo is None:
        return None
    own = next((r for r in run.readings if r.photo_id == photo.id), None)
    corners = photo.corners_px if own is None else tuple((x, y) for x, y in own.result["panel"]["corners_px"])
    return FlatShot(photo, corners, run.size_mm(panel), run.disc(panel)) if len(corners) == CORNERS else None


class Flats:
    """Loads squared-up panels into stages."""

    def __init__(self, desk: Desk, jobs: Jobs, pictures: Pictures, failed: Callable[[Exception], None]) -> None:
        self.desk, self.jobs, self.pictures, self.failed = desk, jobs, pictures, failed
        self._wanted: dict[PhotoStage, tuple[object, ...]] = {}

    def show(self, stage: PhotoStage, shot: FlatShot | None, words: str, then: Callable[[Flat], None] | None = None) -> None:
        """Show a panel on a stage as soon as it is there; `words` say what comes meanwhile."""
        if shot is None:
            self._wanted.pop(stage, None)
            stage.loading = None
            stage.show_photo(None)
            return
        if self._wanted.get(stage) == shot.key:
            return
        self._wanted[stage] = shot.key
        kept = self.pictures.get(shot.key)
        if isinstance(kept, Flat):
            self._ready(stage, shot, kept, then)
            return
        stage.loading = (words, 0.4)
        stage.update()
        path = self.desk.notebook.photos.path_of(shot.photo)
        self.jobs.start(
            lambda report: load_flat(path, shot.photo.width_px, shot.corners, shot.size_mm, shot.disc, report),
            lambda flat: self._ready(stage, shot, flat, then),
            self.failed,
        )

    def _ready(self, stage: PhotoStage, shot: FlatShot, flat: object, then: Callable[[Flat], None] | None) -> None:
        assert isinstance(flat, Flat)
        self.pictures.put(shot.key, flat)
        if self._wanted.get(stage) != shot.key:
            return
        stage.loading = None
        stage.show_photo(flat.image, unit_per_px=1.0 / flat.px_per_mm, keep_place=True)
        if then is not None:
            then(flat)
