"""Practising: on a copy of the house, with stand-ins for every device.

Rules here
- a copy is one sign-in's; it lies in a folder of its own beside the house, which learns nothing of what is done there
- it reaches no device, mail server or text service of the house, and everything that bears the house's name says so
- it holds nobody's PIN but that of whoever practises, which is everybody's there: lending a right can be practised, and
  no PIN of somebody else's be found out by trying
- it ends with its sign-in; the worker clears it away
"""

from __future__ import annotations

import re
import secrets
import shutil
import time
from datetime import timedelta
from pathlib import Path

from abrazo.core.errors import Code, Refused
from abrazo.desk import sign_in
from abrazo.desk.context import MACHINES, Actor, Devices, House, practice_folder
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.devices.simulator.served import stand_in_files
from abrazo.store import outbox, staff
from abrazo.store import settings as settings_store
from abrazo.store import sign_in as sign_ins
from abrazo.store.db import atomic, connect, copy, file_of
from abrazo.words import phrases as w

MOST = 8  # people who practise at the same time
FORGOTTEN = timedelta(hours=12)  # without a touch, after which a copy is cleared away
UNFINISHED = 600.0  # seconds after which a copy that was not made to the end is cleared away
NAME = re.compile("[0-9a-f]{24}")
FILE, MAKING = "house.db", "making.db"


def copy_of(database: Path, name: str) -> Path | None:
    """The database of a copy by its name; None when there is none, or none any more."""
    file = practice_folder(database) / name / FILE
    return file if NAME.fullmatch(name) and file.exists() else None


def copies(database: Path) -> list[str]:
    """The names of the copies that there are."""
    folder = practice_folder(database)
    return [one.name for one in folder.iterdir() if copy_of(database, one.name)] if folder.exists() else []


def begin(house: House, actor: Actor) -> tuple[str, str]:
    """A copy for somebody whose PIN was right, and their sign-in there; ends the one that they had.

    Gives the copy's name, and what the cookie is to hold. Refused when too many practise.
    """
    database = Path(file_of(house.connection))
    _end_earlier(database, actor.staff.id)
    if len(copies(database)) >= MOST:
        raise Refused(Code.PRACTICE_FULL, "pin", most=MOST)
    name = secrets.token_hex(12)
    folder = practice_folder(database) / name
    folder.mkdir(mode=0o700, parents=True)
    try:
        copy(house.connection, folder / MAKING, looked_at=False)
        _make_practice(house, actor, folder / MAKING)
        for own, its in zip(stand_in_files(database, MACHINES), stand_in_files(folder / FILE, MACHINES), strict=True):
            if own.exists():  # so that cards and the day's takings are known there too
                shutil.copyfile(own, its)
        (folder / MAKING).rename(folder / FILE)
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    practised = open_house(folder / FILE, Devices.beside(folder / FILE), house.clock, known=True)
    try:
        return name, sign_in.begin(practised, actor)
    finally:
        close_house(practised)


def _make_practice(house: House, actor: Actor, file: Path) -> None:
    """Let a copy be one to practise on: what it prints says so, and it knows no way out."""
    s, says = house.settings, house.say(w.PRACTICE_NAME)
    named = {name: f"{says} {value}" for name, value in (("name", s.name), ("legal_name", s.legal_name)) if value}
    connection = connect(file)
    with atomic(connection):
        settings_store.put(connection, practice=True, **named)
        settings_store.put(connection, mail_server="", mail_user="", mail_password="", text_address="", text_token="")
        sign_ins.drop_all(connection)
        staff.end_training(connection)  # there everybody works as if in earnest
        staff.put_all_pins(connection, staff.pin_hash(connection, actor.staff.id), actor.staff.pin_digits)
        for sheet in outbox.waiting(connection):  # the house sends it
            outbox.mark_sent(connection, sheet.id, house.stamp())
    connection.close()


def _end_earlier(database: Path, who: str) -> None:
    for name in copies(database):
        end(database, name, who)


def end(database: Path, name: str, who: str = "") -> None:
    """End the sign-in of a copy, if it is somebody's; none there is any more is as well."""
    file = copy_of(database, name)
    if file is None:
        return
    practised = open_house(file, Devices.beside(file), known=True)
    try:
        row = sign_ins.latest(practised.connection)
        if row is not None and who in ("", row.staff) and row.ended_at is None:
            with atomic(practised.connection):
                sign_ins.end(practised.connection, row.id, practised.stamp())
    finally:
        close_house(practised)


def is_over(practised: House) -> bool:
    """Whether nobody practises on a copy any more: its sign-in ended, or nobody touched it for hours."""
    row = sign_ins.latest(practised.connection)
    return row is not None and (row.ended_at is not None or practised.since(row.seen_at) > FORGOTTEN.total_seconds())


def clear_away(database: Path, name: str) -> None:
    """Remove a copy with all that lies beside it."""
    shutil.rmtree(practice_folder(database) / name, ignore_errors=True)


def clear_unfinished(database: Path) -> None:
    """Remove what was left of copies whose making was cut short."""
    folder = practice_folder(database)
    for one in folder.iterdir() if folder.exists() else ():
        if copy_of(database, one.name) is None and time.time() - one.stat().st_mtime > UNFINISHED:
            shutil.rmtree(one, ignore_errors=True)
