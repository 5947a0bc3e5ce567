"""The voltage that pumps and wires are planned for."""

from __future__ import annotations

SYSTEM_V = 13.5
