"""Sentences that schemas before 0006 stored, read back into the facts they told. Kept apart from what Dribbet says today: this never changes."""

from __future__ import annotations

import re
from typing import Any


def seen(line: str) -> dict[str, Any] | None:
    """A sign with its figures, of a line such as 'Tilt|3°. The photo will be squared up.|fine'; None where it told nothing."""
    head, _, rest = line.partition("|")
    words, _, verdict = rest.partition("|")
    figures = [float(n) for n in re.findall(r"\d+(?:\.\d+)?", words)]
    first = figures[:1]
    if head == "Sharp":
        sign = "blurred" if verdict.startswith("doubt") else "sharp"
        return _sign(sign, first) if first else _sign("no fine edges", [])
    if head == "Exposure":
        return _exposure(words, first)
    if head == "Glare":
        place = [float(n) for n in verdict.split("|")[1:3]]
        return _sign("glare", [(first or [0.0])[0] / 100.0, *(place if len(place) == 2 else [0.5, 0.5])])
    if head == "No card":
        return _sign("no card", [])
    if head in ("Tilt", "Coarse"):
        return _sign(head.lower(), first or [0.0])
    if head == "Corners":
        return _corners(words, figures)
    if head == "File":
        return _file(words, figures)
    return None


def _exposure(words: str, first: list[float]) -> dict[str, Any] | None:
    if "white-out" in words:
        return _sign("white-out", [(first or [0.0])[0] / 100.0])
    if "black" in words:
        return _sign("black", [])
    if "card" not in words.lower() or words.startswith("No card"):
        return None
    ev = (first or [0.0])[0]
    return _sign("exposure", [-ev if "under" in words else ev])


def _corners(words: str, figures: list[float]) -> dict[str, Any]:
    if "by hand" in words:
        return _sign("corners by hand", [])
    if "card says" in words and len(figures) == 2:
        return _sign("corners of another size", figures)
    if "does not match" in words:
        return _sign("corners of another shape", [])
    return _sign("a faint side" if "stands out from the table" in words else "no corners", [])


def _file(words: str, figures: list[float]) -> dict[str, Any]:
    if "see-through" in words:
        return _sign("see-through", [])
    if "very large" in words:
        return _sign("reduced", figures[-1:] if "half" not in words and figures else [2.0])
    return _sign("no usable profile", [])


def _sign(sign: str, figures: list[float]) -> dict[str, Any]:
    return {"sign": sign, "figures": figures}


def insisted(was: dict[str, Any]) -> dict[str, Any]:
    """An advice gone against, of one such as 'no panel without silicone'."""
    return {"against": "no control", "of": str(was["what"]).removeprefix("no panel without "), "at": was["at"]}
