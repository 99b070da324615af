"""Small drawings beside the rack: what the stick's patterns mean, the smallest difference to scale, what it costs."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from dribbet.bench.parts.base import DrawnPart as Drawn
from dribbet.bench.parts.base import draw_text
from dribbet.bench.stations.ask.view import CanShowView
from dribbet.bench.theme.inks import BLACK, STICK_MEDIUM
from dribbet.bench.theme.patterns import hatch, polyline, solid, waves
from dribbet.bench.theme.type import width
from dribbet.words import ask as ask_words


class StickKey(Drawn):
    """What the stir stick's patterns mean."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(26)
        self.name(ask_words.STIR_STICK)

    def draw(self, p: QPainter) -> None:
        draw_text(p, QRectF(0, 0, 120, 26), "Stir stick", 15, 700, BLACK)
        x = 124.0
        for i, word in enumerate(("paint", "medium", ask_words.WATER_OR_ALCOHOL, ask_words.A_DROP_ON_ITS_COLOUR)):
            box = QRectF(x, 6, 24, 14)
            if i == 3:
                p.setPen(solid(BLACK, 2))
                p.setBrush(self.inks.card)
                p.drawEllipse(QPointF(x + 8, 13), 4.5, 4.5)
                x -= 8
            else:
                p.fillRect(box, (BLACK, STICK_MEDIUM, self.inks.card)[i])
                if i == 2:
                    waves(p, box, BLACK, gap=5)
                    p.setPen(solid(BLACK, 1.2))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawRect(box)
            draw_text(p, QRectF(x + 32, 0, 260, 26), word, 15, 400, self.inks.note)
            x += 50 + width(word, 15)


CELLS_MOST = 80
CELL_MM = 4.5  # a usual cell, for drawing a number of them


class CanShow(Drawn):
    """The smallest change this test can show, to scale on the panel."""

    def __init__(self) -> None:
        super().__init__()
        self.view = CanShowView()
        self.setFixedHeight(94)

    def show_change(self, view: CanShowView) -> None:
        """Draw another change."""
        self.view = view
        self.setVisible(bool(view.kind))
        self.name(ask_words.CHANGE_TO_SCALE(change=view.words))
        self.update()

    def draw(self, p: QPainter) -> None:
        v = self.view
        if not v.kind:
            return
        scale = min((self.width() - 4) / v.panel_mm[0], (self.height() - 4) / v.panel_mm[1])
        room = QRectF(2, 2, v.panel_mm[0] * scale, v.panel_mm[1] * scale)
        outline = QPainterPath()
        if v.round:
            outline.addEllipse(room)
        else:
            outline.addRect(room)
        p.fillPath(outline, self.inks.card)
        p.setPen(solid(BLACK, 2))
        p.drawPath(outline)
        {"line": self._line, "wide": self._wide, "cells": self._cells, "share": self._share}[v.kind](p, room, scale)

    def _label(self, p: QPainter, room: QRectF, y: float) -> None:
        wide = width(self.view.words, 15, 700) + 8
        box = QRectF(room.center().x() - wide / 2, y, wide, 20)
        p.fillRect(box, self.inks.card)
        draw_text(p, box, self.view.words, 15, 700, BLACK, Qt.AlignmentFlag.AlignHCenter)

    def _line(self, p: QPainter, room: QRectF, scale: float) -> None:
        shown = min(self.view.size, self.view.panel_mm[0] * 0.9) * scale
        left, y = room.center().x() - shown / 2, room.center().y() - 8
        p.setPen(solid(BLACK, 2))
        steps = max(3, min(7, int(shown / 8)))
        polyline(p, [QPointF(left + shown * i / steps, y + (5 if i % 2 else -4) * (1 if 0 < i < steps else 0)) for i in range(steps + 1)])
        p.setPen(solid(BLACK, 1.5))
        p.drawLine(QPointF(left, y + 20), QPointF(left + shown, y + 20))
        for x in (left, left + shown):
            p.drawLine(QPointF(x, y + 15), QPointF(x, y + 25))
        self._label(p, room, y + 26)

    def _wide(self, p: QPainter, room: QRectF, scale: float) -> None:
        """Two cells, one wider by the change."""
        for i, mm in enumerate((CELL_MM, CELL_MM + self.view.size)):
            radius = max(mm * scale / 2, 1.5)
            p.setPen(solid(BLACK, 1.6))
            p.drawEllipse(QPointF(room.center().x() + (-1, 1)[i] * room.width() * 0.12, room.center().y() - 8), radius, radius)
        self._label(p, room, room.bottom() - 24)

    def _cells(self, p: QPainter, room: QRectF, scale: float) -> None:
        """So many cells more."""
        rng = np.random.default_rng(5)
        radius = max(CELL_MM * scale / 2, 1.6)
        p.setPen(solid(BLACK, 1.3))
        count = min(max(round(self.view.size), 1), CELLS_MOST)
        columns = math.ceil(math.sqrt(count * room.width() / (room.height() - 26)))
        rows = math.ceil(count / columns)
        for i in range(count):
            x = room.left() + room.width() * (i % columns + 0.5 + 0.25 * rng.uniform(-1, 1)) / columns
            y = room.top() + (room.height() - 24) * (i // columns + 0.5 + 0.25 * rng.uniform(-1, 1)) / rows
            p.drawEllipse(QPointF(x, y), radius, radius)
        self._label(p, room, room.bottom() - 22)

    def _share(self, p: QPainter, room: QRectF, scale: float) -> None:
        """A part of the face, as one corner of it."""
        side = math.sqrt(min(self.view.size / 100.0, 1.0))
        box = QRectF(room.left(), room.top(), room.width() * side, room.height() * side)
        hatch(p, box, BLACK, gap=5)
        p.setPen(solid(BLACK, 1.5))
        p.drawRect(box)
        self._label(p, room, room.bottom() - 24)


class Costs(Drawn):
    """What the test takes of what there is, as filled bars."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[tuple[str, str, float | None], ...] = ()

    def show_costs(self, rows: tuple[tuple[str, str, float | None], ...]) -> None:
        self.rows = rows
        self.setFixedHeight(24 * len(rows))
        self.name("It costs", ", ".join(f"{a}: {b}" for a, b, _ in rows))
        self.update()

    def draw(self, p: QPainter) -> None:
        for i, (name, words, share) in enumerate(self.rows):
            y = i * 24.0
            draw_text(p, QRectF(0, y, 60, 22), name, 14, 400, self.inks.note)
            bar = QRectF(58, y + 4, 62 if self.width() > 270 else 40, 14)
            if share is None:
                draw_text(p, QRectF(58, y, self.width() - 58, 22), words, 14, 400, self.inks.note)
                continue
            p.fillRect(bar, self.inks.card)
            p.fillRect(QRectF(bar.left(), bar.top(), bar.width() * share, bar.height()), BLACK)
            p.setPen(solid(BLACK, 1.5))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(bar)
            draw_text(p, QRectF(bar.right() + 8, y, self.width() - bar.right() - 8, 22), words, 14, 600, BLACK)
