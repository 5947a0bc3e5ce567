"""A supplier's catalogue of maps and firmware: it answers late, is sometimes away, offers older files."""

from __future__ import annotations

import hashlib
import json
import threading
import time
from dataclasses import dataclass
from pathlib import Path

from ventmap.core.basics import VentMapError

#: Answers take so long, least and most [s].
LATE_S = (0.1, 0.6)
#: One call in so many finds nobody there.
AWAY_EVERY = 7


class CatalogueAway(VentMapError):
    """Nobody answers at the supplier's."""


@dataclass(frozen=True)
class Offer:
    """A file that is offered: a map, or the firmware that it asks for. `replaced_by` names a newer one."""

    maker: str
    file: str
    kind: str
    title: str
    engine: str
    fuel: str
    issued: str
    replaced_by: str


class Catalogue:
    """The catalogue of a folder, with its index.

    Parameters
    ----------
    folder : Path
        Folders by maker, and ``index.json``.
    late_s : pair of float
        Least and most wait of an answer [s].
    away_every : int
        One call in so many finds it away; 0 never.
    """

    def __init__(
        self, folder: Path, late_s: tuple[float, float] = LATE_S, away_every: int = AWAY_EVERY
    ) -> None:
        self.folder, self.late_s, self.away_every = folder, late_s, away_every
        self._calls = 0
        self._lock = threading.Lock()

    def search(self, text: str) -> list[Offer]:
        """Offers whose maker, title, engine or fuel holds every word; the newest first."""
        self._answer(text)
        words = text.lower().split()
        found = [
            offer
            for offer in self._index()
            if all(
                word in " ".join((offer.maker, offer.title, offer.engine, offer.fuel)).lower()
                for word in words
            )
        ]
        return sorted(found, key=lambda offer: (offer.replaced_by != "", offer.title, offer.issued))

    def listed(self) -> list[Offer]:
        """Every offer as the last search brought it, without asking again."""
        return self._index()

    def fetch(self, file: str) -> bytes:
        """The bytes of an offered file.

        Raises
        ------
        CatalogueAway
            Where it does not answer, or offers no such file.
        """
        self._answer(file)
        if file not in {offer.file for offer in self._index()}:
            raise CatalogueAway("The catalogue no longer offers this file. Search again.", "file")
        return (self.folder / file).read_bytes()

    def read(self, offer: Offer) -> bytes:
        """The bytes that came with a search's answer, for judging."""
        return (self.folder / offer.file).read_bytes()

    def _index(self) -> list[Offer]:
        rows = json.loads((self.folder / "index.json").read_text(encoding="utf-8"))
        return [Offer(**row) for row in rows]

    def _answer(self, asked: str) -> None:
        """Wait as a far one does; the same question always waits as long."""
        with self._lock:
            self._calls += 1
            away = self.away_every and self._calls % self.away_every == 0
        share = hashlib.sha256(asked.encode()).digest()[0] / 255
        time.sleep(self.late_s[0] + share * (self.late_s[1] - self.late_s[0]))
        if away:
            raise CatalogueAway(
                "The supplier's catalogue does not answer. The shelf's own maps stand; try again in a while.",
                "catalogue",
            )
