"""Guided measurements of a container or a bottle: one thing to do at a time, one figure for each, and what comes of them. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum, auto
from typing import TYPE_CHECKING

from dribbet.records import Bottle, DribbetError, GaugingKind, Material
from dribbet.records.wording import first_up
from dribbet.studio.acts import gauging
from dribbet.words import shelf as shelf_words
from dribbet.words.units import percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.studio.desk import Desk


@dataclass(frozen=True, slots=True)
class GuideStep:
    """One thing to do: in large words, a hint, and whether a weight or a length is read."""

    words: str
    hint: str
    reads: str = "weight"
    """weight, length (two diameters), wait, or water (weight that is poured in)."""
    wait_s: float = 0.0


class OnScale(StrEnum):
    """What stands on the scale while something is measured."""

    BOTTLE = auto()
    SYRINGE = auto()
    HEAP = auto()
    DROPS = auto()


@dataclass
class Guide:
    """A measurement that is under way."""

    title: str
    steps: tuple[GuideStep, ...]
    finish: Callable[[list[float]], str]
    """Takes the readings (kg or m), writes what came of them, and says it."""
    check: Callable[[list[float]], None] = lambda _: None
    """Refuses a reading at once where it cannot be."""
    enough: Callable[[list[float]], bool] = lambda _: False
    """Whether it is over before its last step."""
    readings: list[float] = field(default_factory=list)
    said: str = ""
    """What came of it, once it is over."""
    on_scale: OnScale = OnScale.DROPS

    @property
    def step(self) -> GuideStep | None:
        """What is to be done now; None when it is over."""
        return self.steps[len(self.readings)] if len(self.readings) < len(self.steps) and not self.said else None

    def take(self, value: float) -> None:
        """Take a reading and go on.

        Raises
        ------
        DribbetError
            If it cannot be; the same step is asked for again.
        """
        after = [*self.readings, value]
        self.check(after)
        if len(after) == len(self.steps) or self.enough(after):
            try:
                self.said = self.finish(after)
            except DribbetError:
                if len(self.steps) > 2:
                    self.readings = self.readings[:-1]  # the last two are done again: which of them was wrong nobody knows
                raise
        self.readings = after

    def back(self) -> bool:
        """Take the last reading back; False where there is none."""
        if not self.readings or self.said:
            return False
        self.readings.pop()
        return True


def density(desk: Desk, m: Material) -> Guide:
    """Density by a syringe of 10 mL, filled twice."""

    def finish(kg: list[float]) -> str:
        found = gauging.density(desk, m, kg)
        return shelf_words.DENSITY_FOUND(name=first_up(m.name), g_per_ml=found.value / 1000, percent=percent(found.spread / found.value, 1))

    return Guide(
        f"Density of {m.name}",
        (
            GuideStep(shelf_words.WEIGH_THE_EMPTY_SYRINGE, shelf_words.DRY_WITH_ITS_CAP),
            GuideStep(shelf_words.FILL_TO_10_ML, shelf_words.NO_AIR_IN_IT(name=m.name)),
            GuideStep(shelf_words.FILL_AGAIN, shelf_words.TWICE_FOR_AIR),
        ),
        finish,
        gauging.syringe,
        on_scale=OnScale.SYRINGE,
    )


def body(desk: Desk, m: Material) -> Guide:
    """Body by a slump disc: a fixed mass on a level plate, its diameter after a fixed time."""
    rules = desk.rules

    def finish(values: list[float]) -> str:
        found = gauging.body(desk, m, values[0], values[2:4])
        across = units_of(desk).length_text(found.diameter_m * 1e3)
        return shelf_words.BODY_IS(name=first_up(m.name), body=found.body.words, across=across, parts=found.body.start_parts)

    def check(values: list[float]) -> None:
        if len(values) == 1:
            gauging.heap(desk, values[0])

    return Guide(
        f"Body of {m.name}",
        (
            GuideStep(shelf_words.SET_ON_A_PLATE(slump_g=rules.slump_kg * 1e3), shelf_words.IN_ONE_HEAP(name=m.name)),
            GuideStep(shelf_words.LET_IT_SPREAD, shelf_words.DO_NOT_TOUCH_THE_PLATE, "wait", rules.slump_seconds),
            GuideStep(shelf_words.MEASURE_THE_DISC, shelf_words.ACROSS_WITH_A_RULER, "length"),
            GuideStep(shelf_words.MEASURE_IT_THE_OTHER_WAY, shelf_words.NEVER_QUITE_ROUND, "length"),
        ),
        finish,
        check,
        on_scale=OnScale.HEAP,
    )


def drip(desk: Desk, m: Material) -> Guide:
    """Neat paint: a drop on an upright card, and how far it ran."""
    rules = desk.rules

    def finish(values: list[float]) -> str:
        gauging.drip(desk, m, values[1])
        return shelf_words.RAN(name=first_up(m.name), length=units_of(desk).length_text(values[1] * 1e3), drip_seconds=rules.drip_seconds)

    def check(values: list[float]) -> None:
        if len(values) == 2:
            gauging.run(values[1])

    return Guide(
        f"Drip of {m.name}",
        (
            GuideStep(shelf_words.SET_A_DROP, shelf_words.THE_SAME_DROP(name=m.name), "wait", rules.drip_seconds),
            GuideStep(shelf_words.MEASURE_HOW_FAR_IT_RAN, shelf_words.FROM_TOP_TO_TIP, "length"),
        ),
        finish,
        check,
    )


def measure(desk: Desk, m: Material, kind: GaugingKind) -> Guide:
    """One's own drop, spoon, squirt or pea: several of them weighed together."""
    count = gauging.COUNTS[kind]

    def finish(kg: list[float]) -> str:
        one = gauging.together(desk, m, kind, kg[0])
        return shelf_words.DROP_WEIGHS(kind=kind, name=m.name, one_mg=one * 1e6, count=count)

    plural = {GaugingKind.TEASPOON: "level teaspoons", GaugingKind.PEA: "peas"}.get(kind, f"{kind}s")
    return Guide(
        shelf_words.ONE_DROP_OF(kind=kind, name=m.name),
        (
            GuideStep(
                (shelf_words.LET_INTO_A_CUP if kind is GaugingKind.DROP else shelf_words.SET_INTO_A_CUP)(count=count, plural=plural),
                shelf_words.COUNT_ALOUD,
            ),
        ),
        finish,
    )


