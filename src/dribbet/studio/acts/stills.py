"""Stills of a pour: a small picture of the bench as each step begins, where a camera is there."""

from __future__ import annotations

import base64
import io
from typing import TYPE_CHECKING, Final

from dribbet.notebook.store import new_id
from dribbet.records import Panel, Still, order

if TYPE_CHECKING:
    from dribbet.records import StepMark
    from dribbet.studio.desk import Desk
    from dribbet.studio.run import Run

LONGEST_PX: Final = 320
QUALITY: Final = 78


def small(data: bytes) -> str:
    """Return a picture file as a small JPEG in base64; raises `OSError` where it is no picture. Takes its time: never on the GUI thread."""
    from PIL import Image, ImageOps

    with Image.open(io.BytesIO(data)) as picture:
        picture.draft("RGB", (LONGEST_PX * 2, LONGEST_PX * 2))
        upright = ImageOps.exif_transpose(picture).convert("RGB")
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=QUALITY, optimize=True)
    return base64.b64encode(out.getvalue()).decode("ascii")


def wanted(desk: Desk, run: Run, panel: Panel) -> StepMark | None:
    """The step that began last, where a camera is there to see it."""
    if desk.camera is None:
        return None
    return max((s for s in run.steps if s.panel_id == panel.id), key=order, default=None)


def keep(desk: Desk, mark: StepMark, jpeg: str) -> None:
    """Keep the still of a step; one that was taken back meanwhile keeps none."""
    run = desk.load(desk.notebook.get(Panel, mark.panel_id).series_id)
    if any(s.id == mark.id for s in run.steps):
        desk.notebook.add(Still(id=new_id(), panel_id=mark.panel_id, step_id=mark.id, at=desk.now(), jpeg=jpeg))
        desk.changed()


def of_panel(desk: Desk, panel: Panel) -> dict[str, bytes]:
    """JPEGs of a panel's steps, by the id of the step's mark."""
    return {s.step_id: base64.b64decode(s.jpeg) for s in desk.notebook.all(Still, panel_id=panel.id) if not s.taken_back}
