"""Recipe and cup files of `dribbet mix`, checked as they are read."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Annotated, Any, Final

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from dribbet.records import Basis, DribbetError, Ingredient, Recipe

if TYPE_CHECKING:
    from pathlib import Path

MOST_GRAMS: Final = 1e6
MOST_BYTES: Final = 5_000_000
LAST_OF_A_PLACE = 3  # of a path into nested house mixes
Finite = Annotated[float, Field(allow_inf_nan=False)]


class IngredientFile(BaseModel):
    """An ingredient as a file gives it."""

    model_config = ConfigDict(extra="ignore")
    name: str
    parts: Finite
    density_kg_m3: Finite | None = None
    volume_solids: Finite | None = None
    recipe: RecipeFile | None = None


class RecipeFile(BaseModel):
    """A recipe as a file gives it."""

    model_config = ConfigDict(extra="ignore")
    basis: Basis
    ingredients: list[IngredientFile]

    def record(self) -> Recipe:
        """Return the recipe as a record, which checks the numbers."""
        made = [
            Ingredient(
                name=i.name,
                parts=i.parts,
                density_kg_m3=i.density_kg_m3,
                volume_solids=i.volume_solids,
                recipe=i.recipe.record() if i.recipe is not None else None,
            )
            for i in self.ingredients
        ]
        return Recipe(basis=self.basis, ingredients=tuple(made))


def _json(path: Path) -> Any:
    try:
        if path.stat().st_size > MOST_BYTES:
            raise DribbetError(f"{path.name} is larger than any recipe. Name another file.")
        return json.loads(path.read_text(encoding="utf-8"))
    except FileNotFoundError:
        raise DribbetError(f"There is no file {path}. Check the name.") from None
    except (UnicodeDecodeError, ValueError, OSError):
        raise DribbetError(f"{path.name} is not a JSON file that can be read. Save it as UTF-8 JSON.") from None
    except RecursionError:
        raise DribbetError(f"{path.name} is nested too deeply. A house mix may hold other mixes, but not without end.") from None


def read_recipe(path: Path) -> Recipe:
    """Read a recipe file.

    Raises
    ------
    DribbetError
        If it cannot be read, or a part of it cannot be true; the sentence names the place.
    """
    content = _json(path)
    try:
        return RecipeFile.model_validate(content).record()
    except ValidationError as error:
        first = error.errors()[0]
        where = first["loc"]
        deep = sum(p == "recipe" for p in where)
        tail = where[-LAST_OF_A_PLACE:] if deep > 1 else where
        place = " ".join(str(p + 1) if isinstance(p, int) else str(p) for p in tail) or "the file"
        place += f" ({deep} house mixes deep)" if deep > 1 else ""
        raise DribbetError(f"{path.name}: {place}: {first['msg'].lower()}. Correct it in the file.") from None


def read_cup(path: Path) -> dict[str, float]:
    """Grams in the cup by ingredient, from a file."""
    content = _json(path)
    good = isinstance(content, dict) and all(isinstance(v, (int, float)) and not isinstance(v, bool) for v in content.values())
    if not good:
        raise DribbetError(f"{path.name}: a cup is written as {{name: grams}}. Correct it in the file.")
    odd = next((k for k, v in content.items() if not 0.0 <= v <= MOST_GRAMS), None)
    if odd is not None:
        raise DribbetError(f"{path.name}: {odd[:40]} weighs {float(content[odd]):g} g. Correct it in the file: 0 to a million grams.")
    return {str(k): float(v) for k, v in content.items()}
