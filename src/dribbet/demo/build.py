"""Builds the demo notebook from the story, and draws its photographs."""

from __future__ import annotations

import gzip
import io
import json
import shutil
import zlib
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from dribbet.demo.painter import Pour
from dribbet.demo.story import CHAPTERS, ENTERED, SHELF, Chapter, pour_of
from dribbet.devices import Lapse
from dribbet.lab.cup import composition
from dribbet.lab.panel import drying, pouring
from dribbet.lab.plan import design, planning
from dribbet.notebook.store import Notebook, new_id, open_notebook
from dribbet.records import (
    NO_HEX,
    Bottle,
    BottleKind,
    BottleWeighing,
    Check,
    CheckKind,
    Feel,
    Gauging,
    GaugingKind,
    Lamp,
    Look,
    Mishap,
    MishapKind,
    Outline,
    Panel,
    PanelWeighing,
    PanelWeight,
    Photo,
    Reading,
    Report,
    Seen,
    Series,
    SeriesState,
    Sheen,
    Sign,
    Stage,
    StepMark,
    Survey,
    Weighing,
    silent,
)
from dribbet.studio.acts import deciding
from dribbet.studio.desk import Desk

if TYPE_CHECKING:
    from collections.abc import Iterator

    from dribbet.demo.painter import Drawn
    from dribbet.lab.plan.arm import Arm

PHOTOS: Final = Path(__file__).parent / "photos"
PHOTO_PX: Final = (2000, 1500)
TABLES: Final = ("#8C8C88", "#6E6C68", "#A9A59B")


ANEW: Final = 303
"""Between the seeds of a panel's photographs: it lies otherwise in another light, on the same table."""
READINGS_NAME: Final = "readings.json.gz"


def pack_readings(readings: dict[str, Any]) -> bytes:
    """Readings as the demo ships them; the same bytes for the same readings."""
    return gzip.compress(json.dumps(readings, separators=(",", ":"), ensure_ascii=False).encode(), mtime=0)


def shipped_readings() -> dict[str, Any]:
    """What the reader found on the shipped photographs, by panel code."""
    content: dict[str, Any] = json.loads(gzip.decompress((PHOTOS.parent / READINGS_NAME).read_bytes()))
    return content


@dataclass(frozen=True, kw_only=True)
class DrawnShot:
    """A panel's photographs as files: lamp to file name."""

    key: str
    width_mm: float
    height_mm: float
    files: dict[str, str]
    pour: Pour


def _panels(chapter: Chapter) -> tuple[Series, list[Panel]]:
    series = Series(
        id=chapter.code.lower(), code=chapter.code, name=chapter.name, varied=chapter.varied, repeats=chapter.repeats,
        layout=chapter.layout, equal=chapter.equal, protocol=chapter.protocol,
        responses=chapter.responses, constants=chapter.constants, layers=chapter.layers, prediction=chapter.prediction,
        seed=chapter.seed, state=chapter.state, created_at=datetime.now(UTC),
    )  # fmt: skip
    panels = [replace(p, id=p.code.lower()) for p in design.panels(series, new_id)]
    return series, panels


def _poured(chapter: Chapter, panels: list[Panel]) -> list[Panel]:
    return [p for p in sorted(panels, key=lambda p: p.place) if p.place <= chapter.poured]


def jpeg(picture: Any, quality: int = 84) -> bytes:
    """RGB picture as JPEG bytes."""
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(picture).save(out, "JPEG", quality=quality, subsampling=2, optimize=True)
    return out.getvalue()


def shoot_panel(pour: Any, lamp: str, lapse: Lapse, *, seed: int, is_round: bool = False, is_wet: bool = False) -> bytes:
    """Draw a panel and photograph it, with the lapse that the practice camera asks for."""
    from dribbet.demo.camera import Shot, photograph
    from dribbet.demo.wet import wet

    shot = Shot(
        seed=seed, width_px=PHOTO_PX[0], height_px=PHOTO_PX[1], table=TABLES[seed % len(TABLES)], texture=0.25, noise=0.005,
        exposure_ev=0.05 + 0.1 * ((seed % 7) / 7 - 0.5), card=lapse is not Lapse.NO_CARD, glare=1.6 if lapse is Lapse.GLARE else 0.0,
        blur_px=3.2 if lapse is Lapse.BLUR else 0.6, fill=1.0, gradient=0.06,
    )  # fmt: skip
    panel = wet(_drawn(replace(pour, crack_mm=0.0))) if is_wet else _drawn(pour)
    picture, _ = photograph(panel, shot, lamp, is_round=is_round)
    return jpeg(picture)


