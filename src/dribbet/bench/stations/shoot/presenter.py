"""Shoot: photographs come in, go to the panel that is due, and are judged fit or not, in words. No widgets."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass, replace
from pathlib import PurePath
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from dribbet.bench.apart import apart_told
from dribbet.lab.panel.progress import Station, photo_due, photo_stages, stage_now
from dribbet.notebook.store import new_id
from dribbet.records import OF_CORNERS, SPOILED, DribbetError, Lamp, Panel, Photo, Report, Seen, Sign, Stage
from dribbet.sight.load import SUFFIXES
from dribbet.sight.photographs import Looks, look_at
from dribbet.studio.acts import leaving_out as left_out
from dribbet.studio.acts import sizing
from dribbet.studio.standing import again
from dribbet.studio.standing.again import Next
from dribbet.studio.standing.differs import CRACKS
from dribbet.words import shoot as words
from dribbet.words.photo import Fitness, fitness
from dribbet.words.units import units_of

if TYPE_CHECKING:
    from collections.abc import Sequence
    from pathlib import Path

    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

LAMPS: Final = tuple(Lamp)


class ShotAim(NamedTuple):
    """Where a photograph goes; `take` is 0 for the one that stands for its panel."""

    panel: Panel
    stage: Stage
    lamp: Lamp
    take: int = 0


@dataclass(frozen=True, slots=True)
class Inspected:
    """A photo that was looked at before it is kept."""

    data: bytes
    name: str
    suffix: str
    looks: Looks


@dataclass(frozen=True, slots=True)
class ShootView:
    """Everything the page shows."""

    code: str = ""
    sentence: str = ""
    empty: bool = False
    lamps: tuple[tuple[str, str], ...] = ()
    """(lamp, taken | now | later | -)."""
    stage: str = ""
    fitness: tuple[Fitness, ...] = ()
    listed: tuple[tuple[str, str], ...] = ()
    """(panel id, code) of the panels under `list_head`."""
    list_head: str = ""
    photo: Photo | None = None
    camera: str = ""
    one_key: str = ""
    does: Next = Next.BRING
    panel_words: str = ""
    wants_three: bool = False
    can_again: bool = False
    """Whether the panel can be photographed again beside the photograph that stands for it."""
    again: bool = False
    note: str = ""
    planned_size: str = ""
    measured: bool = False
    """A person measured the panel's own size."""
    round_face: bool = False
    """The panel is a disc: its corners are those of the square round it."""


