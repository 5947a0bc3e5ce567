"""Lines to a computer: ISO-TP on a CAN bus, with UDS on top."""

from __future__ import annotations

import time
from typing import Protocol

import can

from ventmap.core.basics import VentMapError

from .port import Port
from .wire import BUSY_TRIES, BUSY_WAIT_S, READS, REQUEST_ID, RESPONSE_ID, answers, is_busy

PATIENCE_S = 10.0
PENDING_PATIENCE_S = 15.0
#: After a lost answer nothing is asked until the line was still for so long [s]: rests of it may be on it.
SETTLE_S = 0.35


class LinkLost(VentMapError):
    """The computer no longer answers."""


class ReadOnly(VentMapError):
    """A service that changes something was asked of a real vehicle."""


def open_bus(where: str) -> BusLine:
    """A line to a real vehicle, for reading, from a setting such as ``socketcan:can0``.

    Raises
    ------
    LinkLost
        If the setting names no interface, or the interface cannot be opened.
    """
    interface, _, channel = where.partition(":")
    if not interface or not channel:
        raise LinkLost(f"“{where}” names no CAN interface: write it as socketcan:can0.", "VENTMAP_CAN")
    try:
        return BusLine(channel, interface, writes=False)
    except (can.CanError, OSError, ImportError, ValueError) as error:
        raise LinkLost(
            f"The CAN interface {where} does not open: {error}. Check the cable, its driver and its name.",
            "VENTMAP_CAN",
        ) from error


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
    writes : bool
        Whether services that change something may pass. They may to the stand-in alone.
    patience_s : float
        How long an answer is waited for [s].
    bus : can.BusABC, optional
        A bus that is open already.
    """

    def __init__(
        self,
        channel: str,
        interface: str = "virtual",
        *,
        writes: bool = True,
        patience_s: float = PATIENCE_S,
        bus: can.BusABC | None = None,
    ) -> None:
        self.port = Port(bus or can.Bus(interface=interface, channel=channel), REQUEST_ID, RESPONSE_ID)
        self.writes, self.patience_s = writes, patience_s

    def now(self) -> float:
        return time.monotonic()

    def request(self, payload: bytes) -> bytes | None:
        """Send and wait. An answer “pending” prolongs the wait, “busy” is asked again; no answer in time is
        None.

        Raises
        ------
        ReadOnly
            If the service changes something and this line is one to a real vehicle.
        """
        if not self.writes and payload[:1] and payload[0] not in READS:
            raise ReadOnly(
                f"Service {payload[0]:02X} changes something in the computer: on a real vehicle Vent Map"
                " reads only. Use the maker's own tool for it.",
                "link",
            )
        answer = self._ask(payload)
        for _ in range(BUSY_TRIES - 1):
            if not is_busy(answer):
                break
            time.sleep(BUSY_WAIT_S)
            answer = self._ask(payload)
        return answer

    def _ask(self, payload: bytes) -> bytes | None:
        """Send once and wait for its own answer."""
        self.port.empty()
        self.port.send(payload)
        patience = self.patience_s
        while True:
            answer = self.port.receive(patience)
            if answer is None:
                self.port.settle(SETTLE_S)
                return None
            if not answers(payload, answer):
                continue  # late: the answer of a request that nobody waits for any more
            if len(answer) == 3 and answer[0] == 0x7F and answer[2] == 0x78:
                patience = PENDING_PATIENCE_S
                continue
            return answer

    def close(self) -> None:
        self.port.close()
