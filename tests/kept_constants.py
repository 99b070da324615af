"""Every table and threshold of a room, as it stands in its modules: a figure that nobody meant to change is noticed where it stands."""

from __future__ import annotations

import dataclasses
import importlib
import inspect
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


def _numbers(value: Any) -> bool:
    return (isinstance(value, (int, float)) and not isinstance(value, bool)) or (
        isinstance(value, tuple) and bool(value) and all(_numbers(v) for v in value)
    )


def _defaults(name: str, thing: Any) -> dict[str, Any]:
    """Figures that a class gives its fields, and a function or method its arguments, where nothing else is said."""
    told: dict[str, Any] = {}
    if dataclasses.is_dataclass(thing):
        told |= {f"{name}.{f.name}": f.default for f in dataclasses.fields(thing) if _numbers(f.default)}
    if inspect.isclass(thing):
        methods = [(f"{name}.{k}", v) for k, v in vars(thing).items() if inspect.isfunction(v) and k != "__init__"]
    else:
        methods = [(name, thing)]
    for called, function in methods:
        if inspect.isfunction(function):
            told |= {f"{called}({p.name})": p.default for p in inspect.signature(function).parameters.values() if _numbers(p.default)}
    return told


def constants_of(*rooms: str) -> dict[str, dict[str, Any]]:
    """Names written in capitals, and figures that stand where nothing else is said, module by module; what is another module's stands there."""
    found: dict[str, dict[str, Any]] = {}
    for room in rooms:
        package = importlib.import_module(room)
        names = [room, *(m.name for m in pkgutil.walk_packages(package.__path__, f"{room}."))]
        for name in names:
            module = importlib.import_module(name)
            own = module.__annotations__ | dict.fromkeys(vars(module))
            told = {k: _short(vars(module)[k]) for k in own if CONSTANT.match(k) and k in vars(module)}
            for k, thing in vars(module).items():
                if getattr(thing, "__module__", None) == name:
                    told |= _defaults(k, thing)
            if told:
                found[name] = told
    return found
