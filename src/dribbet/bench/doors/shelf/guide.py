"""Guided measurements of a container or a bottle: one thing to do at a time, one figure for each, and what comes of them. No widgets."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import bottles
from dribbet.lab.paint import containers
from dribbet.records import Bottle, BottleWeighing, DribbetError, GaugingKind, Material
from dribbet.records.wording import first_up
from dribbet.studio.acts.shelving import Shelving
from dribbet.words.units import percent, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.studio.desk import Desk


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do: in large words, a hint, and whether a weight or a length is read."""

    words: str
    hint: str
    reads: str = "weight"
    """weight, length (two diameters), wait, or water (weight that is poured in)."""
    wait_s: float = 0.0


COUNTS: Final = {GaugingKind.DROP: 20, GaugingKind.TEASPOON: 3, GaugingKind.SQUIRT: 10, GaugingKind.PEA: 10}


@dataclass
class Guide:
    """A measurement that is under way."""

    title: str
    steps: tuple[Step, ...]
    finish: Callable[[list[float]], str]
    """Takes the readings (kg or m), writes what came of them, and says it."""
    check: Callable[[list[float]], None] = lambda _: None
    """Refuses a reading at once where it cannot be."""
    enough: Callable[[list[float]], bool] = lambda _: False
    """Whether it is over before its last step."""
    readings: list[float] = field(default_factory=list)
    said: str = ""
    """What came of it, once it is over."""

    @property
    def step(self) -> Step | None:
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
        value = containers.density_of_fillings(kg[1:], kg[0])
        spread = containers.density_sd(kg[1:], kg[0])
        Shelving(desk).measured(replace(m, density_kg_m3=value), GaugingKind.DENSITY, value, tuple(kg))
        return f"{first_up(m.name)} weighs {value / 1000:.3f} g in each mL; the fillings differ by {percent(spread / value, 1)}."

    def check(kg: list[float]) -> None:
        if len(kg) > 1 and kg[-1] <= kg[0]:
            raise DribbetError("The filled syringe is not heavier than the empty one. Fill it to 10 mL, and weigh it again.")

    return Guide(
        f"Density of {m.name}",
        (
            Step("Weigh the empty syringe", "dry, with its cap if it has one"),
            Step("Fill it to 10 mL and weigh it", f"{m.name}, no air in it; wipe the tip"),
            Step("Empty it, fill it again, weigh it", "twice, because air hides in one filling"),
        ),
        finish,
        check,
    )


def body(desk: Desk, m: Material) -> Guide:
    """Body by a slump disc: a fixed mass on a level plate, its diameter after a fixed time."""
    rules = desk.rules

    def finish(values: list[float]) -> str:
        sample, diameter = values[0], containers.slump_diameter_m(values[2:4])
        found = containers.body_of(diameter, sample_kg=sample, density_kg_m3=m.density_kg_m3)
        Shelving(desk).measured(m, GaugingKind.BODY, diameter, tuple(values[2:4]), sample_kg=sample, seconds=rules.slump_seconds)
        across = units_of(desk).length_text(diameter * 1e3)
        return f"{first_up(m.name)} {found.words}: {across} across. Start from 1 part to {found.start_parts:g} of conditioner."

    def check(values: list[float]) -> None:
        if len(values) == 1 and not 0.2 <= values[0] / rules.slump_kg <= 3.0:
            raise DribbetError(f"That is {values[0] * 1e3:.1f} g. Set about {rules.slump_kg * 1e3:g} g down, so that discs compare.")

    return Guide(
        f"Body of {m.name}",
        (
            Step(f"Set {rules.slump_kg * 1e3:g} g on a level plate", f"{m.name} as it leaves the container, in one heap"),
            Step("Let it spread", "do not touch the plate", "wait", rules.slump_seconds),
            Step("Measure the disc", "across, with a ruler", "length"),
            Step("Measure it the other way", "it is never quite round", "length"),
        ),
        finish,
        check,
    )


