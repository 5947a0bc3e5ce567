"""What the maps ask: whoever knows answers."""

from django.dispatch import Signal

#: Which cells of a table a log carries: `job`, `part`, `calibration`, `table`; a mask, or None.
measured = Signal()
