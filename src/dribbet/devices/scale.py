"""A scale: asked for a reading, it gives grams and whether they are steady, or says in words why it cannot."""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass
from enum import StrEnum
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
    note: str = ""
    """What else the display says, such as a low battery."""


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


class ScaleFault(StrEnum):
    """What happens to a small scale on a wet bench."""

    CABLE = "cable out"
    BATTERY = "battery low"
    UNIT = "wrong unit"
    BUMP = "bench bumped"


FAULT_LASTS_S: Final = {ScaleFault.CABLE: 3.0, ScaleFault.BATTERY: 8.0, ScaleFault.UNIT: 3.0, ScaleFault.BUMP: 1.5}
BATTERY_SAGS_KG_S: Final = 0.03e-3  # an empty battery makes the figure creep, so it is never steady
BUMP_KG: Final = 4e-3


class SimulatedScale:
    """A practice scale: settles, drifts, is noisy, overloads, and can drop out. Time comes from the caller.

    A hand is part of it: `pour` opens a stream that runs until `stop`, `drip` lets one drop fall, `put` sets down a weight.
    """

    name = "Practice scale"
    step_kg = 0.1e-3

    def __init__(self, *, seed: int = 0, capacity_kg: float = 2.0, faults_every_s: float = 0.0) -> None:
        self._rng = np.random.default_rng(seed)
        self._faults_every_s = faults_every_s
        self._next_fault_s: float | None = None
        self._fault: ScaleFault | None = None
        self._fault_until_s = 0.0
        self._sag_kg = 0.0
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

    def suffer(self, fault: ScaleFault, now_s: float, *, seconds: float | None = None) -> None:
        """Let a fault happen now; it mends itself after its usual time, as someone sees to it."""
        self._fault, self._fault_until_s = fault, now_s + (FAULT_LASTS_S[fault] if seconds is None else seconds)

    @property
    def fault(self) -> ScaleFault | None:
        """What is wrong with it just now."""
        return self._fault

    def _chance(self, now_s: float) -> None:
        """Faults come by themselves where they are switched on."""
        if self._fault is not None and now_s >= self._fault_until_s:
            self._fault, self._sag_kg = None, 0.0
        if not self._faults_every_s:
            return
        if self._next_fault_s is None:
            self._next_fault_s = now_s + float(self._rng.exponential(self._faults_every_s))
        elif now_s >= self._next_fault_s and self._fault is None:
            self.suffer(list(ScaleFault)[int(self._rng.integers(len(ScaleFault)))], now_s)
            self._next_fault_s = self._fault_until_s + float(self._rng.exponential(self._faults_every_s))

    # ------------------------------------------------------------ the scale

    def read(self, now_s: float) -> ScaleReading:
        """Reading at a moment; raises `DeviceError` where the cable is out or the display counts pieces."""
        if self._last_s is None:
            self._last_s = self._started_s = now_s
        passed = min(max(now_s - self._last_s, 0.0), 5.0)
        self._last_s = now_s
        self._load_kg += self._stream_kg_s * passed
        self._chance(now_s)
        if self._lost or self._fault is ScaleFault.CABLE:
            self._stream_kg_s = 0.0  # nobody pours on without a figure
            self._past.clear()
            raise DeviceError("The scale stopped answering. Your cup is safe: check the cable, or type the grams.")
        self._shown_kg += (self._load_kg - self._shown_kg) * (1.0 - math.exp(-passed / SETTLING_S))
        drift = DRIFT_KG_S * (now_s - self._started_s)
        if self._fault is ScaleFault.UNIT:
            self._past.clear()
            raise DeviceError("The scale shows “pcs”, which is no unit of mass that Dribbet knows. Set the scale to grams.")
        value = self._shown_kg + drift + float(self._rng.normal(0.0, NOISE_KG)) - self._zero_kg
        if self._fault is ScaleFault.BATTERY:
            self._sag_kg += BATTERY_SAGS_KG_S * passed
            value -= self._sag_kg
        elif self._fault is ScaleFault.BUMP:
            value += float(self._rng.normal(0.0, BUMP_KG))
        rounded = round(value / self.step_kg) * self.step_kg
        self._past.append((now_s, value))
        recent = [v for t, v in self._past if now_s - t <= STEADY_S]
        enough = bool(self._past) and now_s - self._past[0][0] >= STEADY_S and len(recent) >= 4
        steady = enough and max(recent) - min(recent) < STEADY_WITHIN_KG and not self.pouring and self._fault is None
        note = "battery low" if self._fault is ScaleFault.BATTERY else ""
        return ScaleReading(mass_kg=rounded, steady=steady, overload=self._load_kg > self._capacity_kg, note=note)

    def tare(self, now_s: float) -> None:
        """Set the display to zero."""
        self._zero_kg = self._shown_kg + DRIFT_KG_S * (now_s - self._started_s)
        self._past.clear()
