"""Another language can take the place of English: every message is found, may order its parts anew, and has a form for each number."""

from __future__ import annotations

import io
import os
import re
import subprocess
import sys
from collections import Counter
from pathlib import Path
from string import Formatter

import pytest
from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo

from dribbet.records import Kind
from dribbet.words.tongue import Counted, Sentence, arranged, n, t

WORDS = Path(__file__).parents[2] / "src" / "dribbet" / "words"
KEYWORDS = {"t": None, "n": (1, 2), "arranged": None, "Sentence": None, "Counted": (1, 2)}


@pytest.fixture(scope="module")
def messages():
    """Messages of the room, as Babel collects them."""
    found = extract_from_dir(WORDS, method_map=[("**.py", "python")], keywords=KEYWORDS)
    return {message for _, _, message, _, _ in found}


def parts_of(message: str) -> set[str]:
    return {name for _, name, _, _ in Formatter().parse(message) if name is not None}


def test_all_messages_are_collected_with_named_parts(messages):
    assert len(messages) > 900
    for message in messages:
        for text in message if isinstance(message, tuple) else (message,):
            assert all(name.isidentifier() for name in parts_of(text)), text


def test_no_message_is_put_together_by_an_f_string():
    import ast

    for path in WORDS.glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in KEYWORDS:
                assert not any(isinstance(a, ast.JoinedStr) for a in node.args), f"{path.name}:{node.lineno}"


def test_english_says_what_stands_there():
    assert t("Drip {name} next.", name="foam") == "Drip foam next."
    assert t("100 % {sure") == "100 % {sure"  # without parts nothing is filled in
    assert [n("{k} cup", "{k} cups", k, k=k) for k in (0, 1, 2)] == ["0 cups", "1 cup", "2 cups"]
    assert n("{x:g} drop", "{x:g} drops", 1.5, x=1.5) == "1.5 drops"


def test_parts_that_are_no_words_stay_what_they_are():
    button = object()
    assert arranged("Does {a} change {b}?", a=[button, " twice"], b="it") == ("Does ", button, " twice change it?")


SPEAK = """
from dribbet.words.tongue import arranged, n, t
from dribbet.words import photo
from dribbet.records import Seen, Sign
print("|".join(n("{number} thing to do now.", "{number} things to do now.", k, number=k) for k in (1, 2, 5)))
print(arranged("I expect {more_or_less} {response} at the last level. It is locked at the first pour.", more_or_less=7, response="cells"))
print(photo.fitness(Seen(sign=Sign.COARSE, figures=(3.44,))).words)
print(t("Nothing is due yet."))
"""


def test_translation_orders_parts_anew_and_has_its_own_forms(tmp_path):
    other = Catalog(locale="pl")
    other.add(
        ("{number} thing to do now.", "{number} things to do now."),
        ("{number} rzecz", "{number} rzeczy (kilka)", "{number} rzeczy"),
    )
    other.add("I expect {more_or_less} {response} at the last level. It is locked at the first pour.", "{response}: czekam na {more_or_less}.")
    other.add("Only {at:.1f} pixels per mm: thin cracks vanish. Go closer.", "Za malo: {at:.1f}.")
    packed = io.BytesIO()
    write_mo(packed, other)
    place = tmp_path / "pl" / "LC_MESSAGES"
    place.mkdir(parents=True)
    (place / "dribbet.mo").write_bytes(packed.getvalue())
    environment = os.environ | {"DRIBBET_LANGUAGE": "pl", "DRIBBET_LOCALE": str(tmp_path)}
    said = subprocess.run([sys.executable, "-c", SPEAK], env=environment, capture_output=True, text=True, check=True).stdout.splitlines()
    assert said == ["1 rzecz|2 rzeczy (kilka)|5 rzeczy", "('cells: czekam na ', 7, '.')", "Za malo: 3.4.", "Nothing is due yet."]


def test_a_sentence_that_waits_for_its_parts_says_what_t_and_n_say():
    waits = Sentence("Drip {name} next, {kind}.")
    assert waits(name="foam", kind=Kind.PAINT) == t("Drip {name} next, {kind}.", name="foam", kind=Kind.PAINT) == "Drip foam next, paint."
    counted = Counted("{k} cup is mixed.", "{k} cups are mixed.")
    assert [counted(k, k=k) for k in (0, 1, 2)] == ["0 cups are mixed.", "1 cup is mixed.", "2 cups are mixed."]


def test_every_sentence_of_the_bench_has_an_owner():
    """A message that no page says any more is dead; names are looked up as the rooms write them."""
    source = WORDS.parent
    used = Counter(name for p in source.rglob("*.py") for name in re.findall(r"\b[A-Z][A-Z_0-9]+\b", p.read_text()))
    dead = [
        f"{path.name}: {name}"
        for path in sorted(WORDS.glob("*.py"))
        for name in re.findall(r"^([A-Z][A-Z_0-9]+): Final", path.read_text(), re.M)
        if used[name] < 2
    ]
    assert dead == []


def test_every_sentence_is_given_just_the_parts_that_it_names():
    """A part that is missing would end a page; one too many is a word that nobody sees."""
    import ast
    import importlib

    wrong, looked_at = [], 0
    for path in sorted(WORDS.parent.rglob("*.py")):
        tree = ast.parse(path.read_text())
        rooms = {
            a.asname or a.name: f"dribbet.words.{a.name}"
            for node in ast.walk(tree)
            if isinstance(node, ast.ImportFrom) and node.module == "dribbet.words"
            for a in node.names
        }
        for node in ast.walk(tree):
            if not isinstance(node, ast.Call) or any(k.arg is None for k in node.keywords):
                continue
            called = node.func
            choices = [called.body, called.orelse] if isinstance(called, ast.IfExp) else [called]
            for one in choices:
                if not (isinstance(one, ast.Attribute) and isinstance(one.value, ast.Name) and one.value.id in rooms):
                    continue
                said = getattr(importlib.import_module(rooms[one.value.id]), one.attr, None)
                if isinstance(said, (Sentence, Counted)):
                    looked_at += 1
                    named = parts_of(said._said) if isinstance(said, Sentence) else parts_of(said._one) | parts_of(said._many)
                    if named != {k.arg for k in node.keywords}:
                        wrong.append(f"{path.name}:{node.lineno} {one.attr} {sorted(named)}")
    assert wrong == []
    assert looked_at > 150
