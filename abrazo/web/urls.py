"""All addresses in one place; templates never glue paths."""

from __future__ import annotations

from urllib.parse import quote, urlencode


def _query(path: str, state: dict[str, object]) -> str:
    pairs = [(k, v) for k, v in state.items() if v not in (None, "", ())]
    return f"{path}?{urlencode(pairs, doseq=True)}" if pairs else path


def today(**state: object) -> str:
    """Today."""
    return _query("/", state)


def sign_in(**state: object) -> str:
    """Signing in."""
    return _query("/sign-in", state)


def practise_at() -> str:
    """Where somebody who practises goes to another till."""
    return "/practice/till"


def kept(**state: object) -> str:
    """What was typed when a sign-in ended."""
    return _query("/kept", state)


def sign(number: int, payment: int) -> str:
    """Signing for a payment."""
    return f"/tickets/{number}/payments/{payment}/sign"


def signature(number: int, payment: int) -> str:
    """A signature as SVG."""
    return f"/tickets/{number}/payments/{payment}/signature.svg"


def notes() -> str:
    """Where notes are hidden or shown."""
    return "/notes"


def my_tips() -> str:
    """Own tips."""
    return "/my-tips"


def orders() -> str:
    """Where a phone order is opened."""
    return "/orders"


def new_order(**state: object) -> str:
    """A new phone order."""
    return _query("/orders/new", state)


def last_receipt() -> str:
    """Where the last receipt is printed."""
    return "/last-receipt"


def adjust(number: int, **state: object) -> str:
    """What is given on a ticket."""
    return _query(f"/tickets/{number}/adjust", state)


def hire(**state: object) -> str:
    """What is out, due back and free, and where a hire begins."""
    return _query("/hire", state)


def hire_on(number: int, **state: object) -> str:
    """What can be hired on a ticket."""
    return _query(f"/tickets/{number}/hire", state)


def one_hire(number: int, **state: object) -> str:
    """A hire's sheet."""
    return _query(f"/hire/{number}", state)


def set_aside_list() -> str:
    """Goods that are set aside."""
    return "/set-aside"


def set_aside(number: int) -> str:
    """Setting a ticket's goods aside."""
    return f"/tickets/{number}/set-aside"


def set_up() -> str:
    """All of set-up, with a search over it."""
    return "/set-up"


def set_up_house(section: str = "") -> str:
    """House settings, of a section."""
    return _query("/set-up/house", {"section": section} if section else {})


def set_up_list(kind: str, **state: object) -> str:
    """All of a kind of thing that the house is set up with."""
    return _query(f"/set-up/list/{kind}", state)


def set_up_thing(kind: str, ref: str) -> str:
    """One of them."""
    return f"/set-up/list/{kind}/{ref}"


def set_up_files(kind: str, **state: object) -> str:
    """A kind of thing as a file, out and in."""
    return _query(f"/set-up/files/{kind}", state)


def set_up_out() -> str:
    """What is written out as tables."""
    return "/set-up/out"


def set_up_brought(**state: object) -> str:
    """What people held before the house kept it here."""
    return _query("/set-up/brought", state)


def set_up_test() -> str:
    """Send a test to a device."""
    return "/set-up/test"


def logo() -> str:
    """The picture at the head of receipts."""
    return "/set-up/logo"


def set_up_changes() -> str:
    """Who changed what in set-up."""
    return "/set-up/changes"


def whose(number: int, **state: object) -> str:
    """Whose a ticket is."""
    return _query(f"/tickets/{number}/person", state)


def goods(**state: object) -> str:
    """Goods and counts."""
    return _query("/goods", state)


def prep(place: str) -> str:
    """The queue of a place."""
    return f"/prep/{quote(place)}"


def slip(number: int) -> str:
    """A slip of a queue."""
    return f"/prep/slips/{number}"


def counter_mode(**state: object) -> str:
    """Counter mode."""
    return _query("/counter-mode", state)


