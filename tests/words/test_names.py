"""Names of enumerations can be translated, every one of them."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest
from babel.messages import Catalog
from babel.messages.mofile import write_mo

from dribbet.lab.panel.drying import DryStage
from dribbet.lab.panel.film import FilmZone
from dribbet.lab.verdict.predicted import Outcome
from dribbet.records import (
    BasePlan,
    Design,
    Equal,
    Factor,
    Kind,
    Lamp,
    MishapKind,
    Opacity,
    Response,
    Sheen,
    Stage,
    Technique,
    Wanted,
    Word,
)
from dribbet.words.names import NAMES
from dribbet.words.tongue import name, t

SAID = (
    BasePlan, Design, DryStage, Equal, Factor, FilmZone, Kind, Lamp, MishapKind, Opacity, Outcome, Response, Sheen, Stage, Technique, Wanted, Word,
)  # fmt: skip


@pytest.mark.parametrize("kind", SAID, ids=lambda k: k.__name__)
def test_every_member_stands_in_the_list_for_the_catalogue(kind):
    assert {str(m) for m in kind} - {""} <= set(NAMES)


def test_in_english_a_member_is_called_what_it_is():
    assert name(Response.CRACK_LENGTH) == "crack length"
    assert t("No change of {first}.", first=Response.CRACK_LENGTH) == "No change of crack length."


def test_another_language_says_it_in_a_sentence(tmp_path):
    catalog = Catalog(locale="de")
    catalog.add("crack length", "Risslänge")
    catalog.add("No change of {first}.", "{first} ändert sich nicht.")
    folder = tmp_path / "de" / "LC_MESSAGES"
    folder.mkdir(parents=True)
    with (folder / "dribbet.mo").open("wb") as out:
        write_mo(out, catalog)
    code = "from dribbet.words.tongue import t; from dribbet.records import Response; print(t('No change of {first}.', first=Response.CRACK_LENGTH))"
    env = os.environ | {
        "DRIBBET_LANGUAGE": "de",
        "DRIBBET_LOCALE": str(tmp_path),
        "PYTHONPATH": str(Path(__file__).parents[2] / "src"),
        "PYTHONUTF8": "1",
    }
    said = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=True, encoding="utf-8")
    assert said.stdout.strip() == "Risslänge ändert sich nicht."
