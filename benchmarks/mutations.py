"""Small faults put into the computing rooms one at a time: how many does a test notice?

    python benchmarks/mutations.py [COUNT] [SEED] [ROOM ...]

Each fault is a factor, a sign, a threshold or a comparison in `lab`, `studio/standing` or the figures of `sight`, drawn by the seed.
It is put into a copy of the tree, and those tests of the room that run its line are run, the quickest first, until one fails (a line that runs
when its file is loaded: those that run any line of the file). `coverage` tells which; it is in requirements-check.txt for this.
Prints what was not noticed, and the share that was.
"""

from __future__ import annotations

import argparse
import ast
import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

import coverage
import numpy as np

ROOT = Path(__file__).parents[1]
TESTS = {
    "lab": ("tests/lab", "tests/words", "tests/studio"),
    "studio/standing": (
        "tests/studio",
        "tests/bench/test_again.py",
        "tests/bench/test_choosing.py",
        "tests/bench/test_findings.py",
        "tests/bench/test_scoring.py",
        "tests/bench/test_shelf.py",
        "tests/bench/test_since.py",
        "tests/bench/test_why.py",
        "tests/bench/test_mix_cup.py",
        "tests/bench/test_mix_remarks.py",
        "tests/bench/test_mix_ledger.py",
        "tests/bench/test_check_station.py",
        "tests/bench/test_bench_line.py",
    ),
    "sight": ("tests/sight",),
}
CONSTANTS = {
    "lab": "tests/studio/test_kept_figures.py::test_figures_are_what_they_were[constants]",
    "studio/standing": "tests/studio/test_kept_figures.py::test_figures_are_what_they_were[constants]",
    "sight": "tests/sight/test_same_reading.py::test_what_these_tests_draw_is_read_as_it_was[constants]",
}
COMPARES = {ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">", ast.Eq: "!=", ast.NotEq: "=="}
SHOWN = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!="}
OPERATORS = {ast.Add: ("+", "-"), ast.Sub: ("-", "+"), ast.Mult: ("*", "/"), ast.Div: ("/", "*")}
LONGEST_S = 400
FACTOR = 1.3


@dataclass(frozen=True)
class Fault:
    """One change of a file."""

    path: Path
    line: int
    what: str
    start: int
    end: int
    new: str


def offset(lines: list[str], line: int, column: int) -> int:
    """Place in the text of a position that counts bytes of a line."""
    return sum(len(x) for x in lines[: line - 1]) + len(lines[line - 1].encode()[:column].decode())


def faults_of(path: Path) -> list[Fault]:
    """Every fault that this file can have, leaving docstrings, types and tables of words alone."""
    text = path.read_text()
    lines = text.splitlines(keepends=True)
    found = []

    def place(node: ast.expr) -> tuple[int, int]:
        return offset(lines, node.lineno, node.col_offset), offset(lines, node.end_lineno or node.lineno, node.end_col_offset or 0)

    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)) and not isinstance(node.value, bool):
            start, end = place(node)
            value = node.value + 1 if isinstance(node.value, int) else node.value * FACTOR if node.value else 0.1
            found.append(Fault(path, node.lineno, f"{text[start:end]} -> {value:g}", start, end, repr(value)))
        elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in COMPARES:
            left, right = place(node.left)[1], place(node.comparators[0])[0]
            sign, other = SHOWN[type(node.ops[0])], COMPARES[type(node.ops[0])]
            between = text[left:right]
            if between.count(sign) == 1:
                at = left + between.index(sign)
                found.append(Fault(path, node.lineno, f"{sign} -> {other}", at, at + len(sign), other))
        elif isinstance(node, ast.BinOp) and type(node.op) in OPERATORS:
            left, right = place(node.left)[1], place(node.right)[0]
            sign, other = OPERATORS[type(node.op)]
            between = text[left:right]
            if between.count(sign) == 1:
                at = left + between.index(sign)
                found.append(Fault(path, node.lineno, f"{sign} -> {other}", at, at + len(sign), other))
    return found


