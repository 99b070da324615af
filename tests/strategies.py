"""What hypothesis draws recipes, cups and records from."""

from datetime import UTC, datetime, timedelta, timezone

from hypothesis import strategies as st

from dribbet.records import Basis, Ingredient, Recipe

names = st.sampled_from(["paint", "white paint", "conditioner", "glue", "water", "alcohol", "silicone", "binder", "blue"])
parts = st.floats(0.01, 50.0)
densities = st.none() | st.floats(700.0, 2000.0)
shares = st.none() | st.floats(0.0, 1.0)
bases = st.sampled_from(list(Basis))


def _recipes(inner):
    ingredient = st.builds(Ingredient, name=names, parts=parts, density_kg_m3=densities, volume_solids=shares, recipe=inner)
    return st.builds(Recipe, basis=bases, ingredients=st.lists(ingredient, min_size=1, max_size=5).map(tuple))


recipes = _recipes(st.none() | _recipes(st.none() | _recipes(st.none())))
plain_recipes = _recipes(st.none())


@st.composite
def cups(draw):
    """A target in mass fractions, and kilograms of its ingredients in a cup."""
    chosen = draw(st.lists(names, min_size=2, max_size=5, unique=True))
    weights = [draw(st.floats(0.05, 5.0)) for _ in chosen]
    target = {n: w / sum(weights) for n, w in zip(chosen, weights, strict=True)}
    held = {n: round(draw(st.floats(0.0, 0.2)), 7) for n in chosen}  # no scale shows less than a tenth of a milligram
    return target, held


moments = st.datetimes(datetime(2000, 1, 1), datetime(2100, 1, 1)).flatmap(
    lambda naive: st.sampled_from([UTC, timezone(timedelta(hours=1)), timezone(timedelta(hours=-9, minutes=-30))]).map(
        lambda zone: naive.replace(tzinfo=zone)
    )
)
