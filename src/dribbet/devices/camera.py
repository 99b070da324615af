"""A camera: asked for a photograph of what stands before it, it hands over a picture file."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING, Protocol

import numpy as np

from dribbet.devices.scale import DeviceError
from dribbet.records import Stage

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from dribbet.records import Lamp


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """A picture file as the camera made it."""

    data: bytes
    name: str


class Camera(Protocol):
    """Anything that takes pictures."""

    name: str
    practice: bool
    """Whether it plays made-up photographs."""

    def shoot(self, subject: str, lamp: Lamp, laid: int = 0, stage: Stage = Stage.DRY) -> Frame:
        """Photograph what stands before it; raises `DeviceError` where it cannot. `laid`: how often it was taken up and laid down anew before."""

    def still(self, subject: str, step: str) -> Frame | None:
        """A picture of the bench while this panel is poured; None where there is none just now. Raises `DeviceError` where it cannot."""


class Lapse(StrEnum):
    """What may go wrong with a picture."""

    NONE = "fine"
    GLARE = "glare"
    BLUR = "blur"
    NO_CARD = "no card"


class SimulatedCamera:
    """A practice camera: plays made-up photographs of the panel before it, now and then with glare, blur or a missing card.

    `render(subject, lamp, lapse, laid, stage)` draws the picture, `bench(subject, step)` what lies on the bench at a step; the demo room ships both.
    """

    name = "Practice camera"
    practice = True

    def __init__(
        self,
        render: Callable[[str, Lamp, Lapse, int, Stage], bytes],
        bench: Callable[[str, str], bytes] | None = None,
        *,
        seed: int = 0,
        lapses: float = 0.0,
    ) -> None:
        self._render = render
        self._bench = bench
        self._rng = np.random.default_rng(seed)
        self._lapses = lapses
        self._lost = False
        self._count = 0

    def lose(self) -> None:
        """Pull the cable."""
        self._lost = True

    def mend(self) -> None:
        """Plug it in again."""
        self._lost = False

    def shoot(self, subject: str, lamp: Lamp, laid: int = 0, stage: Stage = Stage.DRY) -> Frame:
        """Photograph the panel before it, as it lies: all lamps see it in one place until it is laid down anew."""
        if self._lost:
            raise DeviceError("The camera does not answer. Check its cable, or bring photos in from files.")
        lapse = Lapse.NONE
        if self._rng.random() < self._lapses:
            lapse = [Lapse.GLARE, Lapse.BLUR, Lapse.NO_CARD][int(self._rng.integers(3))]
        self._count += 1
        return Frame(data=self._render(subject, lamp, lapse, laid, stage), name=f"practice-{self._count:04d}-{subject}-{lamp}.jpg")

    def still(self, subject: str, step: str) -> Frame | None:
        """A made-up picture of the bench."""
        if self._lost:
            raise DeviceError("The camera does not answer. Check its cable, or bring photos in from files.")
        if self._bench is None:
            return None
        self._count += 1
        return Frame(data=self._bench(subject, step), name=f"still-{self._count:04d}-{subject}-{step}.jpg")


class FolderCamera:
    """A folder that a phone or camera syncs into: the newest picture that has not been handed over yet is the shot."""

    name = "Camera folder"
    practice = False

    def __init__(self, folder: Path, suffixes: tuple[str, ...]) -> None:
        self._folder = folder
        self._suffixes = suffixes
        self._seen = {p.name for p in self._pictures()}

    def _pictures(self) -> list[Path]:
        try:
            found = [p for p in self._folder.iterdir() if p.suffix.lower() in self._suffixes and not p.name.startswith(".")]
        except OSError:
            raise DeviceError(f"The camera folder {self._folder} cannot be read. Choose another folder.") from None
        return sorted(found, key=lambda p: p.stat().st_mtime)

    def shoot(self, subject: str, lamp: Lamp, laid: int = 0, stage: Stage = Stage.DRY) -> Frame:
        """Hand over the newest new picture."""
        fresh = [p for p in self._pictures() if p.name not in self._seen]
        if not fresh:
            raise DeviceError(f"No new photo in {self._folder.name} yet. Take one, wait for it to arrive, then press again.")
        newest = fresh[-1]
        self._seen.update(p.name for p in fresh)
        return Frame(data=newest.read_bytes(), name=newest.name)

    def still(self, subject: str, step: str) -> Frame | None:
        """Hand over the newest new picture, where one came since the last."""
        fresh = [p for p in self._pictures() if p.name not in self._seen]
        if not fresh:
            return None
        self._seen.update(p.name for p in fresh)
        return Frame(data=fresh[-1].read_bytes(), name=fresh[-1].name)
