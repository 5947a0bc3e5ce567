"""House rules: every school and threshold, who changed it and why; and the people of the shop."""

from __future__ import annotations

from datetime import datetime
from ipaddress import ip_address
from typing import Any

from django.contrib.auth import login, update_session_auth_hash
from django.contrib.auth.models import Group, User
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema
from ninja.errors import HttpError
from ninja.utils import check_csrf

from ventmap.core.basics import AREAS, RULES, BadInput, parse_field, read_rule, require_between

from ..schemas import Done
from . import tries
from .access import ROLES, NotAllowed, full_name, lead, person, plain_name, role
from .acts import waits
from .models import House, HouseRuleChange
from .services import changing_shop

router = Router(tags=["shop"])


class RuleOut(Schema):
    key: str
    area: str
    text: str
    unit: str
    quantity: str
    default: float | str
    value: float | str
    reason: str
    choices: list[str]
    changed_by: str = ""
    changed_at: datetime | None = None
    changed_reason: str = ""


class RuleIn(Schema):
    value: str
    reason: str
    unit: str = ""
    """The unit meant when none is typed; the rule's own where empty."""


class PersonOut(Schema):
    username: str
    name: str
    role: str
    active: bool
    last_seen: datetime | None


class PersonIn(Schema):
    username: str
    first: str
    last: str
    role: str
    phrase: str


class RoleIn(Schema):
    role: str
    active: bool = True


class PhraseIn(Schema):
    old: str
    new: str


@router.get("/house-rules", response=list[RuleOut])
def house_rules(request: HttpRequest) -> Any:
    newest = {
        change.key: change for change in HouseRuleChange.objects.select_related("by").order_by("at", "id")
    }
    rows = []
    for key, rule in RULES.items():
        change = newest.get(key)
        value = rule.read(change.value) if change else rule.default
        rows.append(
            {
                "key": key,
                "area": AREAS[key.split(".")[0]],
                "text": rule.text,
                "unit": rule.unit,
                "quantity": rule.quantity,
                "default": rule.default,
                "value": value,
                "reason": rule.reason,
                "choices": list(rule.choices),
                "changed_by": full_name(change.by) if change else "",
                "changed_at": change.at if change else None,
                "changed_reason": change.reason if change else "",
            }
        )
    order = list(dict.fromkeys(AREAS.values()))
    return sorted(rows, key=lambda row: order.index(row["area"]))


@router.put("/house-rules/{key}", response=list[RuleOut])
def change_rule(request: HttpRequest, key: str, body: RuleIn) -> Any:
    """A shop's own value, with its reason. Jobs that are open keep the rules they were judged by."""
    by = lead(request)
    if key not in RULES:
        raise BadInput(f"There is no house rule “{key}”.", "key")
    value = read_rule(key, body.value, body.unit or None)
    if len(body.reason.strip()) < 4:
        raise BadInput("Say why, in a few words: whoever is judged by it will ask.", "reason")
    HouseRuleChange.objects.create(key=key, value=str(value), reason=body.reason.strip(), by=by)
    return house_rules(request)


class HouseIn(Schema):
    name: str
    town: str = ""
    altitude: str
    unit: str = "m"
    currency: str = "money"


@router.put("/house", response=Done)
def change_house(request: HttpRequest, body: HouseIn) -> Any:
    """The shop's name, town, altitude and money. Jobs that are open keep their altitude."""
    lead(request)
    keep_house(body)
    return {
        "sentence": "Kept. New jobs take this altitude; open jobs keep theirs until Intake says otherwise."
    }


def keep_house(body: HouseIn) -> None:
    """Check and store what the shop is."""
    if not body.name.strip():
        raise BadInput("Give the shop a name: it stands on every report.", "name")
    if not body.currency.strip() or any(character.isdigit() for character in body.currency):
        raise BadInput("Name the money as prices show it, like EUR.", "currency")
    altitude = parse_field("altitude", body.altitude, "altitude", body.unit)
    require_between(-400.0, 5500.0, altitude=altitude)
    house = House.current()
    house.name, house.town, house.currency = (
        body.name.strip()[:80],
        body.town.strip()[:80],
        body.currency.strip()[:12],
    )
    house.altitude_m = altitude
    house.save()