PYTEST = ("-m", "pytest", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", "--hypothesis-seed=0")


def _environment(tree: Path) -> dict[str, str]:
    return os.environ | {"PYTHONPATH": f"{tree / 'src'}:{tree}", "QT_QPA_PLATFORM": "offscreen", "PYTHONDONTWRITEBYTECODE": "1"}


@dataclass(frozen=True)
class Seen:
    """Which tests run which lines of a room, and how long each takes."""

    lines: dict[Path, dict[int, frozenset[str]]]
    seconds: dict[str, float]
    constants: str
    """The test that looks at every constant of the room: it runs no line of theirs that loading them did not run before."""

    def of(self, fault: Fault) -> list[str]:
        """Tests that may notice, the quickest first; none where no test runs the line."""
        lines = self.lines.get(fault.path, {})
        run = {t for t in lines.get(fault.line, frozenset()) if t}
        if "" in lines.get(fault.line, frozenset()):  # runs on loading: a constant, a default
            run |= {t for tests in lines.values() for t in tests if t} | {self.constants}
        return sorted(run, key=lambda t: 0.0 if t == self.constants else self.seconds.get(t, 1.0))


def _node(tree: Path, context: str) -> str:
    """Name by which pytest knows a test function that `coverage` calls `tests.lab.test_power.test_...`; empty for what ran on loading."""
    parts = context.split(".")
    for i in range(len(parts) - 1, 0, -1):
        path = Path(*parts[:i]).with_suffix(".py")
        if (tree / path).is_file():
            return "::".join([str(path), *parts[i:]])
    return ""


def seen(tree: Path, room: str) -> Seen:
    """Run the room's tests once without a fault, with `coverage`; leave where they fail."""
    kept = tree / "coverage.data"
    settings = tree / "coverage.ini"
    settings.write_text(f"[run]\ndata_file = {kept}\ndynamic_context = test_function\nsource = {tree / 'src' / 'dribbet' / room}\n")
    ask = [sys.executable, "-m", "coverage", "run", f"--rcfile={settings}", *PYTEST, "--durations=0", "--durations-min=0", *TESTS[room]]
    ended = subprocess.run(ask, cwd=tree, capture_output=True, text=True, env=_environment(tree), check=False)
    if ended.returncode:
        sys.exit(f"The tests of {room} fail without any fault: nothing can be said. Mend them first.\n{ended.stdout[-2000:]}")
    seconds: dict[str, float] = {}
    for s, node in re.findall(r"^\s*([\d.]+)s (?:call|setup)\s+(\S+?)(?:\[.*)?$", ended.stdout, re.MULTILINE):
        seconds[node] = seconds.get(node, 0.0) + float(s)
    data = coverage.CoverageData(str(kept))
    data.read()
    lines = {
        Path(file): {line: frozenset(_node(tree, c) for c in contexts) for line, contexts in data.contexts_by_lineno(file).items()}
        for file in data.measured_files()
    }
    return Seen(lines, seconds, CONSTANTS[room])


def noticed(tree: Path, tests: list[str]) -> bool:
    """Whether one of these tests fails in a tree."""
    try:
        ended = subprocess.run(
            [sys.executable, *PYTEST, "-x", *tests], cwd=tree, capture_output=True, timeout=LONGEST_S, env=_environment(tree), check=False
        )
    except subprocess.TimeoutExpired:
        return True  # a loop without end is noticed too
    return ended.returncode != 0


def main() -> None:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("count", type=int, nargs="?", default=60)
    words.add_argument("seed", type=int, nargs="?", default=1)
    words.add_argument("rooms", nargs="*", default=list(TESTS))
    asked = words.parse_args()
    rng = np.random.default_rng(asked.seed)
    begun = time.perf_counter()
    killed = total = 0
    with tempfile.TemporaryDirectory(prefix="mutations-") as scratch:
        tree = Path(scratch) / "tree"
        tree.mkdir()
        for part in ("src", "tests"):
            shutil.copytree(ROOT / part, tree / part, ignore=shutil.ignore_patterns("__pycache__"))
        for part in ("pyproject.toml", "benchmarks"):
            (shutil.copytree if (ROOT / part).is_dir() else shutil.copy)(ROOT / part, tree / part)  # type: ignore[operator]
        for room in asked.rooms:
            known = seen(tree, room)
            folder = tree / "src" / "dribbet" / room
            every = [f for path in sorted(folder.rglob("*.py")) for f in faults_of(path)]
            chosen = rng.choice(len(every), size=min(asked.count, len(every)), replace=False)
            alive = []
            for i in chosen:
                fault = every[int(i)]
                text = fault.path.read_text()
                fault.path.write_text(text[: fault.start] + fault.new + text[fault.end :])
                try:
                    tests = known.of(fault)
                    if not tests or not noticed(tree, tests):
                        alive.append(fault)
                        why = "" if tests else " (no test runs it)"
                        print(f"not noticed: {fault.path.relative_to(tree)}:{fault.line}: {fault.what}{why}", flush=True)
                finally:
                    fault.path.write_text(text)
            killed, total = killed + len(chosen) - len(alive), total + len(chosen)
            print(f"{room}: {len(chosen) - len(alive)} of {len(chosen)} noticed ({len(every)} possible)", flush=True)
    print(f"{killed} of {total} noticed, {killed / max(total, 1):.0%}, seed {asked.seed}, {time.perf_counter() - begun:.0f} s")


if __name__ == "__main__":
    main()
