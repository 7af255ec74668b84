"""PINs: hashed, counted, locked."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.sign_in import sign_in
from abrazo.store import staff
from tests.desk.conftest import Desk
from tests.refusals import refuses


def test_five_wrong_pins_lock_for_a_minute(desk: Desk) -> None:
    for _ in range(5):
        with pytest.raises(Refused):
            sign_in(desk.house, "tamsin", "galley", "0000")
    with refuses("locked for another 60 seconds"):
        sign_in(desk.house, "tamsin", "galley", "2086")
    assert sign_in(desk.house, "jory", "galley", "3395").staff.name == "Jory Penhale"
    desk.clock.on(61)
    assert sign_in(desk.house, "tamsin", "galley", "2086").till.name == "Galley"


def test_no_pin_is_kept(desk: Desk) -> None:
    lock = staff.read_lock(desk.house.connection, "tamsin")
    assert lock is not None
    assert lock.pin_hash.startswith("$argon2id$")
    assert "2086" not in (desk.folder / "house.db").read_bytes().decode("latin-1").replace(lock.pin_hash, "")
