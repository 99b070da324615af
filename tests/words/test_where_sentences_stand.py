"""Sentences stand in words/ alone, and nothing is decided by what a page says."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "dribbet"
STYLE = re.compile(r"^\s*(Q\w+|\*)")
FILE_FILTER = re.compile(r"\*\.\w+")
SAYS = {"t", "n", "arranged", "Sentence", "Counted"}


def texts(path: Path):
    """(line, text, whether it is raised) of every text in a file that is no docstring; parts of an f-string as X."""
    tree = ast.parse(path.read_text())
    above = {child: node for node in ast.walk(tree) for child in ast.iter_child_nodes(node)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            text = "".join(v.value if isinstance(v, ast.Constant) else "X" for v in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            text = node.value
        else:
            continue
        up, raised, inside = above[node], False, isinstance(above[node], (ast.JoinedStr, ast.Expr, ast.FormattedValue))
        while up in above:
            raised |= isinstance(up, ast.Raise)
            up = above[up]
        if not inside:
            yield node.lineno, text, raised


def is_sentence(text: str) -> bool:
    return (
        len(re.findall(r"[A-Za-z]{2,}", text)) >= 3
        and text.strip()[-1:] in (".", "?", "!")
        and not STYLE.match(text)
        and not FILE_FILTER.search(text)
    )


def test_a_sentence_is_known_when_it_is_seen():
    assert is_sentence("No cup is mixed yet. Mix one first.")
    assert is_sentence("X of X is not read yet.")
    assert not is_sentence("QLineEdit { color: red; } QLineEdit:focus { border: none; }.")
    assert not is_sentence("Photos (*.jpg *.jpeg *.png *.tif).")
    assert not is_sentence("Take back")


@pytest.mark.parametrize("room", ["bench", "studio/standing"])
def test_no_sentence_stands_outside_its_room(room):
    """Pages, presenters and standings say nothing of themselves: a translation replaces `words/` and nothing else."""
    found = [
        f"{p.relative_to(SOURCE)}:{line} {text!r}" for p in sorted((SOURCE / room).rglob("*.py")) for line, text, _ in texts(p) if is_sentence(text)
    ]
    allowed = {"bench/tour.py"}  # a command's own error
    assert [f for f in found if f.partition(":")[0] not in allowed] == []


KEY = re.compile(r"[A-Z][\w-]*( [\w-]+){1,2}")
NO_WORDS = re.compile(r"[<#%]|%s|\w+\.\w+|\w+_\w+|X-run-sheet.pdf")


def is_said(text: str) -> bool:
    """Three words or more that a person reads and that are no name on a key."""
    return len(re.findall(r"[A-Za-z]{2,}", text)) >= 3 and not STYLE.match(text) and not FILE_FILTER.search(text) and not KEY.fullmatch(text)


def test_what_is_said_is_known_from_names_on_keys_and_from_what_nobody_reads():
    assert is_said("dry, with its cap if it has one")
    assert is_said("; X of it is colour")
    assert not is_said("Go to Mix")
    assert NO_WORDS.search("dribbet.paper.run_sheet")
    assert NO_WORDS.search("<span style='font-size:14px'>")


def test_no_hint_and_no_piece_of_a_sentence_stands_in_the_bench():
    """Names on keys may, of up to three words, and names of typefaces."""
    found = [
        f"{p.relative_to(SOURCE)}:{line} {text!r}"
        for p in sorted((SOURCE / "bench").rglob("*.py"))
        for line, text, raised in texts(p)
        if is_said(text) and not raised and not NO_WORDS.search(text)
    ]
    allowed = {"bench/apart.py", "bench/tour.py"}  # a line of the log, a command's own error
    assert [f for f in found if f.partition(":")[0] not in allowed] == []


@pytest.mark.parametrize("room", ["lab/plan/confounding.py", "lab/plan/day_plan.py", "lab/plan/stops.py", "lab/verdict/judge.py"])
def test_what_is_found_of_a_plan_is_told_as_facts(room):
    assert [text for _, text, raised in texts(SOURCE / room) if is_sentence(text) and not raised] == []


def read_texts(path: Path):
    """Texts that something is compared with, as in `view.one_key == "Go to Read"`."""
    for node in ast.walk(ast.parse(path.read_text())):
        pieces = []
        if isinstance(node, ast.Compare):
            for one in (node.left, *node.comparators):
                pieces += one.elts if isinstance(one, (ast.Tuple, ast.List, ast.Set)) else [one]
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in ("startswith", "endswith"):
            pieces += node.args
        yield from ((node.lineno, p.value) for p in pieces if isinstance(p, ast.Constant) and isinstance(p.value, str))


@pytest.mark.parametrize("room", ["bench", "studio", "lab", "records", "paper"])
def test_nothing_is_decided_by_what_is_said(room):
    """What stands on a key or in a title begins with a capital or has more than one word; keys of the keyboard and codes of the demo are neither."""
    found = [
        f"{path.relative_to(SOURCE)}:{line} {text!r}"
        for path in sorted((SOURCE / room).rglob("*.py"))
        for line, text in read_texts(path)
        if len(text) > 3 and (" " in text.strip() or text[:1].isupper()) and not re.fullmatch(r"[A-Z]\d-[a-z]\d", text)
    ]
    assert found == []
