"""What the house decides, each described once: by that it is shown, checked, found, kept with who and when, undone.

What may not change while there are tickets (currency, zone, prices with or without tax, cash rounding) is decided when
the house begins, and not here.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.invoices import is_country
from abrazo.core.money import read_decimal
from abrazo.core.states import Does, MailSecurity, TipsTo
from abrazo.desk.act import Act
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.setup.equipment import is_address
from abrazo.desk.setup.fields import Field, FieldKind, Option, Options
from abrazo.desk.setup.kinds import KINDS
from abrazo.desk.setup.options import named, taxes_of, texts_of
from abrazo.desk.setup.things import Change, Thing, change
from abrazo.formats.email_address import read_email
from abrazo.store import logo, settings, till
from abrazo.store.set_up import Values
from abrazo.words import phrases as w
from abrazo.words.catalogue import language_names, languages

ONE = "house"  # there is one of it
MOST_MINUTES, MOST_IDLE, MOST_DAYS, MOST_REMINDERS = 120, 240, 999, 5
WEEKDAYS = tuple("1234567")
PREFIXES = ("job_prefix", "hire_prefix", "aside_prefix")  # before numbers, as they are typed to find them
SECRET = ("mail_password", "text_token")  # never shown, nor written out
CAPITALS = ("country", *PREFIXES)
SPLIT = ("open_days", "reminder_days", "does")  # kept as text, with blanks between


def _yes(id: str, section: str) -> Field:
    return Field(id, FieldKind.YES, section=section)


def _days(id: str, section: str, most: int = MOST_DAYS) -> Field:
    return Field(id, FieldKind.WHOLE, section=section, most=most)


def _text(id: str, section: str, longest: int, *, empty: bool = True) -> Field:
    return Field(id, section=section, longest=longest, empty=empty)


def _tax(id: str, section: str) -> Field:
    return Field(id, FieldKind.CHOICE, section=section, empty=True, nothing=None, options=taxes_of)


def _names(id: str, section: str, most: int) -> Field:
    return Field(id, FieldKind.NAMES, section=section, empty=True, nothing=[], longest=30, most=most)


def _weekdays(_: House) -> list[Option]:
    return [Option(day, day) for day in WEEKDAYS]


_languages: Options = lambda _: [Option(id, name) for id, name in language_names(languages()).items()]  # noqa: E731  # one of the options of fields

FIELDS = (
    _text("name", "house", 60, empty=False),
    Field("address", FieldKind.LINES, section="house", empty=True, longest=200),
    Field("does", FieldKind.CHOICES, section="house", options=lambda _: [Option(one, one) for one in Does]),
    Field("language", FieldKind.CHOICE, section="house", options=_languages),
    Field("idle_minutes", FieldKind.WHOLE, section="house", least=1, most=MOST_IDLE),
    Field(
        "free_after",
        FieldKind.WHOLE,
        section="tickets",
        empty=True,
        nothing=None,
        least=1,
        most=MOST_MINUTES,
        needs=Does.TABLES,
    ),
    Field("service_percent", FieldKind.PERCENT, section="tickets", most=100, needs=Does.TABLES),
    Field("service_from", FieldKind.WHOLE, section="tickets", least=1, most=99, needs=Does.TABLES),
    replace(_tax("service_tax", "tickets"), needs=Does.TABLES),
    _tax("surcharge_tax", "tickets"),
    Field("free_discount", FieldKind.PERCENT, section="tickets", most=100),
    replace(_names("prep_places", "tickets", 8), needs=Does.KITCHEN),
    replace(_yes("send_at_once", "tickets"), needs=Does.KITCHEN),
    Field("tips_to", FieldKind.CHOICE, section="tickets", options=lambda _: named(TipsTo)),
    Field("tab_hold", FieldKind.MONEY, section="tickets", needs=Does.TABS),
    Field("delivery_fee", FieldKind.MONEY, section="tickets", needs=Does.PHONE),
    replace(_tax("delivery_tax", "tickets"), needs=Does.PHONE),
    Field("receipt_head", FieldKind.LINES, section="papers", empty=True, longest=200),
    Field("message", FieldKind.LINES, section="papers", empty=True, longest=200),
    _yes("tax_number_on_receipts", "papers"),
    _yes("show_removed", "papers"),
    _text("legal_name", "papers", 100),
    _text("country", "papers", 2),
    _text("tax_number", "papers", 100),
    _text("invoice_prefix", "numbers", 8),
    _text("credit_prefix", "numbers", 8),
    _yes("one_series", "numbers"),
    _yes("numbers_by_till", "numbers"),
    replace(_text("job_prefix", "numbers", 5, empty=False), needs=Does.JOBS),
    replace(_text("hire_prefix", "numbers", 5, empty=False), needs=Does.HIRE),
    _text("aside_prefix", "numbers", 5, empty=False),
    _text("mail_server", "messages", 200),
    Field("mail_security", FieldKind.CHOICE, section="messages", options=lambda _: named(MailSecurity)),
    _text("mail_user", "messages", 200),
    Field("mail_password", section="messages", empty=True, longest=200, stays=True),
    _text("mail_from", "messages", 200),
    _text("text_address", "messages", 300),
    Field("text_token", section="messages", empty=True, longest=300, stays=True),
    Field("pay_out_limit", FieldKind.MONEY, section="drawer"),
    _names("petty", "drawer", 20),
    _yes("sign_cash", "drawer"),
    _names("sold_from", "drawer", 8),
    Field("open_days", FieldKind.CHOICES, section="jobs", options=_weekdays),
    _days("job_days", "jobs"),
    _days("uncollected_days", "jobs"),
    _days("disposal_days", "jobs"),
    Field("reminder_days", FieldKind.NUMBERS, True, [], section="accounts"),
    _yes("tax_on_advances", "accounts"),
    _yes("memberships_back", "ahead"),
    replace(_yes("early_hires_back", "ahead"), needs=Does.HIRE),
    Field("layaway_percent", FieldKind.PERCENT, section="ahead", most=100),
    _days("layaway_days", "ahead"),
    Field("layaway_fee", FieldKind.PERCENT, section="ahead", most=100),
    _tax("layaway_tax", "ahead"),
    Field("points_per", FieldKind.MONEY, section="ahead", least=1),
    Field("points_lot", FieldKind.WHOLE, section="ahead", least=1, most=100_000),
    Field("points_value", FieldKind.MONEY, section="ahead"),
)


def _logos(house: House) -> list[Option]:
    """Every picture that there was, in words: how large it prints."""
    return [
        Option(str(one["id"]), house.say(w.PICTURE_OF, wide=one["width"], high=one["height"]))
        for one in logo.sizes(house.connection)
    ]


LOGO = Field("logo", FieldKind.CHOICE, empty=True, options=_logos, section="papers")
SECTIONS = tuple(dict.fromkeys(one.section for one in FIELDS))


def _load(house: House) -> dict[str, Values]:
    now = asdict(settings.read(house.connection))
    values: Values = {one.id: now.get(one.id) for one in FIELDS}
    values |= {id: str(now[id]).split() for id in SPLIT}
    values |= dict.fromkeys(SECRET, "")
    values["prep_places"] = [*settings.read(house.connection).prepared_at]
    values["petty"] = till.petty_categories(house.connection)
    values["sold_from"] = settings.anonymous_accounts(house.connection)
    values[LOGO.id] = str(logo.which_prints(house.connection) or "")
    return {ONE: values}


def _save(act: Act, _: str, values: Values) -> None:
    plain: dict[str, str | float | bool | None] = {}
    for id, value in values.items():
        if id == "petty":
            till.put_petty_categories(act.connection, texts_of(value))
        elif id == "sold_from":
            settings.put_anonymous_accounts(act.connection, texts_of(value))
        elif id == LOGO.id:
            logo.print_from_now(act.connection, int(str(value or 0)))
        elif id == "prep_places":
            values[id] = [*filter(None, dict.fromkeys(map(_plain_place, texts_of(value))))]
            plain[id] = "|".join(texts_of(values[id]))
        elif id in SECRET:
            plain[id], values[id] = str(value), ""  # it is written down that there is one, and not which
        elif id in CAPITALS:
            plain[id] = values[id] = str(value or "").upper()
        else:
            plain[id] = " ".join(texts_of(value)) if isinstance(value, list) else value
    if plain:
        settings.put(act.connection, **plain)


def _plain_place(name: str) -> str:
    """A place's name as it can stand in an address and beside others."""
    return " ".join("".join(one if one.isalnum() or one in "-'&" else " " for one in name).lower().split())


