"""Requests that no screen sends: every operation, each role, bodies made wrong in ways of our own."""

from __future__ import annotations

import json
import random
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

#: Values that have broken something somewhere.
NASTY: tuple[Any, ...] = (
    None,
    True,
    -1,
    0,
    2**63,
    -(2**70),
    1e308,
    1e-320,
    "",
    " " * 400,
    "x" * 300,
    "x" * 12_000,
    "0001",
    "９９",
    "\u202e\u0000\ufeff",
    "9999-99-99 99:99",
    "12,5 V",
    "1e999",
    "-0",
    "../../etc/passwd",
    "'; DROP TABLE jobs; --",
    "<script>alert(1)</script>",
    "🛻" * 90,
    [],
    {},
    [[[[]]]],
    [None, {"a": []}],
    {"": "", "a" * 300: 1},
    {"key": "fit.grounds", "value": "x"},
)
RAW: tuple[bytes, ...] = (
    b"",
    b"{",
    b"nul",
    b"[1,",
    b'{"a": NaN}',
    b'{"a": "\\ud800"}',
    b"\xff\xfe\x00{",
    b"[" * 5_000,
    b'{"a":' * 200 + b"1" + b"}" * 200,
    b"--x\r\nContent-Disposition: form-data; name=a\r\n\r\n",
)
#: What an address is aimed at, so that it meets something that is there, or nearly.
AIMED: dict[str, tuple[str, ...]] = {
    "number": (*(f"{n:04d}" for n in range(1, 15)), "9999", "%E2%80%8B", "0001%2F.."),
    "key": ("fit.grounds", "fit.tap_1", "intake.leaks", "fuel-pump", "fit.torque", "no.such"),
    "kind": ("pump", "vehicle", "nothing"),
    "username": ("viewer", "lead", "nobody"),
    "model": ("Estate", "x"),
    "ticket": ("t", "x" * 80),
    "part": ("main", "brandrel-line", "harrow-driver", "no-such"),
}
TYPES = (
    *["application/json"] * 5,
    "text/plain",
    "application/octet-stream",
    "multipart/form-data",
    "multipart/form-data; boundary=x",
    "application/x-www-form-urlencoded",
    "",
)


@dataclass(frozen=True)
class Asked:
    """One request."""

    role: str
    method: str
    path: str
    query: dict[str, str]
    body: bytes
    kind: str


def _example(schema: dict[str, Any], parts: dict[str, Any], chance: random.Random, depth: int = 0) -> Any:
    """A body that the schema would take, or nearly: a field here and there is one of the nasty values."""
    if depth > 6 or chance.random() < 0.12:
        return chance.choice(NASTY)
    if "$ref" in schema:
        return _example(parts[schema["$ref"].rsplit("/", 1)[1]], parts, chance, depth)
    if "anyOf" in schema:
        return _example(chance.choice(schema["anyOf"]), parts, chance, depth)
    if "enum" in schema:
        return chance.choice(schema["enum"])
    kind = schema.get("type")
    if kind == "object":
        made = {
            name: _example(inner, parts, chance, depth + 1)
            for name, inner in schema.get("properties", {}).items()
            if chance.random() > 0.07
        }
        extra = schema.get("additionalProperties")
        if isinstance(extra, dict):
            made |= {f"k{n}": _example(extra, parts, chance, depth + 1) for n in range(chance.randint(0, 3))}
        return made
    if kind == "array":
        of = schema.get("items", {})
        return [_example(of, parts, chance, depth + 1) for _ in range(chance.randint(0, 3))]
    if kind == "integer":
        return chance.choice((0, 1, 2, -1, 7, 10**6))
    if kind == "number":
        return chance.choice((0.0, 1.5, -3.0, 1e6, 0.1))
    if kind == "boolean":
        return chance.random() < 0.5
    return chance.choice(
        ("", "0001", "12.5 V", "fit", "lead", "none", "street", "5 %", "a word or two", "14.7")
    )


CELLS = (None, "", "0", 0, "-1", "1e9", "1e-9", "5 %", "nan", "x", "0,5 V", True, "12.4", "60 kPa", "2 rpm")


def cells(schema: dict[str, Any], parts: dict[str, Any], chance: random.Random, known: Any) -> Any:
    """What may stand in a grid: its own shape, with the names that it was told of, and cells of any sort."""
    if "$ref" in schema:
        return cells(parts[schema["$ref"].rsplit("/", 1)[1]], parts, chance, known)
    if "anyOf" in schema:
        return cells(chance.choice(schema["anyOf"]), parts, chance, known)
    kind = schema.get("type")
    if kind == "object":
        named = schema.get("properties", {}).items()
        more = schema.get("additionalProperties")
        names = _names(known.model_dump())
        extra = {chance.choice(names): cells(more, parts, chance, known)} if isinstance(more, dict) else {}
        return {name: cells(inner, parts, chance, known) for name, inner in named} | extra
    if kind == "array":
        if fixed := schema.get("prefixItems"):
            return [cells(inner, parts, chance, known) for inner in fixed]
        alike = chance.choice(CELLS)  # the same in every cell breaks other sums than a mixture does
        many = chance.choice((0, 1, 2, 4, 4, 4, 8))
        of = schema.get("items", {})
        found = [cells(of, parts, chance, known) for _ in range(many)]
        plain = all(not isinstance(item, dict | list) for item in found)
        return [alike] * many if plain and chance.random() < 0.4 else found
    if kind == "string" and chance.random() < 0.6:
        return chance.choice(_names(known.model_dump()))
    if kind == "integer":
        return chance.choice((0, 1, 2, 4, -1))
    if kind == "number":
        return chance.choice((0.0, 1.0, -2.0, 1e9))
    if kind == "boolean":
        return chance.random() < 0.5
    return chance.choice(CELLS)


