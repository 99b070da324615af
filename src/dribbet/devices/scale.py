"""A scale: asked for a reading, it gives grams and whether they are steady, or says in words why it cannot."""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass
from typing import Final, Protocol

import numpy as np

from dribbet.records import DribbetError


class DeviceError(DribbetError):
    """A device does not answer, and what to do about it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ScaleReading:
    """What the display shows."""

    mass_kg: float
    steady: bool
    overload: bool = False


class Scale(Protocol):
    """Anything that weighs."""

    name: str
    step_kg: float

    def read(self, now_s: float) -> ScaleReading:
        """Reading at a moment; raises `DeviceError` where the scale does not answer."""

    def tare(self, now_s: float) -> None:
        """Set the display to zero with what is on it now."""


SETTLING_S: Final = 0.35  # time constant of a small kitchen balance
NOISE_KG: Final = 0.02e-3
DRIFT_KG_S: Final = 0.4e-6
STEADY_S: Final = 0.8
STEADY_WITHIN_KG: Final = 0.11e-3
STREAM_KG_S: Final = 9.0e-3
DROP_KG: Final = 0.12e-3


class SimulatedScale:
    """A practice scale: settles, drifts, is noisy, overloads, and can drop out. Time comes from the caller.

    A hand is part of it: `pour` opens a stream that runs until `stop`, `drip` lets one drop fall, `put` sets down a weight.
    """

    name = "Practice scale"
    step_kg = 0.1e-3

    def __init__(self, *, seed: int = 0, capacity_kg: float = 2.0) -> None:
        self._rng = np.random.default_rng(seed)
        self._capacity_kg = capacity_kg
        self._load_kg = 0.0
        self._shown_kg = 0.0
        self._zero_kg = 0.0
        self._stream_kg_s = 0.0
        self._last_s: float | None = None
        self._lost = False
        self._past: deque[tuple[float, float]] = deque(maxlen=64)
        self._started_s = 0.0

    # ------------------------------------------------------------ the hand

    def put(self, mass_kg: float) -> None:
        """Set something down (or take it off, with a minus)."""
        self._load_kg = max(0.0, self._load_kg + mass_kg)

    def pour(self, rate_kg_s: float = STREAM_KG_S) -> None:
        """Open the stream."""
        self._stream_kg_s = rate_kg_s

    def stop(self) -> None:
        """Close the stream; what hangs on the lip still falls."""
        if self._stream_kg_s > 0.0:
            self._load_kg += abs(float(self._rng.normal(0.0, 0.1e-3)))
        self._stream_kg_s = 0.0

    @property
    def pouring(self) -> bool:
        """Whether the stream runs."""
        return self._stream_kg_s > 0.0

    def drip(self) -> None:
        """Let one drop fall."""
        self._load_kg += DROP_KG * float(self._rng.uniform(0.8, 1.2))

    def clear(self) -> None:
        """Take everything off."""
        self._load_kg = 0.0
        self._stream_kg_s = 0.0

    def lose(self) -> None:
        """Pull the cable."""
        self._lost = True
        self._stream_kg_s = 0.0

    def mend(self) -> None:
        """Plug it in again; the display starts from what it was."""
        self._lost = False

    # ------------------------------------------------------------ the scale

    def read(self, now_s: float) -> ScaleReading:
        """Reading at a moment."""
        if self._last_s is None:
            self._last_s = self._started_s = now_s
        passed = min(max(now_s - self._last_s, 0.0), 5.0)
        self._last_s = now_s
        self._load_kg += self._stream_kg_s * passed
        if self._lost:
            raise DeviceError("The scale stopped answering. Your cup is safe: check the cable, or type the grams.")
        self._shown_kg += (self._load_kg - self._shown_kg) * (1.0 - math.exp(-passed / SETTLING_S))
        drift = DRIFT_KG_S * (now_s - self._started_s)
        value = self._shown_kg + drift + float(self._rng.normal(0.0, NOISE_KG)) - self._zero_kg
        rounded = round(value / self.step_kg) * self.step_kg
        self._past.append((now_s, value))
        recent = [v for t, v in self._past if now_s - t <= STEADY_S]
        enough = bool(self._past) and now_s - self._past[0][0] >= STEADY_S and len(recent) >= 4
        steady = enough and max(recent) - min(recent) < STEADY_WITHIN_KG and not self.pouring
        return ScaleReading(mass_kg=rounded, steady=steady, overload=self._load_kg > self._capacity_kg)

    def tare(self, now_s: float) -> None:
        """Set the display to zero."""
        self._zero_kg = self._shown_kg + DRIFT_KG_S * (now_s - self._started_s)
        self._past.clear()
