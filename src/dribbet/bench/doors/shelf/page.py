"""Shelf: every container drawn with its fill level; what it is and what is left."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from dribbet.bench.page import Field, Page
from dribbet.bench.parts.base import Words, draw_focus, draw_text
from dribbet.bench.parts.keys import Key
from dribbet.bench.parts.margin import Remark, Weight
from dribbet.bench.parts.tape import draw_strip
from dribbet.bench.theme.inks import BLACK, EDGE, PAPER
from dribbet.bench.theme.patterns import hatch, solid, waves
from dribbet.bench.units import percent
from dribbet.lab import cautions
from dribbet.lab.recipe import DENSITY_BY_WORD
from dribbet.notebook.store import new_id
from dribbet.records import DribbetError, Kind, Material, Opacity

if TYPE_CHECKING:
    from dribbet.bench.jobs import Jobs
    from dribbet.bench.studio import Studio

ORDER = (Kind.PAINT, Kind.SHIMMER, Kind.BASE, Kind.MEDIUM, Kind.THINNER, Kind.ADDITIVE)


class ShelfPresenter:
    """What stands on the shelf, and changes to it. No widgets."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio

    def materials(self) -> list[Material]:
        return sorted(self.studio.shelf(), key=lambda m: ORDER.index(m.kind))

    def remarks(self, m: Material) -> list[Remark]:
        """What is known of a container, in sentences."""
        units = self.studio.units
        made = [
            Remark("", f"{str(m.kind).capitalize()}, {m.opacity}" + (f", lot {m.lot}" if m.lot else "")),
            Remark("Left", f"{units.stock_text(m.stock_kg)} of {units.stock_text(m.full_kg)}" if m.full_kg else units.stock_text(m.stock_kg)),
            Remark("Density", f"{m.density_kg_m3 / 1000:.2f} g in each mL"),
            Remark("Dries to", f"{percent(m.volume_solids)} of its wet volume"),
        ]
        if m.price_per_kg:
            made.append(Remark("Price", f"{m.price_per_kg:.0f} a kilogram"))
        if m.drop_kg:
            made.append(Remark("One drop", f"{m.drop_kg * 1e6:.0f} mg"))
        made += [Remark("", cautions.BY_HAZARD[h], Weight.CAUTION) for h in m.hazards]
        if m.wash_off:
            made.append(Remark("", "Must be washed off before varnish, resin or oven.", Weight.CAUTION))
        return made

    def set_stock(self, m: Material, text: str) -> None:
        """Weigh what is left."""
        from dataclasses import replace

        try:
            kg = self.studio.units.mass_kg(text)
        except ValueError:
            raise DribbetError(f"“{text}” is no weight. Type what is left, such as 250.") from None
        self.studio.notebook.replace(replace(m, stock_kg=kg, full_kg=max(m.full_kg, kg)))
        self.studio.changed()

    def set_density(self, m: Material, text: str) -> None:
        """Grams of a filled 10 mL syringe."""
        from dataclasses import replace

        try:
            grams = float(text.replace(",", ".").removesuffix("g").strip())
        except ValueError:
            raise DribbetError(f"“{text}” is no weight. Type the grams of 10 mL, such as 12.4.") from None
        if not 5.0 < grams < 40.0:
            raise DribbetError(f"10 mL of paint weigh 5 to 40 g, not {grams:g}. Weigh the filled syringe less the empty one.")
        self.studio.notebook.replace(replace(m, density_kg_m3=grams * 100.0))
        self.studio.changed()

    def add(self, text: str) -> None:
        """Add a container: 'name, kind, #hex'; kind and colour may be left out."""
        words = [w.strip() for w in text.split(",")]
        if not words or not words[0]:
            raise DribbetError("A container needs a name. Type it, then its kind and its colour, such as sea glass, paint, #7FB3A8.")
        kinds = {str(k): k for k in Kind}
        colours = [w for w in words[1:] if w.startswith("#") and len(w) == 7 and QColor.isValidColorName(w)]
        strange = [w for w in words[1:] if w and w.lower() not in kinds and w not in colours]
        if strange:
            raise DribbetError(f"“{strange[0]}” is no kind and no colour. Kinds are {', '.join(kinds)}; a colour is written as #7FB3A8.")
        kind = next((kinds[w.lower()] for w in words[1:] if w.lower() in kinds), Kind.PAINT)
        hex_ = colours[0].upper() if colours else "#9A9A9A"
        if any(m.name.lower() == words[0].lower() for m in self.studio.shelf()):
            raise DribbetError(f"There is a {words[0]} on the shelf already. Give this one another name.")
        density = next((v for k, v in DENSITY_BY_WORD.items() if k in words[0].lower()), 1150.0 if kind is Kind.PAINT else 1030.0)
        solids = {Kind.PAINT: 0.4, Kind.MEDIUM: 0.2, Kind.THINNER: 0.0, Kind.BASE: 0.36, Kind.SHIMMER: 0.38, Kind.ADDITIVE: 0.5}[kind]
        self.studio.notebook.add(
            Material(
                id=new_id(),
                name=words[0][:40],
                kind=kind,
                hex=hex_,
                density_kg_m3=density,
                volume_solids=solids,
                opacity=Opacity.OPAQUE,
                stock_kg=0.0,
                full_kg=0.25,
            )
        )
        self.studio.changed()


