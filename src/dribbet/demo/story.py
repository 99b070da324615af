"""The story of Tidewrack Studio as data: its shelf, its questions, and how each panel turned out. All of it made up."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, Final

from dribbet.demo.painter import Pour
from dribbet.records import (
    Constants,
    DropsBy,
    Equal,
    Factor,
    Form,
    Grade,
    Hazard,
    Judging,
    Kind,
    Layer,
    Layout,
    Level,
    Material,
    Opacity,
    Pack,
    Prediction,
    Response,
    SeriesState,
    Sheen,
    Varied,
    Wanted,
)

STUDIO: Final = "Tidewrack Studio"
ENTERED: Final = {"have_panels": 16, "rack_slots": 20, "sitting_h": 4.0}
"""What the studio said of its panels, its rack and its days."""


def _paint(name: str, hex_: str, density: float, opacity: Opacity, stock: float, kind: Kind = Kind.PAINT, **more: Any) -> Material:
    plain: dict[str, Any] = {
        "full_kg": 1.0 if stock > 0.5 else 0.5, "price_per_kg": 28.0, "lot": "24-03", "grade": Grade.STUDENT, "form": Form.FLOW, "sheen": Sheen.SATIN,
    }  # fmt: skip
    return Material(
        id=name.replace(" ", "-"), name=name, kind=kind, hex=hex_, density_kg_m3=density, volume_solids=0.40, opacity=opacity, stock_kg=stock,
        **(plain | more),
    )  # fmt: skip


SHELF: Final = (
    _paint("foam", "#ECE8DC", 1350.0, Opacity.OPAQUE, 0.78, sheen=Sheen.MATTE, grade=Grade.CRAFT, form=Form.READY),
    _paint("channel teal", "#0F6A7A", 1090.0, Opacity.SEMI, 0.41),
    _paint("kelp green", "#4C7A3A", 1170.0, Opacity.OPAQUE, 0.37),
    _paint("wet slate", "#1F262A", 1080.0, Opacity.OPAQUE, 0.44),
    _paint("wrack ochre", "#C9902B", 1290.0, Opacity.OPAQUE, 0.22, grade=Grade.ARTIST, form=Form.TUBE),
    _paint("dulse red", "#9C2F3C", 1100.0, Opacity.SEMI, 0.30),
    _paint("brass", "#A8874A", 1210.0, Opacity.SEMI, 0.12, Kind.SHIMMER, sheen=Sheen.GLOSS, smallest_share=0.08),
    _paint("interference gull", "#CDD3E0", 1080.0, Opacity.TRANSPARENT, 0.16, Kind.SHIMMER, sheen=Sheen.GLOSS, form=Form.READY),
    Material(
        id="conditioner", name="conditioner", kind=Kind.MEDIUM, hex="#E3DFD3", density_kg_m3=1025.0, volume_solids=0.15,
        opacity=Opacity.TRANSPARENT, stock_kg=1.9, full_kg=2.5, price_per_kg=14.0, lot="A7", sheen=Sheen.SATIN, variant="ferry-line stores",
        packs=(Pack(content_kg=1.0, price=18.0), Pack(content_kg=2.5, price=31.0, delivery=4.0)),
    ),
    Material(
        id="glue", name="glue", kind=Kind.MEDIUM, hex="#EFECE2", density_kg_m3=1080.0, volume_solids=0.47,
        opacity=Opacity.TRANSPARENT, stock_kg=0.9, full_kg=1.0, price_per_kg=7.0, sheen=Sheen.GLOSS,
    ),
    Material(
        id="iridescent-medium", name="iridescent medium", kind=Kind.MEDIUM, hex="#DADDE2", density_kg_m3=1060.0, volume_solids=0.35,
        opacity=Opacity.TRANSPARENT, stock_kg=0.34, full_kg=0.5, price_per_kg=46.0, sheen=Sheen.GLOSS, smallest_share=0.33,
    ),
    Material(
        id="water", name="water", kind=Kind.THINNER, hex="#FFFFFF", density_kg_m3=998.0, volume_solids=0.0, opacity=Opacity.TRANSPARENT,
        stock_kg=5.0, full_kg=5.0,
    ),
    Material(
        id="alcohol", name="alcohol", kind=Kind.THINNER, hex="#FFFFFF", density_kg_m3=810.0, volume_solids=0.0, opacity=Opacity.TRANSPARENT,
        alcohol_share=0.91, hazards=(Hazard.FLAMMABLE, Hazard.FUMES), stock_kg=0.6, full_kg=0.8, price_per_kg=9.0,
    ),
    Material(
        id="belt-silicone", name="belt silicone", kind=Kind.ADDITIVE, hex="#F4F4F0", density_kg_m3=968.0, volume_solids=1.0,
        opacity=Opacity.TRANSPARENT, drop_kg=0.029e-3, wash_off=True, hazards=(Hazard.SLIPPERY,), stock_kg=0.09, full_kg=0.1, price_per_kg=120.0,
    ),
    Material(
        id="anti-craze-additive", name="anti-craze additive", kind=Kind.ADDITIVE, hex="#F2F0EA", density_kg_m3=1030.0, volume_solids=0.4,
        opacity=Opacity.TRANSPARENT, stock_kg=0.21, full_kg=0.25, price_per_kg=52.0,
    ),
    *(
        Material(
            id=f"deck-{sheen}", name=f"deck {sheen}", kind=Kind.BASE, hex="#F3F1EB", density_kg_m3=density, volume_solids=0.36, grade=Grade.HOUSE,
            form=Form.READY, sheen=sheen, stock_kg=stock, full_kg=2.5, price_per_kg=11.0, lot="C2",
        )
        for sheen, density, stock in ((Sheen.MATTE, 1340.0, 1.7), (Sheen.SATIN, 1290.0, 2.1), (Sheen.GLOSS, 1240.0, 1.2))
    ),
    Material(
        id="harbour-glue", name="harbour glue", kind=Kind.HOUSE_MIX, hex="#EFECE2", density_kg_m3=1051.2, volume_solids=0.303,
        opacity=Opacity.TRANSPARENT, stock_kg=0.31, full_kg=0.6, made_of=(("glue", 0.4), ("water", 0.2)),
    ),
)  # fmt: skip
HEX: Final = {m.name: m.hex for m in SHELF}
KELP_CUP: Final = (
    Layer(material="foam", share=0.34),
    Layer(material="channel teal", share=0.22),
    Layer(material="kelp green", share=0.18),
    Layer(material="wet slate", share=0.08),
    Layer(material="wrack ochre", share=0.06),
    Layer(material="foam", share=0.12),
)
DULSE_CUP: Final = (
    Layer(material="foam", share=0.40),
    Layer(material="dulse red", share=0.34),
    Layer(material="wet slate", share=0.14),
    Layer(material="brass", share=0.12),
)
HAAR_CUP: Final = (
    Layer(material="wet slate", share=0.45),
    Layer(material="interference gull", share=0.35),
    Layer(material="channel teal", share=0.20),
)


@dataclass(frozen=True, kw_only=True)
class Chapter:
    """One series of the story. Times are days before the story's now, negative in the past."""

    code: str
    name: str
    varied: tuple[Varied, ...]
    repeats: int
    responses: tuple[tuple[Response, Wanted], ...]
    constants: Constants
    layers: tuple[Layer, ...]
    prediction: Prediction | None
    begun_days: float
    seed: int | None
    state: SeriesState
    layout: Layout = field(default_factory=Layout)
    equal: Equal = Equal.RECIPE
    protocol: tuple[Judging, ...] = ()
    poured: int = 99
    """How many panels are poured, in pouring order."""
    photo_stage: str = "dry"
    lamps: tuple[str, ...] = ("diffuse",)
    read: int = 99
    mixed: int = 99
    spoiled: dict[str, str] = field(default_factory=dict)


