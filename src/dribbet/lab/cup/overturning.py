"""How a stack of wet colours turns over: several thin layers on a panel, heavy ones above light ones, by the lubrication equations.

Every layer j (counted from the panel) has a thickness h_j(x, y), a density, a viscosity; between layers acts a small tension. In a film that is
thin against the size of its cells the flow is level, its speed a parabola in each layer, continuous in speed and shear from layer to layer, still at
the panel, without shear at the air. The flux of each layer then follows from the gradients of the pressures, and dh_j/dt = -div q_j.

    G_j = grad( p + sum_{m=j}^{N-1} [ g (rho_m - rho_{m+1}) z_m - gamma_m lap z_m ] )
    U_j = U_{j-1} - (T_j h_j + G_j h_j^2 / 2) / mu_j,     q_j = U_{j-1} h_j - (T_j h_j^2 / 2 + G_j h_j^3 / 3) / mu_j,     T_j = sum_{k>j} G_k h_k

with z_j the upper face of layer j (Oron, Davis and Bankoff 1997 for one layer; several follow by the same integration). The surface at the air levels
thousands of times faster than colours turn over (gravity and tension both hold it), so it is kept level: p is the pressure that makes
the fluxes of all layers together free of divergence. A thin light layer under a deep heavy one that hardly resists grows at
sigma(k) = h^3 k^2 (d_rho g - gamma k^2) / (3 mu): fastest at lambda = 2 pi sqrt(2 gamma / (d_rho g)) with (d_rho g)^2 h^3 / (12 mu gamma),
as `lab/paint/density.py` has them (science.md, section 4).

This shows the physics of a stack, not one panel: no mixing, no surfactant, no silicone, no tilt.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Final

import numpy as np
from scipy import fft

from dribbet.lab.paint.consistency import GRAVITY_M_S2
from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy.typing as npt

    Field = npt.NDArray[np.float64]

WET_TENSION: Final = 0.5e-3
"""N/m between wet paints: small and short-lived, 0.1 to 1 mN/m (science.md, section 4)."""
LEAST_M: Final = 2e-6
"""No layer gets thinner than this: what is left of it there is a stain."""
ROUGH: Final = 0.02
"""Unevenness of the layers at the start, as a share of their thickness."""
MOST_LAYERS: Final = 12
OPAQUE_M: Final = 0.08e-3
"""Thickness of an opaque paint that hides most of what is below."""
TOO_FAR: Final = 0.25
"""Share of the thickest layer by which any may change in one step before the step is taken back and made smaller."""
SAFETY: Final = 0.06
MOST_STEP_S: Final = 15.0
LEAST_STEP_S: Final = 1e-4
GOOD_STEPS: Final = 8
DRAWN_BACK: Final = 4.0
"""Steps in which what the surface is off from level is drawn back."""
MOST_ROUNDS: Final = 12
HALF_OF_MOST: Final = 0.55
"""Share of the greatest mobility with which the repetition is sure to come to rest."""
LEVEL_TO: Final = 1e-4
WAVES: Final = 400
"""Wavelengths tried for the fastest, from 200 to 0.4 mm: neighbours are 1.6 % apart."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Wet:
    """One wet layer."""

    thick_m: float
    density_kg_m3: float
    viscosity_pa_s: float
    tension_n_m: float = WET_TENSION
    """Against the layer above it."""

    def __post_init__(self) -> None:
        if not (self.thick_m > 0.0 and self.density_kg_m3 > 0.0 and self.viscosity_pa_s > 0.0 and self.tension_n_m > 0.0):
            raise DribbetError("A layer needs a thickness, a density, a viscosity and a tension above zero.")


