"""A monkey at the bench: a short, seeded game that must end without an error and with a whole notebook."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]


@pytest.mark.slow
@pytest.mark.parametrize("seed", [3, 8])
def test_random_keys_clicks_and_words_raise_nothing_that_nobody_expected(seed, tmp_path):
    script = ROOT / "benchmarks" / "monkey.py"
    done = subprocess.run([sys.executable, script, "220", str(seed)], capture_output=True, text=True, timeout=300, cwd=tmp_path, check=False)
    assert done.returncode == 0, done.stdout[-2500:] + done.stderr[-1500:]
    assert "220 actions" in done.stdout
    assert "0 errors that nobody expected" in done.stdout
    assert "notebook: whole" in done.stdout
