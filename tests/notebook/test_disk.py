"""Disks that are full, read-only or gone, logs of another database, writers that died: a sentence with a remedy, and nothing lost."""

from __future__ import annotations

import errno
import os
import shutil
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from dribbet.notebook import NotebookError, open_notebook, whole_file
from dribbet.notebook.exchange import export, import_package
from dribbet.notebook.verify import verify
from dribbet.records import Material, Photo
from tests.made_up import material
from tests.notebook.test_packages import everything, filled
from tests.notebook.test_photos import a_photo
from tests.unprivileged import Refused, locked, without_rights


def full(*_args: object, **_more: object) -> None:
    raise OSError(errno.ENOSPC, "No space left on device")


# ---------------------------------------------------------------- full


@pytest.mark.parametrize("where", ["fsync", "mkdir", "open"])
def test_full_disk_while_a_notebook_is_begun_leaves_a_sentence(tmp_path, monkeypatch, where):
    if where == "fsync":
        monkeypatch.setattr(os, "fsync", full)
        monkeypatch.setattr("dribbet.notebook.whole_file.sync_folder", lambda _: full())
    elif where == "mkdir":
        monkeypatch.setattr(Path, "mkdir", full)
    else:
        monkeypatch.setattr("dribbet.notebook.engine.connect", full)
    with pytest.raises(NotebookError, match="disk is full"):
        open_notebook(tmp_path / "N.dribbet", create=True)


def test_full_disk_during_an_import_leaves_nothing_of_it(notebook, tmp_path, monkeypatch):
    filled(notebook)
    export(notebook, tmp_path / "p.zip")
    target = open_notebook(tmp_path / "T.dribbet", create=True)
    before, files = everything(target), sorted(target.folder.rglob("*"))
    monkeypatch.setattr("dribbet.notebook.package_file.os.fsync", full)
    with pytest.raises(NotebookError, match="disk is full"):
        import_package(tmp_path / "p.zip", target)
    monkeypatch.undo()
    assert everything(target) == before
    assert {p for p in target.folder.rglob("*") if p.is_file()} <= set(files)
    assert import_package(tmp_path / "p.zip", target)["photo"] == 1
    target.close()
    assert verify(target.folder) == []


def test_photo_of_a_write_that_fails_goes_with_it(notebook):
    def fail() -> None:
        with notebook.transaction():
            a_photo(notebook, b"picture")
            raise RuntimeError

    with pytest.raises(RuntimeError):
        fail()
    assert notebook.photos.stored() == []
    assert not any(notebook.photos.arriving.iterdir())
    assert notebook.all(Photo) == []


def test_commit_that_fails_is_forgotten_too(notebook, monkeypatch):
    """What a page shows after a failed write must be what is stored, not what was wanted."""
    notebook.all(Material)
    from sqlalchemy.engine import default
    from sqlalchemy.exc import OperationalError

    monkeypatch.setattr(
        default.DefaultDialect, "do_commit", lambda *_: (_ for _ in ()).throw(OperationalError("", {}, Exception("database or disk is full")))
    )
    with pytest.raises(NotebookError, match="disk is full"):
        notebook.add(material("foam"))
    monkeypatch.undo()
    assert notebook.all(Material) == []
    notebook.add(material("teal"))
    assert verify(notebook.folder) == []


# ---------------------------------------------------------------- read-only


@pytest.fixture
def read_only(notebook):
    filled(notebook)
    notebook.close()
    locked(notebook.folder)
    yield notebook.folder
    for path in [notebook.folder, *notebook.folder.rglob("*")]:
        path.chmod(0o755 if path.is_dir() else 0o644)


def looked_at(folder: Path) -> tuple[bool, bool, int, str]:
    book = open_notebook(folder)
    try:
        book.add(material("late"))
    except NotebookError as error:
        return book.read_only, book.because_of_another_window, len(book.all(Photo)), str(error)
    return book.read_only, book.because_of_another_window, len(book.all(Photo)), ""


def test_notebook_on_a_disk_that_lets_nobody_write_can_be_read(read_only):
    only, other, photos, words = without_rights(lambda: looked_at(read_only))
    assert (only, other, photos) == (True, False, 1)
    assert "may not be written. Copy it to a disk that may" in words


def test_copied_log_is_read_with_its_notebook_even_where_nothing_may_be_written(tmp_path):
    """The files of a window that is open, copied onto a read-only disk: what is only in the log is read too."""
    book = open_notebook(tmp_path / "N.dribbet", create=True)
    book.add(material("foam"))
    copied = Path(shutil.copytree(book.folder, tmp_path / "Copied.dribbet"))
    (copied / "notebook.sqlite3-shm").unlink()
    book.close()
    assert (copied / "notebook.sqlite3-wal").stat().st_size > 0
    locked(copied)

    def look() -> list[str]:
        return [m.name for m in open_notebook(copied).all(Material)]

    assert without_rights(look) == ["foam"]
    for path in [copied, *copied.rglob("*")]:
        path.chmod(0o755)


