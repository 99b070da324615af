"""What drips of neat paint teach of a colour, before any cup was mixed with it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from dribbet.lab.paint.history import Told
from dribbet.lab.paint.learning import reading_of
from dribbet.records import Check, CheckKind, GaugingKind

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from dribbet.records import Gauging, HouseRules, Material

NEAT: Final = ""
"""Medium of a paint that has none: what it tells holds in every medium."""


def told_by(gaugings: Iterable[Gauging], shelf: Sequence[Material], rules: HouseRules) -> list[Told]:
    """Readings of neat paint, one a drip; a drip that did not run tells nothing."""
    known = {m.id: m for m in shelf}
    found = []
    for g in gaugings:
        paint = known.get(g.material_id)
        if g.kind is not GaugingKind.DRIP or g.taken_back or paint is None:
            continue
        drip = Check(id=g.id, mix_id=g.id, kind=CheckKind.DRIP, value=g.value, at=g.at, source="pre-test", seconds=g.seconds)
        reading = reading_of(drip, f"neat {g.id}", {"paint": 1e-6}, paint="paint", medium="medium", density_kg_m3=paint.density_kg_m3, rules=rules)
        if reading is not None:
            found.append(Told((paint.key, NEAT), (reading,), None))
    return found
