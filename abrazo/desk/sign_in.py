"""Signing in by PIN.

Rules here
- a wait that grows after the fourth wrong PIN in a row, counted by screen and person: nobody can lock others out from
  another screen
- every wrong PIN stands in the journal
- a sign-in is a row of the house: locking ends it, and so does doing nothing for as long as the house says; a copied
  cookie dies with it. Where slips are read, nobody touches the screen for long
"""

from __future__ import annotations

import hashlib
import secrets
from contextlib import suppress
from datetime import timedelta
from math import ceil

from argon2 import PasswordHasher
from argon2.exceptions import VerifyMismatchError

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.desk.act import write_entry
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import LENDERS_DIGITS, may_lend
from abrazo.store import journal, staff
from abrazo.store import sign_in as kept
from abrazo.store.db import Busy, atomic
from abrazo.store.sign_in import PinTries
from abrazo.store.sign_in import SignInRow as SignInRow
from abrazo.store.staff import Staff

LEAST_DIGITS, MOST_PIN_DIGITS = 4, 12
FREE_TRIES = 5  # of which the last one begins the waiting
FIRST_WAIT, LONGEST_WAIT = 60, 900  # seconds; each further wrong PIN doubles it
MANY_WRONG, LOOKED_BACK = 5, timedelta(hours=12)
SEEN_EVERY = 20  # seconds between two notes that somebody is still there
SHIFT = timedelta(hours=14)  # the longest that a sign-in lasts
READING = timedelta(hours=12)  # how long one stays signed in where slips are read

_hasher = PasswordHasher(time_cost=2, memory_cost=19_456, parallelism=1)  # OWASP's least for argon2id, from memory


def check_new_pin(person: Staff, pin: str) -> None:
    """A PIN that somebody is to have: digits only, four at least, six of whoever may lend rights. Refused otherwise."""
    least = LENDERS_DIGITS if may_lend(person) else LEAST_DIGITS
    if not (pin.isascii() and pin.isdigit() and least <= len(pin) <= MOST_PIN_DIGITS):
        raise Refused(Code.PIN_SHORT, "pin", least=least, most=MOST_PIN_DIGITS)


def hash_pin(pin: str) -> str:
    """An argon2id hash of a PIN."""
    return _hasher.hash(pin)


def sign_in(house: House, who: str, till: str, pin: str, screen: str = "") -> Actor:
    """Check a PIN. Refused with the tries left, or with how long this screen waits."""
    people, tills = house.workers(), house.tills_in_use()
    if who not in people or till not in tills:
        raise NotFound(f"no such person or till: {who}, {till}")
    actor = Actor(people[who], tills[till], screen=screen)
    refusal = _check(house, actor, who, pin)
    if refusal:
        raise refusal
    return actor


def usual_till(house: House, who: str) -> str:
    """Where somebody worked last, to be chosen when their screen says nothing; else the house's first till."""
    tills = house.tills_in_use()
    last = journal.last_till(house.connection, who)
    return last if last in tills else next(iter(tills))


def lend(house: House, actor: Actor, who: str, pin: str) -> Staff:
    """A supervisor's right for one act, by PIN, while somebody else stays signed in. Refused as signing in is."""
    supervisor = house.workers().get(who)
    if supervisor is None or not may_lend(supervisor):
        raise Refused(Code.NOT_A_LENDER, "pin")
    refusal = _check(house, actor, who, pin)
    if refusal:
        raise refusal.at("pin")
    return supervisor


def _check(house: House, actor: Actor, who: str, pin: str) -> Refused | None:
    """Count the try and say why not. Returned, not raised, so that the count is confirmed."""
    with atomic(house.connection):
        before = kept.tries(house.connection, actor.screen, who)
        wait = _waits(house, before)
        if wait > 0:
            return Refused(Code.PIN_LOCKED, wait=wait)
        try:
            _hasher.verify(staff.pin_hash(house.connection, who), pin)
        except VerifyMismatchError:
            return _wrong(house, actor, who, before.wrong + 1 if before else 1)
        if before:
            kept.forget_tries(house.connection, actor.screen, who)
        return None


def _waits(house: House, before: PinTries | None) -> int:
    """Seconds that a screen waits; none when the clock went back since: nobody waits for a day."""
    if before is None or not before.until or house.since(before.at) < 0:
        return 0
    return max(0, ceil(-house.since(before.until)))


def _wrong(house: House, actor: Actor, who: str, wrong: int) -> Refused:
    wait = min(LONGEST_WAIT, FIRST_WAIT * 2 ** min(10, wrong - FREE_TRIES)) if wrong >= FREE_TRIES else 0
    until = house.stamp(-timedelta(seconds=wait)) if wait else None
    kept.put_tries(house.connection, actor.screen, who, PinTries(wrong, until, house.stamp()))
    if house.open_day() is not None:
        write_entry(house, actor, house.stamp(), Kind.WRONG_PIN, who=who, times=wrong)
    if wait:
        return Refused(Code.PIN_LOCKED_NOW, wait=wait)
    return Refused(Code.WRONG_PIN, left=FREE_TRIES - wrong)


def many_wrong(house: House) -> list[tuple[Staff, int]]:
    """Whose PIN was wrong many times in the last hours, and how often, at screens where the right one never came."""
    people = house.staff()
    found = kept.wrong_since(house.connection, house.stamp(LOOKED_BACK))
    return [(people[who], times) for who, times in found if times >= MANY_WRONG]


# ---- sign-ins that stand


def begin(house: House, actor: Actor) -> str:
    """A sign-in of this person at this till; gives what the cookie is to hold."""
    token, at = secrets.token_urlsafe(24), house.stamp()
    with atomic(house.connection):
        kept.drop_old(house.connection, house.stamp(2 * SHIFT))
        kept.add(house.connection, SignInRow(_hashed(token), actor.staff.id, actor.till.id, at, at))
    return token


def signed_in(house: House, token: str, *, reads_slips: bool) -> SignInRow | None:
    """The sign-in that a cookie stands for; None when it ended, or nothing was done for too long."""
    row = kept.read(house.connection, _hashed(token)) if token else None
    if row is None or row.ended_at is not None or house.since(row.began_at) > SHIFT.total_seconds():
        return None
    idle = READING if reads_slips else timedelta(minutes=house.settings.idle_minutes)
    return None if house.since(row.seen_at) > idle.total_seconds() else row


def still_here(house: House, row: SignInRow) -> None:
    """Whoever is signed in did something just now. Noted from time to time, and not while somebody else writes."""
    with suppress(Busy), atomic(house.connection, patience=0):
        kept.seen(house.connection, row.id, house.stamp())


def is_to_be_noted(house: House, row: SignInRow) -> bool:
    """Whether it is time to note that whoever is signed in is still there."""
    return abs(house.since(row.seen_at)) > SEEN_EVERY  # also when the clock went back


def stand_at(house: House, token: str, till: str) -> None:
    """Whoever practises goes to another till: nobody else is there. NotFound in the house itself, or for no till."""
    if not house.settings.practice or till not in house.tills_in_use():
        raise NotFound(f"nobody goes to till {till!r}")
    with atomic(house.connection):
        kept.move(house.connection, _hashed(token), till)


def end(house: House, token: str) -> None:
    """The screen is locked: this sign-in ends, wherever its cookie was copied to."""
    with atomic(house.connection):
        kept.end(house.connection, _hashed(token), house.stamp())


def _hashed(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()