def counter_line(**state: object) -> str:
    """A line of the sale in counter mode, to be changed."""
    return _query("/counter-mode/change-line", state)


def counted_so_far() -> str:
    """What the pieces that are typed come to."""
    return "/till/sum"


def statement(person: int, **state: object) -> str:
    """The statement of somebody's account."""
    return _query(f"/people/{person}/statement", state)


def statement_file(person: int, kind: str, **state: object) -> str:
    """The same as a file."""
    return _query(f"/people/{person}/statement/statement.{kind}", state)


def floor(**state: object) -> str:
    """The floor plan."""
    return _query("/set-up/floor", state)


def ticket(number: int, **state: object) -> str:
    """A ticket with the panes and choices of `state`."""
    return _query(f"/tickets/{number}", state)


def ticket_act(number: int, act: str) -> str:
    """Where a form about a ticket is sent."""
    return f"/tickets/{number}/{act}"


def invoice(number: int) -> str:
    """An invoice or credit note."""
    return f"/invoices/{number}"


def invoice_file(number: int, kind: str) -> str:
    """The same as a file."""
    return f"/invoices/{number}/invoice.{kind}"


def make_invoice(number: int, payer: int) -> str:
    """Where the invoice of a payer is made."""
    return f"/tickets/{number}/invoice/{payer}"


def invoices_to(person: int) -> str:
    """What was made to somebody, and what invoices say of them."""
    return f"/people/{person}/invoices"


def why(number: int, **state: object) -> str:
    """Every amount of a ticket, unfolded."""
    return _query(f"/tickets/{number}/why", state)


def change(number: int, payment: int) -> str:
    """The change view of a cash payment."""
    return f"/tickets/{number}/payments/{payment}"


def done(number: int) -> str:
    """The view of a ticket on which nothing is left to pay."""
    return f"/tickets/{number}/done"


def receipt(number: int, payer: int) -> str:
    """A payer's receipt."""
    return f"/tickets/{number}/receipts/{payer}"


def live(number: int, **state: object) -> str:
    """The stream of a ticket's card machine steps."""
    return _query(f"/tickets/{number}/live", state)


def seat(spot: str) -> str:
    """Where guests sit down."""
    return f"/tables/{spot}/seat"


def till() -> str:
    """The till."""
    return "/till"


def open_day() -> str:
    """Where a day is opened."""
    return "/till/open"


def count_drawer() -> str:
    """Where a drawer is counted."""
    return "/till/count"


def bank_cash() -> str:
    """Where cash of a drawer goes to the bank or the safe."""
    return "/till/bank"


def pay_tips() -> str:
    """Where tips are paid out in cash."""
    return "/till/tips"


def pool() -> str:
    """Where the pool of tips is divided."""
    return "/till/pool"


def pool_list(division: int, **state: object) -> str:
    """Who has what of a pool that was divided."""
    return _query(f"/till/pool/{division}", state)


def print_pool(division: int) -> str:
    """Where the list of a pool is printed."""
    return f"/till/pool/{division}/print"


def payout() -> str:
    """Where a payout of a machine or the service is booked."""
    return "/till/payout"


def petty_back(row: int) -> str:
    """Where money paid out or in is taken back."""
    return f"/till/petty/{row}/back"


def close_day() -> str:
    """The view to read before a day is closed."""
    return "/till/close"


def match(**state: object) -> str:
    """A day's charges against the batch files."""
    return _query("/till/match", state)


def owed(**state: object) -> str:
    """What is owed to customers, now or on a date."""
    return _query("/till/owed", state)


def courses() -> str:
    """Courses to come and lately."""
    return "/courses"


def course(one: int, **state: object) -> str:
    """A course with who comes."""
    return _query(f"/courses/{one}", state)


def owners(**state: object) -> str:
    """What owners have of hires."""
    return _query("/hire/owners", state)


