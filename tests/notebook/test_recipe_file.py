from __future__ import annotations

import json

import pytest

from dribbet.notebook.recipe_file import read_cup, read_recipe
from dribbet.records import Basis, DribbetError


def written(tmp_path, content) -> object:
    path = tmp_path / "r.json"
    path.write_text(content if isinstance(content, str) else json.dumps(content))
    return path


def test_nested_recipe_is_read(tmp_path):
    house = {"basis": "mass", "ingredients": [{"name": "glue", "parts": 2}, {"name": "water", "parts": 1}]}
    found = read_recipe(
        written(tmp_path, {"basis": "volume", "ingredients": [{"name": "paint", "parts": 1}, {"name": "mix", "parts": 1.5, "recipe": house}]})
    )
    assert found.basis is Basis.VOLUME
    assert found.ingredients[1].recipe.ingredients[0].name == "glue"


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("{", "not a JSON file"),
        ("[1, 2]", "the file"),
        ({"basis": "weight", "ingredients": []}, "basis"),
        ({"basis": "mass"}, "ingredients"),
        ({"basis": "mass", "ingredients": []}, "no ingredients"),
        ({"basis": "mass", "ingredients": [{"name": "paint"}]}, "ingredients 1 parts"),
        ({"basis": "mass", "ingredients": [{"name": "paint", "parts": "much"}]}, "ingredients 1 parts"),
        ({"basis": "mass", "ingredients": [{"name": "paint", "parts": -1}]}, "zero or more parts"),
        ('{"basis": "mass", "ingredients": [{"name": "paint", "parts": NaN}]}', "ingredients 1 parts"),
        ('{"basis": "mass", "ingredients": [{"name": "paint", "parts": Infinity}]}', "ingredients 1 parts"),
        ("[" * 100_000, "nested too deeply"),
    ],
)  # fmt: skip
def test_recipe_that_cannot_be_is_refused_at_its_place(tmp_path, content, words):
    with pytest.raises(DribbetError, match=words):
        read_recipe(written(tmp_path, content))


def test_cup_is_grams_by_name(tmp_path):
    assert read_cup(written(tmp_path, {"paint": 20, "water": 1.5})) == {"paint": 20.0, "water": 1.5}


@pytest.mark.parametrize("content", [[1], {"paint": "much"}, {"paint": True}])
def test_cup_of_words_is_refused(tmp_path, content):
    with pytest.raises(DribbetError, match="name: grams"):
        read_cup(written(tmp_path, content))


def test_missing_file_is_named(tmp_path):
    with pytest.raises(DribbetError, match="Check the name"):
        read_recipe(tmp_path / "none.json")