def _number(*values: float) -> tuple[Level, ...]:
    return tuple(Level(value=v) for v in values)


HELD: Final = Constants()
CHAPTERS: Final = (
    Chapter(
        code="K2", name="Kelp 02", varied=(Varied(factor=Factor.FILM_LEFT, levels=_number(1.2e-3, 2.3e-3)),), repeats=3,
        responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_WIDTH, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
        constants=replace(HELD, poured_kg=0.084), layers=KELP_CUP,
        prediction=Prediction(response=Response.CRACK_LENGTH, more_or_less=Wanted.MORE, size=60.0),
        begun_days=-41, seed=2, state=SeriesState.DECIDED,
    ),
    Chapter(
        code="D1", name="Dulse 01", varied=(Varied(factor=Factor.SILICONE, levels=_number(0, 1, 2, 4)),), repeats=2,
        responses=((Response.CELL_COUNT, Wanted.MORE), (Response.CELL_WIDTH, Wanted.MORE), (Response.CRACK_LENGTH, Wanted.LESS)),
        constants=replace(HELD, silicone_colours=("dulse red",), drops_by=DropsBy.DILUTED), layers=DULSE_CUP,
        prediction=Prediction(response=Response.CELL_COUNT, more_or_less=Wanted.MORE, size=30.0), begun_days=-30, seed=11, state=SeriesState.RUNNING,
    ),
    Chapter(
        code="B2", name="Bladderwrack 02", varied=(Varied(factor=Factor.MEDIUM, levels=(Level(name="conditioner"), Level(name="glue"))),), repeats=3,
        responses=((Response.CELL_COUNT, Wanted.MORE), (Response.VIVIDNESS, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
        constants=HELD, layers=DULSE_CUP, prediction=Prediction(response=Response.CELL_COUNT, more_or_less=Wanted.LESS, size=15.0),
        begun_days=-22, seed=5, state=SeriesState.RUNNING, spoiled={"B2-b3": "cup slipped"},
    ),
    Chapter(
        code="H1", name="Haar 01", varied=(Varied(factor=Factor.RATIO, levels=_number(0.5, 1.0, 2.0, 3.0)),), repeats=1,
        responses=((Response.SHIMMER, Wanted.MORE), (Response.VIVIDNESS, Wanted.MORE)),
        constants=replace(HELD, medium="iridescent medium", panel_width_m=0.15, panel_height_m=0.15, poured_kg=0.05), layers=HAAR_CUP,
        prediction=Prediction(response=Response.SHIMMER, more_or_less=Wanted.MORE, size=0.1), begun_days=-15, seed=8, state=SeriesState.RUNNING,
        lamps=("diffuse", "left", "right"),
    ),
    Chapter(
        code="S1", name="Squall 01", varied=(Varied(factor=Factor.ALCOHOL, levels=_number(0.0, 0.10)),), repeats=2,
        responses=((Response.CELL_COUNT, Wanted.MORE), (Response.CELL_WIDTH, Wanted.MORE)),
        constants=replace(HELD, torch_passes=0), layers=DULSE_CUP,
        prediction=Prediction(response=Response.CELL_COUNT, more_or_less=Wanted.MORE, size=10.0),
        begun_days=-8, seed=4, state=SeriesState.RUNNING, read=1,
    ),
    Chapter(
        code="E1", name="Eelgrass 01", repeats=2, equal=Equal.FLOW,
        varied=(Varied(factor=Factor.MEDIUM, levels=(Level(name="conditioner"), Level(name="glue"))),
                Varied(factor=Factor.FILM_LEFT, levels=_number(1.2e-3, 2.3e-3))),
        responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_COUNT, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
        protocol=(
            Judging(response=Response.CRACK_LENGTH, times=("12 h", "24 h", "48 h", "dry", "7 d")),
            Judging(response=Response.CELL_COUNT, times=("wet", "dry")), Judging(response=Response.SPREAD, times=("dry",)),
        ),
        constants=replace(HELD, poured_kg=0.084), layers=KELP_CUP,
        prediction=Prediction(response=Response.CRACK_LENGTH, more_or_less=Wanted.MORE, size=40.0),
        begun_days=-5.0, seed=None, state=SeriesState.PLANNED, poured=0, mixed=0,
    ),
    Chapter(
        code="K3", name="Kelp 03", repeats=2,
        varied=(Varied(factor=Factor.WATER_SHARE, levels=_number(0.10, 0.16, 0.22)), Varied(factor=Factor.SILICONE, levels=_number(0, 2))),
        responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.CELL_WIDTH, Wanted.MORE), (Response.SPREAD, Wanted.MORE)),
        constants=replace(HELD, silicone_colours=("channel teal", "kelp green"), drops_by=DropsBy.DILUTED), layers=KELP_CUP,
        prediction=Prediction(response=Response.CRACK_LENGTH, more_or_less=Wanted.LESS, size=40.0),
        begun_days=-4.18, seed=3, state=SeriesState.RUNNING,
        poured=10, photo_stage="wet", read=2,
    ),
    Chapter(
        code="K4", name="Kelp 04", varied=(Varied(factor=Factor.WATER_SHARE, levels=_number(0.04, 0.07, 0.10)),), repeats=2,
        responses=((Response.CRACK_LENGTH, Wanted.LESS), (Response.SPREAD, Wanted.MORE)),
        constants=HELD, layers=KELP_CUP, prediction=Prediction(response=Response.CRACK_LENGTH, more_or_less=Wanted.LESS, size=30.0),
        begun_days=-0.1, seed=9, state=SeriesState.PLANNED, poured=0, mixed=6,
    ),
)  # fmt: skip
"""In the order they were begun."""

