"""Lines to a computer: ISO-TP on a CAN bus, with UDS on top."""

from __future__ import annotations

import time
from typing import Protocol

import can

from ventmap.core.basics import VentMapError

from .port import Port
from .wire import REQUEST_ID, RESPONSE_ID

PATIENCE_S = 10.0
PENDING_PATIENCE_S = 15.0


class LinkLost(VentMapError):
    """The computer no longer answers."""


class Line(Protocol):
    """Anything that carries a request to a computer and brings its answer."""

    def now(self) -> float: ...

    def request(self, payload: bytes) -> bytes | None: ...

    def close(self) -> None: ...


class BusLine:
    """ISO-TP on any `python-can` bus.

    Parameters
    ----------
    channel : str
    interface : str
        As `python-can` names it: ``"virtual"``, ``"socketcan"``…
    """

    def __init__(self, channel: str, interface: str = "virtual") -> None:
        self.port = Port(can.Bus(interface=interface, channel=channel), REQUEST_ID, RESPONSE_ID)

    def now(self) -> float:
        return time.monotonic()

    def request(self, payload: bytes) -> bytes | None:
        """Send and wait. An answer “pending” prolongs the wait; no answer in time is None."""
        self.port.send(payload)
        patience = PATIENCE_S
        while True:
            answer = self.port.receive(patience)
            if answer is None:
                return None
            if len(answer) == 3 and answer[0] == 0x7F and answer[2] == 0x78:
                patience = PENDING_PATIENCE_S
                continue
            return answer

    def close(self) -> None:
        self.port.close()
