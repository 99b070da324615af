from __future__ import annotations

import hashlib
import os

import pytest

from dribbet.notebook import NotebookError
from dribbet.notebook.verify import verify
from dribbet.notebook.whole_file import write_whole
from dribbet.records import Cancelled, Lamp, Photo, Stage
from tests.made_up import NOON


def a_photo(book, data: bytes, **changed) -> Photo:
    digest = book.photos.keep(data, ".jpg")
    plain = {
        "id": "f", "panel_id": None, "sha256": digest, "suffix": ".jpg", "name": "one.jpg", "stage": Stage.DRY, "lamp": Lamp.DIFFUSE,
        "width_px": 10, "height_px": 10, "taken_at": None, "added_at": NOON,
    }  # fmt: skip
    photo = Photo(**(plain | changed))
    book.add(photo)
    return photo


def test_original_is_kept_byte_for_byte_under_its_hash(notebook):
    photo = a_photo(notebook, b"picture")
    path = notebook.photos.path_of(photo)
    assert path.read_bytes() == b"picture"
    assert path.stem == hashlib.sha256(b"picture").hexdigest()


def test_same_photo_twice_is_stored_once(notebook):
    assert notebook.photos.keep(b"picture", ".jpg") == notebook.photos.keep(b"picture", ".jpg")
    assert len(notebook.photos.stored()) == 1


def test_file_is_replaced_whole_or_not_at_all(tmp_path, monkeypatch):
    target = tmp_path / "out.json"
    write_whole(target, b"old")

    def fail(_fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(OSError, match="No space"):
        write_whole(target, b"new and longer")
    assert target.read_bytes() == b"old"
    assert list(tmp_path.iterdir()) == [target]


def test_full_disk_while_keeping_a_photo_is_said_in_words(notebook, monkeypatch):
    def fail(_fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(NotebookError, match="disk is full"):
        notebook.photos.keep(b"picture", ".jpg")
    assert notebook.photos.stored() == []


def test_whole_notebook_has_no_faults(notebook):
    a_photo(notebook, b"picture")
    assert verify(notebook.folder) == []


def test_verify_finds_a_missing_a_changed_and_a_stray_photo(notebook):
    a_photo(notebook, b"one", id="1", name="one.jpg")
    gone = a_photo(notebook, b"two", id="2", name="two.jpg")
    changed = a_photo(notebook, b"three", id="3", name="three.jpg")
    notebook.photos.path_of(gone).unlink()
    notebook.photos.path_of(changed).write_bytes(b"something else")
    notebook.photos.keep(b"stray", ".jpg")
    sentences = [f.sentence for f in verify(notebook.folder)]
    assert len(sentences) == 3
    assert any("two.jpg is missing" in s for s in sentences)
    assert any("three.jpg has changed" in s for s in sentences)
    assert any("belongs to no panel" in s for s in sentences)
    assert all(f.repairable for f in verify(notebook.folder))


def test_verify_can_be_stopped(notebook):
    a_photo(notebook, b"one")

    def stop(done: int, total: int) -> None:
        raise Cancelled

    with pytest.raises(Cancelled):
        verify(notebook.folder, stop)


def test_verify_says_when_there_is_no_notebook(tmp_path):
    with pytest.raises(NotebookError, match="no notebook"):
        verify(tmp_path / "none.dribbet")
