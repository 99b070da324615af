"""The reader is the one whose name it bears: the demo's photographs read today as they were read when its version was named.

Whoever changes a figure of the reader, knowingly or not, learns it here: name a new version (`dribbet.sight.READER`), measure again
(docs/measuring.md) and read the demo anew. Measured: the same machine gives the same bits, with one thread or two; without AVX-512 nothing
changes, without AVX2 borderline candidates turn (two cells of 166, 0.3 % of an area).
"""

from __future__ import annotations

import base64
import json
from dataclasses import asdict
from functools import cache
from typing import Any

import cv2
import numpy as np
import pytest

from dribbet.demo.build import PHOTOS, planned_shots, shipped_readings
from dribbet.records import silent
from dribbet.sight import READER
from dribbet.sight.photographs import ToRead, look_at, read
from tests.sight import same

PANELS = ["K2-b1", "D1-d2", "H1-c1", "K2-a1"]  # cracks; many cells; three lamps; lines that are doubtful
FINE = "*AVX2" in cv2.getCPUFeaturesLine().split()
SHARE = 2e-4 if FINE else 0.02
LEAST = 2e-4 if FINE else 2.0


@cache
def fresh(key: str) -> tuple[dict[str, Any], dict[str, Any]]:
    (shot,) = [s for s in planned_shots() if s.key == key]
    size = (shot.width_mm, shot.height_mm)
    paths = {lamp: PHOTOS / name for lamp, name in shot.files.items()}
    result = read(silent, ToRead(main=paths["diffuse"], left=paths.get("left"), right=paths.get("right"), size_mm=size))
    return result, {lamp: [asdict(s) for s in look_at(silent, path, "", size).seen] for lamp, path in paths.items()}


def unlike(was: Any, now: Any, at: str = "") -> list[str]:
    """Each figure that is another than it was."""
    if isinstance(was, dict):
        return [
            *([f"{at}: {sorted(was)} now {sorted(now)}"] if was.keys() != now.keys() else []),
            *(x for k in was for x in unlike(was[k], now[k], f"{at}/{k}")),
        ]
    if isinstance(was, (list, tuple)):
        if len(was) != len(now):
            return [f"{at}: {len(was)} now {len(now)}"]
        return [x for i, (a, b) in enumerate(zip(was, now, strict=True)) for x in unlike(a, b, f"{at}/{i}")]
    if isinstance(was, (int, float)) and not isinstance(was, bool) and was is not None and now is not None:
        return [] if now == pytest.approx(was, rel=SHARE, abs=LEAST) else [f"{at}: {was} now {now}"]
    return [] if was == now else [f"{at}: {was} now {now}"]


@pytest.mark.parametrize("key", PANELS)
def test_reader_of_this_name_reads_what_it_read(key):
    kept = shipped_readings()[key]
    assert kept["reader"] == READER
    now, _ = fresh(key)
    parts = ["panel", "light", "cells", "arrangement", "pinholes", "lacing", "cracks", "spread", "shimmer", "colour", *(["outlines"] if FINE else [])]
    was = {k: dict(v) if isinstance(v := kept["result"][k], dict) else v for k in parts}
    now = {k: dict(v) if isinstance(v := now[k], dict) else v for k in parts}
    if not FINE:
        del was["cells"]["items"], now["cells"]["items"]
    assert unlike(was, now) == []


@pytest.mark.parametrize("key", PANELS)
def test_patches_of_zones_are_what_they_were(key):
    was, now = (r["patches"] for r in (shipped_readings()[key]["result"], fresh(key)[0]))
    assert was.keys() == now.keys()
    assert (was["wide"], was["high"]) == (now["wide"], now["high"])
    for name in was.keys() - {"wide", "high"}:
        before, after = (np.frombuffer(base64.b64decode(r[name]), np.uint8).astype(float) for r in (was, now))
        assert abs(after - before).mean() <= (1e-6 if FINE else 0.5), name


@pytest.mark.parametrize("key", PANELS)
def test_what_a_photograph_shows_of_itself_is_what_it_showed(key):
    assert unlike({k: [dict(s) for s in v] for k, v in shipped_readings()[key]["quality"].items()}, fresh(key)[1]) == []


@pytest.mark.parametrize("name", list(same.RECORDED))
def test_what_these_tests_draw_is_read_as_it_was(name):
    kept = json.loads(same.KEPT.read_text())
    assert kept["reader"] == READER, "measure the new reader, then renew the figures: python -m tests.sight.same"
    if name in same.WORLDS and not FINE:
        pytest.skip("folded figures turn with a single candidate, as they do without AVX2")
    was, now = kept[name], same.now(name)
    if not FINE and isinstance(was, dict):
        was, now = ({**r, "cells": {**r["cells"], "items": []}} for r in (was, now))
    assert unlike(was, now) == []
