"""The journal's entries: what happened as a kind with facts, each entry chained to the one before it.

Rules here
- an entry holds ids, figures and codes; what somebody is called, or wrote, stands apart (`Personal`), and only its
  salted hash is chained: it can be erased, and the chain still holds
- hash = SHA-256 of the canonical JSON (RFC 8785) of number, previous hash, moment, day, till, person, kind, facts and
  postings; the first entry's previous hash is 64 zeros
- number follows number without a gap
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from hashlib import sha256

from abrazo.core.ledger import Posting

FIRST = "0" * 64  # the hash before the first entry
Fact = str | int | bool


@dataclass(frozen=True, slots=True)
class Personal:
    """What somebody is called, a contact, or free text: it stands apart from the facts and can be erased."""

    text: str


class Kind(StrEnum):
    """What an entry of the journal says was done."""

    # the day and the drawer
    DAY_OPENED = "day opened"
    DAY_CLOSED = "day closed"
    TILL_JOINED = "till joined"
    FLOAT_DIFFERS = "float differs"
    BANKED = "banked"
    DRAWER_COUNTED = "drawer counted"
    DRAWER_HANDED = "drawer handed over"
    OVER = "over"
    SHORT = "short"
    PAID_OUT = "paid out"
    PAID_IN = "paid in"
    SPENT_OUTSIDE = "spent outside"
    TIPS_PAID = "tips paid"
    PAYOUT = "payout"
    POOL_DIVIDED = "pool divided"
    POOL_LIST_PRINTED = "pool list printed"
    PETTY_BACK = "petty cash taken back"
    # a ticket's beginning and end
    SEATED = "seated"
    COUNTER_SALE = "counter sale"
    SALE_FOR = "sale for"
    TAB_OPENED = "tab opened"
    PHONE_ORDER = "phone order"
    WALKED_IN = "walked in"
    BOOKINGS_TAKEN = "bookings taken"
    JOBS_TAKEN = "jobs taken"
    JOB_LEFT = "job left"
    PAYS_ACCOUNT = "pays account"
    SETTLED = "settled"
    AFTER_SALE_LEFT_OUT = "left out after sale"
    AFTER_SALE_AGAIN = "after sale all the same"
    ENDED_EMPTY = "ended empty"
    LEFT_UNORDERED = "left unordered"
    REOPENED = "reopened"
    REOPENED_TO_VOID = "reopened to void"
    HANDED_ON = "correction handed on"
    VOIDED = "voided"
    # lines
    LINE_ADDED = "line added"
    LINE_REMOVED = "line removed"
    LINE_CHANGED = "line changed"
    LINE_SWAPPED = "line swapped"
    LINE_REPRICED = "line repriced"
    TODAYS_PRICE = "today's price"
    PRICES_KEPT = "prices kept"
    LINE_GIVEN = "line given"
    LINE_SHARED = "line shared"
    LINE_FOR_MEMBER = "line for member"
    CLEARED = "cleared"
    PRICE_LIST = "price list"
    SENT_TO_PREPARE = "sent to prepare"
    STOPPED = "stopped"
    SLIP_DONE = "slip done"
    SLIP_RECALLED = "slip recalled"
    # discounts, charges and benefits
    ADJUSTED = "adjusted"
    ADJUSTMENT_REPLACED = "adjustment replaced"
    ADJUSTMENT_NOT_ON = "adjustment not on line"
    ADJUSTMENT_ENDED = "adjustment ended"
    CHARGE_ADDED = "charge added"
    CHARGE_ENDED = "charge ended"
    BENEFIT_APPLIED = "benefit applied"
    BENEFIT_ENDED = "benefit ended"
    BENEFIT_SAVED = "benefit saved"
    BENEFIT_USED = "benefit used"
    SERIES_APPLIED = "series applied"
    SERIES_FREED = "series freed"
    SERIES_SOLD = "series sold"
    SERIES_HAD = "series had"
    SERIES_NOT_HAD = "series not had"
    SERIES_EXPIRED = "series expired"
    # guests, people and sharing
    GUEST_ADDED = "guest added"
    GUEST_LEFT = "guest left"
    GUEST_NAMED = "guest named"
    BILL_ASKED = "bill asked"
    BILL_NOT_ASKED = "bill not asked"
    ON_HOLD = "on hold"
    BROUGHT_BACK = "brought back"
    CUSTOMER_SET = "customer set"
    CUSTOMER_ADDED = "customer added"
    CUSTOMER_REMOVED = "customer removed"
    SHARED_BY_SEAT = "shared by seat"
    SHARED_EQUALLY = "shared equally"
    SHARED_REST = "shared rest"
    SHARING_UNDONE = "sharing undone"
    AMOUNT_STATED = "amount stated"
    AMOUNT_NOT_STATED = "amount not stated"
    PAYS_FOR = "pays for"
    PAYS_ALONE = "pays alone"
    CHARGE_SHARED = "charge shared"
    FEES_TAKEN = "fees taken"
    MOVED = "moved"
    MOVED_TO_TABLE = "moved to table"
    BECAME_ORDER = "became order"
    MOVED_BACK = "moved back"
    LINE_MOVED = "line moved"
    LINE_ARRIVED = "line arrived"
    MERGED_INTO = "merged into"
    TOOK_IN = "took in"
    GAVE_BACK = "gave back"
    CAME_BACK = "came back"
    SPLIT_OFF = "split off"
    HANDED_TO = "handed to"
    # money
    TIP_SET = "tip set"
    PAID = "paid"
    CARD_PAID = "card paid"
    TAKEN_BACK = "taken back"
    PUT_ON_ACCOUNT = "put on account"
    DEPOSIT_APPLIED = "deposit applied"
    DEPOSIT_LIFTED = "deposit lifted"
    ADVANCE_TAX = "advance tax"
    OWN_FIELDS = "own fields"
    EARLY_HIRES_BACK = "early hires are given back"
    EARLY_HIRES_STAY = "early hires are not given back"
    TAX_ON_ADVANCES = "tax on advances"
    TAX_ON_SALES = "tax on sales alone"
    DEPOSIT_RETAINED = "deposit retained"
    DEPOSIT_RETURNED = "deposit returned"
    REFUNDED = "refunded"
    VOUCHER_LAPSED = "voucher lapsed"
    VOUCHER_COUNTS = "voucher counts again"
    POINTS_EARNED = "points earned"
    POINTS_TAKEN_BACK = "points taken back"
    SIGNED_PAPER = "signed on paper"
    SIGNED_SCREEN = "signed on screen"
    CARD_ASKED = "card asked"
    CARD_ENDED = "card ended"
    CARD_SILENT = "card silent"
    CARD_STOP_ASKED = "card stop asked"
    CARD_ASKED_AGAIN = "card asked again"
    PAYER_FREED = "payer freed"
    CHARGED_LATE = "charged late"
    LATE_CHARGE_BACK = "late charge back"
    HOLD_PLACED = "hold placed"
    HOLD_RELEASED = "hold released"
    HOLD_USED = "hold used"
    CARD_STORED = "card stored"
    CARD_FORGOTTEN = "card forgotten"
    ACCOUNT_STORED = "bank account stored"
    ACCOUNT_FORGOTTEN = "bank account forgotten"
    DEBIT_BACK = "debit came back"
    OWED_FOR_BACK = "owed for a debit"
    SET_UP_CHANGED = "set-up changed"
    BROUGHT_IN = "brought in"
    NOT_BROUGHT_IN = "not brought in after all"
    DEVICE_TESTED = "device tested"
    TAX_FOLLOWED = "tax followed"
    # bookings, the queue, jobs
    BOOKED = "booked"
    BOOKING_STATE = "booking state"
    COURSE_PLANNED = "course planned"
    COURSE_CHANGED = "course changed"
    COURSE_OFF = "course called off"
    BOOKING_CHANGED = "booking changed"
    BOOKING_TERMS = "booking terms"
    WORK_HOURS = "work hours"
    LEGAL_NAME_SET = "legal name set"
    BOOKING_CANCELLED = "booking cancelled"
    BOOKING_BACK = "booking back"
    DEPOSIT_ASKED = "deposit asked"
    JOB_CHANGED = "job changed"
    HELD_WRITTEN = "held data written"
    ERASED = "person erased"
    PEOPLE_MERGED = "people merged"
    PEOPLE_PARTED = "people parted"
    JOB_AGREED = "job agreed"
    JOB_CANCELLED = "job cancelled"
    JOB_REMINDED = "job reminded"
    JOB_TERMS = "job terms"
    TASK_ADDED = "task added"
    TASK_CHANGED = "task changed"
    TASK_ENDED = "task ended"
    ESTIMATE = "estimate"
    NO_SHOW_CHARGED = "no-show charged"
    BOOKING_PRICED = "booking priced"
    WALK_IN_WAITS = "walk-in waits"
    WALK_IN_LEFT = "walk-in left"
    CALENDAR_READ = "calendar read"
    DROPPED_OFF = "dropped off"
    JOB_STATE = "job state"
    HANDED_OVER = "handed over"
    HAND_OVER_UNDONE = "hand-over undone"
    # people and goods
    PERSON_ADDED = "person added"
    PERSON_CHANGED = "person changed"
    PEOPLE_IMPORTED = "people imported"
    MEMBERSHIP_GIVEN = "membership given"
    MEMBERSHIP_ENDED = "membership ended"
    HIRED = "hired"
    HIRE_SHARE = "hire share"
    HIRE_SHARE_LESS = "hire share less"
    HIRE_SHARE_BACK = "hire share back"
    HIRE_BACK = "hire back"
    HIRE_BACK_COSTS = "hire back costs"
    ACCOUNT_TERMS = "account terms"
    ACCOUNT_MEMBER = "account member"
    ACCOUNT_MEMBER_ENDED = "account member ended"
    WRITTEN_OFF = "written off"
    REMINDED = "reminded"
    REMINDER_DAYS = "reminder days"
    SET_ASIDE = "set aside"
    SET_ASIDE_TAG_PRINTED = "set aside tag printed"
    SET_ASIDE_PAID = "set aside paid"
    SET_ASIDE_HANDED = "set aside handed over"
    SET_ASIDE_CANCELLED = "set aside cancelled"
    MEMBERSHIP_SOLD = "membership sold"
    MEMBERSHIP_RESTS = "membership rests"
    MEMBERSHIPS_BACK = "memberships are given back"
    MEMBERSHIPS_STAY = "memberships are not given back"
    GOODS_COUNTED = "goods counted"
    GOODS_MOVED = "goods moved"
    # papers and messages
    RECEIPT_PRINTED = "receipt printed"
    REFUND_SLIP_PRINTED = "refund slip printed"
    GIFT_RECEIPT_PRINTED = "gift receipt printed"
    BILL_TO_SIGN_PRINTED = "bill to sign printed"
    JOB_PAPER_PRINTED = "job paper printed"
    COURSE_LIST_PRINTED = "course list printed"
    RECEIPT_SENT = "receipt sent"
    STATEMENT_SENT = "statement sent"
    STATEMENTS_ASKED = "statements asked for"
    STATEMENTS_STOPPED = "statements stopped"
    INVOICED = "invoiced"
    CREDIT_NOTE = "credit note"
    INVOICE_SENT = "invoice sent"
    BUYER_CHANGED = "buyer changed"
    PAPER_SENT_AGAIN = "paper sent again"
    PAPER_WENT_OUT = "paper went out"
    FILE_WRITTEN = "file written"
    STAND_IN_TOLD = "stand-in told"
    # set-up
    TENDER_ADDED = "tender added"
    TENDER_ON = "tender on"
    TENDER_OFF = "tender off"
    TENDER_MOVED = "tender moved"
    TABLE_ADDED = "table added"
    TABLE_CHANGED = "table changed"
    TABLE_TURNED = "table turned"
    TABLE_REMOVED = "table removed"
    FREEING_SET = "freeing set"
    REMOVED_SHOWN = "removed lines shown"
    REMOVED_LEFT_OUT = "removed lines left out"
    LANGUAGE_SET = "language set"
    TIPS_TO_STAFF = "tips to staff"
    TIPS_TO_POOL = "tips to pool"
    SENT_AT_ONCE = "sent at once"
    SENT_WHEN_TOLD = "sent when told"
    SOLD_ON = "sold on"
    RIGHT_CHANGED = "right changed"
    RIGHT_REFUSED = "right refused"
    WRONG_PIN = "wrong pin"
    IDLE_SET = "idle set"
    CASH_SIGNED_FOR = "cash signed for"
    CASH_NOT_SIGNED_FOR = "cash not signed for"
    PAY_OUT_LIMIT = "limit of paying out set"
    FREE_DISCOUNT_SET = "limit of free discounts set"
    PETTY_CATEGORIES = "petty cash categories"
    ANONYMOUS_ACCOUNTS = "anonymous accounts"
    TILL_HELD = "till held"
    TILL_LET_GO = "till let go"
    PERSON_HELD = "person held"
    PERSON_LET_GO = "person let go"


FORMER = frozenset(
    {
        *(
            Kind.OWN_FIELDS,
            Kind.FREEING_SET,
            Kind.REMOVED_SHOWN,
            Kind.REMOVED_LEFT_OUT,
            Kind.LANGUAGE_SET,
            Kind.IDLE_SET,
        ),
        *(Kind.CASH_SIGNED_FOR, Kind.CASH_NOT_SIGNED_FOR, Kind.PAY_OUT_LIMIT, Kind.FREE_DISCOUNT_SET),
        *(Kind.MEMBERSHIPS_BACK, Kind.MEMBERSHIPS_STAY, Kind.REMINDER_DAYS, Kind.TAX_ON_ADVANCES, Kind.TAX_ON_SALES),
        *(Kind.EARLY_HIRES_BACK, Kind.EARLY_HIRES_STAY, Kind.LEGAL_NAME_SET, Kind.JOB_TERMS, Kind.PETTY_CATEGORIES),
        *(Kind.ANONYMOUS_ACCOUNTS, Kind.RIGHT_CHANGED, Kind.WORK_HOURS, Kind.BOOKING_TERMS),
        *(Kind.TENDER_ADDED, Kind.TENDER_ON, Kind.TENDER_OFF, Kind.TENDER_MOVED, Kind.TIPS_TO_STAFF, Kind.TIPS_TO_POOL),
        *(Kind.TABLE_ADDED, Kind.TABLE_CHANGED, Kind.TABLE_TURNED, Kind.TABLE_REMOVED),
        *(Kind.SENT_AT_ONCE, Kind.SENT_WHEN_TOLD),
    }
)  # of houses before set-up kept its changes apart: read, and written no more


@dataclass(frozen=True, slots=True)
class ChainLink:
    """One entry as it is chained. `facts` hold the hashes of its texts; `hash` is what the entry says of itself."""

    number: int
    previous: str
    at: str
    day: int
    till: str
    staff: str
    kind: str
    facts: Mapping[str, object]
    postings: tuple[Posting, ...] = ()
    hash: str = ""


def canonical(value: object) -> str:
    """The JSON of a value as RFC 8785 has it: keys sorted, nothing between. Floats are refused with a TypeError."""
    _without_floats(value)
    return json.dumps(value, ensure_ascii=False, sort_keys=True, separators=(",", ":"))


def _without_floats(value: object) -> None:
    if isinstance(value, float):
        raise TypeError("a fact of the journal is never a float")
    for part in value.values() if isinstance(value, Mapping) else value if isinstance(value, list | tuple) else ():
        _without_floats(part)


def text_hash(salt: str, text: str) -> str:
    """The hash under which a text is chained: SHA-256 of salt and text, in hexadecimal digits."""
    return sha256(f"{salt}{text}".encode()).hexdigest()


def said(link: ChainLink) -> dict[str, object]:
    """What of an entry is hashed: all of it but the hash."""
    return {
        "number": link.number,
        "previous": link.previous,
        "at": link.at,
        "day": link.day,
        "till": link.till,
        "person": link.staff,
        "kind": link.kind,
        "facts": link.facts,
        "postings": sorted([posting.account, posting.amount] for posting in link.postings),
    }


def link_hash(link: ChainLink) -> str:
    """The hash of an entry, from its own facts and the hash before it; 64 hexadecimal digits."""
    return sha256(canonical(said(link)).encode()).hexdigest()


def chain_faults(links: Iterable[ChainLink]) -> list[tuple[int, str]]:
    """Where a chain, read from its beginning, does not hold: (number, `gap`, `previous`, `hash` or `balance`)."""
    found, number, previous = list[tuple[int, str]](), 0, FIRST
    for link in links:
        number += 1
        if link.number != number:
            found.append((link.number, "gap"))
        if link.previous != previous:
            found.append((link.number, "previous"))
        if link.hash != link_hash(link):
            found.append((link.number, "hash"))
        if sum(posting.amount for posting in link.postings):
            found.append((link.number, "balance"))
        number, previous = link.number, link.hash
    return found
