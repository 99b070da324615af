"""A notebook works at any path that the system allows."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from dribbet.notebook import open_notebook
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.verify import verify
from dribbet.records import Material, Photo
from tests.made_up import material
from tests.notebook.test_photos import a_photo

NAMES = [
    "#1", "a#b", "what?", "50%", "%41", "%23%3F", "two words", "'single'", '"double"', "Öl & Büro", "🎨 paint 🐙", "semi;colon", "a=b&c=d",
    "back\\slash",     "new\nline", "tab\there", "[x]", "*", "-rf", "x" * 240, "a:b", "$HOME", "`id`",
]  # fmt: skip


def used(folder: Path) -> None:
    """Use a notebook in every way that names its files."""
    book = open_notebook(folder, create=True)
    book.add(material("foam"))
    a_photo(book, b"picture")
    book.close()
    again = open_notebook(folder)
    assert [m.name for m in again.all(Material)] == ["foam"]
    second = open_notebook(folder)
    assert second.read_only
    assert [m.name for m in second.all(Material)] == ["foam"]
    second.close()
    zip_file = folder.parent / "out.zip"
    export(again, zip_file)
    again.close()
    target = open_notebook(folder.with_name("Target.dribbet"), create=True)
    assert import_package(zip_file, target)["material"] == 1
    assert len(target.all(Photo)) == 1
    target.close()
    assert verify(folder) == []


@pytest.mark.parametrize("name", NAMES)
def test_notebook_is_found_again_under_any_name(tmp_path, name):
    used(tmp_path / name)
    assert sorted(p.name for p in tmp_path.iterdir()) == sorted([name, "Target.dribbet", "out.zip"]), "nothing lies beside it"


@pytest.mark.parametrize("name", NAMES[:13])
def test_notebook_is_found_again_below_any_name(tmp_path, name):
    (tmp_path / name).mkdir()
    used(tmp_path / name / "Mine.dribbet")
    assert [p.name for p in tmp_path.iterdir()] == [name]


def test_name_that_is_no_unicode_works_too(tmp_path):
    used(Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9")))


def test_relative_path_and_link_lead_to_the_same_notebook(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    book = open_notebook(Path("Mine.dribbet"), create=True)
    monkeypatch.chdir("/")  # where the program goes later must not matter
    book.add(material("foam"))
    book.close()
    (tmp_path / "link").symlink_to(tmp_path / "Mine.dribbet", target_is_directory=True)
    linked = open_notebook(tmp_path / "link")
    assert [m.name for m in linked.all(Material)] == ["foam"]
    assert open_notebook(tmp_path / "Mine.dribbet").read_only, "one lock, whichever way one came"
    linked.close()
    assert verify(tmp_path / "link") == []


def test_two_notebooks_with_a_number_sign_do_not_share_a_file(tmp_path):
    first, second = open_notebook(tmp_path / "a#1", create=True), open_notebook(tmp_path / "a#2", create=True)
    first.add(material("foam"))
    assert second.all(Material) == []
    first.close()
    second.close()