class ShootPresenter:
    """Which panel and lamp are next, and what a photo does."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self.lamp_by_hand: Lamp | None = None
        self.stage_by_hand: Stage | None = None

    def dues(self, run: Run) -> tuple[list[Panel], list[Panel]]:
        """Panels that want a photo now, and those that could have one more."""
        now = self.desk.now()
        due, other = [], []
        sheets: set[int] = set()
        for p in run.in_order():
            if p.sheet in sheets:  # one photograph serves all pieces of a panel
                continue
            if p.sheet:
                sheets.add(p.sheet)
            station = run.station(p, now)
            poured = run.poured_at(p)
            missing = self.missing_lamps(run, p)
            if station is Station.SHOOT or (station is Station.READ and missing):
                due.append(p)
            elif poured is not None and photo_due(p, poured, run.photos, now, photo_stages(run.series)) is not None:
                due.append(p)
            elif station is not Station.DECIDE and run.series.seed is not None:
                other.append(p)
        return due, other

    def missing_lamps(self, run: Run, panel: Panel) -> list[Lamp]:
        wanted = again.lamps_of(run)
        stage = self.stage(run, panel)
        have = {p.lamp for p in run.photos if p.panel_id == panel.id and p.stage is stage and not p.left_out}
        return [lamp for lamp in wanted if lamp not in have]

    def panel(self, run: Run) -> Panel | None:
        chosen = self.desk.in_hand("shoot")
        found = next((p for p in run.panels if p.id == chosen), None)
        due, other = self.dues(run)
        return found or next(iter(due or other or _one_of_each_sheet(run)), None)

    def stage(self, run: Run, panel: Panel) -> Stage:
        """Stage of a photo taken now."""
        if self.stage_by_hand is not None:
            return self.stage_by_hand
        poured = run.poured_at(panel)
        if poured is None:
            return Stage.DRY
        hours = (self.desk.now() - poured).total_seconds() / 3600.0
        taken = [p.stage for p in run.photos if p.panel_id == panel.id and not p.left_out]
        return stage_now(hours, taken, photo_stages(run.series))

    def view(self) -> ShootView:
        run = self.desk.run()
        panel = self.panel(run) if run is not None and run.panels else None
        if run is None or panel is None:
            return ShootView(sentence=words.NOTHING_TO_SHOOT, empty=True, one_key=words.GO_TO_ASK)
        if self.again(run, panel):
            return self._again_view(run, panel)
        missing = self.missing_lamps(run, panel)
        stage = self.stage(run, panel)
        spoiled = self.spoiled(run, panel)
        lamp = self.next_to_take(run, panel)
        mine = [p for p in run.photos if p.panel_id == panel.id and p.stage is stage and not p.left_out]
        photo = mine[-1] if mine else None
        have = {p.lamp for p in mine}
        wanted = lamp in missing or spoiled is not None or lamp is self.lamp_by_hand
        lamps = tuple((str(lp), "now" if lp is lamp and wanted else "taken" if lp in have else _later(lp, missing)) for lp in LAMPS)
        said = tuple(fitness(seen) for seen in photo.quality) if photo is not None else ()
        worst = next((f for f in said if not f.fine), None)
        if photo is None:
            sentence = words.PUT_UNDER_LAMP(code=panel.code, lamp=lamp)
        elif worst is not None:
            sentence = f"{worst.head}. {worst.words}"
        elif missing:
            sentence = words.now(lamp)
        else:
            sentence = words.CAN_BE_READ(code=panel.code)
        due, _ = self.dues(run)
        does = Next.BRING if self.desk.camera is None else Next.TAKE
        if does is Next.TAKE and photo is not None and not missing and self.lamp_by_hand is None and spoiled is None:
            does = Next.PANEL if any(p.id != panel.id for p in due) else Next.READ
        return replace(
            self._plain_view(run, panel), sentence=sentence, note=self._lamps_help(run, stage, have), lamps=lamps, stage=str(stage), fitness=said,
            photo=photo,
            one_key=words.next_key(does, lamp, anew=spoiled is not None and self.lamp_by_hand is None), does=does,
            can_again=stage is Stage.DRY and photo is not None and again.can(run, panel),
        )  # fmt: skip

    def _lamps_help(self, run: Run, stage: Stage, have: set[Lamp]) -> str:
        """That raking lamps show more cracks, where cracks are asked for and they were not."""
        asked = {r for r, _ in run.series.responses}
        more = stage is Stage.DRY and Lamp.DIFFUSE in have and not {Lamp.LEFT, Lamp.RIGHT} <= have | set(again.lamps_of(run))
        return words.LAMPS_SHOW_CRACKS if more and asked & CRACKS else ""

    def spoiled(self, run: Run, panel: Panel) -> Photo | None:
        """The photograph that came in last, where it is of little use as it is."""
        stage = self.stage(run, panel)
        mine = [p for p in run.photos if p.panel_id == panel.id and p.stage is stage and not p.left_out]
        return mine[-1] if mine and any(seen.sign in SPOILED for seen in mine[-1].quality) else None

    def next_to_take(self, run: Run, panel: Panel) -> Lamp:
        """The lamp of the next photograph: as chosen, that of a spoiled one again, else the first that is missing."""
        spoiled, missing = self.spoiled(run, panel), self.missing_lamps(run, panel)
        return self.lamp_by_hand or (spoiled.lamp if spoiled is not None else missing[0] if missing else Lamp.DIFFUSE)

    def _plain_view(self, run: Run, panel: Panel) -> ShootView:
        """What is shown whatever photograph is wanted."""
        camera = self.desk.camera
        source = words.NO_CAMERA
        if camera is not None:
            source = words.PLAYS_MADE_UP_PHOTOS(name=camera.name) if camera.practice else words.CAMERA_READY(name=camera.name)
        due, other = self.dues(run)
        return ShootView(
            code=panel.code,
            listed=tuple((p.id, p.code) for p in (due or other or _from(_one_of_each_sheet(run), panel))[:8]),
            list_head=words.PANELS_THAT_WANT_A_PHOTO if due else words.PANELS_OF_THIS_SERIES,
            camera=source,
            panel_words=words.size(units_of(self.desk).size_text(*run.sheet_mm(panel)), is_round=run.is_round(panel), measured=bool(panel.width_m)),
            planned_size=units_of(self.desk).size_text(*run.planned_mm(panel)),
            measured=bool(panel.width_m),
            round_face=run.is_round(panel),
            wants_three=len(again.lamps_of(run)) > 1,
        )

    def again(self, run: Run, panel: Panel) -> bool:
        """Whether this panel is being photographed again."""
        return self.desk.in_hand(again.IN_HAND) == panel.id and again.can(run, panel)

    def _again_view(self, run: Run, panel: Panel) -> ShootView:
        """A panel that is photographed again, to see what photographing alone changes."""
        stands, wanted = again.stands(run, panel), again.lamps_of(run)
        lamp = self.lamp_by_hand or stands.lamp
        photo = stands.newest or run.photo(panel, Lamp.DIFFUSE, Stage.DRY)
        done = wanted[: wanted.index(stands.lamp)]
        lamps = tuple((str(lp), "now" if lp is lamp else "taken" if lp in done else _later(lp, wanted)) for lp in LAMPS)
        sentence = words.enough(panel.code, stands.whole) if stands.enough else words.again(panel.code, stands.whole + 1, lamp, wanted[0])
        does = Next.READ if stands.enough else Next.BRING if self.desk.camera is None else Next.TAKE
        return replace(
            self._plain_view(run, panel), sentence=sentence, note=words.WHY, lamps=lamps, stage=str(Stage.DRY), photo=photo,
            fitness=tuple(fitness(seen) for seen in photo.quality) if photo is not None else (),
            one_key=words.next_key(does, lamp), does=does, again=True,
        )  # fmt: skip

    def photograph_again(self) -> None:
        """Photograph the panel in hand again beside the photograph that stands for it, or leave off."""
        run = self.desk.need_run()
        panel = self.panel(run)
        if panel is None or not again.can(run, panel):
            raise DribbetError(words.DRY_FIRST)
        self.desk.take("shoot", panel.id)
        self.desk.take(again.IN_HAND, "" if self.again(run, panel) else panel.id)
        self.lamp_by_hand = self.stage_by_hand = None
        self.desk.changed()

    def sides(self, typed: str) -> tuple[str, str]:
        """Words at the two sides of the panel in hand while its size is typed: the planned ones until something is."""
        run, units = self.desk.need_run(), units_of(self.desk)
        if not typed.strip():
            return words.sides(*(units.length_text(mm, 1 if units.length == "in" else 0) for mm in run.planned_mm(self._in_hand(run))))
        wide, high = (*units.sides(typed), "")[:2]
        return words.sides(wide, high)

    def take_size(self, typed: str) -> None:
        """Keep the size of the panel in hand as it was typed; nothing typed takes back what was measured."""
        run, units = self.desk.need_run(), units_of(self.desk)
        panel = self._in_hand(run)
        if not typed.strip():
            if panel.width_m:
                sizing.as_planned(self.desk, panel)
            return
        try:
            size = units.size_mm(typed)
        except ValueError:
            raise DribbetError(words.no_size(typed, units.size_text(*run.planned_mm(panel)))) from None
        sizing.measured(self.desk, panel, size)

    def _in_hand(self, run: Run) -> Panel:
        panel = self.panel(run)
        if panel is None:
            raise DribbetError(words.NO_PANEL_WANTS_A_PHOTO)
        return panel

    # ------------------------------------------------------------ work in a job

    def size_mm(self, panel: Panel) -> tuple[float, float]:
        """Size of the panel that a photo is of, whichever series is in hand."""
        return self.desk.load(panel.series_id).sheet_mm(panel)

    def is_round(self, panel: Panel) -> bool:
        """Whether it is a disc."""
        return self.desk.load(panel.series_id).is_round(panel)

    def laid(self, target: ShotAim) -> int:
        """How often the panel was laid before the camera before this photograph."""
        return again.laid(self.desk.load(target.panel.series_id), target.panel, target.stage, target.take)

    def inspect_file(self, path: Path, size_mm: tuple[float, float], report: Report, *, is_round: bool = False) -> Inspected:
        """Read a file from disk and look at it."""
        if path.suffix.lower() not in SUFFIXES:
            raise DribbetError(words.NO_PHOTO_FILE(name=path.name))
        try:
            data = path.read_bytes()
        except OSError:
            raise DribbetError(words.CANNOT_BE_READ(name=path.name)) from None
        return inspect(path, data, path.name, size_mm, report, is_round=is_round)

    # ------------------------------------------------------------ what a press does

    def target(self) -> ShotAim:
        """Where the next photo goes."""
        run = self.desk.need_run()
        panel = self.panel(run)
        if panel is None:
            raise DribbetError(words.NO_PANEL_WANTS_A_PHOTO)
        if self.again(run, panel):
            stands = again.stands(run, panel)
            return ShotAim(panel, Stage.DRY, self.lamp_by_hand or stands.lamp, stands.take)
        return ShotAim(panel, self.stage(run, panel), self.next_to_take(run, panel))

    def deal(self, paths: list[Path]) -> tuple[list[tuple[Path, ShotAim]], list[Path]]:
        """Which file goes where, and which are doubtful: those must be asked for.

        A panel's code in a file's name wins. One file without a code is of the panel in hand; so are several whose names tell
        only their lamps apart. All else is doubtful.
        """
        panels = self.desk.notebook.all(Panel)
        told = {path: codes_in(path.stem, panels) for path in paths}
        sure, doubtful = [], []
        run = self.desk.run()
        hand = self.panel(run) if run is not None else None
        lamps = [lamp_named(path.stem) for path in paths]
        nameless = not any(told.values())
        if nameless and run is not None and hand is not None and self.again(run, hand):
            return self._deal_again(run, hand, sorted(paths)), []
        of_one = nameless and hand is not None and (len(paths) == 1 or (None not in lamps and len(set(lamps)) == len(lamps)))
        for path in sorted(paths) if nameless else paths:
            codes = told[path]
            if len(codes) == 1:
                sure.append((path, self.aim(codes[0], path.stem)))
            elif of_one and hand is not None:
                lamp = lamp_named(path.stem)
                sure.append((path, self.target() if len(paths) == 1 and lamp is None else self.aim(hand, path.stem)))
            else:
                doubtful.append(path)
        return sure, doubtful

    def _deal_again(self, run: Run, panel: Panel, paths: list[Path]) -> list[tuple[Path, ShotAim]]:
        """Several files of a panel that is photographed again, in the order of their names: all lamps of a photograph, then those of the next."""
        stands, wanted = again.stands(run, panel), again.lamps_of(run)
        at = wanted.index(stands.lamp)
        return [
            (path, ShotAim(panel, Stage.DRY, wanted[(at + i) % len(wanted)], stands.take + (at + i) // len(wanted))) for i, path in enumerate(paths)
        ]

    def told(self, path: Path) -> list[str]:
        """Codes of the panels that a file's name tells."""
        return [p.code for p in codes_in(path.stem, self.desk.notebook.all(Panel))]

    def aim(self, panel: Panel, stem: str = "") -> ShotAim:
        """Panel, stage and lamp of a photo of this panel: what its name tells, else what is due."""
        run = self.desk.load(panel.series_id)
        stage = stage_named(stem, panel.code) or self.stage(run, panel)
        return ShotAim(panel, stage, lamp_named(stem) or Lamp.DIFFUSE)

    def suggestions(self) -> list[Panel]:
        """Panels that a doubtful photo may be of: those that want one first, in pouring order."""
        run = self.desk.need_run()
        due, other = self.dues(run)
        rest = [p for p in run.in_order() if p not in due and p not in other]
        found = [*due, *other, *rest]
        if not found:
            raise DribbetError(words.NO_PANEL_WANTS_A_PHOTO)
        return found

    def keep(self, found: Inspected, target: ShotAim) -> Photo:
        """Store an inspected photo for a panel; the same original twice is refused for the same panel."""
        panel, stage, lamp, take = target
        book = self.desk.notebook
        run = self.desk.load(panel.series_id)  # the series in hand may have changed while the photo was looked at
        pieces = run.together(panel)
        digest = hashlib.sha256(found.data).hexdigest()
        known = [p for p in book.all(Photo, sha256=digest) if not p.left_out]
        if known:
            other = next((p for p in book.all(Panel) if p.id == known[0].panel_id), None)
            raise DribbetError(words.IN_NOTEBOOK_ALREADY(name=found.name, where=f", at {other.code}" if other else ""))
        shared = {p.id for p in pieces}
        known_ones = run.again if take else run.photos
        old = [p for p in known_ones if p.panel_id in shared and (p.stage, p.lamp, p.take) == (stage, lamp, take) and not p.left_out]
        photo = Photo(
            id=new_id(), panel_id=panel.id, sha256=digest, suffix=found.suffix, name=found.name, stage=stage, lamp=lamp,
            width_px=found.looks.width_px, height_px=found.looks.height_px, taken_at=found.looks.taken_at, added_at=self.desk.now(),
            corners_px=found.looks.corners_px, quality=found.looks.seen, take=take,
        )  # fmt: skip
        with book.transaction():
            book.photos.keep(found.data, found.suffix)
            book.replace(*[replace(p, left_out=True) for p in old])
            if old:
                left_out.reopen(self.desk, panel.series_id)
            book.add(photo, *[replace(photo, id=new_id(), panel_id=p.id) for p in pieces if p.id != panel.id])
        self.lamp_by_hand = None
        self.stage_by_hand = None
        if panel.series_id == self.desk.series_id:
            self.desk.take("shoot", panel.id)
        self.desk.changed()
        return photo

    def next_panel(self) -> None:
        run = self.desk.need_run()
        now = self.panel(run)
        due, other = self.dues(run)
        rest = [
            p
            for p in due or other or _from(_one_of_each_sheet(run), now or run.panels[0])
            if now is None or (p.id != now.id and not (p.sheet and p.sheet == now.sheet))
        ]
        self.desk.take("shoot", rest[0].id if rest else "")
        if now is not None and rest and self.again(run, now):  # whoever photographs panels again goes on doing so
            self.desk.take(again.IN_HAND, rest[0].id)
        self.lamp_by_hand = None
        self.desk.changed()

    def choose(self, panel_id: str) -> None:
        self.desk.take("shoot", panel_id)
        self.lamp_by_hand = None
        self.desk.changed()

    def next_lamp(self) -> None:
        run = self.desk.need_run()
        now = self.lamp_by_hand or self.target()[2]
        self.lamp_by_hand = LAMPS[(LAMPS.index(now) + 1) % 3]
        assert run is not None
        self.desk.changed()

    def next_stage(self) -> None:
        run = self.desk.need_run()
        panel = self.panel(run)
        if panel is not None:
            now = self.stage(run, panel)
            asked = {*list(Stage)[:5], *photo_stages(run.series), now}
            stages = [s for s in Stage if s in asked]
            self.stage_by_hand = stages[(stages.index(now) + 1) % len(stages)]
            self.desk.changed()

    def leave_out(self) -> None:
        """Leave the photo shown out; the file stays."""
        view = self.view()
        if view.photo is None:
            raise DribbetError(words.NO_PHOTO_TO_LEAVE_OUT)
        run = self.desk.need_run()
        same = [p for p in (*run.photos, *run.again) if p.sha256 == view.photo.sha256 and not p.left_out]  # of every piece that shares the panel
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(*[replace(p, left_out=True) for p in same])
            left_out.reopen(self.desk, run.series.id)
        self.desk.changed()

    def move_corners(self, corners: list[tuple[float, float]]) -> None:
        """Corners dragged by hand."""
        from dribbet.sight.geometry import check_corners

        view = self.view()
        if view.photo is None:
            return
        check_corners(np.array(corners), view.photo.width_px, view.photo.height_px)
        rounded = tuple((round(x, 2), round(y, 2)) for x, y in corners)
        run = self.desk.need_run()
        panel = next(p for p in run.panels if p.id == view.photo.panel_id)
        shared = {p.id for p in run.together(panel)}
        same = [p for p in (*run.photos, *run.again) if p.sha256 == view.photo.sha256 and p.panel_id in shared and not p.left_out]
        moved = (*(q for q in view.photo.quality if q.sign not in OF_CORNERS), Seen(sign=Sign.CORNERS_BY_HAND))
        with self.desk.notebook.transaction():
            self.desk.notebook.replace(*[replace(p, corners_px=rounded, quality=moved) for p in same])
            if any(r.photo_id == p.id for r in (*run.readings, *run.read_again) for p in same):  # what was read with other corners no longer counts
                left_out.reopen(self.desk, run.series.id)
        self.desk.changed()


