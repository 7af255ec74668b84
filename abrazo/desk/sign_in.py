"""Signing in by PIN: five wrong PINs lock that person for a minute."""

from __future__ import annotations

from datetime import timedelta
from math import ceil

from argon2 import PasswordHasher
from argon2.exceptions import VerifyMismatchError

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import may_lend
from abrazo.store import staff
from abrazo.store.db import atomic
from abrazo.store.staff import Staff

MOST_FAILS = 5
LOCKED_FOR = timedelta(minutes=1)

_hasher = PasswordHasher(time_cost=2, memory_cost=19_456, parallelism=1)  # OWASP's least for argon2id, from memory


def hash_pin(pin: str) -> str:
    """An argon2id hash of a PIN."""
    return _hasher.hash(pin)


def sign_in(house: House, who: str, till: str, pin: str) -> Actor:
    """Check a PIN. Refused with the tries left, or with how long the person is locked."""
    people, tills = house.staff(), house.tills()
    if who not in people or till not in tills:
        raise NotFound(f"no such person or till: {who}, {till}")
    with atomic(house.connection):
        refusal = _check(house, who, pin)
    if refusal:
        raise refusal
    return Actor(people[who], tills[till])


def lend(house: House, who: str, pin: str) -> Staff:
    """A supervisor's right for one act, by PIN, while somebody else stays signed in. Refused as signing in is."""
    supervisor = house.staff().get(who)
    if supervisor is None or not may_lend(supervisor):
        raise Refused(Code.NOT_A_LENDER, "pin")
    with atomic(house.connection):
        refusal = _check(house, who, pin)
    if refusal:
        raise refusal.at("pin")
    return supervisor


def _check(house: House, who: str, pin: str) -> Refused | None:
    """Count the try and say why not. Returned, not raised, so that the count is confirmed."""
    lock = staff.read_lock(house.connection, who)
    assert lock is not None
    wait = ceil(-house.since(lock.locked_until)) if lock.locked_until else 0
    if wait > 0:
        return Refused(Code.PIN_LOCKED, wait=wait)
    try:
        _hasher.verify(lock.pin_hash, pin)
    except VerifyMismatchError:
        fails = lock.wrong_pins + 1
        if fails >= MOST_FAILS:
            staff.set_lock(house.connection, who, 0, house.stamp(-LOCKED_FOR))
            return Refused(Code.PIN_LOCKED_NOW)
        staff.set_lock(house.connection, who, fails, None)
        left = MOST_FAILS - fails
        return Refused(Code.WRONG_PIN, left=left)
    staff.set_lock(house.connection, who, 0, None)
    return None