def drip(desk: Desk, m: Material) -> Guide:
    """Neat paint: a drop on an upright card, and how far it ran."""
    rules = desk.rules

    def finish(values: list[float]) -> str:
        Shelving(desk).measured(m, GaugingKind.DRIP, values[1], (values[1],), seconds=rules.drip_seconds)
        return f"{first_up(m.name)} ran {units_of(desk).length_text(values[1] * 1e3)} in {rules.drip_seconds:g} seconds, as it left the container."

    def check(values: list[float]) -> None:
        if len(values) == 2 and not 0.0 < values[1] < 1.0:
            raise DribbetError("That is no run. Measure from the top of the drop to its tip, in mm; 1 where it did not run at all.")

    return Guide(
        f"Drip of {m.name}",
        (
            Step("Set a drop on the upright card", f"{m.name} as it leaves the container; the same drop each time", "wait", rules.drip_seconds),
            Step("Measure how far it ran", "from the top of the drop to its tip", "length"),
        ),
        finish,
        check,
    )


def measure(desk: Desk, m: Material, kind: GaugingKind) -> Guide:
    """One's own drop, spoon, squirt or pea: several of them weighed together."""
    count = COUNTS[kind]

    def finish(kg: list[float]) -> str:
        if not kg[0] > 0.0:
            raise DribbetError(f"The scale saw nothing of {count} {kind}s. Let more fall, or use a finer scale.")
        one = kg[0] / count
        changed = replace(m, drop_kg=one) if kind is GaugingKind.DROP else m
        Shelving(desk).measured(changed, kind, one, tuple(kg), count=count)
        return f"One {kind} of {m.name} weighs {one * 1e6:.0f} mg, from {count} together."

    plural = {GaugingKind.TEASPOON: "level teaspoons", GaugingKind.PEA: "peas"}.get(kind, f"{kind}s")
    return Guide(
        f"One {kind} of {m.name}",
        (Step(f"{'Let' if kind is GaugingKind.DROP else 'Set'} {count} {plural} into a cup", "a cup on the scale, zeroed; count aloud"),),
        finish,
    )


def cap(desk: Desk, b: Bottle) -> Guide:
    """A bottle that was just filled: empty and capped weight, from which its losses are counted."""

    def finish(kg: list[float]) -> str:
        Shelving(desk).cap(b, kg[0], kg[1])
        return f"{b.code} holds {units_of(desk).mass_text(kg[1] - kg[0])}. What it loses from now on is water."

    def check(kg: list[float]) -> None:
        if len(kg) == 2 and kg[1] <= kg[0]:
            raise DribbetError("The capped bottle is not heavier than the empty one. Weigh it full, with its cap.")

    return Guide(
        f"Bottle {b.code}",
        (Step("Weigh the empty bottle", "with its cap and label"), Step("Fill it, cap it, weigh it", f"{b.name}; write {b.code} on it")),
        finish,
        check,
    )


def bottle(desk: Desk, b: Bottle) -> Guide:
    """A stored bottle again: its weight, the water it lost, and what is given back."""

    def finish(kg: list[float]) -> str:
        known = desk.notebook.all(BottleWeighing, bottle_id=b.id)
        stand = bottles.stand(b, [*known, Shelving(desk).weighing(b, kg[0])])
        back = kg[1] if len(kg) > 1 else 0.0
        Shelving(desk).weigh_bottle(b, kg[0], back)
        lost = units_of(desk).mass_text(stand.lost_kg)
        tail = f"{units_of(desk).mass_text(back)} of it are back. Stir, then check it before you pour it." if back else "Nothing was given back."
        return f"{b.code} lost {lost} of water. {tail}" if stand.lost_kg > 0.0 else f"{b.code} lost nothing that the scale can see."

    def check(kg: list[float]) -> None:
        if len(kg) == 1 and b.empty_kg and kg[0] < b.empty_kg:
            raise DribbetError(f"The empty bottle alone weighs {units_of(desk).mass_text(b.empty_kg)}. Put the right bottle on the scale.")

    return Guide(
        f"Bottle {b.code}",
        (
            Step(f"Put bottle {b.code} on the scale", "as it was weighed when it was capped"),
            Step("Give its water back", "slowly; then shake or stir", "water"),
        ),
        finish,
        check,
        lambda kg: len(kg) == 1 and top_up_kg(desk, b, kg[0]) < bottles.WORTH_G,
    )


def top_up_kg(desk: Desk, b: Bottle, gross_kg: float) -> float:
    """Water that a bottle wants back when it weighs so much now."""
    known = desk.notebook.all(BottleWeighing, bottle_id=b.id)
    return bottles.stand(b, [*known, Shelving(desk).weighing(b, gross_kg)]).lost_kg
