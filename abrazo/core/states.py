"""The states that things can be in, and the kinds and ways there are, by the words that are kept of them.

What each means to people is said in `words/states.py`. A line's role is in `ledger`, an entry's kind in `journal`,
a refusal's code in `errors`: they carry rules or facts of their own.
"""

from __future__ import annotations

from enum import StrEnum


class TaxMode(StrEnum):
    """Whether prices contain their tax, or it is added to them."""

    INCLUSIVE = "inclusive"
    EXCLUSIVE = "exclusive"


class TicketState(StrEnum):
    """Whether a ticket is in work; left: it ended without a sale."""

    OPEN = "open"
    CLOSED = "closed"
    LEFT = "left"


class Source(StrEnum):
    """How a ticket began."""

    TABLE = "table"
    COUNTER = "counter"
    TAB = "tab"
    BOOKING = "booking"
    WALK_IN = "walk-in"
    JOB = "job"
    PHONE = "phone"


class Split(StrEnum):
    """How a bill is shared among its payers: by what each had, in equal parts, by stated amounts."""

    SHARES = "shares"
    EQUAL = "equal"
    AMOUNTS = "amounts"


class Share(StrEnum):
    """How payers bear a charge: by what each had, or each the same."""

    PROPORTIONAL = "proportional"
    EVEN = "even"


class RowKind(StrEnum):
    """What an amount on a payer's bill is a part of; a memo is a tax that prices contain."""

    LINE = "line"
    CHARGE = "charge"
    TAX = "tax"
    MEMO = "memo"


class AdjustmentKind(StrEnum):
    """What changes a price: a benefit comes from a membership, a series was paid ahead, a comp is on the house."""

    DISCOUNT = "discount"
    COMP = "comp"
    SURCHARGE = "surcharge"
    BENEFIT = "benefit"
    SERIES = "series"


class Scope(StrEnum):
    """On what a preset discount may be given."""

    LINE = "line"
    TICKET = "ticket"
    BOTH = "both"


class TipsTo(StrEnum):
    """Whose tips are: theirs who served, or everybody's."""

    STAFF = "staff"
    POOL = "pool"


class Tender(StrEnum):
    """What a bill is paid with, as far as the product knows it; a house adds recorded ones of its own."""

    CASH = "cash"
    CARD = "card"
    KEYED_CARD = "keyed card"
    STORED_CARD = "stored card"
    BANK_ACCOUNT = "bank account"
    GIFT_CARD = "gift card"
    VOUCHER = "voucher"
    STORE_CREDIT = "store credit"
    POINTS = "points"
    ACCOUNT = "account"
    DEPOSIT = "deposit"


class TenderKind(StrEnum):
    """How a tender is taken."""

    CASH = "cash"
    MACHINE = "machine"
    KEYED = "keyed"
    STORED_CARD = "stored card"
    RECORDED = "recorded"
    GIFT_CARD = "gift card"
    VOUCHER = "voucher"
    STORE_CREDIT = "store credit"
    POINTS = "points"
    ACCOUNT = "account"


class Extra(StrEnum):
    """What becomes of what is given above the bill."""

    TIP = "tip"
    CREDIT = "credit"


class Signature(StrEnum):
    """Whether the slip of a charge is to be signed, and how it was."""

    NONE = ""
    WANTED = "wanted"
    PAPER = "paper"
    SCREEN = "screen"


class RequestKind(StrEnum):
    """What a card machine, or the payment service, is asked to do."""

    CHARGE = "charge"
    REFUND = "refund"
    HOLD = "hold"
    CAPTURE = "capture"
    RELEASE = "release"
    TIP = "tip"


class RequestState(StrEnum):
    """How a request stands; unknown: the device gave no answer, so the card may have been charged."""

    ASKED = "asked"
    SENT = "sent"
    UNKNOWN = "unknown"
    APPROVED = "approved"
    DECLINED = "declined"
    CANCELLED = "cancelled"
    NOT_SENT = "not sent"


class HoldState(StrEnum):
    """What became of a sum held on a card."""

    HELD = "held"
    USED = "used"
    RELEASED = "released"


class RefundState(StrEnum):
    """Whether what is to go back went back."""

    ASKED = "asked"
    DONE = "done"
    NOT_DONE = "not done"


class CorrectionKind(StrEnum):
    """What was done to a closed ticket, or is asked of a supervisor."""

    REOPENED = "reopened"
    VOID = "void"
    HANDED_ON = "handed on"


class Direction(StrEnum):
    """Which way money goes without a sale: through the drawer, or spent outside of it."""

    OUT = "out"
    IN = "in"
    OUTSIDE = "outside"


