"""`abrazo init`: a house of a profile, and an example of one with every setting explained."""

from __future__ import annotations

import json
import sys
import tomllib
from collections.abc import Iterator
from pathlib import Path

from abrazo.cli.houses import BAD, WHY_NOT
from abrazo.core.money import Currency
from abrazo.desk.context import Settings
from abrazo.desk.setup.fields import Field, FieldKind, shown
from abrazo.desk.setup.house_settings import FIELDS, SECTIONS
from abrazo.desk.setup.kinds import IN_ORDER
from abrazo.desk.setup.profiles import Fault, Faulty, make_house
from abrazo.store.migrate import FileState, examine
from abrazo.words import set_up as words
from abrazo.words.refusals import refusal_text
from abrazo.words.speaking import Reader

HEAD = """# A house, as `abrazo init --db house.db --profile THIS.toml` makes it.
# Texts stand in quotes, also amounts ("12.50") and percents ("20").
# What is left out begins as the lines with # before them say.

[house]
name = "The Tide Room"
address = "Quay 1, Port Ellery"
country = "AT"                # two letters (ISO 3166): how phone numbers are read
currency = "EUR"              # ISO 4217
zone = "Europe/Vienna"        # IANA: the house's own time
prices = "with tax"           # or "without tax": then it is added on the bill
cash_rounding = "0.05"        # cash is rounded to this; leave it out for the least coin
# language = "en"
# does = ["tables", "tabs", "bookings", "jobs", "hire", "phone", "kitchen"]   # the rest shows nowhere
"""
ENTRIES = {
    "taxes": '[[taxes]]\nid = "full"\nlabel = "VAT 20 %"\nrate = "20"\n# parts = [["State", "6.25"], ["Town", "2"]]',
    "categories": '[[categories]]\nid = "drinks"\nname = "Drinks"\nicon = "cup"',
    "choices": '[[choices]]\nid = "milk"\nname = "Milk"\nleast = 0\nmost = 1\n'
    'choices = [["oat", "0.60"], ["none", ""]]',
    "items": '[[items]]\nname = "Coffee"\nprice = "3.20"\ncategory = "drinks"\ntax = "full"\nreport_group = "drinks"\n'
    'groups = ["milk"]\n\n[[items]]                     # with a length it is booked\nname = "Haircut"\nprice = "30"\n'
    'category = "drinks"\ntax = "full"\nreport_group = "services"\nminutes = 30',
    "families": '[[families]]\nname = "Wool cap"',
    "price-lists": '[[price-lists]]\nname = "Evening"\ndays = ["1", "2"]\nbegins = "17:00"\nends = "19:00"\n'
    'prices = [["Coffee", "2.80"]]',
    "words": '[[words]]\nwords = "without sugar"\nabout = "item"\ngroups = "drinks"',
    "series": '[[series]]\nname = "Ten coffees"\nprice = "29"\ncategory = "drinks"\ntax = "full"\n'
    'report_group = "drinks"\nuses = 10\ndays = 365\nitems = [["coffee"]]',
    "memberships": '[[memberships]]\nid = "friend"\nname = "Friend of the house"\n'
    'gives = [["10 % for friends", "10", "", "drinks", ""]]',
    "membership-items": '[[membership-items]]\nname = "Friend, a year"\nprice = "40"\ncategory = "drinks"\n'
    'tax = "full"\nreport_group = "drinks"\nkind = "friend"\nmonths = 12',
    "hire": '[[hire]]\nname = "Handcart"\nprice = "12"\ncategory = "drinks"\ntax = "full"\nreport_group = "hire"\n'
    'value = "180"\ntariffs = [["day", "12", "1 d", "", ""], ["weekend", "20", "", "5 16:00", "7 18:00"]]\n'
    'late_price = "3"',
    "units": '[[units]]\nname = "H-1"\nitem = "handcart"',
    "printers": '[[printers]]\nname = "Behind the bar"\naddress = "192.168.1.40"\n'
    'prints = ["till till-1"]\ndrawers = true',
    "after-sale": '[[after-sale]]\nname = "How was it?"\ndoes = "message"\ndays = 2\nclock = "10:00"\n'
    'words = "Hello [name], how was it? [house]"',
    "own-fields": '[[own-fields]]\nname = "Boot size"\nabout = "person"',
    "presets": '[[presets]]\nname = "Neighbours"\nkind = "discount"\npercent = "10"\nscope = "both"',
    "rights": '[[rights]]                    # id: of which role\nid = "server"\nreprint = true',
    "tables": "[[tables]]                    # as many as there are; without x and y they stand in rows\n"
    'name = "T1"\nseats = 4',
    "hours": '[[hours]]                     # id: whose, made of the name\nid = "bo-lind"\n'
    'monday = "9:00-12:30 13:30-17:00"',
    "booking-terms": "[[booking-terms]]             # id: of which item that takes time\n"
    'id = "haircut"\ndeposit = "10"\nfee = "15"',
    "tenders": '[[tenders]]\nname = "Meal ticket"\nreference = "Its number"\noffered = true\n\n'
    '[[tenders]]\nid = "cheque"\noffered = false',
    "tills": '[[tills]]\nname = "Bar"\nhome = "room"',
    "staff": '[[staff]]                     # the first supervisor is needed\nname = "Ada Moor"\nrole = "supervisor"\n'
    'pin = "604815"\n\n[[staff]]\nname = "Bo Lind"\nrole = "server"\npin = "2086"\n'
    "takes_bookings = true",
}


