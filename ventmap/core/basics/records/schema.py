"""JSON Schemas from records."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .common import Record


def plain_schema(record: type[Record]) -> dict[str, Any]:
    """A record's schema with its parts in place and without the marks of what may be left out."""
    whole = record.model_json_schema()
    parts = whole.pop("$defs", {})
    return dict(_plain(whole, parts))


def _plain(node: Any, parts: Mapping[str, Any]) -> Any:
    if isinstance(node, list):
        return [_plain(item, parts) for item in node]
    if not isinstance(node, dict):
        return node
    if "$ref" in node:
        rest = {key: value for key, value in node.items() if key != "$ref"}
        return {**_plain(parts[node["$ref"].rsplit("/", 1)[1]], parts), **_plain(rest, parts)}
    choices = [choice for choice in node.get("anyOf", []) if choice != {"type": "null"}]
    if len(choices) == 1:
        rest = {key: value for key, value in node.items() if key != "anyOf"}
        return _plain({**choices[0], **rest}, parts)
    plain = {}
    for key, value in node.items():
        if key == "properties":
            plain[key] = {name: _plain(field, parts) for name, field in value.items()}
        elif key == "default" and (value is None or value in ("", [], {})) or key == "description":
            continue
        else:
            plain[key] = _plain(value, parts)
    return plain