@lru_cache(maxsize=1)
def _drawn(pour: Pour) -> Drawn:
    """The panel that lies there: under the next lamp it is the same one, and drawing it takes as long as photographing it."""
    from dribbet.demo.painter import draw_panel

    drawn = draw_panel(pour)
    for part in (drawn.linear, drawn.cells, drawn.cracks, drawn.spread, drawn.lacing, drawn.mica):
        part.flags.writeable = False
    return drawn


def planned_shots(report: Report = silent) -> Iterator[DrawnShot]:
    """Name the photographs of the story, one panel after the other."""
    todo = [(chapter, panel) for chapter in CHAPTERS for panel in _poured(chapter, _panels(chapter)[1])]
    for done, (chapter, panel) in enumerate(todo):
        report(done, len(todo))
        pour = pour_of(chapter, panel.code, panel.level, panel.settings[-1] if len(panel.settings) > 1 else 0, panel.place)
        files = {lamp: f"{panel.code}-{chapter.photo_stage}-{lamp}.jpg" for lamp in chapter.lamps}
        yield DrawnShot(key=panel.code, width_mm=pour.width_mm, height_mm=pour.height_mm, files=files, pour=pour)


def draw_photos(outdir: Path, report: Report = silent) -> Iterator[DrawnShot]:
    """Draw every photograph of the story into a folder, one panel after the other."""
    for shot in planned_shots(report):
        for lamp, name in shot.files.items():
            (outdir / name).write_bytes(shoot_panel(shot.pour, lamp, Lapse.NONE, seed=zlib.crc32(shot.key.encode()) % 9973))
        yield shot


def practice_photo(series: Series, panel: Panel, lamp: Lamp, lapse: Lapse, laid: int = 0, stage: Stage = Stage.DRY) -> bytes:
    """What the practice camera sees when this panel of any series lies before it; `laid` is how often it was taken up and laid down anew."""
    name = f"{panel.code}-dry-{lamp}.jpg"
    if lapse is Lapse.NONE and not laid and stage is not Stage.WET and (PHOTOS / name).exists():
        return (PHOTOS / name).read_bytes()
    shown = (PHOTOS / f"{panel.code}-dry-{Lamp.DIFFUSE}.jpg").exists()  # under a lamp that the story did not light it is the same panel
    told = next((shot.pour for shot in planned_shots() if shot.key == panel.code), None) if shown else None
    seed = zlib.crc32(panel.code.encode()) % 9973 + ANEW * laid
    arm = next(a for a in design.arms(series) if a.letter == panel.recipe)
    pour = told or _made_up_pour(series, panel)
    return shoot_panel(pour, lamp, lapse, seed=seed, is_round=arm.held.outline is Outline.ROUND, is_wet=stage is Stage.WET)


GLUE_SLOPE: Final = 0.02
GLUE_PITS: Final = 12.0
"""For a whole cup of glue, which dries pocked and uneven in the made-up studio."""


def _made_up_pour(series: Series, panel: Panel) -> Pour:
    """A panel that no story tells of, as its recipe would have it."""
    hexes = {m.name: m.hex for m in SHELF}
    colours: dict[str, float] = {}
    for layer in series.layers:
        colours[layer.material] = colours.get(layer.material, 0.0) + layer.share
    arm = next(a for a in design.arms(series) if a.letter == panel.recipe)
    rng = np.random.default_rng(zlib.crc32(panel.code.encode()))
    glue = arm.parts.get("glue", 0.0)
    risk = drying.crack_risk(wet_film_m=arm.film_m, water_share=arm.water_share, evaporation_kg_m2_s=6e-5, silicone_drops=arm.silicone_drops_per_100g)
    return Pour(
        width_mm=series.constants.panel_width_m * 1e3, height_mm=series.constants.panel_height_m * 1e3,
        palette=tuple(hexes.get(c, NO_HEX) for c in colours), shares=tuple(colours.values()), seed=int(rng.integers(1 << 30)),
        cells_per_dm2=12.0 + 14.0 * arm.silicone_drops_per_100g, ring_share=0.7, rim_lines=0.25, clumping=0.35,
        crack_mm=float(rng.exponential(160.0 * risk)) if rng.random() < 2.0 * risk else 0.0, base="#D2CCBC",
        slope=0.002 + GLUE_SLOPE * glue, pits=int(rng.poisson(0.3 + GLUE_PITS * glue)), bumps=int(rng.poisson(0.4)),
        rough_deg=_grain_deg(arm) * float(np.exp(rng.normal(0.0, GRAIN_LUCK))),
    )  # fmt: skip


