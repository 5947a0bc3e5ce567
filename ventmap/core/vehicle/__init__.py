"""Vehicle: which one stands here, what fits it, and what ails it. Uses basics."""

from .goals import goal_fits
from .kit_clash import clash
from .kit_match import FITS, NOT, UNKNOWN, WITH_WORK, FitReason, KitMatch, match_kit
from .symptom_book import BOOK
from .symptoms import complaints_of, diagnose
from .variants import next_question, remaining
from .vin import PLACE_WEIGHTS, check_digit, check_vin, model_years

__all__ = [
    "BOOK",
    "FITS",
    "NOT",
    "PLACE_WEIGHTS",
    "UNKNOWN",
    "WITH_WORK",
    "FitReason",
    "KitMatch",
    "check_digit",
    "check_vin",
    "clash",
    "complaints_of",
    "diagnose",
    "goal_fits",
    "match_kit",
    "model_years",
    "next_question",
    "remaining",
]