def cap(desk: Desk, b: Bottle) -> Guide:
    """A bottle that was just filled: empty and capped weight, from which its losses are counted."""

    def finish(kg: list[float]) -> str:
        return shelf_words.BOTTLE_HOLDS(code=b.code, mass=units_of(desk).mass_text(gauging.cap(desk, b, kg)))

    return Guide(
        f"Bottle {b.code}",
        (
            GuideStep(shelf_words.WEIGH_THE_EMPTY_BOTTLE, shelf_words.WITH_CAP_AND_LABEL),
            GuideStep(shelf_words.FILL_AND_CAP, shelf_words.WRITE_CODE_ON(name=b.name, code=b.code)),
        ),
        finish,
        gauging.filled,
        on_scale=OnScale.BOTTLE,
    )


def bottle(desk: Desk, b: Bottle) -> Guide:
    """A stored bottle again: its weight, the water it lost, and what is given back."""

    def finish(kg: list[float]) -> str:
        found = gauging.weigh_again(desk, b, kg)
        lost, given = (units_of(desk).mass_text(v) for v in (found.lost_kg, found.given_kg))
        tail = shelf_words.WATER_IS_BACK(mass=given) if found.given_kg else shelf_words.NOTHING_WAS_GIVEN_BACK
        return shelf_words.LOST_WATER(code=b.code, lost=lost, tail=tail) if found.lost_kg > 0.0 else shelf_words.LOST_NOTHING(code=b.code)

    def check(kg: list[float]) -> None:
        if len(kg) == 1:
            gauging.bottle(b, kg[0])

    return Guide(
        f"Bottle {b.code}",
        (
            GuideStep(shelf_words.PUT_BOTTLE_ON(code=b.code), shelf_words.AS_IT_WAS_CAPPED),
            GuideStep(shelf_words.GIVE_WATER_BACK, shelf_words.SLOWLY_THEN_STIR, "water"),
        ),
        finish,
        check,
        lambda kg: len(kg) == 1 and not gauging.worth_it(desk, b, kg[0]),
        on_scale=OnScale.BOTTLE,
    )