class GoodsMove(StrEnum):
    """Why goods came or went without a sale and without a count."""

    CAME_BACK = "came back"
    NOT_FOR_SALE = "unsaleable"
    BOUGHT = "bought"
    TAKEN_BACK = "taken back"


class FloatDifference(StrEnum):
    """Why a float is not what its drawer was left with at the last close."""

    FIRST = "first"
    BANK = "bank"
    UNKNOWN = "unknown"


class SlipKind(StrEnum):
    """What a slip tells a kitchen or bar."""

    MAKE = "make"
    STOP = "stop"


class BookingState(StrEnum):
    """Whether somebody who booked came."""

    BOOKED = "booked"
    HERE = "here"
    ABSENT = "absent"
    CANCELLED = "cancelled"


class WalkInState(StrEnum):
    """What became of somebody in the queue."""

    WAITING = "waiting"
    SERVED = "served"
    LEFT = "left"


class JobState(StrEnum):
    """How far the work on a job is; that it was handed over follows from its hand-overs."""

    WAITING = "waiting"
    IN_WORK = "in work"
    READY = "ready"


class OrderWay(StrEnum):
    """Whether a phone order is fetched or brought."""

    PICK_UP = "pick-up"
    DELIVERY = "delivery"


class StaffRole(StrEnum):
    """What somebody does in the house, which decides on their rights."""

    SERVER = "server"
    CLERK = "clerk"
    CRAFTSMAN = "craftsman"
    SUPERVISOR = "supervisor"


class TaxCategory(StrEnum):
    """What a tax is to EN 16931 (BT-118; UNTDID 5305): at the standard or a reduced rate, at 0, exempt, not subject."""

    RATED = "S"
    ZERO = "Z"
    EXEMPT = "E"
    OUTSIDE = "O"


class Does(StrEnum):
    """What a house does besides sales at the counter; what it does not do shows nowhere."""

    TABLES = "tables"
    TABS = "tabs"
    BOOKINGS = "bookings"
    JOBS = "jobs"
    HIRE = "hire"
    PHONE = "phone"
    KITCHEN = "kitchen"


class SetUpAct(StrEnum):
    """What was done to something that a house is set up with."""

    ADDED = "added"
    CHANGED = "changed"
    RETIRED = "retired"
    BACK = "brought back"


class InvoiceKind(StrEnum):
    """An invoice, or what takes one back."""

    INVOICE = "invoice"
    CREDIT_NOTE = "credit note"


class HireStanding(StrEnum):
    """How a hire stands now."""

    BOOKED = "booked"
    OUT = "out"
    DUE_TODAY = "due back today"
    LATE = "late"
    BACK = "back"


class HireEvent(StrEnum):
    """What the owner of a unit is told of."""

    HIRED = "hired"
    NOT_HIRED = "not hired"
    REFUNDED = "refunded"
    RETURNED = "returned"


class Right(StrEnum):
    """What not everybody may do."""

    SELL = "sell and take money"
    WORK_ON_JOBS = "work on jobs"
    REFUND = "refund"
    REOPEN = "reopen"
    VOID = "void"
    TAKE_OFF_MADE = "take off what was made"
    COMP = "comp"
    FREE_DISCOUNT = "free discount"
    KEEP_DEPOSIT = "keep a deposit"
    SEE_REPORTS = "see reports"
    SEE_EXPECTED = "see expected cash before the count"
    COUNT_AGAIN = "count again"
    PAY_OUT_LARGE = "pay out above the limit"
    CLOSE_DAY = "close the day"
    SKIP_FLOAT = "skip counting the float"
    LEAVE_COUNTER_MODE = "leave counter mode"
    HOLD_TO_COUNTER_MODE = "hold somebody to counter mode"
    CHANGE_SENDING = "change how lines are sent"
    SET_PRICE = "set prices"
    GIVE_MEMBERSHIPS = "give memberships"
    COUNT_GOODS = "count goods"
    MOVE_FILES = "read and write files"
    PAY_TIPS = "pay out tips"
    SEE_TIPS = "see tips of others"
    REPRINT = "print receipts again"
    FREE_PAYERS = "let somebody pay otherwise while a card machine is silent"
    ABOVE_LIMIT = "go above the limit of an account"
    WRITE_OFF = "write off what is owed"
    STAND_INS = "tell stand-ins what to do"
    SET_UP = "set up"


class PoolMeasure(StrEnum):
    """By what a pool of tips is divided."""

    HOURS = "hours"
    POINTS = "points"


class FileKind(StrEnum):
    """What a file that comes in holds."""

    PEOPLE = "people"
    BOOKINGS = "bookings"


class ImportState(StrEnum):
    """How far a file that comes in has come. What it brings is seen when it is done, and not before."""

    WAITING = "waiting"
    READING = "reading"
    WRITING = "writing"
    DONE = "done"
    REFUSED = "refused"