# How each panel turned out beyond its recipe: panels poured alike differ, as they do.
CRACK_LUCK_MM: Final = (-9.0, 14.0, 3.0, -16.0, 8.0, -4.0, 17.0, -11.0, 6.0, -13.0, 10.0, -2.0)


def pour_of(chapter: Chapter, code: str, level: int, crossed_level: int, number: int) -> Pour:
    """What a panel of the story looks like: cause and effect of the made-up studio stand here."""
    held = chapter.constants
    luck = CRACK_LUCK_MM[number % len(CRACK_LUCK_MM)]
    colours: dict[str, float] = {}
    for layer in chapter.layers:
        colours[layer.material] = colours.get(layer.material, 0.0) + layer.share
    value = chapter.varied[0].levels[level].value or 0.0
    cracks, cells, cell_mm, mica, bare = 0.0, 22.0, 4.2, 0.0, 0
    slope, pits, bumps = 0.0, 0, 0
    if chapter.code == "K2":
        cracks = max(0.0, 25.0 + luck) if level == 0 else 165.0 + 1.6 * luck
        cell_mm = 4.6 - 0.5 * level + luck * 0.01
        bare = 1 if level == 0 and number % 2 == 0 else 0
    elif chapter.code in {"K3", "K4"}:
        cracks = 0.0
        cells, cell_mm = 16.0 + 9.0 * crossed_level, 4.8 - 6.0 * value
        bare = 1 if number % 5 == 4 else 0
    elif chapter.code == "D1":
        cells = 8.0 + 16.0 * value**0.8 + luck * 0.12
        cell_mm = 3.6 + 0.35 * value
        cracks = 12.0 + luck if luck > 9 else 0.0
    elif chapter.code == "B2":
        cells = 24.0 + luck * 0.5
    elif chapter.code == "H1":
        mica = (0.03, 0.10, 0.34, 0.52)[level]
        cells, cell_mm = 9.0, 3.6
        slope, pits, bumps = ((0.004, 3, 1), (0.003, 2, 0), (0.0, 0, 0), (0.0, 0, 0))[level]
    elif chapter.code == "S1":
        cells = 18.0 + 2.0 * level + luck * 0.4
    return Pour(
        width_mm=held.panel_width_m * 1e3, height_mm=held.panel_height_m * 1e3, palette=tuple(HEX[c] for c in colours),
        shares=tuple(colours.values()), seed=sum(ord(c) * 31**i for i, c in enumerate(code)) % 2**31, cells_per_dm2=max(cells, 0.0),
        cell_mm=cell_mm, cell_spread=0.42, ring_share=0.7, rim_lines=0.25, crack_mm=cracks, bare_corners=bare, mica=mica, base="#D2CCBC",
        slope=slope, pits=pits, bumps=bumps,
        clumping=0.35, pinholes_per_dm2=3.0, band_mm=24.0, swirl=1.1,
    )  # fmt: skip
