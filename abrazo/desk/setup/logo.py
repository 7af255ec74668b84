"""The picture at the head of receipts, as the house brings it."""

from __future__ import annotations

from abrazo.core.states import Right
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.setup.house_settings import LOGO, ONE, SETTINGS
from abrazo.desk.setup.things import change_now
from abrazo.formats.logo import read_logo
from abrazo.store import logo as kept


def logo_of(house: House) -> bytes:
    """The picture (PNG) at the head of receipts; empty when there is none."""
    return house.once("logo", lambda: kept.read(house.connection))


def put_logo(house: House, actor: Actor, data: bytes, key: str) -> None:
    """Another picture from now on. Refused when it is none."""
    logo = read_logo(data)
    with acting(house, actor, "logo", key, needs=Right.SET_UP) as act:
        if act.done is None:
            made = kept.add(act.connection, logo.png, logo.width, logo.height, act.at)
            change_now(act, SETTINGS, ONE, {LOGO.id: str(made)})


def drop_logo(house: House, actor: Actor, key: str) -> None:
    """No picture any more; none there was is as well."""
    with acting(house, actor, "logo", key, needs=Right.SET_UP) as act:
        if act.done is None:
            change_now(act, SETTINGS, ONE, {LOGO.id: ""})
