"""What there is to know, as plain frozen values. Imports nothing of ours."""

from dribbet.records.bottles import Bottle, BottleKind, BottleWeighing
from dribbet.records.checks import Check, CheckKind, Stream
from dribbet.records.constants import BasePlan, Constants, Dosage, DropsBy, Outline, Swap
from dribbet.records.cups import TAKEN_OUT, MarkKind, Mix, MixMark, Weighing
from dribbet.records.errors import Cancelled, DribbetError, RecordError, Report, silent
from dribbet.records.factors import MOST_FACTORS, MOST_LEVELS, Factor, Level, Technique, Varied
from dribbet.records.house_rules import HomeCup, HouseRules, Offset, Role, Weigh, Window
from dribbet.records.looks import Feel, Look
from dribbet.records.materials import Form, Gauging, GaugingKind, Grade, Hazard, Kind, Levelling, Material, Opacity, Pack, Sheen
from dribbet.records.order import NEVER, Happened, latest, order
from dribbet.records.photos import PHOTO_SUFFIXES, Lamp, Photo, Reading, Stage
from dribbet.records.plans import BETWEEN, Advice, Aim, BlockBy, Design, Equal, Extra, Goal, Insisted, Judging, Layout, Response, Wanted
from dribbet.records.pours import MISHAPS, SIGNS, Mishap, MishapKind, PanelWeighing, PanelWeight, Step, StepMark
from dribbet.records.recipes import Basis, Component, Ingredient, Recipe
from dribbet.records.series import Layer, Panel, Prediction, Series, SeriesState
from dribbet.records.signs import OF_CORNERS, Seen, Sign
from dribbet.records.surveys import MOST_SURVEYED, SURVEYED, Survey
from dribbet.records.units import SYSTEMS, UnitChoice

__all__ = [
    "BETWEEN",
    "MISHAPS",
    "MOST_FACTORS",
    "MOST_LEVELS",
    "MOST_SURVEYED",
    "NEVER",
    "OF_CORNERS",
    "PHOTO_SUFFIXES",
    "SIGNS",
    "SURVEYED",
    "SYSTEMS",
    "TAKEN_OUT",
    "Advice",
    "Aim",
    "BasePlan",
    "Basis",
    "BlockBy",
    "Bottle",
    "BottleKind",
    "BottleWeighing",
    "Cancelled",
    "Check",
    "CheckKind",
    "Component",
    "Constants",
    "Design",
    "Dosage",
    "DribbetError",
    "DropsBy",
    "Equal",
    "Extra",
    "Factor",
    "Feel",
    "Form",
    "Gauging",
    "GaugingKind",
    "Goal",
    "Grade",
    "Happened",
    "Hazard",
    "HomeCup",
    "HouseRules",
    "Ingredient",
    "Insisted",
    "Judging",
    "Kind",
    "Lamp",
    "Layer",
    "Layout",
    "Level",
    "Levelling",
    "Look",
    "MarkKind",
    "Material",
    "Mishap",
    "MishapKind",
    "Mix",
    "MixMark",
    "Offset",
    "Opacity",
    "Outline",
    "Pack",
    "Panel",
    "PanelWeighing",
    "PanelWeight",
    "Photo",
    "Prediction",
    "Reading",
    "Recipe",
    "RecordError",
    "Report",
    "Response",
    "Role",
    "Seen",
    "Series",
    "SeriesState",
    "Sheen",
    "Sign",
    "Stage",
    "Step",
    "StepMark",
    "Stream",
    "Survey",
    "Swap",
    "Technique",
    "UnitChoice",
    "Varied",
    "Wanted",
    "Weigh",
    "Weighing",
    "Window",
    "latest",
    "order",
    "silent",
]
