"""Bench rules as lines: each figure of `HouseRules` in the person's words and units, and what to type for it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum, auto
from typing import TYPE_CHECKING, Final

from dribbet.lab.cup import house_rules
from dribbet.lab.paint.consistency import TECHNIQUE_GRADES
from dribbet.records import HouseRules, Role, Weigh
from dribbet.records.wording import first_up
from dribbet.words import set_up as words
from dribbet.words.cup import grades
from dribbet.words.parts import CardLine
from dribbet.words.tongue import name, t
from dribbet.words.units import percent

if TYPE_CHECKING:
    from dribbet.words.units import Units

USUAL_TIMES: Final = t("the usual times")


class Group(Enum):
    """Rules that stand together."""

    SCALE = auto()
    MIXING = auto()
    CONSISTENCY = auto()
    UNLIKE = auto()
    WAYS = auto()
    CUPS = auto()


GROUPS: Final = {
    Group.SCALE: t("Scale"), Group.MIXING: t("Mixing"), Group.CONSISTENCY: t("Consistency"), Group.UNLIKE: t("On purpose unlike"),
    Group.WAYS: t("Ways to pour"), Group.CUPS: t("Flow cups"),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class RuleLine(CardLine):
    """One rule; the first of a group names it."""

    group: Group | None = None


def lines(rules: HouseRules, units: Units) -> list[RuleLine]:
    """All rules, in groups."""
    limits = ", ".join(f"{s:g}" for s in rules.grade_limits_s)
    cups = ", ".join(units.stock_text(kg) for kg in sorted(rules.cups_kg))
    made = [
        RuleLine("weigh", t("Between additions"), t("the scale adds up") if rules.weigh is Weigh.ADD_UP else t("tare after each"), group=Group.SCALE),
        RuleLine("take_when_steady", words.A_STEADY_WEIGHT_ON_TARGET, t("is taken by itself") if rules.take_when_steady else t("waits for a press")),
        RuleLine("tolerance", t("On target within"), units.mass_text(rules.tolerance_kg), "0.2"),
        RuleLine("step", words.STEP_OF_THE_SCALE, f"{rules.scale_step_kg * 1e3:g} g", "0.1"),
        RuleLine("cups", t("Mixing cups hold"), cups, "60, 120, 250"),
        RuleLine("tone", words.TONE_WHEN_A_WEIGHT_IS_TAKEN, t("on") if rules.tone else t("off")),
        RuleLine("baud", words.SPEED_OF_A_SERIAL_SCALE, f"{rules.serial_baud}"),
        RuleLine("pattern", t("Its line format"), rules.serial_pattern or t("the common ones"), t("pattern with (?P<value>…)")),
        RuleLine(
            "cover",
            words.COVER_AN_OPEN_CUP_AFTER,
            f"{rules.cover_after_s / 60:g} min" if rules.cover_after_s else t("never"),
            "10",
            group=Group.MIXING,
        ),
        RuleLine(
            "awake",
            words.LOOKS_ARE_DUE_BETWEEN,
            words.AWAKE_BETWEEN(awake_from_h=rules.awake_from_h, awake_until_h=rules.awake_until_h),
            "7, 22",
        ),
        RuleLine("looks", words.PANELS_ARE_LOOKED_AT_AFTER, ", ".join(rules.looks) or USUAL_TIMES, "10 h, 18 h, 48 h, 7 d"),
        RuleLine("pedal", words.KEY_OF_A_FOOT_PEDAL, rules.pedal or t("none"), words.PEDAL_EXAMPLE),
        RuleLine("climate", words.FILE_OF_THE_CLIMATE_SENSOR, rules.climate_file or t("none"), t("path of the file, lines T=21.3 RH=48")),
        RuleLine("bubbles", words.REST_UNTIL_BUBBLES_ARE_OUT, t("{width:g} mm wide", width=rules.bubble_m * 2e3), "0.5"),
        RuleLine("cup_width", words.INNER_WIDTH_OF_A_CUP, units.length_text(rules.cup_radius_m * 2e3), "64"),
        RuleLine("water", t("Water comes from"), rules.water_source, t("tap, distilled, filtered, well")),
        RuleLine("least_paint", words.SAY_SO_WHERE_PAINT_IS_BELOW, percent(rules.least_paint) if rules.least_paint else t("never"), t("20, or 0")),
        RuleLine("limits", words.GRADES_END, limits, "0.05, 1, 3, 6", group=Group.CONSISTENCY),
        RuleLine("match", t("Colours match within"), t("± {share} of a drip's run", share=percent(rules.match_within)), "25"),
        RuleLine(
            "order", t("Where checks disagree"), t(" before ").join(name(k) for k in rules.check_order), t("ring, drip, flow cup, mound, slump")
        ),
        RuleLine("ring", words.NO_THINNER_FROM_A_RING, words.SHARE_OF_THE_DROP(ring_limit=rules.ring_limit), "0.4"),
        RuleLine("drip_s", words.A_DRIP_IS_READ_AFTER, f"{rules.drip_seconds:g} s", "10"),
        RuleLine("drop", t("A drip's drop"), words.DROP_IS(drip_mm3=rules.drip_m3 * 1e9, drip_width_mm=rules.drip_width_m * 1e3), "50, 6"),
        RuleLine("slump", t("A slump disc"), words.SLUMP_IS(slump_g=rules.slump_kg * 1e3, slump_seconds=rules.slump_seconds), "5, 60"),
    ]
    for i, role in enumerate(Role):
        runs = house_rules.offset(role, rules)
        text = words.OFFSET_NONE if runs == 1.0 else (words.OFFSET_FARTHER if runs > 1.0 else words.OFFSET_LESS)(percent=percent(abs(runs - 1.0)))
        made.append(
            RuleLine(
                f"offset {role}",
                t("An {role} runs", role=role) if str(role)[0] in "aeiou" else t("A {role} runs", role=role),
                text,
                t("20, or -20"),
                group=Group.UNLIKE if not i else None,
            )
        )
    for i, technique in enumerate(TECHNIQUE_GRADES):
        low, high = house_rules.window(technique, rules)
        thick = grades(low, high)
        made.append(
            RuleLine(
                f"window {technique}",
                t("{technique} wants", technique=first_up(name(technique))),
                t("grade {low} to {high}, {words}", low=low, high=high, words=thick)
                if high > low
                else t("grade {low}, {words}", low=low, words=thick),
                "2, 3",
                group=Group.WAYS if not i else None,
            )
        )
    cups_said = "; ".join(f"{c.name}: {', '.join(f'{t:g} s = {v * 1e6:g} mm²/s' for t, v in c.points)}" for c in rules.home_cups)
    made.append(RuleLine("home_cups", t("Own flow cups"), cups_said or t("none"), "my cup: 20 s = 40, 60 s = 140", group=Group.CUPS))
    return made
