"""What a house is set up with, changed by people: one way for settings, items, staff, tills and all else.

Rules here
- each kind of thing is described once, by its fields; pages, files and undo are made from that
- every change says who, when, and what it was before; it can be turned round while nothing else was done to it
- what is in use is retired, never deleted: what was sold or done by it stays as it was
- of two people who change one thing the second is told what the first did, and nothing is lost
- it begins before the first day, so it stands in no day's journal
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Container, Iterable, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import Right, SetUpAct
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.setup.fields import POSITION, Field, FieldKind, Typed, asked, in_words, read, read_rows
from abrazo.store import set_up
from abrazo.store.set_up import SetUpChange as SetUpChange
from abrazo.store.set_up import Value as Value
from abrazo.store.set_up import Values as Values

LONGEST_REF = 40
RESERVED = ("unlisted", "new")  # the item of lines on no list; a blank sheet's address


@dataclass(frozen=True, slots=True)
class Thing:
    """A kind of thing that a house is set up with.

    `load` gives all of them by their id, also retired ones, `save` writes some fields of one; `check` refuses what
    does not go together; `unique` are fields that no two have the same, with what is said then; `called` is the field
    that names one. `defaults` are what a new one begins with. `kin` gives all that share ids and unique fields with it,
    where these are more than its own; `ref_of` the id of a new one, where it is not made from its name. `waits`:
    changes of it can be planned; `follow` makes something new in its place when one is due, and gives its id and
    values, or None when it is just changed. `same` are the kinds that say something else of the same one;
    `above` the field that names another one of the kind itself; `apart` are fields that are changed by a part of their
    own: never typed, searched or written out, told and undone like the others. `together` gives those rows of a file,
    by id, that are right alone and not beside the ones above them, with what is said then; `prepare` fills in what new
    ones that come together leave to the house.
    """

    id: str
    fields: tuple[Field, ...]
    load: Callable[[House], dict[str, Values]]
    save: Callable[[Act, str, Values], None]
    check: Callable[[House, str, Values], None] = lambda _house, _ref, _values: None
    unique: Mapping[str, Code] = field(default_factory=dict)
    called: str = "name"
    adds: bool = True
    retires: bool = True
    defaults: Callable[[House], Values] = field(default=lambda _house: {})
    waits: bool = False
    follow: Callable[[Act, str, Values], tuple[str, Values] | None] | None = None
    kin: Callable[[House], dict[str, Values]] | None = None
    ref_of: Callable[[House, Values], str] | None = None
    same: tuple[str, ...] = ()
    above: str = ""
    apart: tuple[Field, ...] = ()
    together: Callable[[House, Iterable[tuple[str, Values]]], Iterable[tuple[str, Refused]]] = lambda _house, _rows: ()
    prepare: Callable[[House, list[Values]], None] = lambda _house, _new: None

    def field(self, id: str) -> Field:
        """One of its fields."""
        return next(one for one in self.fields if one.id == id)

    @property
    def told(self) -> tuple[Field, ...]:
        """The fields whose changes are told."""
        return self.fields + self.apart

    def name(self, values: Values) -> str:
        """What one is called."""
        return str(values.get(self.called) or "")


def everything(house: House, thing: Thing) -> dict[str, Values]:
    """All of a kind by their ids, also what is retired; read once in a request."""
    return house.once(("set up", thing.id), lambda: thing.load(house))


def one_of(house: House, thing: Thing, ref: str) -> Values:
    """One of a kind. Raises NotFound."""
    found = everything(house, thing).get(ref)
    if found is None:
        raise NotFound(f"no {ref!r} among {thing.id}")
    return found


def named_one(house: House, thing: Thing, ref: str) -> str:
    """The id of one that there is, of a kind to which nothing is added. Refused beside it otherwise."""
    known = thing.load(house)
    if ref not in known:
        raise Refused(Code.FIELD_CHOICE, "id", typed=ref, known=", ".join([*known][:12]))
    return ref


def given(house: House, thing: Thing, typed: Typed) -> Values:
    """The fields that were typed, as they are kept. Refused at the first that is wrong."""
    found: Values = {}
    for one in thing.fields:
        if one.kind is FieldKind.ROWS and any(key.startswith(f"{one.id}-") for key in typed):
            found[one.id] = read_rows(house, one, typed)
        elif one.id in typed:
            found[one.id] = read(house, one, typed[one.id])
    if found.get(POSITION.id, 0) is None:  # it stays where it is, or comes last
        del found[POSITION.id]
    return found


def add(house: House, actor: Actor, thing: Thing, typed: Typed, key: str) -> str:
    """Something new of a kind; gives its id, made from its name."""
    with acting(house, actor, f"set up {thing.id}", key, needs=Right.SET_UP) as act:
        if act.done is not None:
            return act.done
        blank = {one.id: [""] for one in thing.fields if one.kind not in (FieldKind.CHOICES, FieldKind.ROWS)}
        act.answer = add_now(act, thing, given(house, thing, {**blank, **typed}))
        return act.answer


def all_kin(house: House, thing: Thing, known: Mapping[str, Values]) -> Mapping[str, Values]:
    """All that share ids and unique fields with a kind of which these are `known`."""
    return thing.kin(house) if thing.kin else known


def new_ref(house: House, thing: Thing, values: Values, *taken: Container[str]) -> str:
    """The id of a new one, which nothing that is `taken` has. Refused when it is its name and there already."""
    if thing.ref_of is None:
        return free_ref(thing.name(values), *taken)
    ref = thing.ref_of(house, values)
    if any(ref in one for one in taken):
        raise Refused(Code.CHOICE_TWICE, thing.called)
    return ref


def add_now(act: Act, thing: Thing, values: Values, ref: str = "") -> str:
    """Something new inside an act; gives its id."""
    known = all_kin(act.house, thing, thing.load(act.house))
    ref = ref or new_ref(act.house, thing, values, known)
    check(act.house, thing, ref, values, Taken(thing, known))
    thing.save(act, ref, values)
    write_down(act, thing, ref, SetUpAct.ADDED, ({}, values), Named(thing.name(values)))
    return ref


def differing(thing: Thing, before: Values, values: Values) -> Values:
    """The fields that are other than before; one that stays when it is left empty is none of them then."""
    stays = {one.id for one in thing.fields if one.stays}
    return {id: one for id, one in values.items() if before.get(id) != one and not (id in stays and one in (None, ""))}


class Taken:
    """Which values of a kind's unique fields are whose."""

    def __init__(self, thing: Thing, known: Mapping[str, Values]) -> None:
        self._thing = thing
        self._whose = {
            id: {str(one[id]): (ref, thing.name(one)) for ref, one in known.items() if one.get(id)}
            for id in thing.unique
        }

    def take(self, ref: str, values: Values) -> None:
        """Let one have its values. Refused beside the field when another has one of them."""
        for id, code in self._thing.unique.items():
            value = str(values.get(id) or "")
            whose, name = self._whose[id].get(value, (ref, ""))
            if value and whose != ref:
                raise Refused(code, id, name=name)
            if value:
                self._whose[id][value] = (ref, self._thing.name(values))