def _later(lamp: Lamp, wanted: Sequence[Lamp]) -> str:
    return "later" if lamp in wanted else "-"


def _one_of_each_sheet(run: Run) -> list[Panel]:
    """Panels in pouring order; of pieces that share one, the first: one photograph serves them all."""
    drawn = run.in_order() if run.series.seed is not None else []
    return list({p.sheet or p.id: p for p in reversed(drawn)}.values())[::-1]


def _from(panels: list[Panel], first: Panel) -> list[Panel]:
    """The same, this one before the others and what follows it after: so that all come into view one by one."""
    at = next((i for i, p in enumerate(panels) if p.id == first.id or (p.sheet and p.sheet == first.sheet)), 0)
    return panels[at:] + panels[:at]


def codes_in(stem: str, panels: Sequence[Panel]) -> list[Panel]:
    """Panels whose codes stand in a file's name, such as K3-a1 in 'K3-a1 dry left' or k3_a1; the longest code at a place counts."""
    text = re.sub(r"[\s_.]+", "-", stem.lower())
    found: dict[int, Panel] = {}
    for panel in sorted(panels, key=lambda p: -len(p.code)):
        for hit in re.finditer(rf"(?<![a-z0-9]){re.escape(panel.code.lower())}(?![a-z0-9])", text):
            if not any(at <= hit.start() < at + len(p.code) for at, p in found.items()):
                found[hit.start()] = panel
    return list({p.id: p for p in found.values()}.values())