def _names(told: Any) -> list[str]:
    """Every word that a grid is told."""
    if isinstance(told, dict):
        return [word for inner in told.values() for word in _names(inner)] or ["x"]
    if isinstance(told, list | tuple):
        return [word for inner in told for word in _names(inner)]
    return [told] if isinstance(told, str) and told else []


def damaged(chance: random.Random, files: Sequence[bytes]) -> bytes:
    """A real file, cut, with bytes changed, doubled or put in; now and then as it was."""
    data = bytearray(chance.choice(files))
    for _ in range(chance.choice((0, 1, 1, 2, 8))):
        at = chance.randrange(len(data) or 1)
        how = chance.randrange(5)
        if how == 0:
            del data[at:]
        elif how == 1:
            data[at : at + 1] = bytes([chance.randrange(256)])
        elif how == 2:
            data[at:at] = chance.choice((b"[" * 3_000, b"\x00", b'"' + b"x" * 140_000, b"\r", b",;\t" * 50))
        elif how == 3:
            del data[at : at + chance.randrange(1, 200)]
        else:
            data += data[at : at + 2_000]
        data = data[:3_000_000] or bytearray(b"x")
    return bytes(data)


def form(body: bytes) -> bytes:
    """A body as the one file of a form whose parts are parted by x."""
    head = b'--x\r\nContent-Disposition: form-data; name="file"; filename="a"\r\n\r\n'
    return head + body + b"\r\n--x--\r\n"


def requests(
    document: dict[str, Any], count: int, seed: int, leave: set[str], files: Sequence[bytes] = ()
) -> Iterator[Asked]:
    """`count` requests over all operations of an OpenAPI document but those to leave, by a seed."""
    chance = random.Random(seed)
    parts = document["components"]["schemas"]
    operations = [
        (method, path, operation)
        for path, methods in document["paths"].items()
        for method, operation in methods.items()
        if f"{method} {path}" not in leave and not path.endswith("/events")
    ]
    for _ in range(count):
        method, path, operation = chance.choice(operations)
        query = {}
        for parameter in operation.get("parameters", ()):
            name = parameter["name"]
            if parameter["in"] == "path":
                known = AIMED.get(name, ("1", "2", "0", "-1", "99999999999999999999", "x"))
                path = path.replace(f"{{{name}}}", chance.choice(known))
            elif chance.random() < 0.8:
                value = _example(parameter.get("schema", {}), parts, chance)
                query[name] = str(value)[:3_000]
        content = operation.get("requestBody", {}).get("content", {})
        schema = content.get("application/json", {}).get("schema")
        kind = chance.choice(TYPES)
        if "multipart/form-data" in content and chance.random() < 0.9:
            body, kind = form(damaged(chance, files or RAW)), "multipart/form-data; boundary=x"
        elif not content and method in ("put", "post") and files and chance.random() < 0.8:
            body = damaged(chance, files)
        elif schema is None or chance.random() < 0.15:
            body = chance.choice(RAW)
        else:
            body = json.dumps(_example(schema, parts, chance)).encode()
        role = chance.choice(("lead", "lead", "installer", "viewer", ""))
        yield Asked(role, method, path, query, body, kind)


def run(
    ask: Callable[[Asked], tuple[int, bytes, str]],
    document: dict[str, Any],
    count: int,
    seed: int,
    leave: set[str],
    files: Sequence[bytes] = (),
) -> tuple[Counter[int], list[str]]:
    """Ask them all.

    Returns
    -------
    statuses : Counter
    faults : list of str
        Answers of 500 and above, refusals without a sentence, and answers that are no strict JSON.
    """
    statuses: Counter[int] = Counter()
    faults = []
    for asked in requests(document, count, seed, leave, files):
        status, answer, kind = ask(asked)
        statuses[status] += 1
        who = asked.role or "nobody"
        told = f"{status} {who} {asked.method} {asked.path} {asked.query} {asked.body[:300]!r}"
        if status >= 500 and status not in (502, 503, 507):
            faults.append(f"{told} → {answer[:200]!r}")
        elif status >= 400 and status != 405:
            try:
                body = json.loads(answer)
                if set(body) != {"sentence", "field"} or not body["sentence"]:
                    faults.append(f"{told} → {answer[:200]!r}")
            except ValueError:
                faults.append(f"{told} → {answer[:200]!r}")
        elif kind.startswith("application/json"):
            try:
                json.loads(answer, parse_constant=lambda name: 1 / 0)
            except (ValueError, ZeroDivisionError):
                faults.append(f"{told} → no strict JSON")
    return statuses, faults
