"""Shelf: standing facts become words, a press becomes an act. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from dribbet.bench.apart import apart
from dribbet.bench.doors.shelf import card, guide
from dribbet.lab.cup import bottles
from dribbet.lab.paint import containers
from dribbet.records import Bottle, DribbetError, GaugingKind
from dribbet.studio.acts.shelving import Shelving
from dribbet.studio.acts.surveying import Surveying
from dribbet.studio.standing import shelf as shelf_standing
from dribbet.words import shelf as said
from dribbet.words.units import listed, units_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from dribbet.bench.doors.shelf.guide import Guide
    from dribbet.lab.paint.survey import SurveyRow
    from dribbet.records import Material, Report
    from dribbet.studio.desk import Desk
    from dribbet.words.parts import Remark


@dataclass(frozen=True, slots=True)
class ShelfLine:
    """One thing on the shelf: a container or a bottle."""

    id: str
    name: str
    hex: str
    share: float
    under: str
    bottle: bool = False
    code: str = ""
    kind: str = ""
    flag: bool = False
    """Whether something is to be done about it."""


class ShelfPresenter:
    """What stands on the shelf, and changes to it."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.acts = Shelving(desk)
        self.surveys = Surveying(desk)

    # ------------------------------------------------------------ what is so

    def materials(self) -> list[Material]:
        """Containers by what they are used as."""
        return shelf_standing.materials(self.desk)

    def bottles(self) -> list[Bottle]:
        """Bottles that still hold something, oldest first."""
        return shelf_standing.stored(self.desk)

    def standing(self) -> list[ShelfLine]:
        """Everything, in the order of the shelf."""
        gaugings, units = self.desk.gaugings(), units_of(self.desk)
        made = [
            ShelfLine(
                m.id, m.name, m.hex, min(m.stock_kg / m.full_kg, 1.0) if m.full_kg else 0.0, units.stock_text(m.stock_kg),
                kind=str(m.kind), flag=bool(containers.to_check(m, gaugings)),
            )
            for m in self.materials()
        ]  # fmt: skip
        for b in self.bottles():
            now, full = shelf_standing.stand(self.desk, b), b.stored_kg - b.empty_kg
            share = now.content_kg / full if full else 0.0
            made.append(ShelfLine(b.id, b.name, b.hex, share, units.stock_text(now.content_kg), True, b.code, str(b.kind), bool(now.barred)))
        return made

    def stands(self, text: str) -> bool:
        """Whether something on the shelf has this code or name."""
        return self._found(text) is not None

    def find(self, text: str) -> str:
        """Id of what a typed or scanned code or name means.

        Raises
        ------
        DribbetError
            If nothing is called so.
        """
        found = self._found(text)
        if found is None:
            raise DribbetError(said.NOTHING_CALLED(typed=text.strip()))
        return found

    def _found(self, text: str) -> str | None:
        wanted = text.strip().lower()
        every = self.desk.notebook.all(Bottle)
        return next((b.id for b in every if b.code.lower() == wanted), None) or next(
            (m.id for m in self.desk.shelf() if m.name.lower() == wanted), None
        )

    def sentence(self) -> tuple[str, str]:
        """What is to be done about the shelf, and how much stands on it."""
        desk = self.desk
        return said.sentence(shelf_standing.to_measure(desk), shelf_standing.running_low(desk), len(desk.shelf()), len(self.bottles()))

    def remarks(self, m: Material) -> list[Remark]:
        """What is to be done about a container, and what is known of it beyond its card."""
        return said.container(shelf_standing.container(self.desk, m), units_of(self.desk), self.desk.local)

    def bottle_remarks(self, b: Bottle) -> list[Remark]:
        """How a bottle stands, and what it may be used for."""
        return said.bottle(shelf_standing.bottle(self.desk, b), units_of(self.desk), self.desk.local)

    # ------------------------------------------------------------ pre-tests

    def survey(self) -> tuple[SurveyRow, ...]:
        """The pre-test under way, as a table; nothing where there is none."""
        return shelf_standing.pre_test(self.desk)

    def survey_due(self) -> tuple[Material, GaugingKind] | None:
        """What is measured next in it; None once the table is full."""
        return shelf_standing.pre_test_due(self.desk)

    def begin_survey(self, text: str) -> None:
        """Begin a pre-test with the colours typed, or with those of the series in hand."""
        self.surveys.begin([w for w in text.split(",") if w.strip()] or self.surveys.offered())

    # ------------------------------------------------------------ what a press does

    def guide_for(self, id_: str, kind: GaugingKind | None) -> Guide:
        """A guided measurement of a container, or a bottle's weighing."""
        b = next((b for b in self.bottles() if b.id == id_), None)
        if b is not None:
            return guide.bottle(self.desk, b) if b.empty_kg else guide.cap(self.desk, b)
        m = next(m for m in self.desk.shelf() if m.id == id_)
        if kind is GaugingKind.DENSITY or kind is None:
            return guide.density(self.desk, m)
        if kind is GaugingKind.DRIP:
            return guide.drip(self.desk, m)
        return guide.body(self.desk, m) if kind is GaugingKind.BODY else guide.measure(self.desk, m, kind)

    def change(self, m: Material, key: str, text: str | None) -> None:
        """A line of the card: the next value, or what was typed."""
        self.acts.change(card.pressed(m, key) if text is None else card.typed(m, key, text, self.desk))

    def add(self, text: str) -> str:
        """Add a container: 'name, kind, #hex'; kind and colour may be left out. A house mix: 'name = glue 200, water 100'."""
        name, equals, parts = text.partition("=")
        if equals:
            return self.acts.put_house_mix(name.strip(), card.made_of(parts, self.desk)).id
        return self.acts.put(*said.new_container(text)).id

    def add_leftover(self, text: str) -> str:
        """A leftover pot from what was scraped together: 'K3-a 35, K3-b 20', grams of each recipe's cup."""
        scraped = said.scraped(text, units_of(self.desk))
        return self.acts.scrape_together(scraped, f"leftover of {listed([recipe for recipe, _ in scraped])}").id

    def finish_bottle(self, id_: str) -> None:
        """The bottle is empty, or thrown away; its record stays."""
        self.acts.finish_bottle(next(b for b in self.bottles() if b.id == id_))

    def labels(self, size: str) -> Callable[[Report], bytes]:
        """Labels of all bottles and house mixes as they are now; returns what draws them as PDF, to be called in a job."""
        from dribbet.paper.labels import PanelLabel, labels_pdf

        units = units_of(self.desk)
        made = [PanelLabel(b.code, tuple(bottles.label_lines(b, said.contents(dict(b.contents), units)))) for b in self.bottles()]
        for m in self.materials():
            if m.made_of:
                day = f"{self.desk.local(m.made_at):%d %B %Y}" if m.made_at else ""
                raw = ", ".join(f"{units.called(n)} {kg * 1e3:.0f} g" for n, kg in m.made_of)
                flags = ("SILICONE",) if m.wash_off else ()
                made.append(PanelLabel(m.name, tuple(x for x in (*flags, day, raw) if x)))
        if not made:
            raise DribbetError(said.NOTHING_TO_LABEL)
        return lambda report: apart(report, labels_pdf, made, "Labels of bottles", size)
