"""What all parts share: inks, a focus frame, an accessible name; and plain labels."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QKeyEvent, QPainter, QPainterPath, QPalette, QPixmap
from PyQt6.QtWidgets import QAbstractButton, QLabel, QScrollArea, QSizePolicy, QWidget

from dribbet.bench.theme.inks import PAPER, Inks
from dribbet.bench.theme.patterns import solid
from dribbet.bench.theme.type import font
from dribbet.words.units import NARROW, NO_BREAK

if TYPE_CHECKING:
    from collections.abc import Sequence

FOCUS_LINE = 3.0


class DrawnPart(QWidget):
    """A painted widget. Subclasses implement `draw`."""

    kept = False
    """Whether what was drawn is kept until `update`: for parts of many strokes, which windows over them and layouts ask for again and again."""

    def __init__(self, inks: Inks = PAPER, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.inks = inks
        self._kept_picture: QPixmap | None = None

    def update(self, *where: object) -> None:
        """Draw anew, soon."""
        self._kept_picture = None
        super().update(*where)

    def set_inks(self, inks: Inks) -> None:
        self.inks = inks
        self.update()

    def name(self, text: str, description: str = "") -> None:
        """Say what a screen reader says."""
        self.setAccessibleName(text)
        if description:
            self.setAccessibleDescription(description)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
        if self.kept:
            p.drawPixmap(0, 0, self._picture())
        else:
            self.draw(p)
        if self.hasFocus() and self.focusPolicy() != Qt.FocusPolicy.NoFocus:
            draw_focus(p, QRectF(self.rect()), self.inks)
        p.end()

    def _picture(self) -> QPixmap:
        """What is drawn, at this size, on the ground of the page."""
        ratio = self.devicePixelRatioF()
        size = self.size() * ratio
        if self._kept_picture is None or self._kept_picture.size() != size:
            self._kept_picture = QPixmap(size)
            self._kept_picture.setDevicePixelRatio(ratio)
            self._kept_picture.fill(Qt.GlobalColor.transparent)
            p = QPainter(self._kept_picture)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.setRenderHint(QPainter.RenderHint.TextAntialiasing)
            self.draw(p)
            p.end()
        return self._kept_picture

    def draw(self, p: QPainter) -> None:
        """Paint onto any device."""


def draw_focus(p: QPainter, room: QRectF, inks: Inks) -> None:
    """Frame of what has the focus."""
    p.setPen(solid(inks.ink, FOCUS_LINE))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(room.adjusted(1.5, 1.5, -1.5, -1.5))


def draw_text(
    p: QPainter,
    room: QRectF,
    text: str,
    px: int,
    weight: int,
    colour: QColor,
    align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
    *,
    wrap: bool = False,
) -> QRectF:
    """Write into a rectangle, vertically centred unless `align` says more; returns the room it took."""
    p.setFont(font(px, weight))
    p.setPen(colour)
    flags = int(align.value if hasattr(align, "value") else align)
    if not flags & (Qt.AlignmentFlag.AlignTop.value | Qt.AlignmentFlag.AlignBottom.value):
        flags |= Qt.AlignmentFlag.AlignVCenter.value
    if wrap:
        flags |= Qt.TextFlag.TextWordWrap.value
    taken = p.boundingRect(room, flags, text)
    p.drawText(room, flags, text)
    return taken


def draw_figure(p: QPainter, left: float, room: QRectF, text: str, px: int, colour: QColor, weight: int = 800) -> float:
    """Bench figure in the middle of a room's height, drawn as a shape so that it looks the same each time; returns its baseline."""
    face = font(px, weight)
    base = room.bottom() - (room.height() - QFontMetricsF(face).capHeight()) / 2
    path = QPainterPath()
    path.addText(QPointF(left, base), face, text)
    p.fillPath(path, colour)
    return base


