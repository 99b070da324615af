"""Every table and threshold of a room, as it stands in its modules: a figure that nobody meant to change is noticed where it stands."""

from __future__ import annotations

import importlib
import pkgutil
import re
from typing import Any

import numpy as np

LONG = 64
CONSTANT = re.compile(r"_?[A-Z][A-Z0-9_]*\Z")


def _short(value: Any) -> Any:
    """A value, or of a long array what changes with any part of it."""
    if isinstance(value, np.ndarray) and value.size > LONG:
        return [*value.shape, float(value.sum()), float((value.ravel() * np.arange(value.size)).sum())]
    return value


def constants_of(*rooms: str) -> dict[str, dict[str, Any]]:
    """Names written in capitals, module by module; what a module brought from another stands there."""
    found: dict[str, dict[str, Any]] = {}
    for room in rooms:
        package = importlib.import_module(room)
        names = [room, *(m.name for m in pkgutil.walk_packages(package.__path__, f"{room}."))]
        for name in names:
            module = importlib.import_module(name)
            own = module.__annotations__ | dict.fromkeys(vars(module))
            told = {k: _short(vars(module)[k]) for k in own if CONSTANT.match(k) and k in vars(module)}
            if told:
                found[name] = told
    return found
