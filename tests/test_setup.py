"""The two commands of the README: their scripts, what they say, and that docs name every command."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import pytest

from dribbet import cli
from dribbet.bench.tour import PICTURES

ROOT = Path(__file__).parents[1]


@pytest.mark.parametrize("script", ["start", "check", ".setup.sh", ".ci/run"])
def test_script_is_sound_shell(script):
    shell = "bash" if script.startswith(".ci") else "sh"
    assert subprocess.run([shell, "-n", ROOT / script], capture_output=True, text=True).stderr == ""


@pytest.mark.parametrize("script", ["start", "check", ".ci/run"])
def test_script_can_be_run(script):
    assert os.access(ROOT / script, os.X_OK)


def test_readme_begins_with_the_two_commands_and_links_every_view():
    readme = (ROOT / "README.md").read_text()
    assert readme.index("./start demo") < readme.index("./check") < 1200
    for name in PICTURES:
        assert f"docs/screenshots/{name}.png" in readme
    for command in ("measure", "drips", "mix", "effects", "export", "import", "verify", "card", "tour", "demo", "open"):
        assert command in readme


def test_screenshots_are_those_of_the_tour():
    shots = {p.stem for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert shots == set(PICTURES)
    assert len(shots) < 20


def test_start_without_a_display_says_so_in_one_line_and_draws_the_tour():
    text = (ROOT / "start").read_text()
    assert "no display here" in text
    assert "tour" in text


def test_every_command_has_words_of_help(capsys):
    for command in ("demo", "open", "tour", "measure", "drips", "mix", "effects", "export", "import", "verify", "card", "draw-demo"):
        assert cli.main([command, "--help"]) == 0
        assert len(capsys.readouterr().out) > 80


def test_decisions_are_numbered_without_gaps():
    numbers = sorted(int(p.name[:4]) for p in (ROOT / "docs" / "decisions").glob("*.md"))
    assert numbers == list(range(1, len(numbers) + 1))