def check(house: House, thing: Thing, ref: str, values: Values, taken: Taken) -> None:
    """Refused when what one is to be does not go together, or another has what only one may have."""
    taken.take(ref, values)
    thing.check(house, ref, values)


def free_ref(name: str, *taken: Container[str]) -> str:
    """A short name that nothing has yet, from what it is called."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    first = "-".join(re.findall("[a-z0-9]+", plain))[:LONGEST_REF].strip("-") or "one"
    ref, number = first, 2
    while ref in RESERVED or any(ref in one for one in taken):
        ref, number = f"{first}-{number}", number + 1
    return ref


@dataclass(frozen=True, slots=True)
class Change:
    """What is to be changed of one: the fields that were typed; `seen` is the last change that its page showed."""

    ref: str
    typed: Typed
    seen: int | None = None


def change(house: House, actor: Actor, thing: Thing, wanted: Change, key: str | None = None) -> int | None:
    """Change some fields of one; gives the change's id, None when nothing was other than before."""
    with acting(house, actor, f"set up {thing.id}", key, wanted.ref, needs=Right.SET_UP) as act:
        if act.done is not None:
            return int(act.done) if act.done else None
        check_seen(house, thing, wanted)
        made = change_now(act, thing, wanted.ref, given(house, thing, wanted.typed))
        act.answer = str(made or "")
        return made


def check_seen(house: House, thing: Thing, wanted: Change) -> None:
    """Refused when somebody else changed it since it was shown, with what they did."""
    _none_newer(house, thing, wanted.seen, latest_changes(house, thing, wanted.ref))


def check_all_seen(house: House, thing: Thing, seen: int | None) -> None:
    """Refused when somebody changed any of a kind since they were shown: for what is about their order."""
    _none_newer(house, thing, seen, latest_changes(house, thing))


