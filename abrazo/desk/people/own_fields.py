"""Facts of people and jobs that the house defines itself: which there are, and what is said of somebody or something.

Rules here
- a fact can be anything, or one of the house's choices; what is not asked for any more keeps what was said of it
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.states import OwnAbout
from abrazo.desk.context import House
from abrazo.store import own_fields
from abrazo.store.own_fields import OwnField

LONGEST_VALUE = 80
SENT_AS = "own-"  # the name of its field in a form, with its id


@dataclass(frozen=True, slots=True)
class Said:
    """A fact, and what is said of it; empty for nothing."""

    field: OwnField
    value: str

    @property
    def sent_as(self) -> str:
        """What its field in a form is called."""
        return f"{SENT_AS}{self.field.id}"


def fields_of(house: House, about: OwnAbout) -> list[OwnField]:
    """What is asked for of people or of jobs."""
    found = house.once("own fields", lambda: own_fields.fields(house.connection))
    return [one for one in found if one.about == about]


def said_of(house: House, about: OwnAbout, ref: int = 0) -> list[Said]:
    """Everything that is asked for, with what is said of somebody or something; 0 for who is not known yet."""
    return [Said(field, value) for field, value in own_fields.said(house.connection, about, ref)]


def printed_of(house: House, job: int, person: int) -> list[str]:
    """What is said of a job and its person and stands on papers, in words."""
    return [f"{name}: {value}" for name, value in own_fields.printed(house.connection, job, person)]


def read_said(house: House, about: OwnAbout, typed: Mapping[str, str], ref: int = 0) -> dict[int, str]:
    """What was typed, by field. Refused beside the field that is wrong; what was not sent is not among it.

    What is said of `ref` already stays as it is, also when it is none of the choices any more.
    """
    found = dict[int, str]()
    for said in said_of(house, about, ref):
        one, sent_as = said.field, said.sent_as
        if sent_as not in typed:
            continue
        found[one.id] = checked(one, typed[sent_as], sent_as, said.value)
    return found


def checked(field: OwnField, typed: str, where: str, stays: str = "") -> str:
    """What was typed of a fact. Refused for what is too long, or none of its choices and not what `stays`."""
    value = " ".join(typed.split())
    if len(value) > LONGEST_VALUE:
        raise Refused(Code.TOO_LONG, where, most=LONGEST_VALUE, count=len(value))
    if value and field.choices and value not in (*field.choices, stays):
        raise Refused(Code.OWN_CHOICE, where, typed=value, choices=", ".join(field.choices))
    return value


def keep_said(house: House, ref: int, said: Mapping[int, str]) -> None:
    """Keep what is said of somebody or something, inside a transaction that is under way."""
    own_fields.put_values(house.connection, ref, said)
