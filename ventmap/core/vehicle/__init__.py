"""Vehicle: which one stands here, what fits it, and what ails it. Uses basics."""

from .gearing import Gearing, gearing_of, ratios_of
from .goals import goal_fits
from .kit_clash import clash
from .kit_match import FitReason, FitResult, KitMatch, match_kit, worst_fit
from .symptom_book import BOOK
from .symptoms import TRAITS, complaints_of, diagnose, traits_of
from .tyres import EntryStep, TyreChange, diameter_mm, entry_steps, rating_kmh, speed_error, tyre_change
from .variants import next_question, remaining
from .vin import PLACE_WEIGHTS, check_digit, check_vin, model_years

__all__ = [
    "BOOK",
    "PLACE_WEIGHTS",
    "TRAITS",
    "EntryStep",
    "FitReason",
    "FitResult",
    "Gearing",
    "KitMatch",
    "TyreChange",
    "check_digit",
    "check_vin",
    "clash",
    "complaints_of",
    "diagnose",
    "diameter_mm",
    "entry_steps",
    "gearing_of",
    "goal_fits",
    "match_kit",
    "model_years",
    "next_question",
    "rating_kmh",
    "ratios_of",
    "remaining",
    "speed_error",
    "traits_of",
    "tyre_change",
    "worst_fit",
]
