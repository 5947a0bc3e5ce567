"""One end of an ISO-TP conversation on a `python-can` bus, driven by whoever waits on it.

No helper threads: the one who waits for an answer also moves the frames, so that nothing is lost to a thread
that
came too late.
"""

from __future__ import annotations

import time

import can
import isotp

from .wire import ISOTP_PARAMETERS


class Port:
    """Send and receive whole payloads.

    Parameters
    ----------
    bus : can.BusABC
    transmit_id, receive_id : int
        11-bit identifiers.
    """

    def __init__(self, bus: can.BusABC, transmit_id: int, receive_id: int) -> None:
        self.bus = bus
        self._waiting: can.Message | None = None
        self._receive_id = receive_id
        address = isotp.Address(isotp.AddressingMode.Normal_11bits, txid=transmit_id, rxid=receive_id)
        self._layer = isotp.TransportLayerLogic(
            self._receive_frame, self._send_frame, address, params=ISOTP_PARAMETERS
        )

    def _receive_frame(self, timeout: float) -> isotp.CanMessage | None:
        message, self._waiting = self._waiting, None
        if message is None:
            message = self.bus.recv(0)
        if message is None:
            return None
        return isotp.CanMessage(
            arbitration_id=message.arbitration_id, data=bytes(message.data), dlc=message.dlc
        )

    def _send_frame(self, message: isotp.CanMessage) -> None:
        self.bus.send(
            can.Message(arbitration_id=message.arbitration_id, data=message.data, is_extended_id=False)
        )

    def send(self, payload: bytes) -> None:
        """Queue a payload and push out what the protocol allows now."""
        self._layer.send(payload)
        self._layer.process()

    def empty(self) -> None:
        """Drop what came that nobody waits for any more."""
        self._layer.process()
        while self._layer.available():
            self._layer.recv()

    def settle(self, quiet_s: float) -> None:
        """Drop every frame for this end until none has come for so long, and what was received by halves: a
        frame that comes late would be taken for one of the next answer, for it carries a count and no name.
        """
        until = time.monotonic() + quiet_s
        self._waiting = None
        while (left := until - time.monotonic()) > 0:
            message = self.bus.recv(min(left, 0.02))
            if message is not None and message.arbitration_id == self._receive_id:
                until = time.monotonic() + quiet_s
        self._layer.reset()

    def receive(self, timeout: float) -> bytes | None:
        """The next payload, or None when `timeout` seconds have passed without one."""
        until = time.monotonic() + timeout
        while True:
            self._layer.process()
            if self._layer.available():
                payload = self._layer.recv()
                return bytes(payload) if payload is not None else None
            left = until - time.monotonic()
            if left <= 0:
                return None
            # While sending, frames follow each other; otherwise wait for the other side.
            self._waiting = self.bus.recv(min(left, 0.001 if self._layer.transmitting() else 0.02))

    def close(self) -> None:
        self.bus.shutdown()