class MailSecurity(StrEnum):
    """How a mail server is reached: TLS from the first byte, after a word, or not at all."""

    STARTTLS = "starttls"
    TLS = "tls"
    NONE = "none"


class TableKind(StrEnum):
    """What goes out as a table."""

    PEOPLE = "people"
    BOOKINGS = "bookings"
    TICKETS = "tickets"
    LINES = "lines"
    PAYMENTS = "payments"
    TIPS = "tips"
    DRAWER = "drawer"
    CORRECTIONS = "corrections"
    STOCK = "stock"
    MEMBERSHIPS_HELD = "memberships-held"
    SERIES_HELD = "series-held"
    STORED_VALUE = "stored-value"
    POINTS = "points"


class HeldKind(StrEnum):
    """What people hold, as it goes out and comes in as a table."""

    MEMBERSHIPS = "memberships-held"
    SERIES = "series-held"
    STORED_VALUE = "stored-value"
    POINTS = "points"


class PlanOutcome(StrEnum):
    """What became of a change that was planned."""

    WAITS = ""
    MADE = "made"
    REFUSED = "refused"
    TAKEN_BACK = "taken back"


class PresetAbout(StrEnum):
    """What words that are written again and again are about: an item's request, a job, where its thing lies."""

    ITEM = "item"
    JOB = "job"
    PLACE = "place"


class OwnAbout(StrEnum):
    """Of whom or what the house has facts of its own."""

    PERSON = "person"
    JOB = "job"


class AfterSale(StrEnum):
    """What can happen when a sale has ended; hand over: jobs that are ready and were settled with it."""

    RECEIPT = "receipt"
    DRAWER = "drawer"
    MESSAGE = "message"
    HAND_OVER = "hand over"


class AfterSaleOutcome(StrEnum):
    """What became of it. `not needed`: it was done before, or there is nobody to send it to."""

    WAITING = ""
    DONE = "done"
    LEFT_OUT = "left out"
    NOT_NEEDED = "not needed"
    FAILED = "failed"


class StatementOutcome(StrEnum):
    """What became of one of many statements. `left out`: whose account it was is no longer known."""

    MAILED = "mailed"
    PAPER = "paper"
    LEFT_OUT = "left out"


class Home(StrEnum):
    """Which side of the house a till stands on: Today begins with it."""

    ROOM = "room"
    DESK = "desk"


class Begins(StrEnum):
    """What stands at a till after somebody signs in."""

    TODAY = "today"
    COUNTER = "counter mode"


class ReceiptBy(StrEnum):
    """How somebody likes their receipts."""

    ASK = ""
    PRINT = "print"
    EMAIL = "email"
    BOTH = "both"
    TEXT = "text"
    NONE = "none"


class JobPaper(StrEnum):
    """What is printed of a job: the tag on the thing, and what its owner takes along."""

    TAG = "tag"
    RECEIPT = "receipt"


class Sending(StrEnum):
    """When lines go to kitchen and bar: as they are picked, or when somebody says so."""

    AT_ONCE = "at once"
    TOLD = "told"


# ---- how things stand, worked out from what is kept


class TicketStanding(StrEnum):
    """How an open ticket, or a table, stands."""

    FREE = "free"
    OPEN = "open"
    JUST_SEATED = "just seated"
    ORDERING = "ordering"
    EATING = "eating"
    BILL_ASKED = "bill asked"
    PART_PAID = "part paid"
    PAID = "paid"
    SETTLED = "settled"  # nothing is due, but something of it was put on an account
    ON_HOLD = "on hold"
    CARD_UNDER_WAY = "card under way"
    CARD_UNKNOWN = "card unknown"


class VisitStanding(StrEnum):
    """How a booking stands at this hour."""

    BOOKED = "booked"
    HERE = "here"
    CANCELLED = "cancelled"
    NOW = "now"
    ENDED = "ended"
    ON_TICKET = "on ticket"
    PAID = "paid"
    ABSENT = "did not come"


class JobStanding(StrEnum):
    """How a job stands, with its hand-overs."""

    WAITING = "waiting"
    IN_WORK = "in work"
    READY = "ready"
    HANDED_OVER = "handed over"
    CANCELLED = "cancelled"


class RackPlace(StrEnum):
    """Where a job stands among the others: by its due time while it is worked on, then by what is left to do."""

    LATE = "late"
    TODAY = "today"
    LATER = "later"
    READY = "ready"
    UNCOLLECTED = "uncollected"
    HANDED_OVER = "handed over"


class Shape(StrEnum):
    """How a table is drawn on the floor plan."""

    ROUND = "round"
    SQUARE = "square"
    STOOL = "stool"
