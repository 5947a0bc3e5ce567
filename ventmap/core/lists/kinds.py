"""Which lists a shop brings, and the fields of each."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import BadInput


@dataclass(frozen=True)
class ListField:
    """One field of a list; a `quantity` makes it a figure, kept in `unit`; `words` head its column."""

    name: str
    label: str
    needed: bool = False
    quantity: str = ""
    unit: str = ""
    most: int = 120
    words: tuple[str, ...] = ()


@dataclass(frozen=True)
class ListKind:
    """A list: what one row is, by which field it is known again, and what else tells it."""

    key: str
    title: str
    one: str
    known_by: tuple[str, ...]
    fields: tuple[ListField, ...]

    def field(self, name: str) -> ListField:
        """One of its fields.

        Raises
        ------
        BadInput
            Where it has none of that name.
        """
        found = next((field for field in self.fields if field.name == name), None)
        if found is None:
            raise BadInput(f"{self.title} have no field “{name}”.", "columns")
        return found


_NAME = ("name", "customer", "owner", "client", "kunde", "besitzer", "cliente", "nom")

LISTS: tuple[ListKind, ...] = (
    ListKind(
        "customers",
        "Customers",
        "customer",
        ("name",),
        (
            ListField("name", "Name", needed=True, most=80, words=_NAME),
            ListField(
                "phone", "Telephone", most=40, words=("phone", "telephone", "mobile", "telefon", "tel")
            ),
            ListField("email", "E-mail", words=("email", "e-mail", "mail")),
            ListField("note", "Note", most=400, words=("note", "notes", "remark", "bemerkung")),
        ),
    ),
    ListKind(
        "vehicles",
        "Customers' vehicles",
        "vehicle",
        ("vin", "registration"),
        (
            ListField(
                "registration", "Registration", most=20, words=("registration", "plate", "kennzeichen")
            ),
            ListField("vin", "VIN or hull number", most=20, words=("vin", "chassis", "hull", "fin")),
            ListField("model", "What it is", needed=True, words=("vehicle", "model", "type", "fahrzeug")),
            ListField("owner", "Owner", most=80, words=_NAME),
            ListField(
                "odometer_km",
                "Odometer",
                quantity="distance",
                unit="km",
                words=("odometer", "mileage", "km", "kilometres", "miles"),
            ),
        ),
    ),
    ListKind(
        "parts",
        "Parts and consumables",
        "part",
        ("name",),
        (
            ListField("name", "Name", needed=True, words=("name", "part", "article", "teil", "artikel")),
            ListField("unit", "Sold by", most=20, words=("unit", "sold by", "einheit")),
            ListField("price", "Price", quantity="number", unit="money", words=("price", "cost", "preis")),
            ListField(
                "stock", "On the shelf", quantity="number", words=("stock", "quantity", "bestand", "count")
            ),
        ),
    ),
    ListKind(
        "injectors",
        "Injectors",
        "injector",
        ("name",),
        (
            ListField("name", "Name or number", needed=True, words=("name", "number", "part", "injector")),
            ListField(
                "flow",
                "Static flow",
                needed=True,
                quantity="injector_flow",
                unit="cm³/min",
                words=("flow", "size", "cc", "durchfluss"),
            ),
            ListField(
                "rated_kpa",
                "Rated at",
                needed=True,
                quantity="pressure",
                unit="kPa",
                words=("rated", "pressure", "druck", "at"),
            ),
            ListField(
                "ohms",
                "Resistance",
                quantity="resistance",
                unit="Ω",
                words=("ohms", "resistance", "impedance"),
            ),
            ListField("price", "Price", quantity="number", unit="money", words=("price", "cost", "preis")),
            ListField("stock", "On the shelf", quantity="number", words=("stock", "quantity", "bestand")),
        ),
    ),
)


def list_by(key: str) -> ListKind:
    """A list by its key.

    Raises
    ------
    BadInput
        Naming those there are.
    """
    found = next((kind for kind in LISTS if kind.key == key), None)
    if found is None:
        raise BadInput(f"There is no list “{key}”. Choose one of {', '.join(k.key for k in LISTS)}.", "list")
    return found
