"""The language in which sentences are said: English as it stands here, or a translation of it by gettext.

A sentence is one message with its parts named, so that a translation may order them as its own grammar asks; what depends on a number is
one message for each of its forms. A language is chosen before anything is said: by `DRIBBET_LANGUAGE`, else English.
Catalogues lie in `words/locale/LANGUAGE/LC_MESSAGES/dribbet.mo`; docs/translating.md says how they are made.
"""

from __future__ import annotations

import gettext
import os
from enum import Enum
from pathlib import Path
from string import Formatter
from typing import Any, Final

DOMAIN: Final = "dribbet"
LOCALE: Final = Path(__file__).parent / "locale"


def _catalogue() -> gettext.NullTranslations:
    asked = os.environ.get("DRIBBET_LANGUAGE", "")
    return gettext.translation(DOMAIN, os.environ.get("DRIBBET_LOCALE", str(LOCALE)), [asked], fallback=True) if asked else gettext.NullTranslations()


_said: Final = _catalogue()


def name(what: Enum | str) -> str:
    """A member of an enumeration, as this language calls it; `names.py` lists them for the catalogue."""
    return _said.gettext(str(what)) if str(what) else ""


def _named(parts: dict[str, object]) -> dict[str, object]:
    return {k: name(v) if isinstance(v, Enum) else v for k, v in parts.items()}


def t(message: str, /, **parts: object) -> str:
    """A sentence with its parts in place, such as t("Drip {name} next.", name="foam"); members of enumerations are said by their names."""
    said = _said.gettext(message)
    return said.format_map(_named(parts)) if parts else said


def arranged(message: str, /, **parts: object) -> tuple[Any, ...]:
    """A sentence whose parts stay what they are, such as buttons: its words and its parts in the order of the language.

    A part that is a list gives all of its pieces.
    """
    made: list[Any] = []

    def put(piece: object) -> None:
        if isinstance(piece, str) and made and isinstance(made[-1], str):
            made[-1] += piece
        else:
            made.append(piece)

    for words, name, _, _ in Formatter().parse(_said.gettext(message)):
        if words:
            put(words)
        if name is not None:
            part = parts[name]
            for piece in part if isinstance(part, (list, tuple)) else [part]:
                put(piece)
    return tuple(made)


def n(one: str, many: str, number: float, /, **parts: object) -> str:
    """The form of a sentence that goes with a number; 1 alone takes the first in English."""
    said = _said.ngettext(one, many, number if isinstance(number, int) else (1 if number == 1 else 2))
    return said.format_map(_named(parts)) if parts else said


class Sentence:
    """A sentence in which nothing is decided, waiting for its parts: `NO_WEIGHT = Sentence("“{text}” is no weight.")`, then `NO_WEIGHT(text=…)`."""

    def __init__(self, message: str) -> None:
        self._said = _said.gettext(message)

    def __call__(self, **parts: object) -> str:
        """The sentence with its parts in place, as `t` puts them."""
        return self._said.format_map(_named(parts))


class Counted:
    """A sentence that depends on a number, waiting for it and for its parts, as `n` puts them."""

    def __init__(self, one: str, many: str) -> None:
        self._one, self._many = one, many

    def __call__(self, number: float, /, **parts: object) -> str:
        """The form of the sentence that goes with a number, with its parts in place."""
        return n(self._one, self._many, number, **parts)
