"""What is remembered: the store, its schema and migrations, photo files, exchange. SQLite through SQLAlchemy."""

from dribbet.notebook.engine import NotebookError
from dribbet.notebook.store import Notebook, open_notebook

__all__ = ["Notebook", "NotebookError", "open_notebook"]