def _none_newer(house: House, thing: Thing, seen: int | None, changes: list[SetUpChange]) -> None:
    newer = [one for one in changes if seen is not None and one.id > seen]
    if newer:
        raise Refused(Code.CHANGED_MEANWHILE, thing.called, name=house.staff()[newer[0].staff].name)


def change_now(
    act: Act, thing: Thing, ref: str, values: Values, what: SetUpAct = SetUpAct.CHANGED, by: str = ""
) -> int | None:
    """Change some fields inside an act; gives the change's id, None when nothing was other than before.

    `by`: who decided it, when not who acts.
    """
    known = thing.load(act.house)
    before = known.get(ref)
    if before is None:
        raise NotFound(f"no {ref!r} among {thing.id}")
    other = differing(thing, before, values)
    if not other:
        return None
    check(act.house, thing, ref, before | other, Taken(thing, all_kin(act.house, thing, known)))
    thing.save(act, ref, other)
    values = {id: before.get(id) for id in other}
    return write_down(act, thing, ref, what, (values, other), Named(thing.name(before | other), by))


class Named(NamedTuple):
    """What a changed thing is called, and who decided it; empty for who acts."""

    name: str
    by: str = ""


def write_down(act: Act, thing: Thing, ref: str, what: SetUpAct, values: tuple[Values, Values], of: Named) -> int:
    """Keep who changed what; gives the change's id."""
    name, by = of
    act.house.forget()
    facts = (act.at, by or act.actor.staff.id, act.actor.till.id, thing.id, ref, what, name)
    made = SetUpChange(0, *facts, *values)
    if act.house.open_day() is not None:  # the days' journal tells it too, in its chain
        fields = [field for field in made.after if field in {one.id for one in thing.told}]
        act.record(Kind.SET_UP_CHANGED, thing=thing.id, ref=ref, name=Personal(name), what=what,
                   fields=", ".join(fields))  # fmt: skip
    return set_up.add_change(act.connection, made)


def retire(house: House, actor: Actor, thing: Thing, ref: str, *, back: bool = False) -> int | None:
    """Retire one, or bring it back; gives the change's id, None when it was so already."""
    with acting(house, actor, f"set up {thing.id}", needs=Right.SET_UP) as act:
        if not thing.retires:
            raise NotFound(f"{thing.id} are not retired")
        now: Value = None if back else act.at
        if (one_of(house, thing, ref).get("ended_at") is None) == back:
            return None
        return change_now(act, thing, ref, {"ended_at": now}, SetUpAct.BACK if back else SetUpAct.RETIRED)


def undo(house: House, actor: Actor, things: Mapping[str, Thing], change_id: int) -> SetUpChange:
    """Turn a change round; gives it. Refused when its fields were changed again since, or it added something in use."""
    with acting(house, actor, "set-up undone", needs=Right.SET_UP) as act:
        found = set_up.read_change(act.connection, change_id)
        if found is None or found.thing not in things:
            raise NotFound(f"no change {change_id}")
        thing = things[found.thing]
        now = thing.load(house).get(found.ref)
        if now is None or any(now.get(id) != value for id, value in found.after.items()):
            raise Refused(Code.SET_UP_SINCE, name=found.name)
        if found.what == SetUpAct.ADDED and not thing.retires:
            raise Refused(Code.STAYS_ADDED, name=found.name)
        if found.what == SetUpAct.ADDED:
            change_now(act, thing, found.ref, {"ended_at": act.at}, SetUpAct.RETIRED)
        else:
            change_now(act, thing, found.ref, found.before)
        return found


def told(house: House, thing: Thing, made: SetUpChange, *, every: bool = False) -> list[tuple[str, str, str]]:
    """What a change did, a field each: (its id, before, after) in words; with `every` also of what is not asked now."""
    known = {one.id: one for one in (thing.told if every else asked(house, thing.told))}
    return [
        (id, in_words(house, known[id], made.before.get(id)), in_words(house, known[id], value))
        for id, value in made.after.items()
        if id in known
    ]


def latest_changes(
    house: House, thing: Thing | None = None, ref: str | None = None, most: int = 60
) -> list[SetUpChange]:
    """What was changed last: of one, of a kind, or of everything; the latest first."""
    if thing is None:
        return set_up.latest(house.connection, most)
    if ref is None:
        return set_up.changes_of(house.connection, thing.id)[:most]
    return set_up.changes_of_one(house.connection, (thing.id, *thing.same), ref)[:most]
