"""What the house has decided: one row with a column for each; and the accounts of sales without a customer."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from dataclasses import fields as fields_of
from operator import attrgetter

from abrazo.core.money import Currency
from abrazo.core.states import Does, MailSecurity, TaxMode, TipsTo
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Settings:
    """What the house has decided. Money is minor units; rates are decimal text; taxes are ids, None for untaxed."""

    name: str
    address: str
    message: str
    currency: Currency
    tax_mode: TaxMode
    cash_rounding: int
    region: str  # ISO 3166: how phone numbers without country code are read
    zone: str  # IANA: the house's own time, into which calendars' times are read
    service_percent: str
    service_from: int
    secret: str = ""
    service_tax: str | None = None
    delivery_tax: str | None = None
    surcharge_tax: str | None = None
    delivery_fee: int = 400  # for bringing an order, unless said otherwise
    tab_hold: int = 3000  # held on a card for a tab, unless said otherwise
    points_per: int = 100  # minor units of net that earn a point
    points_lot: int = 100  # points that are spent together
    points_value: int = 500  # minor units that a lot is worth
    pay_out_limit: int = 5000  # up to which everybody pays out of the drawer
    free_discount: str = "0"  # percent up to which everybody gives a discount of their own choice
    tips_to: TipsTo = TipsTo.STAFF
    send_at_once: bool = False
    free_after: int | None = None  # minutes; None: by hand
    show_removed: bool = False
    layaway_percent: str = "20"  # of the total that is paid at first, at least
    layaway_days: int = 60  # for how long goods are kept
    layaway_fee: str = "10"  # percent of what was paid that is kept when it is cancelled
    layaway_tax: str | None = None  # of that fee
    open_days: str = "1 2 3 4 5 6 7"  # weekdays on which jobs are promised, Monday is 1
    job_days: int = 3  # open days until a job is promised, unless said otherwise
    uncollected_days: int = 14  # after which a ready job stands apart
    disposal_days: int = 0  # after which it may be disposed of; 0: never
    reminder_days: str = "7 21 35"  # days after an invoice is due at which it is reminded of
    legal_name: str = ""  # as invoices have it; empty: the name
    country: str = ""  # ISO 3166, of the address; empty: the region
    tax_number: str = ""  # as the authority gave it
    receipt_head: str = ""  # lines under the address
    tax_number_on_receipts: bool = False
    invoice_prefix: str = "I-"  # before an invoice's number
    credit_prefix: str = "C-"  # before a credit note's
    does: str = " ".join(Does)  # what shows; the rest does nowhere
    prep_places: str = "kitchen|bar"  # where what is ordered is prepared, with a bar between them
    one_series: bool = False  # tickets, jobs, hires and goods set aside are numbered in one series
    numbers_by_till: bool = False  # each till has its own
    job_prefix: str = "S-"  # before a job's number
    hire_prefix: str = "H-"  # before a hire's
    aside_prefix: str = "L-"  # before that of goods set aside
    early_hires_back: bool = False  # whether what an early return of a hire leaves is given back
    tax_on_advances: bool = False  # whether tax on a deposit is owed when it is received
    memberships_back: bool = True  # whether days that are left of a membership are given back
    sign_cash: bool = False  # whether cash is signed for, not only what a card machine wants
    mail_server: str = ""  # host:port that sends e-mail; empty: the stand-in
    mail_security: MailSecurity = MailSecurity.STARTTLS
    mail_user: str = ""
    mail_password: str = ""
    mail_from: str = ""  # in whose name e-mail goes out
    text_address: str = ""  # URL that takes text messages; empty: the stand-in
    text_token: str = ""
    idle_minutes: int = 5  # after so many without a touch nobody is signed in any more
    patience: float = 8.0  # seconds before silence of a card machine counts as no answer
    clock_shift: float = 0.0
    language: str = "en"  # BCP 47: of pages, sentences and dates
    demo: bool = False
    practice: bool = False  # a copy on which somebody practises
    ready: bool = False

    @property
    def prepared_at(self) -> tuple[str, ...]:
        """The places that prepare what is ordered, in the house's order."""
        return tuple(self.prep_places.split("|")) if self.prep_places else ()


NAMES = tuple(field.name for field in fields_of(Settings))
_values = attrgetter(*NAMES)
READ = f"SELECT {', '.join(NAMES)} FROM settings"
ADD = f"INSERT INTO settings (id, {', '.join(NAMES)}) VALUES (1, {', '.join('?' * len(NAMES))})"
ANONYMOUS = "SELECT name FROM anonymous_account ORDER BY position"
DROP_ANONYMOUS = "DELETE FROM anonymous_account"
ADD_ANONYMOUS = "INSERT INTO anonymous_account (name, position) VALUES (?, ?)"


def read(connection: Connection) -> Settings:
    """The settings as they stand."""
    row = connection.execute(READ).fetchone()
    return record(Settings, row, currency=Currency.of(row["currency"]))


def add(connection: Connection, settings: Settings) -> None:
    """The settings of a new house."""
    connection.execute(ADD, tuple(s.code if isinstance(s, Currency) else s for s in _values(settings)))


def put(connection: Connection, **changed: str | float | bool | None) -> None:
    """Change some settings, by name. A name that there is not is a KeyError."""
    for name in changed:
        if name not in NAMES:
            raise KeyError(name)
    places = ", ".join(f"{name} = ?" for name in changed)
    connection.execute(f"UPDATE settings SET {places}", tuple(changed.values()))


def anonymous_accounts(connection: Connection) -> list[str]:
    """The accounts of sales without a customer, in the house's order."""
    return [row["name"] for row in connection.execute(ANONYMOUS)]


def put_anonymous_accounts(connection: Connection, names: Iterable[str]) -> None:
    """Write the accounts of sales without a customer anew."""
    connection.execute(DROP_ANONYMOUS)
    connection.executemany(ADD_ANONYMOUS, [(name, place) for place, name in enumerate(names)])
