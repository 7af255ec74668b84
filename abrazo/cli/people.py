"""`abrazo staff pin`: another PIN for somebody, also when nobody can sign in any more."""

from __future__ import annotations

import sys
from pathlib import Path

from abrazo.cli.files import whoever
from abrazo.cli.houses import BAD, with_house
from abrazo.core.errors import Refused
from abrazo.desk.context import House
from abrazo.desk.history import reader
from abrazo.desk.setup.things import Change, change
from abrazo.desk.setup.workers import STAFF
from abrazo.words.refusals import refusal_text


def set_pin(db: Path, name: str, pin: str) -> int:
    """Give somebody, by name or short name, another PIN; 2 when there is nobody called so, or the PIN is none."""

    def give(house: House) -> int:
        wanted, there = name.casefold(), house.workers().values()
        found = [one for one in there if wanted in (one.id.casefold(), one.name.casefold())]
        if len(found) != 1:
            print(f"Nobody here is called {name!r}: {', '.join(one.name for one in there)}", file=sys.stderr)
            return BAD
        try:
            change(house, whoever(house), STAFF, Change(found[0].id, {"pin": [pin]}))
        except Refused as refusal:
            print(refusal_text(reader(house), refusal), file=sys.stderr)
            return BAD
        return 0

    return with_house(db, give)