class Container(QAbstractButton):
    """A jar with its fill level and its name."""

    chosen = pyqtSignal(str)

    def __init__(self, m: Material, hand: bool, left: str) -> None:
        super().__init__()
        self.material, self.hand, self.left = m, hand, left
        self.setMinimumSize(112, 150)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(f"{m.name}, {m.kind}, {left} left")
        self.clicked.connect(lambda: self.chosen.emit(m.id))

    def sizeHint(self) -> QSize:
        return QSize(124, 164)

    def paintEvent(self, event: object) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        m = self.material
        if self.hand:
            draw_strip(p, QRectF(2, 0, self.width() - 4, self.height()), m.name, PAPER.tape, PAPER.crepe)
        bottom = self.height() - 62.0
        wide, tall = 54.0, min(78.0, bottom - 16)
        jar = QRectF(self.width() / 2 - wide / 2, bottom - tall, wide, tall)
        p.fillRect(jar, PAPER.sheet)
        share = min(m.stock_kg / m.full_kg, 1.0) if m.full_kg else 0.0
        level = QRectF(jar.left(), jar.bottom() - share * (tall - 4), wide, share * (tall - 4))
        p.fillRect(level, QColor(m.hex))
        if m.kind is Kind.THINNER:
            waves(p, level, QColor("#6A6A6A"), gap=8)
        if m.kind is Kind.ADDITIVE:
            hatch(p, level, EDGE, gap=8, line=1)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(solid(BLACK, 3))
        p.drawRect(jar)
        p.fillRect(QRectF(jar.left() + 6, jar.top() - 9, wide - 12, 8), BLACK)
        p.setPen(solid(BLACK, 4))
        p.drawLine(QPointF(0, bottom + 2), QPointF(self.width(), bottom + 2))
        draw_text(
            p,
            QRectF(4, bottom + 6, self.width() - 8, 36),
            m.name,
            14,
            600,
            BLACK,
            Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
            wrap=True,
        )
        draw_text(
            p,
            QRectF(4, self.height() - 22, self.width() - 8, 20),
            self.left,
            14,
            400,
            PAPER.note if not self.hand else BLACK,
            Qt.AlignmentFlag.AlignHCenter,
        )
        if self.hasFocus():
            draw_focus(p, QRectF(self.rect()), PAPER)
        p.end()


class ShelfPage(Page):
    """The door Shelf."""

    def __init__(self, studio: Studio, jobs: Jobs) -> None:
        super().__init__(studio, jobs, column=True)
        self.presenter = ShelfPresenter(studio)
        self.hand = ""
        box = QWidget()
        self.grid = QGridLayout(box)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(0)
        self.grid.setVerticalSpacing(14)
        self.body.addWidget(box)
        self.body.addStretch(1)
        row = QHBoxLayout()
        self.new = Field("new: name, kind, #colour", width_px=330)
        self.new.returnPressed.connect(lambda: self._take(self.new, self.presenter.add))
        row.addWidget(self.new)
        self.new_note = Words("Kinds: paint, shimmer, base, medium, thinner, additive.", 15, 400, role="note")
        row.addWidget(self.new_note, 1, Qt.AlignmentFlag.AlignVCenter)
        self.body.addLayout(row)
        assert self.column is not None
        self.name_words = Words("", 22, 700)
        self.column.addWidget(self.name_words)
        self.notes = QVBoxLayout()
        self.column.addLayout(self.notes)
        self.stock = Field("what is left, weighed", width_px=260)
        self.stock.returnPressed.connect(lambda: self._take(self.stock, lambda t: self.presenter.set_stock(self._material(), t)))
        self.density = Field("grams of 10 mL", width_px=260)
        self.density.returnPressed.connect(lambda: self._take(self.density, lambda t: self.presenter.set_density(self._material(), t)))
        self.column.addWidget(self.stock)
        self.column.addWidget(self.density)
        self.column.addStretch(1)
        self._built: tuple[object, ...] = ()

    def _material(self) -> Material:
        known = self.presenter.materials()
        if not known:
            raise DribbetError("The shelf is empty. Add a container first.")
        return next((m for m in known if m.id == self.hand), known[0])

    def _take(self, field: Field, act: object) -> None:
        def go() -> None:
            act(field.text())  # type: ignore[operator]
            field.clear()

        self.attempt(go)

    def refresh(self) -> None:
        materials = self.presenter.materials()
        low = [m for m in materials if m.full_kg and m.stock_kg < 0.25 * m.full_kg]
        if not materials:
            self.title("", "The shelf is empty. Add what you pour with.")
        else:
            words = (
                f"{', '.join(m.name.capitalize() if i == 0 else m.name for i, m in enumerate(low[:3]))} "
                f"{'is' if len(low) == 1 else 'are'} running low."
                if low
                else "Nothing is running low."
            )
            self.title("", words, f"{len(materials)} containers on the shelf")
        columns = max(4, min(8, (self.width() - 340) // 118))
        key = (tuple(materials), self.hand, columns, self.studio.units)
        if key != self._built:
            self._built = key
            while self.grid.count():
                item = self.grid.takeAt(0)
                if item is not None and (widget := item.widget()) is not None:
                    widget.hide()
                    widget.deleteLater()
            for i, m in enumerate(materials):
                jar = Container(m, m.id == (self.hand or materials[0].id), self.studio.units.stock_text(m.stock_kg))
                jar.chosen.connect(self._choose)
                self.grid.addWidget(jar, i // columns, i % columns)
        if materials:
            m = self._material()
            self.name_words.say(m.name.capitalize())
            self.remarks(self.notes, self.presenter.remarks(m))
        self.keys([(Key("Space", "Add a container"), self.new.setFocus)])

    def _choose(self, material_id: str) -> None:
        self.hand = material_id
        self.refresh()
