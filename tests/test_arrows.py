"""The arrows of docs/architecture.md: which room may import which."""

from __future__ import annotations

import ast
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "dribbet"
MAY_IMPORT: dict[str, set[str]] = {
    "records": set(),
    "lab": {"records"},
    "sight": {"records"},
    "notebook": {"records"},
    "devices": {"records"},
    "studio": {"records", "lab", "sight", "notebook", "devices"},
    "words": {"records", "lab", "studio"},
    "paper": {"records", "lab", "studio", "words"},
    "demo": {"records", "lab", "sight", "notebook", "devices", "studio"},
    "bench": {"records", "lab", "sight", "notebook", "devices", "studio", "words", "paper", "demo"},
}


def imported_names(folder: Path) -> set[str]:
    """Every module named in an import, wherever it stands."""
    names: set[str] = set()
    for path in folder.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Import):
                names |= {alias.name for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.module:
                assert node.level == 0, f"{path}: relative imports hide the arrow"
                names.add(node.module)
                names |= {f"{node.module}.{alias.name}" for alias in node.names}
    return names


@pytest.mark.parametrize("room", MAY_IMPORT)
def test_room_imports_only_along_the_arrows(room):
    names = imported_names(SOURCE / room)
    rooms = {p.name for p in SOURCE.iterdir() if p.is_dir()} | {"cli"}
    ours = {name.split(".")[1] for name in names if name.startswith("dribbet.")} & rooms
    assert ours <= MAY_IMPORT[room] | {room}
    assert room == "bench" or not any(name.startswith("PyQt6") for name in names)
    assert room == "notebook" or not any(name.startswith(("sqlalchemy", "alembic", "sqlite3")) for name in names)


@pytest.mark.parametrize("station", sorted(p.name for p in (SOURCE / "bench" / "stations").iterdir() if p.is_dir() and p.name != "__pycache__"))
def test_presenter_of_a_station_knows_no_widgets(station):
    presenter = SOURCE / "bench" / "stations" / station / "presenter.py"
    names = {n.module or "" for n in ast.walk(ast.parse(presenter.read_text())) if isinstance(n, ast.ImportFrom)}
    assert not any(name.startswith("PyQt6") for name in names)


def test_core_rooms_open_no_clock_and_no_global_chance():
    for room in ("lab", "sight", "records"):
        text = "\n".join(p.read_text() for p in (SOURCE / room).rglob("*.py"))
        for call in ("datetime.now(", "time.time(", "np.random.seed", "np.random.rand", "random.random"):
            assert call not in text, f"{room} calls {call}"


def test_every_room_is_checked_here():
    assert {p.name for p in SOURCE.iterdir() if p.is_dir() and p.name != "__pycache__"} == set(MAY_IMPORT)


def test_pins_name_no_address_and_cover_what_the_package_needs():
    pins = (ROOT / "requirements.txt").read_text() + (ROOT / "requirements-check.txt").read_text()
    assert "://" not in pins
    assert all("==" in line for line in pins.splitlines() if line and not line.startswith("#"))
    named = {line.split("==")[0].lower().replace("_", "-") for line in pins.splitlines() if "==" in line}
    needs = {d.lower().replace("_", "-") for d in tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]}
    assert needs <= named


def test_licence_is_ours_and_the_fonts_bring_theirs():
    assert tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["license"] == "GPL-3.0-or-later"
    fonts = SOURCE / "bench" / "theme" / "fonts"
    assert {p.suffix for p in fonts.iterdir()} == {".ttf", ".txt"}
    assert all("SIL OPEN FONT LICENSE" in p.read_text().upper() for p in fonts.glob("*.txt"))