def _check(_: House, __: str, values: Values) -> None:
    days = texts_of(values["reminder_days"])
    numbers = [int(one) for one in days if one.isascii() and one.isdigit()]
    if len(numbers) < len(days) or len(days) > MOST_REMINDERS or numbers != sorted(set(numbers)):
        raise Refused(Code.REMINDER_DAYS, "reminder_days", most=MOST_REMINDERS)
    if not values["open_days"]:
        raise Refused(Code.JOB_DAYS, "open_days")
    if (country := str(values["country"] or "").upper()) and not is_country(country):
        raise Refused(Code.NO_COUNTRY, "country", typed=country)
    if (server := str(values["mail_server"] or "")) and not is_address(server):
        raise Refused(Code.NOT_ADDRESS, "mail_server")
    if (sender := str(values["mail_from"] or "")) and read_email(sender, "mail_from") != sender:
        raise Refused(Code.NO_EMAIL, "mail_from")
    if (address := str(values["text_address"] or "")) and not address.startswith(("http://", "https://")):
        raise Refused(Code.NOT_URL, "text_address")
    percent, decimals = read_decimal(str(values["free_discount"]), "free_discount")
    if percent >= 100 or decimals > 2:
        raise Refused(Code.FREE_DISCOUNT_RANGE, "free_discount")
    prefixes = [str(values[id]).upper().rstrip("-") for id in PREFIXES]
    for id, prefix in zip(PREFIXES, prefixes, strict=True):
        if not (prefix.isascii() and prefix.isalpha()) or prefix == "T" or prefixes.count(prefix) > 1:
            raise Refused(Code.NUMBER_PREFIX, id)


SETTINGS = Thing("settings", FIELDS, _load, _save, _check, adds=False, retires=False, apart=(LOGO,))
THINGS: Mapping[str, Thing] = {**KINDS, SETTINGS.id: SETTINGS}


def decide(house: House, actor: Actor, setting: str, value: str | list[str]) -> None:
    """Decide one of them anew; refused where the value is none for it."""
    if all(one.id != setting for one in FIELDS):
        raise NotFound(f"no setting {setting!r}")
    typed = {setting: [value] if isinstance(value, str) else value}
    change(house, actor, SETTINGS, Change(ONE, typed))
