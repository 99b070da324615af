"""What is remembered: the store, its schema and migrations, photo files, exchange. SQLite through SQLAlchemy.

The store comes when it is asked for: a command that only writes a file whole need not load a database for it.
"""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any, Final

if TYPE_CHECKING:
    from dribbet.notebook.engine import NotebookError
    from dribbet.notebook.store import Notebook, open_notebook

__all__ = ["Notebook", "NotebookError", "open_notebook"]
_LIES_IN: Final = {"Notebook": "store", "NotebookError": "engine", "open_notebook": "store"}


def __getattr__(name: str) -> Any:
    """What `__all__` names, loaded at the first asking (PEP 562)."""
    if name not in _LIES_IN:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(importlib.import_module(f"{__name__}.{_LIES_IN[name]}"), name)