def owners_file(**state: object) -> str:
    """The same as a file."""
    return _query("/hire/owners/owner.csv", state)


def accounts(**state: object) -> str:
    """What customers owe on account, over a range of business dates."""
    return _query("/accounts", state)


def accounts_file(**state: object) -> str:
    """The same as a file."""
    return _query("/accounts/accounts.csv", state)


def statement_runs() -> str:
    """Statements of many accounts are asked for."""
    return "/accounts/statements"


def statement_run(run: int) -> str:
    """How far the statements of many accounts have come."""
    return f"/accounts/statements/{run}"


def auditor(state: dict[str, object]) -> str:
    """The auditor's folder of days as a ZIP file."""
    return _query("/till/auditor.zip", state)


def report_file(form: str, state: dict[str, object]) -> str:
    """A report as a file."""
    return _query(f"/till/report.{form}", state)


def report(**state: object) -> str:
    """A day's report; the latest when no day is named."""
    return _query("/till/report", state)


def set_up_rights() -> str:
    """Which role has which right."""
    return "/set-up/rights"


def set_up_tenders() -> str:
    """The ways to pay."""
    return "/set-up/tenders"


def past(**state: object) -> str:
    """Past tickets."""
    return _query("/past", state)


def device_desk() -> str:
    """The device desk."""
    return "/devices"


def display(**state: object) -> str:
    """The guests' display of a till."""
    return _query("/display", state)


def display_live(**state: object) -> str:
    """The stream that a guests' display follows."""
    return _query("/display/live", state)


def find() -> str:
    """The finder."""
    return "/find"


def listen() -> str:
    """The stream on which a station hears its scanner."""
    return "/devices/listen"


def lens(name: str, **state: object) -> str:
    """Today through one of its lenses."""
    return _query("/", {"lens": name, **state})


def booking(number: int) -> str:
    """A booking, beside the day it is in."""
    return _query("/", {"lens": "bookings", "booking": number})


def booking_act(number: int, act: str) -> str:
    """An act on a booking."""
    return f"/bookings/{number}/{act}"


def new_booking(**state: object) -> str:
    """Where a booking is made."""
    return _query("/bookings/new", state)


def several_days(**state: object) -> str:
    """Bookings of several days side by side."""
    return _query("/bookings", state)


def change_booking(number: int, **state: object) -> str:
    """Where a booking is changed or moved."""
    return _query(f"/bookings/{number}/change", state)


def set_up_bookings() -> str:
    """Hours, deposits and fees of bookings."""
    return "/set-up/bookings"


def walk_in(number: int) -> str:
    """Serving somebody from the queue."""
    return f"/walk-ins/{number}"


def calendar() -> str:
    """Calendar files."""
    return "/calendar"


def job(number: int, **state: object) -> str:
    """A job."""
    return _query(f"/jobs/{number}", state)


def job_act(number: int, act: str) -> str:
    """An act on a job."""
    return f"/jobs/{number}/{act}"


def drop_off(**state: object) -> str:
    """The form of a job drop-off."""
    return _query("/jobs/new", state)


def new_tab(**state: object) -> str:
    """A new tab."""
    return _query("/tabs/new", state)


def people(**state: object) -> str:
    """People."""
    return _query("/people", state)


def person_act(number: int, act: str) -> str:
    """An act on a person, or a file about them."""
    return f"/people/{number}/{act}"


def person(number: int, **state: object) -> str:
    """Somebody's sheet."""
    return _query(f"/people/{number}", state)


def import_people() -> str:
    """Where a file with people is read."""
    return "/people/import"


def file(number: int) -> str:
    """How far a file that was handed in has come."""
    return f"/files/{number}"


def move(number: int) -> str:
    """Where a ticket, its lines or a guest can go."""
    return f"/tickets/{number}/move"


def with_state(path: str, **state: object) -> str:
    """An address of ours with something to say on it."""
    return _query(path, state)
