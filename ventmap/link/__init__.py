"""Talking to a vehicle: CAN, ISO-TP, UDS and the legislated services; the logger; the loader."""

from . import quick_can

__all__ = ["quick_can"]