class Words(QLabel):
    """Wrapped text in the shipped typeface, shown as it stands: no sign in it is markup but those of `MARKS`."""

    def __init__(self, text: str = "", px: int = 16, weight: int = 400, *, role: str = "ink", inks: Inks = PAPER, wrap: bool = True) -> None:
        super().__init__()
        self._role = role
        self._said: str | None = None
        self._heights: dict[int, int] = {}
        """Height at each width that a layout asked for: breaking lines takes long, and layouts ask again and again."""
        self._px, self._weight = px, weight
        self.setFont(font(px, weight))
        self.setWordWrap(wrap)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        self.set_inks(inks)
        self.say(text)

    def set_inks(self, inks: Inks) -> None:
        colour = inks.note if self._role == "note" else inks.ink
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.WindowText, colour)
        self.setPalette(palette)

    def say(self, text: str) -> None:
        """Set the text; hides where there is none."""
        if text != self._said:
            self._said = text
            self._heights.clear()
            shown = text.replace(NARROW, NO_BREAK)  # lines break at a narrow space, never at this one
            rich = any(mark in shown for mark in MARKS)
            self.setTextFormat(Qt.TextFormat.RichText if rich else Qt.TextFormat.PlainText)  # plain text is laid out much faster
            self.setText(marked_up(shown) if rich else shown)
        show_in_place(self, bool(text))

    def regrow(self) -> None:
        """Take the size that type has in this window now."""
        self.setFont(font(self._px, self._weight))

    def said(self) -> str:
        """What it says, without marks."""
        return unmarked(self._said or "")

    def heightForWidth(self, wide: int) -> int:
        known = self._heights.get(wide)
        if known is None:
            known = self._heights[wide] = super().heightForWidth(wide)
        return known

    def changeEvent(self, event: QEvent | None) -> None:
        if event is not None and event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange, QEvent.Type.ApplicationFontChange):
            self._heights.clear()
        super().changeEvent(event)


MARKS: Final = {
    "\x02": "<b>",
    "\x03": "</b>",
    "\x0e": "<span style='font-size:14px'>",
    "\x0f": "</span>",
    "\x11": "<span style='font-size:44px; font-weight:800'>",
    "\x12": "</span>",
}
"""Signs that nobody can type, and what they stand for: bold, small, and a read-out's figure."""


def unmarked(text: str) -> str:
    """Words without their marks, as a screen reader says them."""
    return "".join(sign for sign in text if sign not in MARKS)


def marked_up(text: str) -> str:
    """Rich text of words with marks: every other sign stands for itself."""
    for sign, escaped in (("&", "&amp;"), ("<", "&lt;"), (">", "&gt;"), ("\n", "<br>"), *MARKS.items()):
        text = text.replace(sign, escaped)
    return text


class PressButton(QAbstractButton):
    """A painted button that Space presses while it has the focus; every other key goes on to the window."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Space:
            self.click()
        elif event is not None:
            event.ignore()


def put_away(widgets: Sequence[QWidget]) -> None:
    """Take widgets off the page for good: hidden at once, deleted when Qt has done with them."""
    for widget in widgets:
        widget.hide()
        widget.deleteLater()


def show_in_place(widget: QWidget, shown: bool) -> None:
    """Show or hide; a widget that stands nowhere yet is not shown, for it would open as a window of its own and close any list."""
    if not shown or widget.parentWidget() is not None:
        widget.setVisible(shown)


def scroller(inner: QWidget, inks: Inks = PAPER) -> QScrollArea:
    """Quiet vertical scrolling for a column that may grow taller than its room."""
    area = QScrollArea()
    area.setWidget(inner)
    inner.setAutoFillBackground(False)  # the ground of the page shows; a style sheet would be worked out anew for every word inside
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    window, bar = area.viewport(), area.verticalScrollBar()
    assert window is not None
    assert bar is not None
    window.setAutoFillBackground(False)
    bar.setStyleSheet(
        f"QScrollBar:vertical {{ width: 8px; background: {inks.ground.name()}; }} "
        f"QScrollBar::handle:vertical {{ background: {inks.rule.name()}; }} "
        "QScrollBar::add-line:vertical, QScrollBar::sub-line:vertical { height: 0; background: transparent; } "
        "QScrollBar::add-page:vertical, QScrollBar::sub-page:vertical { background: transparent; }"
    )
    return area
