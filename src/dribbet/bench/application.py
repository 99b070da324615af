"""Starts the window on a notebook."""

from __future__ import annotations

import gc
import importlib
import logging
import sys
import threading
from datetime import datetime
from typing import TYPE_CHECKING

from PyQt6.QtCore import QMessageLogContext, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication

from dribbet.bench import apart, guard
from dribbet.bench.theme.type import font, load_fonts
from dribbet.bench.window import Window
from dribbet.devices import SimulatedCamera
from dribbet.notebook import open_notebook
from dribbet.studio import scales
from dribbet.studio.desk import Desk

if TYPE_CHECKING:
    from pathlib import Path

    from dribbet.devices import Lapse
    from dribbet.notebook import Notebook
    from dribbet.records import Lamp, Stage

log = logging.getLogger(__name__)
_kept: list[QApplication] = []
COLLECT_AFTER = (20_000, 50, 100)
HAND_OVER_S = 0.001
SMOOTH_AFTER_MS = 4000  # what is imported beside the window is there


def local_now() -> datetime:
    """Now, with the local offset."""
    return datetime.now().astimezone()


def _heard(kind: QtMsgType, context: QMessageLogContext, words: str | None) -> None:
    """Qt's own remarks go to the log, not to the person's terminal."""
    worth = logging.WARNING if kind in (QtMsgType.QtCriticalMsg, QtMsgType.QtFatalMsg) else logging.DEBUG
    log.log(worth, "Qt: %s", words)


def application() -> QApplication:
    """Return the one application object, dressed."""
    qInstallMessageHandler(_heard)
    found = QApplication.instance()
    app = found if isinstance(found, QApplication) else QApplication(sys.argv[:1])
    _kept.append(app)  # its fonts go with it when nothing holds it
    app.setApplicationName("Dribbet")
    app.setStyle("Fusion")
    load_fonts()
    app.setFont(font(16))
    app.setEffectEnabled(Qt.UIEffect.UI_AnimateMenu, False)
    return app


def practice_camera(notebook: Notebook, *, lapses: float = 0.12) -> SimulatedCamera:
    """Camera that photographs the panels of this notebook as the demo room draws them."""
    from dribbet.demo.build import practice_photo
    from dribbet.demo.still import step_still
    from dribbet.records import Panel, Series

    def render(code: str, lamp: Lamp, lapse: Lapse, laid: int, stage: Stage) -> bytes:
        panel = notebook.all(Panel, code=code)[0]
        return practice_photo(notebook.get(Series, panel.series_id), panel, lamp, lapse, laid, stage)

    def bench(code: str, step: str) -> bytes:
        panel = notebook.all(Panel, code=code)[0]
        return step_still(notebook.get(Series, panel.series_id), panel, step)

    return SimulatedCamera(render, bench, lapses=lapses)


def run_smoothly() -> None:
    """Keep Python's own housekeeping out of the way of the window.

    A full collection of garbage looks at everything that is known and takes a tenth of a second; what is known after the
    start stays, so it is not looked at again. Threads hand over five times as often: a job must not hold the window up.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(*COLLECT_AFTER)
    sys.setswitchinterval(HAND_OVER_S)


def warm_up() -> None:
    """Import beside the window what its pages ask for later and what takes long, so that no page has to wait for it."""

    def bring() -> None:
        for name in ("scipy.special", "scipy.optimize", "pydoe", "dribbet.paper.run_sheet", "dribbet.paper.report"):
            importlib.import_module(name)
        apart.ready()
        from dribbet.sight.swatches import given

        given([("#808080", 1.0)], {"grey": "#808080"})  # the first colours that are compared bring OpenCV's tables and scikit-image: half a second

    threading.Thread(target=bring, name="warm-up", daemon=True).start()


def run(folder: Path, *, demo: bool) -> None:
    """Open a notebook's window and stay until it is closed."""
    where = guard.write_log()
    app = application()
    notebook = open_notebook(folder, create=True)
    desk = Desk(notebook, local_now, camera=practice_camera(notebook) if demo else None, here="system")
    desk.scale = scales.scale_for(str(notebook.setting(scales.SETTING, scales.PRACTICE if demo else "")), desk.rules)
    window = Window(desk)
    window.log_path = where
    window.guard.stand()
    window.resize(1280, 800)
    window.show()
    QTimer.singleShot(300, warm_up)
    QTimer.singleShot(SMOOTH_AFTER_MS, run_smoothly)
    app.exec()
