"""What is so of the whole notebook and stands above every page: that it is only read, or that something of it cannot be."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtGui import QPalette
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from dribbet.bench.parts.margin import RemarkRow, clear
from dribbet.bench.theme.inks import PAPER, Inks
from dribbet.words import window as window_words
from dribbet.words.parts import Remark, Weight

if TYPE_CHECKING:
    from dribbet.notebook import Notebook


def notebook_words(book: Notebook) -> tuple[Remark, ...]:
    """What a person must know of the notebook, whichever page is open; nothing where all is well."""
    made = []
    if book.read_only and book.because_of_another_window:
        made.append(Remark(window_words.THIS_WINDOW_ONLY_READS, window_words.ANOTHER_HAS_IT_OPEN, Weight.CAUTION))
    elif book.read_only:
        made.append(Remark(window_words.THIS_WINDOW_ONLY_READS, window_words.MAY_NOT_BE_WRITTEN(folder=book.folder), Weight.CAUTION))
    if book.lost_writes:
        made.append(
            Remark(
                window_words.LAST_LOST(book.lost_writes, things=book.lost_writes),
                window_words.LOG_FILE_LOST,
                Weight.STOP,
            )
        )
    if book.unreadable:
        n = len(book.unreadable)
        made.append(
            Remark(
                window_words.LEFT_OUT_UNREAD(n, entries=n),
                window_words.MAKE_A_WHOLE_COPY(name=book.folder.name),
                Weight.STOP,
            )
        )
    return tuple(made)


class Notice(QWidget):
    """A strip above the page; hidden where there is nothing to say."""

    def __init__(self) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(22, 12, 24, 0)
        self._column.setSpacing(6)
        self._shown: tuple[tuple[Remark, ...], Inks] = ((), PAPER)
        self.setAutoFillBackground(True)
        self.hide()

    def show_state(self, remarks: tuple[Remark, ...], inks: Inks) -> None:
        """Say these, in the inks of the page below."""
        if (remarks, inks) == self._shown:
            return
        self._shown = (remarks, inks)
        clear(self._column)
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.Window, inks.ground)
        self.setPalette(palette)
        for remark in remarks:
            self._column.addWidget(RemarkRow(remark, inks, 16))
        self.setVisible(bool(remarks))
