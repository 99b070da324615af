"""Notices of the desktop: a look that has come due says so although the window is not in front."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication, QSystemTrayIcon

from dribbet.studio.standing import looks, panels
from dribbet.words import window as window_words
from dribbet.words.dry import AFTER

if TYPE_CHECKING:
    from datetime import datetime

    from PyQt6.QtWidgets import QWidget

    from dribbet.studio.desk import Desk


class Notices:
    """Says once what came due; silent where the desktop has no place for it."""

    def __init__(self, window: QWidget, desk: Desk) -> None:
        self.desk, self.window = desk, window
        self._until = desk.now()
        self._tray: QSystemTrayIcon | None = None
        self.said: list[str] = []

    def came_due(self, now: datetime) -> list[str]:
        """What came due since the last asking: looks, and the time of what is in the oven."""
        new = [window_words.LOOK_AT_PANEL(code=a.panel.code, look=a.look) for a in looks.ahead(self.desk) if self._until < a.due <= now]
        up = [window_words.TIME_IS_UP(treatment=AFTER[one.kind], code=panel.code) for panel, one in panels.times_up(self.desk, self._until, now)]
        self._until = now
        return [*up, *new]

    def tell(self, now: datetime) -> str:
        """Tell the desktop of what came due; returns the sentence, empty where nothing did."""
        new = self.came_due(now)
        if not new:
            return ""
        words = new[0] + (window_words.MORE_DUE(len(new) - 1, more=len(new) - 1) if len(new) > 1 else "")
        self.said.append(words)
        QApplication.alert(self.window)
        if QSystemTrayIcon.isSystemTrayAvailable():
            if self._tray is None:
                self._tray = QSystemTrayIcon(self.window.windowIcon(), self.window)
                self._tray.show()
            self._tray.showMessage("Dribbet", words)
        return words