def stage_named(stem: str, code: str) -> Stage | None:
    """Stage that a file's name tells, such as wet, 24 h or cured; None where it tells none or several."""
    text = re.sub(r"[\s_.-]+", " ", stem.lower().replace(code.lower(), " "))
    words = {"wet": Stage.WET, "dry": Stage.DRY, "cured": Stage.CURED}
    found = {stage for word, stage in words.items() if word in text.split()}
    found |= {stage for stage in (Stage.H12, Stage.H24, Stage.H48, Stage.D7) if re.search(rf"\b{str(stage).replace(' ', ' ?')}\b", text)}
    return found.pop() if len(found) == 1 else None


def lamp_named(stem: str) -> Lamp | None:
    """Lamp that a file's name tells, such as panel_left or K3-a1-dry-right; None where it tells none or several."""
    parts = set(re.split(r"[^a-z]+", stem.lower()))
    told = [lamp for lamp in Lamp if str(lamp) in parts]
    return told[0] if len(told) == 1 else None


def inspect(path: Path | None, data: bytes, name: str, size_mm: tuple[float, float], report: Report, *, is_round: bool = False) -> Inspected:
    """Look at a photo: upright size, corners, fitness (in a job)."""
    suffix = PurePath(name).suffix.lower()
    return Inspected(data, name, suffix, apart_told(report, look_at, path if path is not None else data, suffix, size_mm, is_round=is_round))


def glare_at(photo: Photo | None) -> tuple[float, float] | None:
    """Where the glare lies on the panel, as shares; None where there is none."""
    for seen in photo.quality if photo else ():
        if seen.sign is Sign.GLARE:
            return seen.figures[1], seen.figures[2]
    return None