class Stack:
    """Wet layers on a piece of panel whose edges meet (periodic), moved on in time.

    Parameters
    ----------
    layers : sequence of Wet
        From the panel upwards.
    shape : (rows, columns)
        Grid; one row makes a section.
    width_m : float
        Length of the longer side.
    seed : int
        Of the unevenness at the start; two stacks of one seed start alike.
    """

    def __init__(
        self, layers: Sequence[Wet], *, shape: tuple[int, int] = (128, 256), width_m: float = 0.08, seed: int = 0, rough: float = ROUGH
    ) -> None:
        if not 1 <= len(layers) <= MOST_LAYERS:
            raise DribbetError(f"{len(layers)} layers cannot be turned over. Take 1 to {MOST_LAYERS}.")
        self.layers = tuple(layers)
        self.shape, self.width_m = shape, width_m
        self.step_m = width_m / shape[1]
        self.time_s = 0.0
        count = len(layers)
        rng = np.random.default_rng(seed)
        even = np.array([w.thick_m for w in layers])[:, None, None] * np.ones((count, *shape))
        # Every interface is shaken by the same smooth field for one seed, whatever lies there: orders can be compared.
        shake = np.stack([_smooth(rng, shape) for _ in range(MOST_LAYERS)])[:count]
        shake -= shake.mean(axis=(1, 2), keepdims=True)
        between = np.zeros((count + 1, *shape))
        between[1:count] = shake[: count - 1] * rough * np.minimum(even[:-1], even[1:])
        self.h: Field = even + np.diff(between, axis=0)
        self._whole = self.h.sum(axis=(1, 2))
        self._viscosity = np.array([w.viscosity_pa_s for w in layers])
        heavier = np.array([a.density_kg_m3 - b.density_kg_m3 for a, b in pairwise(layers)])
        tension = np.array([w.tension_n_m for w in layers[:-1]])
        upper = np.triu(np.ones((count, max(count - 1, 0))))  # pressure of layer j takes every interface from j upwards
        self._weigh, self._pull = upper * heavier * GRAVITY_M_S2, upper * tension
        self._level = np.tril(np.ones((count, count)))[: count - 1]  # interfaces from thicknesses
        kx, ky = 2 * np.pi * fft.rfftfreq(shape[1]), 2 * np.pi * fft.fftfreq(shape[0])
        self._waves: Field = (2.0 - 2.0 * np.cos(kx))[None, :] + (2.0 - 2.0 * np.cos(ky))[:, None]  # of -lap on this grid, times the step squared
        self._p: Field = np.zeros(shape)
        self._good = 0
        self._stiff = self._stiffest()
        self._dt_wanted = self._dt_now = self._step_wanted()

    # ------------------------------------------------------------ the equations

    def growth(self) -> tuple[float, float]:
        """Fastest growth rate (1/s) and its wavelength (m) of small waves on the even layers; (0, inf) where nothing grows."""
        count = len(self.layers)
        if count < 2:
            return 0.0, math.inf
        k = np.geomspace(2 * np.pi / 0.2, np.pi / 2e-4, WAVES)
        held = self._held_mobility()
        k2 = (k**2)[:, None, None]
        rates = np.linalg.eigvals(k2 * (held @ ((self._weigh + self._pull * k2) @ self._level))).real.max(axis=1)
        at = int(np.argmax(rates))
        return (float(rates[at]), float(2 * np.pi / k[at])) if rates[at] > 0.0 else (0.0, math.inf)

    def _held_mobility(self) -> Field:
        """Fluxes by pressure gradients on the even layers while the surface stays level, shape (N, N)."""
        count = len(self.layers)
        even = np.array([w.thick_m for w in self.layers])
        unit = np.stack([self._driven(even[:, None], np.eye(count)[:, [j]])[:, 0] for j in range(count)], axis=1)
        return np.asarray(unit - np.outer(unit.sum(axis=1), unit.sum(axis=0)) / unit.sum())

    def _stiffest(self) -> float:
        """Rate at which tension evens out the shortest waves on the even layers, over k^4, in m^4/s."""
        if len(self.layers) < 2:
            return 0.0
        return float(np.abs(np.linalg.eigvals(self._held_mobility() @ self._pull @ self._level)).max())

    def _step_wanted(self) -> float:
        rate = self.growth()[0]
        return min(SAFETY / rate if rate > 0.0 else MOST_STEP_S, MOST_STEP_S)

    def _driven(self, h: Field, gradient: Field) -> Field:
        """Flux of every layer under the pressure gradients G."""
        count = len(self.layers)
        above = np.zeros(np.broadcast_shapes(h[0].shape, gradient[0].shape))
        shear = [above] * count
        for j in range(count - 1, -1, -1):
            shear[j] = above
            above = above + gradient[j] * h[j]
        speed = np.zeros_like(above)
        flux = np.empty((count, *above.shape))
        for j in range(count):
            thick, mu = h[j], self._viscosity[j]
            flux[j] = speed * thick - (shear[j] * thick**2 / 2.0 + gradient[j] * thick**3 / 3.0) / mu
            speed = speed - (shear[j] * thick + gradient[j] * thick**2 / 2.0) / mu
        return flux

    def _fluxes(self, dt_s: float) -> list[Field]:
        """Fluxes of every layer at the faces of the grid towards +x and +y."""
        h = self.h
        faces = np.tensordot(self._level, h, axes=1)
        pressure = np.tensordot(self._weigh, faces, axes=1) - np.tensordot(self._pull, self._laplacian(faces), axes=1)
        own, unit = [], []
        for axis in (2, 1):
            if h.shape[axis] == 1:
                own.append(np.zeros_like(h))
                unit.append(np.zeros_like(h))
                continue
            thick = 0.5 * (h + np.roll(h, -1, axis))
            own.append(self._driven(thick, (np.roll(pressure, -1, axis) - pressure) / self.step_m))
            unit.append(self._driven(thick, np.ones((len(self.layers), 1, 1))))
        slope = self._held_level(own, unit, dt_s)
        return [q + u * g for q, u, g in zip(own, unit, slope, strict=True)]

    def _held_level(self, own: list[Field], unit: list[Field], dt_s: float) -> list[Field]:
        """Gradient of the pressure under which all layers together neither gather nor part, so that the surface stays level.

        Solved with the mean mobility by Fourier transform, the rest by repetition; what the surface is off from level is drawn back.
        """
        total, ease = [q.sum(axis=0) for q in own], [-u.sum(axis=0) for u in unit]
        live = [i for i, n in enumerate((self.shape[1], self.shape[0])) if n > 1]
        mean = max(float(np.mean([ease[i].mean() for i in live])), HALF_OF_MOST * max(float(ease[i].max()) for i in live))
        whole = self.h.sum(axis=0)
        off = (whole - whole.mean()) / (DRAWN_BACK * dt_s)
        p = self._p
        for _ in range(MOST_ROUNDS):
            slope = self._gradient(p)
            left = -off + sum((self._divergence(total[i] - ease[i] * slope[i], i) for i in live), np.zeros(self.shape))
            wave = fft.rfft2(left)
            wave[self._waves > 0.0] /= self._waves[self._waves > 0.0]
            wave[0, 0] = 0.0
            change = fft.irfft2(wave, s=self.shape) * (-(self.step_m**2) / mean)
            p = p + change
            if float(np.abs(change).max()) <= LEVEL_TO * max(float(np.abs(p).max()), 1e-12):
                break
        self._p = p - p.mean()
        return self._gradient(self._p)

    def _gradient(self, p: Field) -> list[Field]:
        return [(np.roll(p, -1, axis) - p) / self.step_m if p.shape[axis] > 1 else np.zeros_like(p) for axis in (1, 0)]

    def _divergence(self, q: Field, which: int) -> Field:
        return np.asarray((q - np.roll(q, 1, 1 - which)) / self.step_m)

    def _limited(self, flux: list[Field], dt_s: float) -> list[Field]:
        """Fluxes that take no more out of a place than lies there: each is cut by what its giver can give, so nothing is lost on the way."""
        out = sum((np.maximum(q, 0.0) + np.maximum(-np.roll(q, 1, axis), 0.0) for q, axis in zip(flux, (2, 1), strict=True)), np.zeros_like(self.h))
        can = np.clip((self.h - LEAST_M) * self.step_m / np.maximum(out * dt_s, 1e-30), 0.0, 1.0)
        return [q * np.where(q > 0.0, can, np.roll(can, -1, axis)) for q, axis in zip(flux, (2, 1), strict=True)]

    def _laplacian(self, z: Field) -> Field:
        made = np.zeros_like(z)
        for axis in (1, 2):
            if z.shape[axis] > 1:
                made += np.roll(z, 1, axis) + np.roll(z, -1, axis) - 2.0 * z
        return np.asarray(made / self.step_m**2)

    # ------------------------------------------------------------ time

    def step(self, dt_s: float) -> None:
        """One step: the true fluxes forward in time, the change damped where waves are so short that tension would make them ring.

        The damping is 1 / (1 + a dt k^4) with a not below half of the strongest stiffness there is (the usual biharmonic stabilisation): it
        leaves the mean of every layer and the sum of all untouched, so that no paint is made or lost.
        """
        flux = self._limited(self._fluxes(dt_s), dt_s)
        heaped = float((self.h.max(axis=(1, 2)) / self._whole * self.h[0].size).max())
        stiff = self._stiff * max(heaped, 1.0) ** 3
        change = -((flux[0] - np.roll(flux[0], 1, 2)) + (flux[1] - np.roll(flux[1], 1, 1))) / self.step_m
        damp = 1.0 / (1.0 + 0.5 * stiff * dt_s * (self._waves / self.step_m**2) ** 2)
        moved = fft.irfft2(fft.rfft2(change, axes=(1, 2)) * damp, s=self.shape, axes=(1, 2))
        self.h = self.h + dt_s * (moved - moved.mean(axis=(1, 2), keepdims=True))
        self._mend()
        self.time_s += dt_s

    def _mend(self) -> None:
        """Fill what smoothing took below the least thickness, level what it piled up, and take both from where the same layer is thick.

        The mean of every layer stays to the last digit.
        """
        filled = np.maximum(self.h, LEAST_M)
        whole = filled.sum(axis=0)
        filled = np.maximum(filled * (whole.mean() / whole), LEAST_M)
        spare = np.maximum(filled - LEAST_M, 0.0)
        over = filled.sum(axis=(1, 2)) - self._whole
        self.h = filled - spare * (over / np.maximum(spare.sum(axis=(1, 2)), 1e-30))[:, None, None]

    def run(self, seconds: float) -> None:
        """Move on by so many seconds of the paint's own time."""
        until = self.time_s + seconds
        while self.time_s < until - 1e-9:
            dt, before, pressure = min(self._dt_now, until - self.time_s), self.h, self._p
            with np.errstate(all="ignore"):  # a step too far may overflow: it is taken back
                self.step(dt)
            if not np.isfinite(self.h).all() or float(np.abs(self.h - before).max()) > TOO_FAR * float(self._whole.max()) / self.h[0].size:
                self.h, self._p, self.time_s, self._good = before, pressure, self.time_s - dt, 0  # too far in one step: go slower
                self._dt_now = dt / 2.0
                if self._dt_now < LEAST_STEP_S:
                    raise DribbetError("This stack moves faster than it can be followed. Choose thinner layers or thicker paint.")
            elif self._dt_now < self._dt_wanted:
                self._good += 1
                if self._good > GOOD_STEPS:
                    self._dt_now, self._good = min(self._dt_now * 2.0, self._dt_wanted), 0

    # ------------------------------------------------------------ what is seen

    def seen(self, opaque_m: float = OPAQUE_M) -> Field:
        """Share of what an eye sees from above that each layer gives, shape (N, rows, columns); sums to one with the panel's own share left out."""
        through = np.ones(self.shape)
        made = np.empty_like(self.h)
        for j in range(len(self.layers) - 1, -1, -1):
            hides = 1.0 - np.exp(-np.maximum(self.h[j] - LEAST_M, 0.0) / opaque_m)
            made[j] = through * hides
            through = through * (1.0 - hides)
        return made

    def shares(self) -> Field:
        """Share of the view that each layer has, shape (N,)."""
        return np.asarray(self.seen().mean(axis=(1, 2)))

    def section(self) -> Field:
        """Upper faces of the layers along the middle row, shape (N, columns), in m."""
        return np.asarray(np.cumsum(np.maximum(self.h[:, self.shape[0] // 2, :], 0.0), axis=0))


def _smooth(rng: np.random.Generator, shape: tuple[int, int]) -> Field:
    """Noise without the finest grain, standard deviation one."""
    noise = rng.standard_normal(shape)
    wave = fft.rfft2(noise)
    fine = np.hypot(fft.fftfreq(shape[0])[:, None] if shape[0] > 1 else 0.0, fft.rfftfreq(shape[1])[None, :])
    made = fft.irfft2(wave * np.exp(-((fine / 0.12) ** 2)), s=shape)
    return np.asarray(made / max(float(made.std()), 1e-12))
