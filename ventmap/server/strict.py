"""JSON in and out, strictly: what no person types is refused at the door, and no answer holds NaN."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from math import isfinite
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja.errors import HttpError
from ninja.parser import Parser
from ninja.renderers import JSONRenderer

#: Longest of any text that is typed [characters]: a note.
LONGEST_TEXT = 10_000
#: Fields that hold a file as text, each as long as its record takes it [characters].
LONGER = {"dbc": 4_000_000}
#: What no figure of the trade reaches, and every database keeps as it is.
LARGEST = 1e15
#: How deep a body may nest, and how many things it may hold.
DEEPEST, MOST_THINGS = 24, 200_000


class NotPlain(HttpError):
    """A body that no screen sends; 400 with a sentence."""

    def __init__(self, sentence: str, field: str | None = None) -> None:
        super().__init__(400, sentence)
        self.field = field


def _constant(name: str) -> Any:
    raise NotPlain(f"{name} is no figure. Leave the field empty where there is none.")


def text_wrong(text: str, longest: int = LONGEST_TEXT) -> str:
    """What is wrong with a text that was typed; empty where nothing is."""
    if len(text) > longest:
        return f"has {len(text)} characters; {longest} at most"
    if "\x00" in text:
        return "holds a character that no text has"
    try:
        text.encode()
    except UnicodeEncodeError:
        return "holds half a character"
    return ""


def check(value: Any) -> Any:
    """A body as it was read, if all its texts and figures are ones that can be kept.

    Raises
    ------
    NotPlain
        Naming the field.
    """
    things = 0
    stack: list[tuple[Any, str, int]] = [(value, "", 0)]
    while stack:
        item, field, depth = stack.pop()
        things += 1
        if depth > DEEPEST:
            raise NotPlain("This is nested deeper than any entry is.", field or None)
        if things > MOST_THINGS:
            raise NotPlain("This holds more than any entry does. Bring it as a file.", field or None)
        if isinstance(item, str):
            wrong = text_wrong(item, LONGER.get(field, LONGEST_TEXT))
            if wrong:
                raise NotPlain(f"{(field or 'text').replace('_', ' ')}: this {wrong}.", field or None)
        elif isinstance(item, float) and isfinite(item) and abs(item) >= LARGEST:
            raise NotPlain(f"{(field or 'figure').replace('_', ' ')}: this is too large.", field or None)
        elif isinstance(item, float) and not isfinite(item):
            raise NotPlain(f"{(field or 'figure').replace('_', ' ')}: this is no figure.", field or None)
        elif isinstance(item, int) and not isinstance(item, bool) and abs(item) > 2**53:
            raise NotPlain(f"{(field or 'figure').replace('_', ' ')}: this is too large.", field or None)
        elif isinstance(item, dict):
            for key, inner in item.items():
                wrong = text_wrong(key, 200)
                if wrong:
                    raise NotPlain(f"A field's name {wrong}.", None)
                stack.append((inner, key, depth + 1))
        elif isinstance(item, list):
            stack.extend((inner, field, depth + 1) for inner in item)
    return value


def loads(body: bytes) -> Any:
    """A JSON body, checked.

    Raises
    ------
    NotPlain
    """
    try:
        return check(json.loads(body, parse_constant=_constant))
    except RecursionError as error:
        raise NotPlain("This is nested deeper than any entry is.") from error
    except ValueError as error:
        raise NotPlain("This is no JSON: the entry did not arrive whole. Send it again.") from error


#: Addresses that take a file as a form; everywhere else a body is JSON, or a file sent as it is.
FORMS = re.compile(r"/api/jobs/[^/]+/(maps|map-parts/[^/]+)/files/?")


def only_plain(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """A middleware before all that read a body: a form where none belongs is refused, in words."""

    def ask(request: HttpRequest) -> HttpResponse:
        form = request.content_type in ("multipart/form-data", "application/x-www-form-urlencoded")
        if form and request.path.startswith("/api/") and not FORMS.fullmatch(request.path):
            told = {
                "sentence": "Send this as JSON, or the file as it is: no form belongs here.",
                "field": None,
            }
            return JsonResponse(told, status=415)
        return get_response(request)

    return ask


class StrictParser(Parser):
    def parse_body(self, request: HttpRequest) -> Any:
        return loads(request.body)


def finite(value: Any) -> Any:
    """The same with None in place of every figure that JSON cannot say."""
    if isinstance(value, float):
        return value if isfinite(value) else None
    if isinstance(value, dict):
        return {key: finite(inner) for key, inner in value.items()}
    if isinstance(value, list | tuple):
        return [finite(inner) for inner in value]
    return value


class StrictRenderer(JSONRenderer):
    def render(self, request: HttpRequest, data: Any, *, response_status: int) -> Any:
        try:
            return json.dumps(data, cls=self.encoder_class, allow_nan=False, **self.json_dumps_params)
        except ValueError:
            return json.dumps(finite(data), cls=self.encoder_class, **self.json_dumps_params)
