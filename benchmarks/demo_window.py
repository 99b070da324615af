"""The window over a demo notebook of its own, for scripts that measure it."""

from __future__ import annotations

import os
import tempfile
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator

    from dribbet.bench.window import Window


@contextmanager
def demo_window() -> Iterator[Window]:
    """Show it offscreen at 1280 x 800; it is closed and forgotten behind it."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from dribbet.bench.application import application
    from dribbet.bench.tour import NOW
    from dribbet.bench.window import Window
    from dribbet.demo.build import build_notebook
    from dribbet.notebook import open_notebook
    from dribbet.studio.desk import Desk

    app = application()
    with tempfile.TemporaryDirectory() as scratch:
        folder = Path(scratch) / "Tidewrack.dribbet"
        build_notebook(folder, NOW)
        notebook = open_notebook(folder)
        window = Window(Desk(notebook, lambda: NOW))
        window.resize(1280, 800)
        window.show()
        app.processEvents()
        try:
            yield window
        finally:
            window.close()
            notebook.close()
