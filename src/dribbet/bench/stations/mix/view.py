"""What the Mix page shows, with every text ready. No widgets, no rules."""

from __future__ import annotations

from dataclasses import dataclass

from dribbet.words import mix as mix_words


@dataclass(frozen=True, slots=True)
class Slice:
    """One amount in the cup, from below: name, weight as text, kg, colour, and how it stands."""

    name: str
    text: str
    kg: float
    hex: str
    state: str
    """done, now, over or planned."""
    over_kg: float = 0.0
    over_text: str = ""


@dataclass(frozen=True, slots=True)
class TrayCup:
    """One cup of the series on the tray."""

    mix_id: str
    hex: str
    state: str
    group: str
    name: str = ""


@dataclass(frozen=True, slots=True)
class MixChoice:
    """Another way out of an overshoot: its digit and what it does in few words."""

    digit: str
    words: str
    keeps: bool = False
    """Whether it keeps the cup as it is; else paint is taken out first."""


@dataclass(frozen=True, slots=True)
class BatchLine:
    """One cup in the list of the whole series."""

    mix_id: str
    codes: str
    name: str
    amount: str
    hex: str
    tools: str
    when: str
    note: str
    state: str
    """done, now, next or planned."""
    drops: int = 0
    flagged: bool = False

    @property
    def group(self) -> str:
        """Head it stands under: its tools while it is to be mixed, then all that are mixed."""
        return mix_words.MIXED_ALREADY if self.state == "done" else mix_words.TOOLS_OF_THEIR_OWN(tools=self.tools)


@dataclass(frozen=True, slots=True)
class MixView:
    """Everything the page shows."""

    codes: str = ""
    title: str = ""
    note_line: str = ""
    """The plan as a ratio, by weight and by volume."""
    empty: str = ""
    slices: tuple[Slice, ...] = ()
    capacity_kg: float = 0.25
    add_name: str = ""
    add_hint: str = ""
    target_kg: float = 0.0
    """Cumulative weight to reach on the scale."""
    already_kg: float = 0.0
    tolerance_kg: float = 0.2e-3
    act: str = ""
    """Words of what is to be done now instead of adding; empty where something is to be added."""
    taking_out: bool = False
    covered: str = ""
    """Since when the cup is covered; empty where it stands open."""
    over: str = ""
    mend: str = ""
    mend_then: str = ""
    note: str = ""
    choices: tuple[MixChoice, ...] = ()
    one_key: str = ""
    drops: int = 0
    """How many drops are to be counted in now; 0 where something is weighed."""
    by_eye: bool = False
    """Whether water goes in step by step until it looks right."""
    eye_begun: bool = False
    eye_share: str = ""
    """Water in the cup by now."""
    how: str = ""
    """How it is done, where the strip has no room for it."""
    is_covered: bool = False
    finished: bool = False
    done: bool = False
    rest_s: float = 0.0
    """Seconds still to rest; 0 where it is over or not known."""
    rest: str = ""
    facts: str = ""
    """Dose, cost and the actual shares, once all is in."""
    tray: tuple[TrayCup, ...] = ()
    tray_note: str = ""
    caution: str = ""
    tare_each: bool = False
    take_when_steady: bool = True