def example() -> str:
    """A profile with every field that there is."""
    return "\n".join([HEAD, *_settings(), *_things()]) + "\n"


def _settings() -> Iterator[str]:
    yield "[settings]"
    for section in SECTIONS:
        yield f"# ---- {words.SECTIONS[section]}"
        for field in FIELDS:
            if field.section == section and field.id not in ("name", "address", "language", "country", "does"):
                yield _explained("settings", field, _default(field))


def _explained(thing: str, field: Field, value: str) -> str:
    name, help = words.FIELDS[thing][field.id]
    return f"# {name}{'. ' + help if help else ''}\n#{field.id} = {value}"


def _default(field: Field) -> str:
    known = Settings.__dataclass_fields__
    value = known[field.id].default if field.id in known else []
    if field.kind is FieldKind.YES:
        return "true" if value else "false"
    if field.kind is FieldKind.WHOLE:
        return str(value) if isinstance(value, int) else "99" if field.id == "service_from" else '""'
    if field.id in ("open_days", "reminder_days", "prep_places"):
        return json.dumps(str(value).split("|" if field.kind is FieldKind.NAMES else None))
    if isinstance(value, list):
        return "[]"
    text = "0" if field.id == "service_percent" else "" if not isinstance(value, str | int) else value
    return json.dumps(shown(Currency.of("EUR"), field, text))


def _things() -> Iterator[str]:
    for id, thing in IN_ORDER.items():
        plural, _, about = words.THINGS[id]
        yield f"\n# ==== {plural}. {about}"
        for field in thing.fields:
            name, help = words.FIELDS[id][field.id]
            yield f"# {field.id}: {name}{'. ' + help if help else ''}"
        yield ENTRIES[id]


def init(db: Path, profile: Path, *, as_json: bool = False) -> int:
    """Make a house of a profile; 2 with every fault named, and nothing made."""
    state = examine(db)
    if state is not FileState.MISSING:
        print(WHY_NOT.get(state, "There is a house in {db} already.").format(db=db), file=sys.stderr)
        return BAD
    try:
        make_house(db, tomllib.loads(profile.read_text("utf-8")))
    except OSError as fault:
        return _say([f"{profile}: {fault.strerror}"], as_json)
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as fault:
        return _say([f"{profile} is no TOML file: {fault}"], as_json)
    except Faulty as faulty:
        return _say([_fault(one) for one in faulty.faults], as_json)
    print(f"The house lies in {db}. Start it with: abrazo serve --db {db}")
    return 0


def _fault(fault: Fault) -> str:
    return f"{fault.where}: {refusal_text(Reader(), fault.why)}"


def _say(faults: list[str], as_json: bool) -> int:
    print(json.dumps({"faults": faults}) if as_json else "\n".join(faults), file=sys.stderr)
    return BAD
