"""What a tester asks a computer: identity, codes, live values, and the services of a write.

`udsoncan` builds and reads the services; the `Line` carries them.
"""

from __future__ import annotations

from dataclasses import dataclass

import udsoncan
from udsoncan.client import Client
from udsoncan.connections import BaseConnection
from udsoncan.exceptions import NegativeResponseException, TimeoutException

from . import wire
from .transport import Line, LinkLost


class LineConnection(BaseConnection):
    """`udsoncan`'s view of a `Line`: a request is answered before the next is sent."""

    def __init__(self, line: Line) -> None:
        super().__init__("ventmap")
        self.line = line
        self.answer: bytes | None = None
        self.opened = False

    def open(self) -> LineConnection:
        self.opened = True
        return self

    def close(self) -> None:
        self.opened = False

    def is_open(self) -> bool:
        return self.opened

    def empty_rxqueue(self) -> None:
        self.answer = None

    def specific_send(self, payload: bytes, timeout: float | None = None) -> None:
        self.answer = self.line.request(payload)

    def specific_wait_frame(self, timeout: float | None = None) -> bytes | None:
        if self.answer is None:
            raise TimeoutException("no answer")
        answer, self.answer = self.answer, None
        return answer


class _Ascii(udsoncan.DidCodec):
    def encode(self, value: str) -> bytes:  # type: ignore[override]
        return value.ljust(32)[:32].encode()

    def decode(self, payload: bytes) -> str:
        return payload.decode("ascii", "replace").strip()

    def __len__(self) -> int:
        return 32


class _Live(udsoncan.DidCodec):
    def __init__(self, value: wire.LiveValue) -> None:
        self.value = value

    def encode(self, value: float) -> bytes:  # type: ignore[override]
        return self.value.pack(value)

    def decode(self, payload: bytes) -> float:
        return self.value.unpack(payload)

    def __len__(self) -> int:
        return 2


_CODECS: dict[int, udsoncan.DidCodec] = {did: _Ascii() for did in wire.IDENTITY.values()}
_CODECS |= {value.did: _Live(value) for value in wire.LIVE.values()}


@dataclass(frozen=True)
class TroubleCode:
    """A code and its status: ``"stored"`` or ``"pending"``."""

    code: str
    status: str


class Tester:
    """A conversation with one computer."""

    def __init__(self, line: Line) -> None:
        self.line = line
        config = dict(udsoncan.configs.default_client_config)
        config |= {
            "data_identifiers": _CODECS,
            "security_algo": lambda level, seed, params: wire.security_key(seed),
            "exception_on_negative_response": True,
            "request_timeout": 8,
            "p2_timeout": 4,
            "use_server_timing": False,
            "tolerate_zero_padding": False,
        }
        self.client = Client(LineConnection(line), config=config)
        self.client.open()

    def ask(self, action: str, *arguments: object, **named: object) -> udsoncan.Response:
        """Call a `udsoncan` service; silence becomes `LinkLost`."""
        try:
            return getattr(self.client, action)(*arguments, **named)
        except (TimeoutException, NegativeResponseException) as error:
            if isinstance(error, NegativeResponseException):
                name = error.response.code_name or "refused"
                raise LinkLost(
                    f"The computer refused: {name}. Check the ignition and that the engine is off.", "link"
                ) from error
            raise LinkLost(
                "The computer does not answer. Check the plug and the ignition, then try again.", "link"
            ) from error

    def identity(self) -> dict[str, str]:
        """Identity as the computer states it, by the names of `wire.IDENTITY`."""
        answer = self.ask("read_data_by_identifier", list(wire.IDENTITY.values()))
        return {name: str(answer.service_data.values[did]) for name, did in wire.IDENTITY.items()}

    def codes(self) -> list[TroubleCode]:
        """Trouble codes, stored and pending (legislated services 03 and 07)."""
        found = []
        for service, status in ((0x03, "stored"), (0x07, "pending")):
            # One byte on CAN (SAE J1979): nothing more is asked.
            answer = self.line.request(bytes([service]))
            if answer is None or answer[0] != service + 0x40:
                raise LinkLost(
                    "The computer does not answer a read of its codes. Check the ignition.", "link"
                )
            found += [
                TroubleCode(unpack_code(answer[at : at + 2]), status) for at in range(2, 2 + 2 * answer[1], 2)
            ]
        return found

    def clear_codes(self) -> None:
        self.ask("clear_dtc")

    def read_live(self, names: list[str] | tuple[str, ...]) -> dict[str, float]:
        """Live values in one request (at most `wire.MOST_PER_REQUEST`).

        Written by hand rather than through `udsoncan`: this is the logger's inner loop.
        """
        request = b"\x22" + b"".join(wire.LIVE[name].did.to_bytes(2, "big") for name in names)
        answer = self.line.request(request)
        if answer is None or answer[0] != 0x62:
            raise LinkLost("The computer stopped answering. Check the plug and the ignition.", "link")
        return {name: wire.LIVE[name].unpack(answer[3 + 4 * k : 5 + 4 * k]) for k, name in enumerate(names)}

    def transfer(self, counter: int, data: bytes = b"") -> bytes:
        """One block to the computer, or from it where `data` is empty; what the answer brought.

        Written by hand rather than through `udsoncan`, as `read_live` is: a write is hundreds of these.

        Raises
        ------
        LinkLost
            If the computer is silent or refuses the block.
        """
        answer = self.line.request(bytes([0x36, counter & 0xFF]) + data)
        if answer is None:
            raise LinkLost(
                "The computer does not answer. Check the plug and the ignition, then try again.", "link"
            )
        if answer[0] != 0x76:
            name = udsoncan.Response.Code.get_name(answer[2]) if len(answer) > 2 else None
            raise LinkLost(
                f"The computer refused: {name or 'a block'}. Check the ignition and that the engine is off.",
                "link",
            )
        return answer[2:]

    def learn_pedal(self) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        """Learn both pedal tracks: (closed, half way, open) of each [V]."""
        return self._learn(wire.ROUTINE_LEARN_PEDAL)

    def learn_throttle(self) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        """Move the throttle body from shut to open: (closed, half way, open) of both its tracks [V]."""
        return self._learn(wire.ROUTINE_LEARN_THROTTLE)

    def _learn(self, routine: int) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        self.ask("change_session", wire.EXTENDED_SESSION)
        answer = self.ask("start_routine", routine)
        data = answer.service_data.routine_status_record
        volts = [int.from_bytes(data[k : k + 2], "big") / 1000 for k in range(0, 12, 2)]
        return (volts[0], volts[1], volts[2]), (volts[3], volts[4], volts[5])


def unpack_code(data: bytes) -> str:
    """Two bytes as a trouble code (SAE J2012)."""
    number = int.from_bytes(data, "big")
    return f"{'PCBU'[number >> 14]}{number & 0x3FFF:04X}"
