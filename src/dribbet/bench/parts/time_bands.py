"""Drying bands on a real time axis; the edge between two stages is a slanted cut from earliest to latest."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF

from dribbet.bench.parts.base import DrawnPart, draw_text
from dribbet.bench.parts.tape import Tape, draw_code, draw_strip, strip_size
from dribbet.bench.theme.inks import BLACK, DRYING, PAPER, Inks
from dribbet.bench.theme.patterns import dashed, hatch, polyline, solid

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QWidget

CODE_PX = 88
HEAD_PX = 56
LEAST_TALL_PX = 220
LEAST_PITCH_PX = 24  # a code and its marks are still told apart; more panels than fit are scrolled


@dataclass(frozen=True, slots=True)
class BandView:
    """One panel: cuts as (earliest, latest) moments at which the next stage begins; looks made; look due; cracks."""

    panel_id: str
    code: str
    poured: datetime | None
    cuts: tuple[tuple[datetime, datetime], ...] = ()
    looks: tuple[datetime, ...] = ()
    due: datetime | None = None
    overdue: bool = False
    crack_from: datetime | None = None
    crack_seen: datetime | None = None
    hand: bool = False
    words: str = ""


@dataclass(frozen=True, slots=True)
class BandsView:
    """All bands, and the axis."""

    bands: tuple[BandView, ...]
    start: datetime
    end: datetime
    now: datetime
    now_text: str
    empty: str = ""


class BandTarget(DrawnPart):
    """A band as a target of its own."""

    pressed = pyqtSignal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(PAPER, parent)
        self.panel_id = ""
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def mousePressEvent(self, event: object) -> None:
        self.pressed.emit(self.panel_id)


class TimeBands(DrawnPart):
    """All drying panels of a series."""

    pressed = pyqtSignal(str)
    kept = True

    def __init__(self, inks: Inks = PAPER) -> None:
        super().__init__(inks)
        self.view: BandsView | None = None
        self._targets: list[BandTarget] = []
        self.setMinimumSize(480, LEAST_TALL_PX)

    def sizeHint(self) -> QSize:
        return QSize(800, 480)

    def show_bands(self, view: BandsView) -> None:
        if view == self.view:
            return
        self.view = view
        while len(self._targets) < len(view.bands):
            target = BandTarget(self)
            target.pressed.connect(self.pressed)
            self._targets.append(target)
        for target, band in zip(self._targets, view.bands, strict=False):
            target.panel_id = band.panel_id
            target.name(band.words or band.code)
            target.show()
        for target in self._targets[len(view.bands) :]:
            target.hide()
        self.setMinimumHeight(max(LEAST_TALL_PX, round(HEAD_PX + len(view.bands) * LEAST_PITCH_PX + 4)))
        self._place()
        self.update()

    def _pitch(self) -> float:
        count = len(self.view.bands) if self.view else 1
        return min(44.0, (self.height() - HEAD_PX - 4) / max(count, 1))

    def _place(self) -> None:
        for i, target in enumerate(self._targets):
            target.setGeometry(0, round(HEAD_PX + i * self._pitch()), self.width(), round(self._pitch()))

    def resizeEvent(self, event: object) -> None:
        self._place()

    def x_of(self, moment: datetime) -> float:
        """Where a moment lies on the axis."""
        assert self.view is not None
        span = (self.view.end - self.view.start).total_seconds()
        return CODE_PX + (moment - self.view.start).total_seconds() / span * (self.width() - CODE_PX)

    def draw(self, p: QPainter) -> None:
        v = self.view
        if v is None:
            return
        if not v.bands:
            draw_text(p, QRectF(self.rect()), v.empty, 20, 500, self.inks.note, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop, wrap=True)
            return
        self._days(p, v)
        pitch = self._pitch()
        tall = min(25.0, pitch * 0.72)
        for i, band in enumerate(v.bands):
            self._band(p, band, HEAD_PX + i * pitch + (pitch - tall) / 2, tall)
        now = self.x_of(v.now)
        bottom = HEAD_PX + len(v.bands) * pitch + 2
        p.setPen(solid(self.inks.ink, 3))
        p.drawLine(QPointF(now, HEAD_PX), QPointF(now, bottom))  # not through the name of its day
        size = strip_size(v.now_text, 15)
        strip = QRectF(min(max(now - size.width() / 2, CODE_PX), self.width() - size.width()), 0, size.width(), 26)
        draw_strip(p, strip, v.now_text, self.inks.tape, self.inks.crepe)
        draw_text(p, strip, v.now_text, 15, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)
        for i, band in enumerate(v.bands):
            if band.due is not None:
                y = HEAD_PX + i * pitch + pitch / 2
                left = CODE_PX + (12.0 if band.crack_seen is None else 34.0)
                x = min(max(self.x_of(band.due), left), self.width() - 10.0)
                self._due(p, now if band.hand and not band.overdue else x, y, band)

    def _days(self, p: QPainter, v: BandsView) -> None:
        day = v.start.replace(hour=0, minute=0, second=0, microsecond=0)
        step = self.x_of(v.start + timedelta(days=1)) - self.x_of(v.start)
        every = 1 if step > 38 else 2 if step > 20 else 7
        number = 0
        while day <= v.end:
            x = self.x_of(day)
            if x >= CODE_PX and number % every == 0:
                p.setPen(solid(self.inks.rule, 1))
                p.drawLine(QPointF(x, 24), QPointF(x, self.height()))
                today = day.date() == v.now.date()
                if x + step * every * 0.5 < self.width() + 20:
                    draw_text(
                        p, QRectF(x + 3, 24, step * every, 16), f"{day:%a}", 14, 700 if today else 400, self.inks.ink if today else self.inks.note
                    )
                    draw_text(
                        p, QRectF(x + 3, 39, step * every, 16), f"{day.day}", 14, 700 if today else 400, self.inks.ink if today else self.inks.note
                    )
            day += timedelta(days=1)
            number += 1

    def _band(self, p: QPainter, band: BandView, top: float, tall: float) -> None:
        inks = self.inks
        px = 16 if tall > 20 else 14
        size = strip_size(band.code, px)
        code = QRectF(max(0, CODE_PX - 12 - size.width()) if not band.hand else 0, top + tall / 2 - size.height() / 2, size.width(), size.height())
        kind = Tape.HAND if band.hand else Tape.OTHER if band.poured else Tape.NONE
        draw_code(p, code, band.code, px, kind, inks)
        right = float(self.width() - 1)
        if band.poured is None:
            p.setPen(dashed(inks.off, 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            assert self.view is not None
            left = self.x_of(self.view.now) + 5
            p.drawRect(QRectF(left, top, right - left, tall))
            return
        left = max(self.x_of(band.poured), CODE_PX)
        shape = QRectF(left, top, right - left, tall)
        p.save()
        p.setClipRect(shape)
        p.fillRect(shape, DRYING[0])
        for colour, (early, late) in zip(DRYING[1:], band.cuts, strict=False):
            x0, x1 = self.x_of(early), self.x_of(late)
            cut = QPolygonF([QPointF(x0, top), QPointF(right + 1, top), QPointF(right + 1, top + tall), QPointF(x1, top + tall)])
            path = QPainterPath()
            path.addPolygon(cut)
            p.fillPath(path, colour)
            p.setPen(solid(BLACK, 1.4))
            p.drawLine(QPointF(x0, top), QPointF(x1, top + tall))
        if band.crack_from is not None:
            assert self.view is not None
            x0, x1 = self.x_of(band.crack_from), self.x_of(band.crack_seen or band.crack_from + timedelta(hours=30))
            hatch(p, QRectF(x0, top, max(x1 - x0, 6), tall), inks.card, gap=6, line=1.8)
        p.restore()
        p.setPen(solid(inks.ink, 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(shape)
        assert self.view is not None
        for look in (k for k in band.looks if k >= self.view.start):  # older ones lie left of the axis, where the codes stand
            p.setPen(solid(BLACK, 2))
            p.setBrush(inks.card)
            p.drawEllipse(QPointF(self.x_of(look), top + tall / 2), 5.5, 5.5)
        if band.crack_seen is not None:
            x = max(self.x_of(band.crack_seen), CODE_PX + 12.0)  # a crack is shown for ever, at the edge where it is older
            plate = QRectF(x - 10, top + tall / 2 - 10, 20, 20)
            p.fillRect(plate, inks.card)
            p.setPen(solid(BLACK, 1.6))
            p.drawRect(plate)
            p.setPen(solid(BLACK, 2.4))
            polyline(
                p,
                [
                    plate.topLeft() + QPointF(5, 4),
                    plate.topLeft() + QPointF(11, 8),
                    plate.topLeft() + QPointF(8, 11),
                    plate.topLeft() + QPointF(15, 17),
                ],
            )

    def _due(self, p: QPainter, x: float, y: float, band: BandView) -> None:
        if band.overdue and not band.hand:
            p.fillRect(QRectF(x - 9, y - 9, 18, 18), BLACK)
            draw_text(p, QRectF(x - 9, y - 9, 18, 18), "!", 15, 800, self.inks.card, Qt.AlignmentFlag.AlignHCenter)
            return
        if not band.hand:
            return
        p.setPen(solid(BLACK, 3))
        p.setBrush(self.inks.tape)
        p.drawEllipse(QPointF(x, y), 11, 11)
