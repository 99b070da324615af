"""Shared by all tests: an offscreen window system unless a test asks for a real one, notebooks, the demo studio."""

from __future__ import annotations

import os
import shutil
from datetime import UTC, datetime
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import pytest
from hypothesis import settings

settings.register_profile("dribbet", deadline=None)  # tests are not timed: a busy machine is no fault of ours
settings.load_profile("dribbet")

REFERENCE = Path(__file__).parent / "reference"
NOW = datetime(2026, 11, 19, 14, 20, tzinfo=UTC)


def reference(name: str) -> np.ndarray:
    """Published numbers; the first lines of each file name their source."""
    return np.loadtxt(REFERENCE / name, delimiter=",", comments="#")


@pytest.fixture
def notebook(tmp_path):
    from dribbet.notebook import open_notebook

    book = open_notebook(tmp_path / "Test.dribbet", create=True)
    yield book
    book.close()


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory) -> Path:
    """The demo notebook, built once; tests that write take a copy."""
    from dribbet.demo.build import build_notebook

    folder = tmp_path_factory.mktemp("demo") / "Tidewrack.dribbet"
    build_notebook(folder, NOW)
    return folder


@pytest.fixture
def demo_copy(demo_folder, tmp_path) -> Path:
    folder = tmp_path / "Tidewrack.dribbet"
    shutil.copytree(demo_folder, folder, copy_function=_copy_or_link)
    return folder


def _copy_or_link(source: str, target: str) -> str:
    """Link photographs, which nothing ever alters; copy all else, above all the database."""
    if Path(source).suffix == ".jpg" and "photos" in Path(source).parts:
        os.link(source, target)
        return target
    return shutil.copy2(source, target)
