"""Changes of set-up from a business date to come: prices, tax rates, and what else can wait.

Rules here
- a change is checked when it is planned, and made when the first business day from its date on is opened, before
  anything is sold on it; what does not go together any more by then is not made, and stands in set-up as such
- until then it can be taken back; whoever planned it is who made it
- another rate is another tax, which comes in the place of the one before: on items, in settings, and on open tickets,
  which are of goods set aside then; what is closed keeps its own
"""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.moments import read_day
from abrazo.core.states import PlanOutcome, Right, SetUpAct
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.setup.kinds import KINDS
from abrazo.desk.setup.things import (
    Change,
    Named,
    Taken,
    Thing,
    all_kin,
    change_now,
    check,
    check_seen,
    differing,
    given,
    write_down,
)
from abrazo.store import set_up_plans
from abrazo.store.set_up import Values
from abrazo.store.set_up_plans import PlannedChange as PlannedChange


def can_wait(thing: Thing) -> bool:
    """Whether changes of a kind can be planned."""
    return thing.waits


def plan(house: House, actor: Actor, thing: Thing, wanted: Change, first_on: str, key: str | None = None) -> int | None:
    """Let a change hold from a business date on; gives its id, None when nothing would be other than now."""
    with acting(house, actor, f"plan {thing.id}", key, wanted.ref, needs=Right.SET_UP) as act:
        if act.done is not None:
            return int(act.done) if act.done else None
        check_seen(house, thing, wanted)
        made = plan_now(act, thing, wanted.ref, given(house, thing, wanted.typed), read_first(house, first_on))
        act.answer = str(made or "")
        return made


def read_first(house: House, typed: str) -> str:
    """The first date of a change as it was typed, ISO. Refused when its day is open already, or over."""
    date = read_day(typed, "holds_from").isoformat()
    day = house.open_day()
    if date <= day.business_date if day else date < house.now().date().isoformat():
        raise Refused(Code.PLAN_PAST, "holds_from")
    return date


def plan_now(act: Act, thing: Thing, ref: str, values: Values, first_on: str) -> int | None:
    """The same inside an act, of values that were read and a date that was checked."""
    if not can_wait(thing):
        raise NotFound(f"{thing.id} do not wait")
    known = thing.load(act.house)
    if ref not in known:
        raise NotFound(f"no {ref!r} among {thing.id}")
    other = differing(thing, known[ref], values)
    if not other:
        return None
    check(act.house, thing, ref, known[ref] | other, Taken(thing, all_kin(act.house, thing, known)))
    facts = (act.actor.staff.id, act.actor.till.id, act.at)
    planned = PlannedChange(0, thing.id, ref, thing.name(known[ref]), other, first_on, *facts)
    return set_up_plans.add(act.connection, planned)


def take_back(house: House, actor: Actor, plan_id: int) -> PlannedChange:
    """A planned change is not made, or one that could not be is seen. Refused when it was made meanwhile."""
    with acting(house, actor, "plan ended", needs=Right.SET_UP) as act:
        found = set_up_plans.read(act.connection, plan_id)
        if found is None:
            raise NotFound(f"no plan {plan_id}")
        if found.outcome is PlanOutcome.REFUSED:
            set_up_plans.seen(act.connection, plan_id)
        elif not set_up_plans.end(act.connection, plan_id, act.at, PlanOutcome.TAKEN_BACK):
            raise Refused(Code.PLAN_OVER, name=found.name)
        return found


def make_due(act: Act, business_date: str) -> None:
    """Make what holds from this business date on, inside the act that opens its day."""
    for one in set_up_plans.due(act.connection, business_date):
        outcome = PlanOutcome.MADE if _make(act, one) else PlanOutcome.REFUSED
        set_up_plans.end(act.connection, one.id, act.at, outcome)


def _make(act: Act, one: PlannedChange) -> bool:
    thing = KINDS[one.thing]
    known = thing.load(act.house)
    try:
        check(act.house, thing, one.ref, known[one.ref] | one.fields, Taken(thing, all_kin(act.house, thing, known)))
    except Refused:
        return False
    if thing.follow is not None and (values := thing.follow(act, one.ref, one.fields)) is not None:
        ref, new = values
        write_down(act, thing, ref, SetUpAct.ADDED, ({}, new), Named(thing.name(new), one.staff))
    else:
        change_now(act, thing, one.ref, dict(one.fields), by=one.staff)
    return True


def planned_of(house: House, thing: Thing, ref: str) -> list[PlannedChange]:
    """What waits of one thing, and what could not be made."""
    return set_up_plans.of_one(house.connection, thing.id, ref)


def all_planned(house: House) -> list[PlannedChange]:
    """What waits of everything, and what could not be made."""
    return set_up_plans.shown(house.connection)