GRAINS_DEG: Final = {Sheen.GLOSS: 0.3, Sheen.SATIN: 1.5, Sheen.MATTE: 6.0}
"""Slopes of the grain of a dried film, by what its containers say of themselves."""
COATED_DEG: Final = 0.25
GRAIN_LUCK: Final = 0.12


def _grain_deg(arm: Arm) -> float:
    """Grain of a panel's surface: of what is in its cup by shares, or of the coat that lies over it."""
    if arm.held.after in ("varnish", "resin"):
        return COATED_DEG
    sheens = {m.name: m.sheen for m in SHELF}
    shares = [(share, sheens.get(name)) for name, share in arm.parts.items() if name in sheens]
    shares += [(arm.paint_share * layer.share, sheens.get(layer.material)) for layer in arm.layers]
    told = [(share, np.log(GRAINS_DEG[sheen])) for share, sheen in shares if sheen in GRAINS_DEG]
    whole = sum(share for share, _ in told)
    return float(np.exp(sum(share * grain for share, grain in told) / whole)) if whole > 0.0 else GRAINS_DEG[Sheen.SATIN]


# ---------------------------------------------------------------- the notebook


def build_notebook(folder: Path, now: datetime | None = None) -> None:
    """Write the demo notebook into a folder, with every time relative to `now`; a notebook already there is left alone."""
    if (folder / "notebook.sqlite3").exists():
        return
    now = now or datetime.now().astimezone()
    fresh = folder.with_name(f".{folder.name}.building")
    shutil.rmtree(fresh, ignore_errors=True)
    folder.parent.mkdir(parents=True, exist_ok=True)
    notebook = open_notebook(fresh, create=True)
    try:
        readings = shipped_readings()
        with notebook.transaction():
            notebook.add(*SHELF)
            happened: list[Any] = []
            for chapter in CHAPTERS:
                _write(notebook, chapter, now, readings, happened)
            notebook.add(*sorted(happened, key=lambda h: h.at))  # in the order in which a studio would have told it
            _stock(notebook, now)
            notebook.put_setting("studio", "Tidewrack Studio")
            for what, there_are in ENTERED.items():
                notebook.put_setting(what, there_are)
        desk = Desk(notebook, lambda: now)
        for chapter in CHAPTERS:
            if chapter.state is SeriesState.DECIDED:
                desk.choose_series(chapter.code.lower())
                deciding.close(desk)
        notebook.put_setting("last_series", "k3")
    finally:
        notebook.close()
    if folder.exists():
        shutil.rmtree(folder)
    fresh.rename(folder)


def _stock(notebook: Notebook, now: datetime) -> None:
    """What was measured of the shelf, a new lot that waits to be, and two bottles."""
    known = {m.name: m for m in SHELF}

    def gauged(name: str, kind: GaugingKind, value: float, readings: tuple[float, ...], days: float, **more: Any) -> Gauging:
        m = known[name]
        return Gauging(
            id=new_id(), material_id=m.id, kind=kind, value=value, readings=readings, at=now - timedelta(days=days), lot=m.lot, **more
        )  # fmt: skip

    began = now - timedelta(days=43, minutes=30)
    colours = ("foam", "channel teal", "kelp green", "wet slate", "wrack ochre")
    notebook.add(Survey(id=new_id(), name=f"Pre-test of {began:%-d %B}", materials=colours, at=began, finished=True))
    for name in (*colours, "dulse red", "brass"):
        full = known[name].density_kg_m3 * 10e-6
        weights = (10.6e-3, 10.6e-3 + full * 0.999, 10.6e-3 + full * 1.001)
        notebook.add(gauged(name, GaugingKind.DENSITY, known[name].density_kg_m3, weights, 43))
    for name, across in (("foam", 0.071), ("channel teal", 0.060), ("wrack ochre", 0.034)):
        notebook.add(gauged(name, GaugingKind.BODY, across, (across - 0.001, across + 0.001), 43, sample_kg=5e-3, seconds=60.0))
    notebook.add(gauged("belt silicone", GaugingKind.DROP, 0.029e-3, (0.58e-3,), 31, count=20))
    notebook.replace(replace(known["dulse red"], lot="24-09", lot_since=now - timedelta(days=2), opened_at=now - timedelta(days=2)))
    notebook.replace(replace(known["harbour glue"], made_at=now - timedelta(days=12)))
    notebook.replace(replace(known["conditioner"], strained_at=now - timedelta(days=4), opened_at=now - timedelta(days=44)))
    teal = (("channel teal", 0.28), ("conditioner", 0.56), ("water", 0.16))
    scraped = (
        ("foam", 0.13),
        ("dulse red", 0.11),
        ("wet slate", 0.05),
        ("brass", 0.04),
        ("conditioner", 0.558),
        ("water", 0.11),
        ("belt silicone", 0.002),
    )
    notebook.add(
        Bottle(
            id=new_id(), code="A10", name="channel teal, 16 % water", kind=BottleKind.MIX, contents=teal, stored_at=now - timedelta(days=38),
            stored_kg=0.1621, empty_kg=0.0318, hex="#0F6A7A", series_id="k2", grade=3.0,
        ),
        Bottle(
            id=new_id(), code="A11", name="leftover of D1-b and D1-c", kind=BottleKind.LEFTOVER, contents=scraped, stored_at=now - timedelta(days=27),
            stored_kg=0.0942, empty_kg=0.0318, hex="#8C8C8C", silicone=True, series_id="d1",
        ),
    )  # fmt: skip
    first = next(b for b in notebook.all(Bottle) if b.code == "A10")
    notebook.add(BottleWeighing(id=new_id(), bottle_id=first.id, mass_kg=0.1580, at=now - timedelta(days=1)))


