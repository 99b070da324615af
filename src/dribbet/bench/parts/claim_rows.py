"""Claims, a row each: sentence, tests on one band of luck, panels for and against, how well it stands."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.parts.tape import Tape, draw_code, draw_strip
from dribbet.bench.theme.inks import PAPER, Inks
from dribbet.bench.theme.patterns import dashed, hatch, solid
from dribbet.bench.theme.type import width

if TYPE_CHECKING:
    from PyQt6.QtGui import QImage, QMouseEvent, QPainter

HEAD_PX: Final = 26
ROW_PX: Final = 92
WORDS_SHARE: Final = 0.36
STRIP_SHARE: Final = 0.26
THUMB: Final = (34.0, 25.0)
SPAN: Final = 4.0  # bands of luck to either side at least
MOST_SPAN: Final = 25.0
SIZES_PX: Final = (19, 17, 15)


@dataclass(frozen=True, slots=True)
class TestView:
    """One test behind a claim, in bands of luck."""

    middle: float
    low: float
    high: float
    real: bool


@dataclass(frozen=True, slots=True)
class ClaimView:
    """One claim."""

    sentence: str
    note: str
    strength: str
    codes: tuple[str, ...]
    tests: tuple[TestView, ...]
    pooled: TestView | None
    speaking: tuple[str, ...]
    """Panels for it, by id."""
    against: tuple[str, ...]
    contradicted: bool = False


class ClaimRows(DrawnPart):
    """All claims; the one in hand has tape at its left."""

    taken = pyqtSignal(int)

    def __init__(self, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.claims: tuple[ClaimView, ...] = ()
        self.hand = 0
        self.thumbs: dict[str, QImage] = {}
        """Small pictures by panel."""
        self.heads = ("less", "luck", "more", "panels for", "and against")

    def sizeHint(self) -> QSize:
        return QSize(740, HEAD_PX + ROW_PX * max(len(self.claims), 1))

    def show_claims(self, claims: tuple[ClaimView, ...], hand: int) -> None:
        """Show other claims."""
        if (claims, hand) == (self.claims, self.hand):
            return
        self.claims, self.hand = claims, hand
        self.name("Claims", "; ".join(f"{c.sentence} {c.note}, {c.strength}" for c in claims))
        self.setMinimumHeight(HEAD_PX + ROW_PX * max(len(claims), 1))
        self.update()

    def show_thumb(self, panel: str, image: QImage) -> None:
        """A picture has come."""
        self.thumbs[panel] = image
        self.update()

    def _span(self) -> float:
        """Bands of luck on either side that hold all tests, a few that are wide cut off."""
        reach: list[float] = [abs(t.middle) for c in self.claims for t in (*c.tests, *((c.pooled,) if c.pooled else ()))]
        return min(max([SPAN, *(1.25 * r for r in reach)]), MOST_SPAN)

    def draw(self, p: QPainter) -> None:
        words, strip = self.width() * WORDS_SHARE, self.width() * STRIP_SHARE
        middle, unit = words + strip / 2, strip / 2 / self._span()
        right = words + strip + 18
        centre = Qt.AlignmentFlag.AlignHCenter
        less, luck, more, speaking, against = self.heads
        for text, x, weight in ((less, middle - strip / 2 + 24, 400), (luck, middle, 700), (more, middle + strip / 2 - 24, 400)):
            draw_text(p, QRectF(x - 40, 0, 80, HEAD_PX - 4), text, 14, weight, self.inks.ink if weight > 400 else self.inks.note, centre)
        half = (self.width() - right) * 0.62
        draw_text(p, QRectF(right, 0, half, HEAD_PX - 4), speaking, 14, 400, self.inks.note)
        draw_text(p, QRectF(right + half, 0, self.width() - right - half, HEAD_PX - 4), against, 14, 400, self.inks.note)
        band = QRectF(middle - unit, HEAD_PX, 2 * unit, self.height() - HEAD_PX)
        hatch(p, band, self.inks.rule)
        p.setPen(dashed(self.inks.ink, 1.2))
        p.drawLine(QPointF(middle, HEAD_PX), QPointF(middle, HEAD_PX + ROW_PX * len(self.claims)))
        for i, claim in enumerate(self.claims):
            self._row(p, claim, HEAD_PX + i * ROW_PX, words, middle, unit, strip, right, half, hand=i == self.hand)

    def _type(self, room: float) -> int:
        """One size for all sentences, so that none is louder than another: the largest in which each takes two lines at most."""
        return next((s for s in SIZES_PX if all(width(c.sentence, s, 700) <= 1.8 * room for c in self.claims)), SIZES_PX[-1])

    def _row(
        self, p: QPainter, c: ClaimView, top: float, words: float, middle: float, unit: float, strip: float, right: float, half: float, *, hand: bool
    ) -> None:
        if hand:
            draw_strip(p, QRectF(0, top + 8, 18, 30), c.sentence, self.inks.tape, self.inks.crepe)
        left = 24.0
        px = self._type(words - left)
        wraps = width(c.sentence, px, 700) > words - left
        draw_text(p, QRectF(left, top + 6, words - left, 50 if wraps else 28), c.sentence, px, 700, self.inks.ink, wrap=True)
        draw_text(p, QRectF(left, top + (54 if wraps else 34), words - left - 6, 36), c.note, 14, 400, self.inks.note, wrap=True)
        edge = strip / 2

        def x_of(value: float) -> float:
            return middle + min(max(value * unit, -edge), edge)

        p.setPen(solid(self.inks.ink, 1.6))
        p.setBrush(self.inks.ground)
        for k, test in enumerate(c.tests):
            p.drawEllipse(QPointF(x_of(test.middle), top + 18 + 12 * (k % 3)), 4.0, 4.0)
        at = top + 66
        if c.pooled is None:
            p.setPen(dashed(self.inks.ink, 1.6))
            p.drawLine(QPointF(middle - edge * 0.6, at), QPointF(middle + edge * 0.6, at))
        else:
            p.setPen(solid(self.inks.ink, 3.0 if c.pooled.real else 1.6))
            p.drawLine(QPointF(x_of(c.pooled.low), at), QPointF(x_of(c.pooled.high), at))
            p.setPen(solid(self.inks.ink, 1.6))
            p.setBrush(self.inks.ink if c.pooled.real else self.inks.ground)
            p.drawEllipse(QPointF(x_of(c.pooled.middle), at), 6.0, 6.0)
        self._thumbs(p, c.speaking, QRectF(right, top + 6, half - 8, 54))
        self._thumbs(p, c.against, QRectF(right + half, top + 6, self.width() - right - half, 54))
        draw_text(p, QRectF(right, top + 64, half + 20, 22), c.strength, 14, 700, self.inks.ink)
        x = right + width(c.strength, 14, 700) + 12
        for code in c.codes[:5]:
            wide = width(code, 13, 700) + 14
            if x + wide > self.width():
                break
            draw_code(p, QRectF(x, top + 64, wide, 20), code, 13, Tape.OTHER, self.inks)
            x += wide + 8
        p.setPen(solid(self.inks.rule, 1.0))
        p.drawLine(QPointF(left, top + ROW_PX - 2), QPointF(self.width(), top + ROW_PX - 2))

    def _thumbs(self, p: QPainter, panels: tuple[str, ...], box: QRectF) -> None:
        """Small pictures in rows; what does not fit is counted."""
        each = THUMB[0] + 4
        row = max(int(box.width() // each), 1)
        shown = panels if len(panels) <= 2 * row else panels[: 2 * row - 1]
        for i, panel in enumerate(shown):
            spot = QRectF(box.left() + each * (i % row), box.top() + (THUMB[1] + 4) * (i // row), *THUMB)
            image = self.thumbs.get(panel)
            if image is None:
                p.setPen(solid(self.inks.rule, 1.0))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(spot)
            else:
                p.drawImage(spot, image)
        if len(shown) < len(panels):
            i = len(shown)
            spot = QRectF(box.left() + each * (i % row), box.top() + (THUMB[1] + 4) * (i // row), *THUMB)
            draw_text(p, spot, f"+{len(panels) - len(shown)}", 13, 700, self.inks.note, Qt.AlignmentFlag.AlignCenter)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            row = int((event.position().y() - HEAD_PX) // ROW_PX)
            if 0 <= row < len(self.claims):
                self.taken.emit(row)
