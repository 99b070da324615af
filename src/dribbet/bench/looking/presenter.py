"""Looking at many panels: which, in which light and at which stage. No widgets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

from dribbet.bench.flats import FlatShot, shot_of
from dribbet.records import Lamp, Panel, Stage
from dribbet.studio.standing import choosing
from dribbet.words import choosing as choosing_words
from dribbet.words import looking as words
from dribbet.words.tongue import name
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

MOST: Final = 12
MOST_ROWS: Final = 3
"""Recipes over time at once."""
ZONES: Final = (4, 0, 1, 2, 3, 5, 6, 7, 8)
"""Ninths of a panel in the order in which they are looked at: the middle, then row by row."""


@dataclass(frozen=True, slots=True)
class Tile:
    """One picture of the sheet; without a shot where there is none."""

    code: str
    note: str
    shot: FlatShot | None
    marked: int = 0
    """1 or 2 where it was taken to blink, 0 else."""


@dataclass(frozen=True, slots=True)
class LookingView:
    """Everything the page shows."""

    sentence: str
    note: str = ""
    tiles: tuple[Tile, ...] = ()
    columns: int = 1
    over_time: bool = False
    lamp: str = "diffuse"
    lamps: int = 1
    more: bool = False
    marked: tuple[int, ...] = ()
    turned: int = 0
    zone: str = ""
    """Words of the ninth that is looked at."""


class LookingPresenter:
    """Which panels are looked at."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.first = 0
        self.over_time = False
        self.lamp = Lamp.DIFFUSE
        self.turned = 0
        """Quarter turns to the right."""
        self.zone: int | None = None
        """Which ninth of every panel is looked at, row by row from the far left as it was photographed; None: all of it."""
        self.marked: list[int] = []
        """Tiles that take turns, at most two."""

    def next_zone(self) -> None:
        """The next ninth, the middle first; after the last one the whole panels."""
        at = ZONES.index(self.zone) + 1 if self.zone is not None else 0
        self.zone = ZONES[at] if at < len(ZONES) else None

    def place(self) -> tuple[float, float] | None:
        """Where the middle of the ninth lies on the pictures as they are turned, as shares of width and height; None where all is looked at."""
        if self.zone is None:
            return None
        x, y = (self.zone % 3 + 0.5) / 3.0, (self.zone // 3 + 0.5) / 3.0
        for _ in range(self.turned % 4):
            x, y = 1.0 - y, x
        return x, y

    def view(self) -> LookingView:
        """What is so."""
        run = self.desk.run()
        panels = self._panels(run) if run is not None else []
        if run is None or not panels:
            return LookingView(words.NOTHING)
        lamps = {p.lamp for p in run.photos if not p.left_out and p.stage is Stage.DRY}
        if self.over_time:
            tiles, columns = self._sheet(run, panels)
            rows = len(tiles) // columns
            return LookingView(
                words.sentence(rows, over_time=True), words.NO_FIGURES, tiles, columns, over_time=True, lamp=str(self.lamp), lamps=len(lamps),
                more=len(self._recipes(panels)) > MOST_ROWS, marked=tuple(self.marked), turned=self.turned, zone=words.zone(self.zone),
            )  # fmt: skip
        self.first %= len(panels)
        shown = panels[self.first : self.first + MOST]
        tiles = tuple(self._tile(run, p, Stage.DRY, i) for i, p in enumerate(shown))
        return LookingView(
            words.sentence(len(panels), over_time=False), words.NO_FIGURES, tiles, columns_of(len(tiles)), lamp=str(self.lamp), lamps=len(lamps),
            more=len(panels) > MOST, marked=tuple(self.marked), turned=self.turned, zone=words.zone(self.zone),
        )  # fmt: skip

    def _panels(self, run: Run) -> list[Panel]:
        """Panels with a dry photograph, recipe by recipe."""
        shot = [p for p in run.panels if not p.spoiled and run.photo(p, Lamp.DIFFUSE, Stage.DRY) is not None]
        return sorted(shot, key=lambda p: (p.recipe, p.repeat))

    def _recipes(self, panels: list[Panel]) -> list[str]:
        return sorted({p.recipe for p in panels})

    def _tile(self, run: Run, panel: Panel, stage: Stage, place: int) -> Tile:
        arm = next(a for a in run.arms if a.letter == panel.recipe)
        note = choosing_words.recipe(run.series, arm, units_of(self.desk), covered=choosing.covered(run))
        return Tile(panel.code, note, shot_of(run, panel, self.lamp, stage), self.marked.index(place) + 1 if place in self.marked else 0)

    def _sheet(self, run: Run, panels: list[Panel]) -> tuple[tuple[Tile, ...], int]:
        """Recipes by stages: the first panel of each recipe, a missing photograph as missing."""
        taken = {p.stage for p in run.photos if not p.left_out}
        stages = [s for s in Stage if s in taken or s in (Stage.WET, Stage.DRY)]
        letters = self._recipes(panels)
        self.first %= len(letters)
        made: list[Tile] = []
        for letter in letters[self.first : self.first + MOST_ROWS]:
            panel = next(p for p in panels if p.recipe == letter)
            for stage in stages:
                one = self._tile(run, panel, stage, len(made))
                made.append(Tile(one.code, name(stage), one.shot, one.marked))
        return tuple(made), len(stages)

    # ------------------------------------------------------------ what a press does

    def next_page(self) -> None:
        """The next panels, or recipes."""
        self.first += MOST_ROWS if self.over_time else MOST
        self.marked.clear()
        self.desk.changed()

    def turn_time(self) -> None:
        """Recipes over time, or all dry panels."""
        self.over_time, self.first = not self.over_time, 0
        self.marked.clear()
        self.desk.changed()

    def turn(self) -> None:
        """Turn all pictures by a quarter."""
        self.turned = (self.turned + 1) % 4
        self.desk.changed()

    def next_lamp(self) -> None:
        """Another light."""
        run = self.desk.need_run()
        known = [lamp for lamp in Lamp if any(p.lamp is lamp and not p.left_out and p.stage is Stage.DRY for p in run.photos)]
        self.lamp = known[(known.index(self.lamp) + 1) % len(known)] if self.lamp in known else known[0]
        self.desk.changed()

    def mark(self, place: int) -> bool:
        """Take a tile to blink, or put it back; False where there is none."""
        if not 0 <= place < len(self.view().tiles):
            return False
        if place in self.marked:
            self.marked.remove(place)
        else:
            self.marked = [*self.marked, place][-2:]
        self.desk.changed()
        return True


def columns_of(count: int) -> int:
    """Columns in which so many panels stand largest on a wide page.

    >>> [columns_of(n) for n in (1, 2, 3, 4, 6, 8, 12)]
    [1, 2, 2, 2, 3, 4, 4]
    """
    return 1 if count < 2 else 2 if count <= 4 else 3 if count <= 6 else 4
