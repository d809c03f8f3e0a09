"""Rows of tables as plain data and back: times as ISO text, people by their names, contents as files beside.

One list of columns for each table serves both ways, so that what is written is what is read.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from datetime import date, datetime
from typing import Any

from django.db import models

from rowan.web.accounts.models import Firm, User

# columns that name a person
PEOPLE = frozenset({"author", "person", "started_by", "by", "made_by", "proposed_by"})
COLUMNS: dict[str, tuple[str, ...]] = {
    "job": ("title", "created", "archived", "paper_units"),
    "plan": ("letter", "place"),
    "revision": ("number", "kind", "path", "summary", "author", "created", "engine_version", "assumed_count"),
    "run": ("kind", "started_by", "started", "sent", "closed_at", "revisit_on", "look_on", "next_step"),
    "entry": (
        "number", "kind", "step", "field", "value", "reason", "text", "person", "at", "clock_off", "received", "sent",
    ),
    "photo": ("sha256", "width", "height", "taken", "bearing"),
    "left": ("path", "number", "words", "author", "at"),
    "card": ("state", "since"),
    "stood": ("state", "on", "person"),
    "note": ("text", "person", "at"),
    "file": ("name", "size", "person", "at"),
    "visit": ("kind", "start", "end", "words", "cancelled", "uid", "sequence"),
    "diary": ("kind", "at", "person", "level", "words", "data"),
    "handover": ("on", "left_out", "offsets"),
    "device": ("name", "made_by", "created", "heard"),
    "log": ("name", "digest", "size", "signature", "mapping", "rows", "first", "last", "repairs", "person", "at"),
    "quote": ("made", "by", "until", "currency", "data"),
    "customer": ("name", "address", "telephone", "mail", "notes", "created"),
    "site": ("address", "town", "latitude", "longitude", "access", "contact", "contact_telephone"),
    "good": ("kind", "name", "data", "price", "merchant", "withdrawn"),
    "price": ("key", "price", "merchant"),
    "place": ("name", "latitude", "longitude", "altitude", "coldest", "hardness", "ghi", "air"),
    "weather": ("name", "digest", "kind", "latitude", "longitude", "altitude", "utc_offset", "means", "mended"),
}  # fmt: skip


def row_of(table: str, found: models.Model) -> dict[str, Any]:
    """A row as plain data."""
    return {name: _plain(getattr(found, name)) for name in COLUMNS[table]}


def _plain(value: Any) -> Any:
    if isinstance(value, datetime | date):
        return value.isoformat()
    return str(value) if isinstance(value, User) else value


class Reader:
    """Rows back into a firm: who is unknown there becomes somebody known by name alone, who signs in nowhere."""

    def __init__(self, firm: Firm, person: User) -> None:
        self.firm, self.person = firm, person
        self.people: dict[str, User] = {str(one): one for one in firm.people.all()}

    def values(self, table: str, row: Mapping[str, Any], model: type[models.Model]) -> dict[str, Any]:
        """The columns of a row as the table holds them. Raises KeyError for a column that is not there, ValueError for nonsense."""
        return {name: self._value(name, row[name], model) for name in COLUMNS[table]}

    def _value(self, name: str, value: Any, model: type[models.Model]) -> Any:
        if name in PEOPLE:
            return None if value is None else self.somebody(str(value))
        convert = FROM_TEXT.get(type(model._meta.get_field(name)))
        return convert(value) if convert is not None and value is not None else value

    def somebody(self, name: str) -> User:
        """Whoever is called so in the firm."""
        found = self.people.get(name)
        if found is None:
            digest = hashlib.sha256(f"{self.firm.pk} {name}".encode()).hexdigest()
            mail = f"{digest[:24]}@nobody.invalid"
            found = User.objects.filter(email=mail).first() or User.objects.create_user(
                mail, name=name[:80], firm=self.firm, role="viewer", is_active=False
            )
            self.people[name] = found
        return found


FROM_TEXT: dict[type, Callable[[str], Any]] = {
    models.DateTimeField: datetime.fromisoformat,
    models.DateField: date.fromisoformat,
}
