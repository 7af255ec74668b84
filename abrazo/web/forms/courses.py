"""Forms: courses and their places."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Key, MaybeId, Text


class CourseFacts(Form):
    """A course as it is typed."""

    service: Text = ""
    staff: Text = ""
    date: Text = ""
    time: Text = ""
    places: Text = ""
    note: Text = ""


class PlanCourse(CourseFacts):
    """Plan one, or one each week."""

    key: Key
    weeks: Text = ""


class JoinCourse(Form):
    """A place for somebody: known, or by name."""

    key: Key
    person: MaybeId = 0
    name: Text = ""
    phone: Text = ""
    party: Text = ""
    note: Text = ""


class SellPlace(Form):
    """A place on a ticket: of which course, and for whom."""

    key: Key
    version: Id
    course: Id
    item: Text = ""
    person: MaybeId = 0
    name: Text = ""


class CallOff(Form):
    """A course does not take place."""

    key: Key
    reason: Text = ""


class OtherDate(Form):
    """A place becomes one of another date."""

    course: Id


class PrintList(Form):
    """Who comes, on paper."""

    key: Key
