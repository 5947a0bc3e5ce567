"""A working day of the sample shop: files of what people did, played through the services that they use."""

from .clock import own_clock
from .player import play

__all__ = ["own_clock", "play"]
