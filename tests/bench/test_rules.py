"""Bench rules: every line can be changed, what cannot be is refused, and the bench works by them."""

from __future__ import annotations

import pytest

from dribbet.bench.set_up import lines
from dribbet.bench.stations.check.presenter import CheckPresenter
from dribbet.lab.cup import house_rules
from dribbet.records import CheckKind, DribbetError, HouseRules, Role, Technique, Weigh
from dribbet.words.rules import lines as rule_lines
from dribbet.words.units import Units, units_of
from tests.bench.conftest import press, trouble

RULES, UNITS = HouseRules(), Units()
TYPED = {
    "tolerance": "0.3",
    "step": "0.01",
    "cups": "80, 300",
    "pattern": r"W(?P<value>[\d.]+)",
    "cover": "0",
    "awake": "6, 21",
    "looks": "10 h, 18h, 7 d",
    "climate": "room.txt",
    "pedal": "f8",
    "bubbles": "0.8",
    "cup_width": "70",
    "water": "distilled",
    "least_paint": "25",
    "limits": "0.1, 2, 4, 8",
    "match": "15 %",
    "order": "drip, ring, mound, flow cup, slump",
    "ring": "0.3",
    "drip_s": "15",
    "drop": "40, 5",
    "slump": "4, 30",
    "home_cups": "mug: 20 s = 40, 60 s = 140",
    "offset metallic": "-20",
    "window flip cup": "2, 3",
}


def test_every_line_shows_what_it_was_changed_to():
    rules = RULES
    before = {line.key: line.text for line in rule_lines(RULES, UNITS)}
    for key, text in TYPED.items():
        rules = lines.typed(rules, key, text, UNITS)
    for key in ("weigh", "take_when_steady", "tone", "baud"):
        rules = lines.pressed(rules, key)
    after = {line.key: line.text for line in rule_lines(rules, UNITS)}
    untouched = {k for k in before if k.startswith(("offset", "window"))} - {"offset metallic", "window flip cup"}
    assert {k for k in before if before[k] == after[k]} == untouched
    assert rules.weigh is Weigh.TARE
    assert house_rules.offset(Role.METALLIC, rules) == pytest.approx(0.8)
    assert house_rules.window(Technique.FLIP_CUP, rules) == (2, 3)
    assert rules.check_order[0] is CheckKind.DRIP
    assert rules.home_cups[0].points == ((20.0, pytest.approx(40e-6)), (60.0, pytest.approx(140e-6)))


@pytest.mark.parametrize(
    ("key", "text"),
    [
        *(("limits", text) for text in ("1, 2, 3", "4, 3, 2, 1", "a, b")),
        *(("match", text) for text in ("0", "x")),
        *(("order", text) for text in ("ring, drip", "smell")),
        *(("home_cups", text) for text in ("mug: 20 = 40", "mug: fast, slow", "nothing")),
        *(("window swipe", text) for text in ("0, 9", "3, 2")),
        *(("pattern", text) for text in ("([a-z", "no figure")),
        ("ring", "3"), ("drop", "50"), ("offset base", "900"), ("tolerance", "much"), ("cups", ""), ("step", "0"), ("weigh", "x"),
    ],
)  # fmt: skip
def test_rule_that_cannot_be_is_refused_in_words(key, text):
    with pytest.raises(DribbetError) as told:
        lines.typed(RULES, key, text, UNITS)
    assert len(str(told.value)) > 20


def test_own_flow_cup_is_taken_away_by_its_name():
    with_cup = lines.typed(RULES, "home_cups", "mug: 20 s = 40, 60 s = 140", UNITS)
    assert lines.typed(with_cup, "home_cups", "Mug", UNITS).home_cups == ()


def test_rules_are_typed_on_their_page_kept_and_used(window, desk):
    window.walk("series")
    press(window, "B")
    assert window.current == "rules"
    page = window.page("rules")
    told = {line.key: line for line in rule_lines(desk.rules, units_of(desk))}
    page._pressed(told["match"])
    page.typed.setText("40")
    page._typed()
    assert trouble(window) == ""
    assert desk.rules.match_within == pytest.approx(0.4)
    page._pressed(told["match"])
    page.typed.setText("often")
    page._typed()
    assert "no figure" in trouble(window) or "not what is asked" in trouble(window)
    page._pressed(told["weigh"])
    assert desk.rules.weigh is Weigh.TARE
    desk.choose_series("k4")
    desk.take("check", "a")
    check = CheckPresenter(desk)
    assert check.view().card.aim[0] == pytest.approx(0.6 * 64, abs=0.5)  # the band follows the rule
    desk._rules = None
    assert desk.rules.match_within == pytest.approx(0.4)  # read back from the notebook
    window.walk("rules")
    press(window, "R")
    assert desk.rules == HouseRules()