@router.get("/people", response=list[PersonOut])
def people(request: HttpRequest) -> Any:
    return [
        {
            "username": user.username,
            "name": full_name(user),
            "role": role(user),
            "active": user.is_active,
            "last_seen": user.last_login,
        }
        for user in User.objects.order_by("username")
    ]


def _checked(phrase: str, user: User | None = None) -> None:
    try:
        validate_password(phrase, user)
    except ValidationError as error:
        raise BadInput(
            "A pass phrase has at least 12 characters, not all alike, not your name and none that everybody"
            " knows: four words are easy to keep.",
            "phrase",
        ) from error


def make_person(body: PersonIn) -> User:
    """A new person with one role, checked.

    Raises
    ------
    BadInput
        Naming the field.
    """
    username = plain_name(body.username)
    if not username.isidentifier() or len(username) > 30:
        raise BadInput("A name to sign in with: letters and digits, no blanks.", "username")
    if User.objects.filter(username=username).exists():
        raise BadInput(f"There is a {username} already.", "username")
    if body.role not in ROLES:
        raise BadInput(f"The role is one of {', '.join(ROLES)}.", "role")
    first, last = body.first.strip()[:60], body.last.strip()[:60]
    # Checked against the person that it will be of: their name is what others try first.
    _checked(body.phrase, User(username=username, first_name=first, last_name=last))
    with transaction.atomic():
        user = User.objects.create_user(
            username,
            password=body.phrase,
            first_name=first,
            last_name=last,
        )
        user.groups.add(Group.objects.get_or_create(name=body.role)[0])
    return user


@router.post("/people", response=list[PersonOut])
def add_person(request: HttpRequest, body: PersonIn) -> Any:
    lead(request)
    make_person(body)
    return people(request)


class ShopIn(Schema):
    house: HouseIn
    lead: PersonIn


@router.post("/shops", response=Done, auth=None)
def open_shop(request: HttpRequest, body: ShopIn) -> Any:
    """The first start of an own shop: its name and its lead, made once, at the server's own machine."""
    if check_csrf(request) is not None:
        raise HttpError(403, "Reload the page and try again.")
    if not ip_address(request.META.get("REMOTE_ADDR", "0.0.0.0")).is_loopback:
        raise NotAllowed("The first lead is made at the machine that serves the shop.", "lead")
    House.current()
    with changing_shop():
        if User.objects.exists():
            raise NotAllowed("This shop has people already. Sign in, or ask the lead.", "lead")
        keep_house(body.house)
        user = make_person(body.lead.copy(update={"role": "lead"}))
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return {"sentence": "The shop is open."}


@router.put("/people/{username}", response=list[PersonOut])
def set_role(request: HttpRequest, username: str, body: RoleIn) -> Any:
    """Role, and whether they may sign in. What they did stays theirs."""
    by = lead(request)
    user = User.objects.filter(username=username).first()
    if user is None:
        raise BadInput(f"There is no {username}.", "username")
    if body.role not in ROLES:
        raise BadInput(f"The role is one of {', '.join(ROLES)}.", "role")
    if user.pk == by.pk and (body.role != "lead" or not body.active):
        raise BadInput("You cannot take the lead from yourself: another lead does that.", "role")
    with transaction.atomic():
        user.groups.set([Group.objects.get_or_create(name=body.role)[0]])
        user.is_active = body.active
        user.save()
    return people(request)


@router.post("/phrases", response=Done)
@waits("a wrong try is kept though it is refused")
def change_phrase(request: HttpRequest, body: PhraseIn) -> Any:
    """A person's own pass phrase; they stay signed in here."""
    user = person(request)
    tries.ask(request, user.username)
    if not user.check_password(body.old):
        tries.wrong(request, user.username)
        raise BadInput("The old pass phrase is not right.", "old")
    tries.right(request, user.username)
    _checked(body.new, user)
    user.set_password(body.new)
    user.save()
    update_session_auth_hash(request, user)
    return {"sentence": "Your pass phrase is changed."}
