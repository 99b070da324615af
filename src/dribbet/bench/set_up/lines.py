"""Bench rules as lines to read and type: each figure of `HouseRules` in the person's words and units. No widgets."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Final

from dribbet.lab.panel.drying import hours_of
from dribbet.records import CheckKind, DribbetError, GradeWindow, HomeCup, HouseRules, Offset, Role, Technique, Weigh
from dribbet.words import rules as rules_words
from dribbet.words import set_up as set_up_words
from dribbet.words.units import figure

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.words.units import Units

BAUDS: Final = (1200, 2400, 4800, 9600, 19200, 38400)


def pressed(rules: HouseRules, key: str) -> HouseRules:
    """The next value of a rule that goes round.

    Raises
    ------
    DribbetError
        If it must be typed.
    """
    if key == "weigh":
        return replace(rules, weigh=Weigh.TARE if rules.weigh is Weigh.ADD_UP else Weigh.ADD_UP)
    if key == "take_when_steady":
        return replace(rules, take_when_steady=not rules.take_when_steady)
    if key == "tone":
        return replace(rules, tone=not rules.tone)
    if key == "baud":
        return replace(rules, serial_baud=BAUDS[(BAUDS.index(rules.serial_baud) + 1) % len(BAUDS)] if rules.serial_baud in BAUDS else BAUDS[3])
    raise DribbetError(set_up_words.TYPE_THIS_ONE)


def _figures(text: str, like: str) -> list[float]:
    try:
        return [figure(x) for x in re.split(r"[,;\s]+", text.strip().removesuffix("%")) if x]
    except ValueError:
        raise DribbetError(set_up_words.NOT_WHAT_IS_ASKED(text=text, like=like)) from None


def _one(text: str, like: str) -> float:
    found = _figures(text.replace(",", "."), like)
    if len(found) != 1:
        raise DribbetError(set_up_words.NO_FIGURE(text=text, like=like))
    return found[0]


def _two(text: str, like: str) -> tuple[float, float]:
    found = _figures(text, like)
    if len(found) != 2:
        raise DribbetError(set_up_words.TWO_FIGURES(like=like))
    return found[0], found[1]


def _order(rules: HouseRules, text: str) -> HouseRules:
    known = {str(k): k for k in CheckKind}
    kinds = [x.strip().lower() for x in re.split(r",|\bbefore\b", text) if x.strip()]
    strange = [k for k in kinds if k not in known]
    if strange:
        raise DribbetError(set_up_words.NO_CHECK(strange=strange[0]))
    return replace(rules, check_order=tuple(known[k] for k in kinds))


CUP: Final = re.compile(r"^\s*([^:]+):\s*(.+)$")
POINT: Final = re.compile(r"^\s*([\d.]+)\s*s?\s*=\s*([\d.]+)\s*(?:mm²/s)?\s*$")


def _home_cup(rules: HouseRules, text: str) -> HouseRules:
    """'my cup: 20 s = 40, 60 s = 140' adds a cup or changes it; its name alone takes it away."""
    found = CUP.match(text)
    if found is None:
        left = tuple(c for c in rules.home_cups if c.name.lower() != text.strip().lower())
        if len(left) == len(rules.home_cups):
            raise DribbetError(set_up_words.CUP_AND_LIQUIDS)
        return replace(rules, home_cups=left)
    points = [POINT.match(p) for p in found.group(2).split(",")]
    if not all(points):
        raise DribbetError(set_up_words.EACH_LIQUID)
    cup = HomeCup(name=found.group(1).strip(), points=tuple((figure(p.group(1)), figure(p.group(2)) * 1e-6) for p in points if p is not None))
    return replace(rules, home_cups=(*(c for c in rules.home_cups if c.name != cup.name), cup))


def _offset(role: Role, rules: HouseRules, text: str) -> HouseRules:
    more = _one(text.removesuffix("%").replace("\u2212", "-"), "20, or -20")
    offsets = tuple(o for o in rules.offsets if o.role is not role)
    return replace(rules, offsets=(*offsets, Offset(role=role, runs=1.0 + more / 100.0)) if more else offsets)


def _window(technique: Technique, rules: HouseRules, text: str) -> HouseRules:
    ends = [round(x) for x in _figures(text.replace("to", ","), set_up_words.LIKE_TWO_GRADES)]
    if len(ends) not in (1, 2):
        raise DribbetError(set_up_words.TYPE_GRADES)
    others = tuple(w for w in rules.windows if w.technique is not technique)
    return replace(rules, windows=(*others, GradeWindow(technique=technique, low=ends[0], high=ends[-1])))


def _pattern(rules: HouseRules, text: str) -> HouseRules:
    from dribbet.devices import LineFormat

    if text.strip():
        LineFormat(name="own", pattern=text.strip())  # refuses what is no pattern
    return replace(rules, serial_pattern=text.strip())


def typed(rules: HouseRules, key: str, text: str, units: Units) -> HouseRules:
    """A rule with what was typed in it.

    Raises
    ------
    DribbetError
        If it cannot be that; the sentence says what to type.
    """
    if key.startswith("offset "):
        return _offset(Role(key.removeprefix("offset ")), rules, text)
    if key.startswith("window "):
        return _window(Technique(key.removeprefix("window ")), rules, text)

    def kg(words: str) -> float:
        try:
            return units.mass_kg(words)
        except ValueError:
            raise DribbetError(set_up_words.NO_WEIGHT(typed=words)) from None

    readers: dict[str, Callable[[], HouseRules]] = {
        "tolerance": lambda: replace(rules, tolerance_kg=kg(text)),
        "step": lambda: replace(rules, scale_step_kg=_one(text, "0.1") / 1e3),
        "cups": lambda: replace(rules, cups_kg=tuple(kg(x) for x in text.split(",") if x.strip())),
        "pattern": lambda: _pattern(rules, text),
        "cover": lambda: replace(rules, cover_after_s=_one(text, "10") * 60.0),
        "awake": lambda: replace(rules, awake_from_h=_two(text, "7, 22")[0], awake_until_h=_two(text, "7, 22")[1]),
        "looks": lambda: replace(rules, looks=_times(text)),
        "pedal": lambda: replace(rules, pedal=_pedal(text)),
        "climate": lambda: replace(rules, climate_file=_file(text)),
        "bubbles": lambda: replace(rules, bubble_m=_one(text, "0.5") / 2e3),
        "cup_width": lambda: replace(rules, cup_radius_m=units.length_mm(text) / 2e3),
        "water": lambda: replace(rules, water_source=text.strip()[:40] or "tap"),
        "least_paint": lambda: replace(rules, least_paint=_one(text.removesuffix("%"), "20") / 100.0),
        "limits": lambda: replace(rules, grade_limits_s=tuple(_figures(text, "0.05, 1, 3, 6"))),
        "match": lambda: replace(rules, match_within=_one(text.removesuffix("%"), "25") / 100.0),
        "order": lambda: _order(rules, text),
        "ring": lambda: replace(rules, ring_limit=_one(text, "0.4")),
        "drip_s": lambda: replace(rules, drip_seconds=_one(text, "10")),
        "drop": lambda: replace(rules, drip_m3=_two(text, "50, 6")[0] * 1e-9, drip_width_m=_two(text, "50, 6")[1] / 1e3),
        "slump": lambda: replace(rules, slump_kg=_two(text, "5, 60")[0] / 1e3, slump_seconds=_two(text, "5, 60")[1]),
        "home_cups": lambda: _home_cup(rules, text),
    }
    if key not in readers:
        raise DribbetError(set_up_words.PRESS_TO_CHANGE)
    try:
        return readers[key]()
    except ValueError:
        raise DribbetError(set_up_words.NO_FIGURE_AS_SHOWN(text=text)) from None


def _times(text: str) -> tuple[str, ...]:
    """Times of looks from what was typed; nothing for the usual ones."""
    words = [" ".join(w.split()).lower() for w in text.replace(";", ",").split(",") if w.strip()]
    if words in (["usual"], [rules_words.USUAL_TIMES]):
        return ()
    spaced = [w if " " in w else f"{w[:-1]} {w[-1]}" for w in words]
    for name in spaced:
        hours_of(name)
    return tuple(sorted(dict.fromkeys(spaced), key=hours_of))


PEDALS: Final = ("F1", "F2", "F3", "F4", "F5", "F6", "F7", "F8", "F9", "F10", "F11", "F12", "Left", "Right", "Up", "Down", "Home", "End", "Insert")
"""Keys that nothing else at the bench uses, so that a pedal may send them; letters and digits are keys of their own."""


def _pedal(text: str) -> str:
    """Key of a pedal by its name."""
    word = text.strip()
    if word.lower() in ("", "none"):
        return ""
    key = next((p for p in PEDALS if p.lower() == word.lower()), None)
    if key is None:
        raise DribbetError(set_up_words.NO_PEDAL_KEY(typed=word[:20], keys=", ".join(PEDALS)))
    return key


def _file(text: str) -> str:
    """Path of a file as it was typed; nothing for none."""
    path = Path(text.strip()[:300])
    if text.strip().lower() in ("", "none"):
        return ""
    if not path.suffix[1:].isalpha():
        raise DribbetError(set_up_words.NO_FILE(typed=text.strip()[:30]))
    return str(path)
