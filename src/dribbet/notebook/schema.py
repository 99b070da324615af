"""Tables of the notebook as it is now; how it came to be so stands in `migrations`."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta, timezone
from typing import TYPE_CHECKING, Any

from sqlalchemy import JSON, Boolean, Column, Float, ForeignKey, Index, Integer, MetaData, String, Table, Text
from sqlalchemy.types import TypeDecorator

if TYPE_CHECKING:
    from sqlalchemy import Dialect

VERSION = "0014"

metadata = MetaData()


class Instant(TypeDecorator[datetime]):
    """A moment in UTC with the local offset kept: 2026-11-24T04:38:37.000000Z+0100. Sorts by moment."""

    impl = String(40)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> str | None:
        """Aware datetime to text."""
        if value is None:
            return None
        if value.tzinfo is None:
            raise ValueError("a moment needs its offset")
        moment = value.astimezone(UTC).replace(tzinfo=None).isoformat(timespec="microseconds")  # %Y does not pad the year
        return f"{moment}Z{value:%z}"[:34]

    def process_result_value(self, value: str | None, dialect: Dialect) -> datetime | None:
        """Text to aware datetime in its own offset; text that is none stays text, which no record takes."""
        try:
            return None if value is None else moment_of(value)
        except ValueError:
            return value  # type: ignore[return-value]


def moment_of(text: str) -> datetime:
    """Moment in its own offset from its text.

    Raises
    ------
    ValueError
        If the text is none.
    """
    if not isinstance(text, str) or len(text) < 32 or text[26] != "Z" or text[27] not in "+-":
        raise ValueError(f"{text!r} is no moment")
    moment = datetime.fromisoformat(text[:26]).replace(tzinfo=UTC)
    offset = timedelta(hours=int(text[28:30]), minutes=int(text[30:32])) * (-1 if text[27] == "-" else 1)
    return moment.astimezone(timezone(offset))


def _number() -> Column[Any]:
    """Place in the order of all that happened in the notebook."""
    return Column("number", Integer, nullable=False)


def _id() -> Column[Any]:
    return Column("id", String(32), primary_key=True)


def _belongs_to(table: str, *, null: bool = False) -> Column[Any]:
    return Column(f"{table}_id", String(32), ForeignKey(f"{table}.id", ondelete="RESTRICT"), nullable=null, index=True)


material = Table(
    "material",
    metadata,
    _id(),
    Column("key", String(80), nullable=False, server_default=""),
    Column("name", String(80), nullable=False, unique=True),
    Column("kind", String(16), nullable=False),
    Column("hex", String(7), nullable=False),
    Column("density_kg_m3", Float, nullable=False),
    Column("volume_solids", Float, nullable=False),
    Column("opacity", String(16), nullable=False),
    Column("drop_kg", Float, nullable=False),
    Column("alcohol_share", Float, nullable=False),
    Column("wash_off", Boolean, nullable=False),
    Column("bakeable", Boolean, nullable=False),
    Column("hazards", JSON, nullable=False),
    Column("lot", String(40), nullable=False),
    Column("stock_kg", Float, nullable=False),
    Column("full_kg", Float, nullable=False),
    Column("price_per_kg", Float, nullable=False),
    Column("packs", JSON, nullable=False),
    Column("grade", String(12), nullable=False),
    Column("form", String(12), nullable=False),
    Column("sheen", String(8), nullable=False),
    Column("smallest_share", Float, nullable=False),
    Column("made_of", JSON, nullable=False),
    Column("made_at", Instant),
    Column("opened_at", Instant),
    Column("lot_since", Instant),
    Column("strained_at", Instant),
    Column("levels", String(8), nullable=False),
    Column("neutral_ph", Boolean),
    Column("variant", String(40), nullable=False),
    Column("note", Text, nullable=False),
)
gauging = Table(
    "gauging",
    metadata,
    _id(),
    _number(),
    _belongs_to("material"),
    Column("kind", String(12), nullable=False),
    Column("value", Float, nullable=False),
    Column("readings", JSON, nullable=False),
    Column("at", Instant, nullable=False),
    Column("count", Integer, nullable=False),
    Column("sample_kg", Float, nullable=False),
    Column("seconds", Float, nullable=False),
    Column("lot", String(40), nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
survey = Table(
    "survey",
    metadata,
    _id(),
    _number(),
    Column("name", String(80), nullable=False),
    Column("materials", JSON, nullable=False),
    Column("at", Instant, nullable=False),
    Column("finished", Boolean, nullable=False),
)
goal = Table("goal", metadata, _id(), Column("name", String(80), nullable=False), Column("aims", JSON, nullable=False))
series = Table(
    "series",
    metadata,
    _id(),
    Column("code", String(12), nullable=False, unique=True),
    Column("name", String(80), nullable=False),
    Column("varied", JSON, nullable=False),
    Column("repeats", Integer, nullable=False),
    Column("responses", JSON, nullable=False),
    Column("constants", JSON, nullable=False),
    Column("layers", JSON, nullable=False),
    Column("layout", JSON, nullable=False),
    Column("equal", String(24), nullable=False),
    Column("prices", JSON, nullable=False),
    Column("protocol", JSON, nullable=False),
    _belongs_to("goal", null=True),
    Column("insisted", JSON, nullable=False),
    Column("prediction", JSON),
    Column("seed", Integer),
    Column("state", String(16), nullable=False),
    Column("verdict", Text, nullable=False),
    Column("concluded", JSON, nullable=False, server_default="[]"),
    Column("opened_at", Instant),
    Column("earlier", JSON, nullable=False, server_default="[]"),
    Column("created_at", Instant, nullable=False),
    Column("note", Text, nullable=False),
)
panel = Table(
    "panel",
    metadata,
    _id(),
    _belongs_to("series"),
    Column("code", String(20), nullable=False, unique=True),
    Column("recipe", String(2), nullable=False),
    Column("repeat", Integer, nullable=False),
    Column("place", Integer, nullable=False),
    Column("settings", JSON, nullable=False),
    Column("block", Integer, nullable=False),
    Column("slot", Integer, nullable=False),
    Column("sheet", Integer, nullable=False),
    Column("region", JSON, nullable=False),
    Column("spoiled", Text, nullable=False),
    Column("width_m", Float, nullable=False, server_default="0"),
    Column("height_m", Float, nullable=False, server_default="0"),
)
mix = Table(
    "mix",
    metadata,
    _id(),
    _belongs_to("series"),
    Column("colour", String(80), nullable=False),
    Column("recipes", String(32), nullable=False),
    Column("place", Integer, nullable=False),
    Column("plan", JSON, nullable=False),
    Column("block", Integer, nullable=False),
    Column("drops", Integer, nullable=False),
    Column("drop_material", String(80), nullable=False),
    Column("drop_share", Float, nullable=False, server_default="1"),
    Column("covered_at", Instant),
    Column("kept_over", Boolean, nullable=False),
    Column("done", Boolean, nullable=False),
)
weighing = Table(
    "weighing",
    metadata,
    _id(),
    _number(),
    _belongs_to("mix"),
    Column("ingredient", String(80), nullable=False),
    Column("mass_kg", Float, nullable=False),
    Column("at", Instant, nullable=False),
    Column("source", String(16), nullable=False),
    Column("drops", Integer, nullable=False, server_default="0"),
    Column("taken_back", Boolean, nullable=False),
)
check = Table(
    "consistency_check",
    metadata,
    _id(),
    _number(),
    _belongs_to("mix"),
    Column("kind", String(8), nullable=False),
    Column("value", Float, nullable=False),
    Column("at", Instant, nullable=False),
    Column("source", String(16), nullable=False),
    Column("tool", String(40), nullable=False),
    Column("seconds", Float, nullable=False),
    Column("celsius", Float),
    Column("note", Text, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
mix_mark = Table(
    "mix_mark",
    metadata,
    _id(),
    _number(),
    _belongs_to("mix"),
    Column("kind", String(24), nullable=False),
    Column("at", Instant, nullable=False),
    Column("note", Text, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
bottle = Table(
    "bottle",
    metadata,
    _id(),
    Column("code", String(12), nullable=False, unique=True),
    Column("name", String(80), nullable=False),
    Column("kind", String(12), nullable=False),
    Column("contents", JSON, nullable=False),
    Column("stored_at", Instant, nullable=False),
    Column("stored_kg", Float, nullable=False),
    Column("empty_kg", Float, nullable=False),
    Column("hex", String(7), nullable=False),
    Column("silicone", Boolean, nullable=False),
    Column("activator", Boolean, nullable=False),
    _belongs_to("series", null=True),
    _belongs_to("mix", null=True),
    Column("grade", Float, nullable=False),
    Column("note", Text, nullable=False),
    Column("finished", Boolean, nullable=False),
)
bottle_weighing = Table(
    "bottle_weighing",
    metadata,
    _id(),
    _number(),
    _belongs_to("bottle"),
    Column("mass_kg", Float, nullable=False),
    Column("at", Instant, nullable=False),
    Column("water_added_kg", Float, nullable=False),
    Column("taken_out_kg", Float, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
step_mark = Table(
    "step_mark",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("step", String(8), nullable=False),
    Column("planned_s", Float, nullable=False),
    Column("at", Instant, nullable=False),
    Column("place", Integer, nullable=False, server_default="-1"),
    Column("how", String(8), nullable=False, server_default="done"),
    Column("figures", JSON, nullable=False, server_default="[]"),
    Column("taken_back", Boolean, nullable=False),
)
still = Table(
    "still",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("step_id", String(32), ForeignKey("step_mark.id", ondelete="RESTRICT"), nullable=False),
    Column("at", Instant, nullable=False),
    Column("jpeg", Text, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
pick = Table(
    "pick",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("other_id", String(32), ForeignKey("panel.id", ondelete="RESTRICT"), nullable=False),
    Column("judge", String(40), nullable=False),
    Column("sitting", Integer, nullable=False),
    Column("liked", String(8), nullable=False),
    Column("guest", Boolean, nullable=False),
    Column("at", Instant, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
score = Table(
    "score",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("judge", String(40), nullable=False),
    Column("sitting", Integer, nullable=False),
    Column("criterion", String(40)),
    Column("points", Integer),
    Column("guest", Boolean, nullable=False),
    Column("at", Instant, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
panel_weighing = Table(
    "panel_weighing",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("kind", String(8), nullable=False),
    Column("mass_kg", Float, nullable=False),
    Column("at", Instant, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
mishap = Table(
    "mishap",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("kind", String(24), nullable=False),
    Column("at", Instant, nullable=False),
    Column("x_share", Float),
    Column("y_share", Float),
    Column("reach_share", Float, nullable=False, server_default="0.1"),
    Column("zone_out", Boolean, nullable=False, server_default="0"),
    Column("note", Text, nullable=False, server_default=""),
    Column("taken_back", Boolean, nullable=False),
)
look = Table(
    "look",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("due", String(12), nullable=False),
    Column("at", Instant, nullable=False),
    Column("feel", String(12)),
    Column("cracked", Boolean),
    Column("x_share", Float),
    Column("y_share", Float),
    Column("flaws", JSON, nullable=False, server_default="[]"),
    Column("late_s", Float, nullable=False, server_default="0"),
    Column("note", Text, nullable=False, server_default=""),
    Column("taken_back", Boolean, nullable=False),
)
levelled = Table(
    "levelled",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("at", Instant, nullable=False),
    Column("slope_x", Float, nullable=False),
    Column("slope_y", Float, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
climate = Table(
    "climate",
    metadata,
    _id(),
    _number(),
    Column("at", Instant, nullable=False),
    Column("celsius", Float, nullable=False),
    Column("damp", Float, nullable=False),
    Column("by", String(8), nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
treated = Table(
    "treated",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    Column("kind", String(12), nullable=False),
    Column("at", Instant, nullable=False),
    Column("celsius", Float),
    Column("seconds", Float, nullable=False),
    Column("load_kg", Float, nullable=False),
    Column("hot_at", Instant),
    Column("ajar_at", Instant),
    Column("stuck", String(12)),
    Column("finished_at", Instant),
    Column("note", Text, nullable=False),
    Column("taken_back", Boolean, nullable=False),
)
way = Table(
    "way",
    metadata,
    _id(),
    Column("name", String(40), nullable=False),
    Column("of", String(20), nullable=False),
    Column("steps", JSON, nullable=False),
    Column("made_at", Instant, nullable=False),
    Column("replaced", Boolean, nullable=False),
)
photo = Table(
    "photo",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel", null=True),
    Column("sha256", String(64), nullable=False),
    Column("suffix", String(8), nullable=False),
    Column("name", String(200), nullable=False),
    Column("stage", String(8), nullable=False),
    Column("lamp", String(8), nullable=False),
    Column("width_px", Integer, nullable=False),
    Column("height_px", Integer, nullable=False),
    Column("taken_at", Instant),
    Column("added_at", Instant, nullable=False),
    Column("corners_px", JSON, nullable=False),
    Column("quality", JSON, nullable=False),
    Column("left_out", Boolean, nullable=False),
    Column("take", Integer, nullable=False, server_default="0"),
)
reading = Table(
    "reading",
    metadata,
    _id(),
    _number(),
    _belongs_to("panel"),
    _belongs_to("photo"),
    Column("stage", String(8), nullable=False),
    Column("reader", String(24), nullable=False),
    Column("at", Instant, nullable=False),
    Column("result", JSON, nullable=False),
)
setting = Table("setting", metadata, Column("key", String(40), primary_key=True), Column("value", JSON, nullable=False))
change = Table(
    "change",
    metadata,
    Column("number", Integer, primary_key=True, autoincrement=True),
    Column("table_name", String(24), nullable=False),
    Column("row_id", String(32), nullable=False),
    Column("at", Instant, nullable=False),
    Column("before", JSON, nullable=False),
    Index("ix_change_row", "table_name", "row_id"),
)
"""Old values of every row that was replaced: corrections never overwrite."""
tally = Table(
    "tally",
    metadata,
    Column("name", String(24), primary_key=True),
    Column("rows", Integer, nullable=False),
    Column("sum", String(20), nullable=False),
)
"""How many rows each table holds and the sum of their hashes, kept with every write: what is lost or altered shows."""
