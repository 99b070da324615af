"""What there is to know, as plain frozen values. Imports nothing of ours."""

from dribbet.records.bottles import Bottle, BottleKind, BottleWeighing
from dribbet.records.checks import Check, CheckKind, Stream
from dribbet.records.climate import Climate, ReadBy
from dribbet.records.constants import BasePlan, Constants, Dosage, DropsBy, Outline, Swap
from dribbet.records.cups import TAKEN_OUT, MarkKind, Mix, MixMark, Weighing
from dribbet.records.doing import Does, Doing, Figure, Step
from dribbet.records.errors import Cancelled, DribbetError, RecordError, Report, silent
from dribbet.records.factors import MOST_FACTORS, MOST_LEVELS, Factor, Level, Technique, Varied
from dribbet.records.house_rules import HomeCup, HouseRules, Offset, Role, Weigh, Window
from dribbet.records.looks import OWN_TIME, Feel, Flaw, Look
from dribbet.records.materials import Form, Gauging, GaugingKind, Grade, Hazard, Kind, Levelling, Material, Opacity, Pack, Sheen
from dribbet.records.order import NEVER, Happened, latest, order
from dribbet.records.photos import MENDED, PHOTO_SUFFIXES, Lamp, Photo, Reading, Stage, Where
from dribbet.records.picks import Liked, Pick
from dribbet.records.plans import BETWEEN, Advice, Aim, BlockBy, Design, Equal, Extra, Goal, Insisted, Judging, Layout, Response, Wanted
from dribbet.records.pours import MISHAPS, SIGNS, How, Levelled, Mishap, MishapKind, PanelWeighing, PanelWeight, StepMark, Still
from dribbet.records.recipes import Basis, Component, Ingredient, Recipe
from dribbet.records.scores import LEAST_POINTS, MOST_POINTS, Score
from dribbet.records.series import Layer, Panel, Prediction, Series, SeriesState
from dribbet.records.signs import OF_CORNERS, Seen, Sign
from dribbet.records.surveys import MOST_SURVEYED, SURVEYED, Survey
from dribbet.records.treatments import COATS, After, Stuck, Treated
from dribbet.records.units import SYSTEMS, UnitChoice
from dribbet.records.verdicts import Closing, Concluded, Word
from dribbet.records.ways import WAYS, Way, WayStep

__all__ = [
    "BETWEEN",
    "COATS",
    "LEAST_POINTS",
    "MENDED",
    "MISHAPS",
    "MOST_FACTORS",
    "MOST_LEVELS",
    "MOST_POINTS",
    "MOST_SURVEYED",
    "NEVER",
    "OF_CORNERS",
    "OWN_TIME",
    "PHOTO_SUFFIXES",
    "SIGNS",
    "SURVEYED",
    "SYSTEMS",
    "TAKEN_OUT",
    "WAYS",
    "Advice",
    "After",
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
    "Climate",
    "Closing",
    "Component",
    "Concluded",
    "Constants",
    "Design",
    "Does",
    "Doing",
    "Dosage",
    "DribbetError",
    "DropsBy",
    "Equal",
    "Extra",
    "Factor",
    "Feel",
    "Figure",
    "Flaw",
    "Form",
    "Gauging",
    "GaugingKind",
    "Goal",
    "Grade",
    "Happened",
    "Hazard",
    "HomeCup",
    "HouseRules",
    "How",
    "Ingredient",
    "Insisted",
    "Judging",
    "Kind",
    "Lamp",
    "Layer",
    "Layout",
    "Level",
    "Levelled",
    "Levelling",
    "Liked",
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
    "Pick",
    "Prediction",
    "ReadBy",
    "Reading",
    "Recipe",
    "RecordError",
    "Report",
    "Response",
    "Role",
    "Score",
    "Seen",
    "Series",
    "SeriesState",
    "Sheen",
    "Sign",
    "Stage",
    "Step",
    "StepMark",
    "Still",
    "Stream",
    "Stuck",
    "Survey",
    "Swap",
    "Technique",
    "Treated",
    "UnitChoice",
    "Varied",
    "Wanted",
    "Way",
    "WayStep",
    "Weigh",
    "Weighing",
    "Where",
    "Window",
    "Word",
    "latest",
    "order",
    "silent",
]