@pytest.mark.parametrize("act", ["create", "export", "keep", "unreadable"])
def test_place_that_may_not_be_written_is_said_with_a_remedy(read_only, tmp_path, act):
    def try_it() -> None:
        if act == "create":
            open_notebook(read_only / "photos" / "New.dribbet", create=True)
        elif act == "export":
            export(open_notebook(read_only), read_only / "out.zip")
        elif act == "keep":
            open_notebook(read_only).photos.keep(b"x", ".jpg")
        else:
            open_notebook(read_only)

    if act == "unreadable":
        locked(read_only, files=0o000)
    with pytest.raises(Refused) as refused:
        without_rights(try_it)
    assert refused.value.kind == "NotebookError", refused.value.trace
    assert any(word in refused.value.words for word in ("Check its permissions", "Choose another folder", "Check the path"))


# ---------------------------------------------------------------- logs, folders and writers


def test_log_of_another_database_is_not_mixed_in(notebook, tmp_path):
    other = open_notebook(tmp_path / "Other.dribbet", create=True)
    other.add(*[material(f"other {n}") for n in range(200)])
    log = (other.folder / "notebook.sqlite3-wal").read_bytes()
    other.close()
    notebook.add(*[material(f"ours {n}") for n in range(900)])
    folder = notebook.folder
    notebook.close()
    before = (folder / "notebook.sqlite3").read_bytes()
    (folder / "notebook.sqlite3-wal").write_bytes(log)
    with pytest.raises(NotebookError, match="does not belong to the database beside it"):
        open_notebook(folder)
    assert (folder / "notebook.sqlite3").read_bytes() == before
    (folder / "notebook.sqlite3-wal").unlink()
    (folder / "notebook.sqlite3-shm").unlink(missing_ok=True)
    again = open_notebook(folder)
    assert len(again.all(Material)) == 900
    again.close()


@pytest.mark.parametrize("how", ["gone", "another"])
def test_folder_that_vanishes_takes_no_write_that_is_told_as_saved(notebook, how):
    notebook.add(material("foam"))
    shutil.move(notebook.folder, notebook.folder.with_name("elsewhere"))
    if how == "another":
        open_notebook(notebook.folder, create=True).close()
    with pytest.raises(NotebookError, match="no longer there" if how == "gone" else "replaced by another"):
        notebook.add(material("teal"))
    assert [m.name for m in notebook.all(Material)] == ["foam"]


def test_empty_notebook_is_never_begun_over_the_remains_of_one(notebook):
    a_photo(notebook, b"picture")
    folder = notebook.folder
    notebook.close()
    (folder / "notebook.sqlite3").unlink()
    with pytest.raises(NotebookError, match="is missing from"):
        open_notebook(folder, create=True)


def test_reading_window_takes_over_when_the_writer_is_gone(notebook):
    script = (
        "import sys, time\nfrom pathlib import Path\nfrom dribbet.notebook import open_notebook\n"
        "from tests.made_up import material\nbook = open_notebook(Path(sys.argv[1]))\nbook.add(material('theirs'))\n"
        "print('ready', flush=True)\ntime.sleep(60)"
    )
    folder = notebook.folder
    notebook.close()
    writer = subprocess.Popen([sys.executable, "-c", script, str(folder)], stdout=subprocess.PIPE, text=True, cwd=Path(__file__).parents[2])
    assert writer.stdout is not None
    assert writer.stdout.readline() == "ready\n"
    book = open_notebook(folder)
    assert book.read_only
    assert book.because_of_another_window
    assert not book.take_over()
    writer.send_signal(signal.SIGKILL)
    writer.wait()
    writer.stdout.close()
    assert book.take_over()
    book.add(material("ours"))
    assert [m.name for m in book.all(Material)] == ["theirs", "ours"]
    book.close()
    assert verify(folder) == []


def test_left_overs_of_killed_writes_are_swept_when_the_notebook_is_next_opened(notebook):
    a_photo(notebook, b"kept")
    folder, arriving = notebook.folder, notebook.photos.arriving
    notebook.close()
    arriving.mkdir(exist_ok=True)
    written, never = notebook.photos.stored()[0], arriving / f"{'0' * 64}.jpg"
    shutil.move(written, arriving / written.name)  # killed between the write and the move
    never.write_bytes(b"x")
    parts = [folder / ".a~0.999999.part", written.parent / ".b~0.999999.part", folder / "derived" / ".c~0.999999.part"]
    for part in parts:
        part.write_bytes(b"x")
    mine = folder / f".d~0.{os.getpid()}.part"
    mine.write_bytes(b"still being written")
    open_notebook(folder).close()
    assert written.read_bytes() == b"kept"
    assert not never.exists()
    assert not any(p.exists() for p in parts)
    assert mine.exists(), "another live write's file is left alone"


def test_new_names_are_synced_with_their_folder(tmp_path, monkeypatch):
    synced: list[str] = []
    real = os.fsync

    def noticed(descriptor: int) -> None:
        synced.append(str(Path(f"/proc/self/fd/{descriptor}").readlink()))
        real(descriptor)

    monkeypatch.setattr(os, "fsync", noticed)
    whole_file.write_whole(tmp_path / "a.bin", b"x")
    assert synced[-1] == str(tmp_path), "after the rename, the folder"
    assert any(".part" in s for s in synced[:-1]), "before it, the file"
    book = open_notebook(tmp_path / "N.dribbet", create=True)
    synced.clear()
    a_photo(book, b"one")
    book.close()
    assert any("/photos" in s for s in synced)