def _write(notebook: Notebook, chapter: Chapter, now: datetime, readings: dict[str, Any], happened: list[Any]) -> None:
    """Write a chapter's series, panels and cups; what happened to them is added to `happened`."""
    rng = np.random.default_rng(zlib.crc32(chapter.code.encode()))
    series, panels = _panels(chapter)
    begun = now + timedelta(days=chapter.begun_days)
    first_pour = begun + timedelta(hours=4)
    prediction = series.prediction
    if prediction is not None and chapter.poured:
        prediction = replace(prediction, locked_at=first_pour)
    notebook.add(replace(series, created_at=begun, prediction=prediction))
    if series.seed is None:  # a question still being planned
        return
    notebook.add(*[replace(p, spoiled=chapter.spoiled.get(p.code, "")) for p in panels])
    mixes = planning.mixes(series, new_id)
    at = begun + timedelta(minutes=20)
    runs = (0.066, 0.041, 0.064, 0.070, 0.061, 0.065)
    for i, mix in enumerate(mixes):
        done = i < chapter.mixed
        notebook.add(replace(mix, done=done))
        if i > chapter.mixed:
            continue
        for j, (name, mass) in enumerate(mix.plan):
            if not done and j == len(mix.plan) - 1:
                mass = mass + 0.9e-3  # the overshoot that the demo's Mix page mends
            at += timedelta(seconds=50)
            actual = round((mass + (rng.normal(0, 0.08e-3) if done else 0.0)) * 1e4) / 1e4
            happened.append(Weighing(id=new_id(), mix_id=mix.id, ingredient=name, mass_kg=max(actual, 0.0), at=at, source="practice scale"))
        if done and mix.drops:
            at += timedelta(seconds=40)
            kg = mix.drops * series.constants.drop_kg
            dropped = [(mix.drop_material, kg * mix.drop_share, mix.drops, "counted")]
            if mix.drop_share < 1.0:
                dropped.append((series.constants.medium, kg * (1.0 - mix.drop_share), 0, "in the drops"))
            for name, mass, drops, source in dropped:
                happened.append(
                    Weighing(id=new_id(), mix_id=mix.id, ingredient=name, mass_kg=round(mass, 6), at=at, source=source, drops=drops)
                )  # fmt: skip
        if done and (chapter.poured or i < 5):
            run = runs[i % 6] if chapter.code == "K4" else 0.064 + rng.normal(0, 0.003)
            happened.append(Check(id=new_id(), mix_id=mix.id, kind=CheckKind.DRIP, value=round(run, 4), at=at + timedelta(minutes=5), source="typed"))
            for _ in range(3 if i < 4 else 1):
                mound = 2.0 + rng.normal(0, 0.25) + (1.6 if mix.colour == "channel teal" and chapter.code == "K4" else 0.0)
                happened.append(
                    Check(id=new_id(), mix_id=mix.id, kind=CheckKind.MOUND, value=round(max(mound, 0.4), 1), at=at + timedelta(minutes=6))
                )
    recipes = {a.letter: a for a in design.arms(series)}
    gap_h = 5.6 if chapter.code == "K3" else 0.3
    for number, panel in enumerate(_poured(chapter, panels)):
        poured_at = first_pour + timedelta(hours=gap_h * (number // 2) + 0.25 * (number % 2))
        _pour(happened, series, recipes[panel.recipe], panel, poured_at, rng, weighed=True)
        _dry(happened, panel, poured_at, now, chapter, number)
        stage = Stage(chapter.photo_stage)
        taken = poured_at + timedelta(hours=0.4 if stage is Stage.WET else 110)
        if taken < now:
            _photos(notebook, chapter, panel, stage, taken, number, readings, happened)
    if chapter.poured and chapter.poured < len(panels):  # the next panel stands bare on the bench
        nxt = next(p for p in sorted(panels, key=lambda p: p.place) if p.place == chapter.poured + 1)
        happened.append(PanelWeighing(id=new_id(), panel_id=nxt.id, kind=PanelWeight.BARE, mass_kg=0.2146, at=now - timedelta(minutes=9)))


def _pour(happened: list[Any], series: Series, arm: design.Arm, panel: Panel, at: datetime, rng: np.random.Generator, *, weighed: bool) -> None:
    held = series.constants
    bare = 0.2146 + rng.normal(0, 0.003)
    area = held.panel_width_m * held.panel_height_m
    film = arm.film_m * (1.0 + rng.normal(0, 0.05))
    left = film * area * composition.density_kg_m3(composition.of_cup(series, arm), SHELF)
    plan = pouring.steps(arm.held, alcohol_share=arm.alcohol_share)
    moment = at - timedelta(minutes=4)
    for step, planned in plan:
        happened.append(StepMark(id=new_id(), panel_id=panel.id, step=step, planned_s=planned, at=moment))
        moment += timedelta(seconds=planned * float(rng.uniform(0.9, 1.2)) + 2)
    happened.append(PanelWeighing(id=new_id(), panel_id=panel.id, kind=PanelWeight.BARE, mass_kg=round(bare, 4), at=at - timedelta(minutes=8)))
    if weighed:
        happened.append(PanelWeighing(id=new_id(), panel_id=panel.id, kind=PanelWeight.POURED, mass_kg=round(bare + left, 4), at=at))
    if panel.code == "B2-b3":
        happened.append(Mishap(id=new_id(), panel_id=panel.id, kind=MishapKind.CUP_SLIPPED, at=at, x_share=0.3, y_share=0.6))
    if panel.code == "K2-b1":
        happened.append(Mishap(id=new_id(), panel_id=panel.id, kind=MishapKind.DUST, at=at, x_share=0.8, y_share=0.2))


def _dry(happened: list[Any], panel: Panel, poured_at: datetime, now: datetime, chapter: Chapter, number: int) -> None:
    feels = (None, Feel.MARKS, Feel.TACKY, Feel.FIRM, Feel.HARD)
    late_crack = chapter.code == "K2" and panel.code == "K2-b2"
    for i, (name, hours) in enumerate(drying.LOOKS_H):
        due = poured_at + timedelta(hours=hours)
        if due > now - timedelta(minutes=70):
            break
        cracked = chapter.code == "K2" and panel.level == 1 and (i >= 3 if late_crack else i >= 2)
        cracked = cracked or (chapter.code == "K3" and panel.level == 2 and i >= 2)
        happened.append(
            Look(id=new_id(), panel_id=panel.id, due=name, at=due + timedelta(minutes=7 + 5 * (number % 4)), feel=feels[i], cracked=cracked)
        )


def _photos(
    notebook: Notebook, chapter: Chapter, panel: Panel, stage: Stage, at: datetime, number: int, readings: dict[str, Any], happened: list[Any]
) -> None:
    shown = readings.get(panel.code)
    main = ""
    for lamp in chapter.lamps:
        path = PHOTOS / f"{panel.code}-{stage}-{lamp}.jpg"
        if not path.exists():
            return
        digest = notebook.photos.keep(path.read_bytes(), ".jpg")
        corners = tuple((x, y) for x, y in shown["result"]["panel"]["corners_px"]) if shown else ()
        photo = Photo(
            id=new_id(), panel_id=panel.id, sha256=digest, suffix=".jpg", name=path.name, stage=stage, lamp=Lamp(lamp), width_px=PHOTO_PX[0],
            height_px=PHOTO_PX[1], taken_at=at, added_at=at + timedelta(minutes=2), corners_px=corners,
            quality=tuple(Seen(sign=Sign(s["sign"]), figures=tuple(s["figures"])) for s in shown["quality"][lamp]) if shown else (),
        )  # fmt: skip
        happened.append(photo)
        main = photo.id if lamp == "diffuse" else main
    if shown and main and number < chapter.read:
        happened.append(
            Reading(
                id=new_id(),
                panel_id=panel.id,
                photo_id=main,
                stage=stage,
                reader=shown["reader"],
                at=at + timedelta(minutes=5),
                result=shown["result"],
            )
        )
