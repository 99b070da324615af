"""Renders every main view of the demo notebook to PNG, offscreen, the same pictures each time."""

from __future__ import annotations

import os
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Final

from dribbet.notebook.whole_file import save_file
from dribbet.records import DribbetError

if TYPE_CHECKING:
    from collections.abc import Iterator

    from PyQt6.QtWidgets import QWidget

    from dribbet.bench.window import Window
    from dribbet.records import Report

NOW: Final = datetime(2026, 11, 19, 14, 20, tzinfo=UTC)
VIEWS: Final = (
    ("1-ask", "e1", "ask"),
    ("2-mix", "k4", "mix"),
    ("3-check", "k4", "check"),
    ("4-pour", "k3", "pour"),
    ("5-dry", "k3", "dry"),
    ("6-shoot", "s1", "shoot"),
    ("7-read", "d1", "read"),
    ("8-decide", "k2", "decide"),
    ("9-today", "k3", "today"),
    ("10-shelf", "k3", "shelf"),
    ("11-findings", "k2", "findings"),
    ("12-series", "k3", "series"),
    ("13-rules", "k3", "rules"),
    ("14-turning", "k3", "turning"),
    ("15-ways", "k3", "ways"),
    ("16-look", "d1", "looking"),
    ("17-choose", "d1", "choosing"),
    ("18-why", "k2", "why"),
)
FIRST: Final = "0-first-page"
PICTURES: Final = (FIRST, *(name for name, _, _ in VIEWS))


def render_tour(outdir: Path, width: int, height: int, report: Report) -> Iterator[Path]:
    """Draw the main views one after the other; each file appears whole."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from dribbet.bench.application import application, practice_camera
    from dribbet.bench.window import Window
    from dribbet.demo.build import build_notebook
    from dribbet.devices import SimulatedScale
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    app = application()
    try:
        outdir.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise DribbetError(f"{outdir} cannot be made: {error.strerror}. Choose another folder or free some room.") from None
    with tempfile.TemporaryDirectory(prefix="dribbet-tour-") as scratch:
        yield _first_page(outdir, Path(scratch), width, height)
        folder = Path(scratch) / "Tidewrack.dribbet"
        build_notebook(folder, NOW)
        notebook = open_notebook(folder)
        desk = Desk(notebook, lambda: NOW, scale=SimulatedScale(), camera=practice_camera(notebook, lapses=0.0))
        window = Window(desk)
        window.resize(width, height)
        window.show()
        try:
            for done, (name, series_id, view) in enumerate(VIEWS):
                report(done, len(VIEWS))
                desk.choose_series(series_id)
                desk.take("check", "a")
                window.walk(view)
                settle(window)
                _stage(window, view)
                settle(window)
                app.processEvents()
                path = outdir / f"{name}.png"
                save_file(path, png(window))
                yield path
        finally:
            window.close()


def _first_page(outdir: Path, scratch: Path, width: int, height: int) -> Path:
    """An empty notebook, as one sees it first."""
    from dribbet.bench.window import Window
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    window = Window(Desk(open_notebook(scratch / "Empty.dribbet", create=True), lambda: NOW))
    window.resize(width, height)
    window.show()
    try:
        settle(window)
        path = outdir / f"{FIRST}.png"
        save_file(path, png(window))
    finally:
        window.close()
    return path


def png(widget: QWidget) -> bytes:
    """A widget as it stands, as PNG."""
    from PyQt6.QtCore import QBuffer, QIODevice

    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    widget.grab().save(buffer, "PNG")
    return buffer.data().data()


def _stage(window: Window, view: str) -> None:
    """Put a page into the state worth showing; time stands still."""
    from dribbet.bench.choosing.page import ChoosingPage
    from dribbet.bench.stations.ask.page import AskPage
    from dribbet.bench.stations.ask.view import Leaf
    from dribbet.bench.stations.mix.page import MixPage
    from dribbet.bench.stations.pour.page import PourPage
    from dribbet.bench.turning.page import TurningPage
    from dribbet.bench.why.page import WhyPage
    from dribbet.devices import ScaleReading

    page = window.pages[view]
    if isinstance(page, AskPage):
        page.show_leaf(Leaf.RACK)
    elif isinstance(page, MixPage):
        page._base_kg = 0.0
        page.freeze(ScaleReading(mass_kg=0.0027, steady=True))
        page._back()
    elif isinstance(page, ChoosingPage):
        page.presenter.begin("Ilka")
    elif isinstance(page, WhyPage):
        run = window.desk.need_run()
        window.desk.take("why", next(p.id for p in run.panels if p.code == "K2-b1"))
        window.desk.changed()
    elif isinstance(page, TurningPage):
        page.show_end()
    elif isinstance(page, PourPage):
        page.freeze()
        if not page.view.steps or page.view.steps[0].state == "planned":
            desk = window.desk
            clock = desk.clock
            desk.clock = lambda: NOW - timedelta(seconds=76)
            page.presenter.advance(None, "tour")
            desk.clock = lambda: NOW - timedelta(seconds=36)
            page.presenter.advance(None, "tour")
            desk.clock = clock
            desk.changed()


def settle(window: Window, seconds: float = 400.0) -> None:
    """Wait until nothing runs and everything is drawn; on a busy machine two cups take minutes to turn over."""
    from PyQt6.QtWidgets import QApplication

    until = time.monotonic() + seconds
    while time.monotonic() < until:
        QApplication.processEvents()
        if not window.jobs.busy() and not window.pages[window.current].busy():
            break
        time.sleep(0.01)
    for _ in range(5):
        QApplication.processEvents()
