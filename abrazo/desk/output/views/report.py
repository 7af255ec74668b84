"""The report of a day or of several: what was sold, how it was paid, what the drawers held, who did it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from abrazo.core.advances import RECEIVED, USED
from abrazo.core.figures import FigureKind
from abrazo.core.ledger import Role
from abrazo.core.money import total, totals
from abrazo.core.opening import BROUGHT
from abrazo.core.report import Corrected, Correction, Counted, DayFigures, DrawerFigures, Report, report
from abrazo.core.states import AdjustmentKind, Direction, FloatDifference, Tender
from abrazo.core.till import worth_of
from abrazo.desk.context import House
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.setup.tender_types import all_tenders
from abrazo.desk.till.views.day_figures import figures_of
from abrazo.formats.day_report import DayReport
from abrazo.store import till
from abrazo.store.till import Petty
from abrazo.words import phrases as w

PUT_BY: dict[tuple[str, str], str] = {
    ("taken", ""): w.DEPOSITS_TAKEN, ("used", ""): w.DEPOSITS_USED, ("given back", ""): w.DEPOSITS_BACK,
    ("kept", ""): w.DEPOSITS_KEPT, ("received", ""): w.RECEIVED_ON_ACCOUNTS, ("put on", ""): w.LEFT_ON_ACCOUNTS,
    ("written off", ""): w.WRITTEN_OFF_ACCOUNTS, ("tax back", ""): w.TAX_WRITTEN_OFF,
    ("sold", Role.GIFT_CARD): w.GIFT_CARDS_SOLD, ("sold", Role.VOUCHER): w.VOUCHERS_SOLD,
    ("sold", Role.STORE_CREDIT): w.CREDITS_SOLD, ("used", Tender.GIFT_CARD): w.GIFT_CARDS_SPENT,
    ("used", Tender.VOUCHER): w.VOUCHERS_USED, ("used", Tender.STORE_CREDIT): w.CREDIT_SPENT,
    ("expired", Tender.VOUCHER): w.VOUCHERS_LAPSED, ("sold", Role.SERIES): w.SERIES_SOLD,
    ("sold", "layaway"): w.LAYAWAYS_PAID, ("used", "layaway"): w.LAYAWAYS_USED,
    ("used", Role.SERIES): w.SERIES_HAD, ("expired", Role.SERIES): w.SERIES_EXPIRED,
    (BROUGHT, Role.GIFT_CARD): w.GIFT_CARDS_BROUGHT, (BROUGHT, Role.VOUCHER): w.VOUCHERS_BROUGHT,
    (BROUGHT, Role.STORE_CREDIT): w.CREDITS_BROUGHT, (BROUGHT, Role.SERIES): w.SERIES_BROUGHT,
    (Tender.POINTS, ""): w.POINTS_SPENT,
}  # fmt: skip
NO_MONEY = {Tender.DEPOSIT, Tender.ACCOUNT, Tender.GIFT_CARD, Tender.VOUCHER, Tender.STORE_CREDIT, Tender.POINTS}
GIVEN: dict[str, str] = {
    AdjustmentKind.DISCOUNT: w.DISCOUNTS_FOR, AdjustmentKind.BENEFIT: w.BENEFITS_FOR,
    AdjustmentKind.COMP: w.COMPS_FOR, AdjustmentKind.SURCHARGE: w.SURCHARGES_FOR,
}  # fmt: skip
Pairs = tuple[tuple[str, str], ...]


def latest_day(house: House) -> int | None:
    """The open day, or else the one closed last."""
    day = house.open_day()
    return day.id if day else till.last_closed(house.connection)


def report_of(house: House, days: Sequence[int], till_id: str | None = None) -> Report:
    """The report of days, in their order, at all tills or at one. Raises NotFound for a day that there is not."""
    found, later = figures_of(house, days)
    return report(found, till_id, later)


def day_report(house: House, day_id: int, till_id: str | None = None) -> DayReport:
    """The paper of a day's report, open or closed, of all tills or of one."""
    return paper(house, [day_id], till_id)


def paper(house: House, days: Sequence[int], till_id: str | None = None) -> DayReport:
    """The paper of the report of days, of all tills or of one."""
    return paper_of(house, days, report_of(house, days, till_id))


def paper_of(house: House, days: Sequence[int], found: Report) -> DayReport:
    """The paper of a report of these days."""
    dates = list(dict.fromkeys(paper_date(house, found.days[at].date) for at in (0, -1)))
    sections = [
        (house.say(w.SOLD), _sold(house, found)),
        (house.say(w.DEPOSITS_AND_ACCOUNTS), _added(house, stored(house, found))),
        (
            house.say(w.TAX_BY_RATE),
            tuple(
                (one.name, house.settings.currency.text(one.amount)) for one in (*taxes(found), *advances(house, found))
            ),
        ),
    ]
    apart = _added(house, [one for one in found.of(FigureKind.TICKET) if one.name])
    sections += [(house.say(w.COUNTER_APART), apart)] if len(apart) > 1 else []
    given = _added(house, given_away(house, found))
    sections += [(house.say(w.GIVEN_BY_REASON), given)] if given else []
    sections += [
        (house.say(w.TAKEN_BY_ROUTE), _added(house, routes(house, found))),
        (house.say(w.TIPS_BY_PERSON), _added(house, by_person(house, found.of(FigureKind.TIP)))),
    ]
    corrected = tuple(_correction(house, one) for one in found.corrections)
    sections += [(house.say(w.CORRECTIONS), corrected)] if corrected else []
    outside = _added(house, renamed((one.detail, one) for one in found.of(FigureKind.PETTY) if one.name == OUTSIDE))
    sections += [(house.say(w.OUTSIDE), outside)] if outside else []
    petty = till.petty_of_days(house.connection, days)
    for day, of_day in zip(days, found.days, strict=True):
        for one in (drawer for drawer in of_day.drawers if found.till in (None, drawer.till)):
            here = [each for each in petty.get(day, ()) if each.till == one.till and each.direction is not OUTSIDE]
            moved = [each for each in here if _within(one, of_day, each.id)]
            sections.append((_till_words(house, one, len(days) > 1), _drawer(house, moved, one)))
    later = tuple(_correction(house, one) for one in found.later)
    sections += [(house.say(w.CORRECTED_LATER), later)] if later else []
    return DayReport(house.settings.name, " – ".join(dates), heading(house, found), tuple(sections),
                     house.settings.language)  # fmt: skip


def _within(part: DrawerFigures, day: DayFigures, row: int) -> bool:
    """Whether a row of petty cash is of this part of a drawer, not of before or after it was handed over."""
    ends = [one.petty_until for one in day.drawers if one.till == part.till and one.until]
    before = max((end for end in ends if not part.until or end < part.petty_until), default=0)
    return row > before and (not part.until or row <= part.petty_until)


def heading(house: House, found: Report) -> tuple[str, ...]:
    """When the days were opened and closed, by whom, and when their first and last sale was."""
    first, last, people = found.days[0], found.days[-1], house.staff()
    heading = [house.say(w.OPENED_BY, at=first.opened_at, name=people[first.opened_by].name)]
    if last.closed_at:
        heading.append(house.say(w.CLOSED_BY, at=last.closed_at, name=people[last.closed_by].name))
    else:
        heading.append(house.say(w.STILL_OPEN))
    if last.closed_at and not any(day.sums for day in found.days):
        heading.append(house.say(w.NO_FIGURES))
    sold = [day for day in found.days if day.first_sale]
    if sold:
        heading.append(house.say(w.FIRST_AND_LAST, first=sold[0].first_sale, last=sold[-1].last_sale))
    return tuple(heading)


def _till_words(house: House, drawer: DrawerFigures, dated: bool) -> str:
    known = house.tills().get(drawer.till)
    said = house.say(w.TILL_NAME, name=known.name if known else drawer.till)
    return f"{said}, {paper_date(house, drawer.date)}" if dated else said


def _added(house: House, found: Iterable[Counted]) -> Pairs:
    """Sums by name, each with how many there were."""
    text = house.settings.currency.text
    return tuple((f"{one.count} x {one.name}", text(one.amount)) for one in found)


def renamed(found: Iterable[tuple[str, Counted]]) -> list[Counted]:
    """Figures under other words, those of the same words together."""
    pairs = list(found)
    amounts = totals((words, one.amount) for words, one in pairs)
    counts = totals((words, one.count) for words, one in pairs)
    bases = totals((words, one.base) for words, one in pairs)
    return [Counted(words, "", counts[words], amount, bases[words]) for words, amount in amounts.items()]


def _sold(house: House, found: Report) -> Pairs:
    charges = renamed((one.name, one) for one in found.of(FigureKind.CHARGE))
    number = total(one.count for one in found.of(FigureKind.TICKET))
    sold = total(found.amount(kind) for kind in (FigureKind.SALE, FigureKind.CHARGE))
    ticket_row = (house.say(w.TICKETS, number=number), house.settings.currency.text(sold))
    return (*_added(house, [*found.groups, *charges]), ticket_row)


def given_away(house: House, found: Report) -> list[Counted]:
    """What was given away and put on top, by reason."""
    other = house.say(w.ANOTHER_REASON)
    return renamed((house.say(GIVEN[one.name], reason=one.detail or other), one) for one in found.of(FigureKind.GIVEN))


def stored(house: House, found: Report) -> list[Counted]:
    """Deposits, accounts, gift cards and the like: what was put by for later, used, or came to an end."""
    kinds = (FigureKind.DEPOSIT, FigureKind.ACCOUNT, FigureKind.STORED)
    known = [one for kind in kinds for one in found.of(kind)]
    known += [one for one in found.of(FigureKind.TENDER) if one.name == Tender.POINTS]
    return renamed((house.say(PUT_BY[one.name, one.detail]), one) for one in known)


def taxes(found: Report) -> list[Counted]:
    """Taxes under their labels."""
    return renamed((found.labels[one.name].label, one) for one in found.of(FigureKind.TAX))


def advances(house: House, found: Report) -> list[Counted]:
    """Taxes on deposits that were received, and that went into sales or back."""
    words = {RECEIVED: w.TAX_RECEIVED_AHEAD, USED: w.TAX_USED_AHEAD}
    return renamed(
        (house.say(words[one.detail], label=found.labels[one.name].label), one) for one in found.of(FigureKind.ADVANCE)
    )


def route_name(house: House, one: Counted) -> str:
    """How a tender's figures are called: by the machine or service, else by the tender, recorded when it was."""
    if one.detail:
        return one.detail
    known = next((tender.name for tender in all_tenders(house) if tender.id == one.name), one.name)
    if one.name in set(Tender):
        return known
    return house.say(w.RECORDED, tender=f"{known[:1].lower()}{known[1:]}")


def routes(house: House, found: Report) -> list[Counted]:
    """Money that was taken, by the way it came; what was put by before or left on an account is not among it."""
    taken = [one for one in found.of(FigureKind.TENDER) if one.name not in NO_MONEY]
    return renamed((route_name(house, one), one) for one in taken)


def by_person(house: House, found: Iterable[Counted]) -> list[Counted]:
    """Figures of people, under their names."""
    people = house.staff()
    return renamed((people[one.name].name if one.name in people else one.name, one) for one in found)


def _correction(house: House, one: Correction) -> tuple[str, str]:
    """A refund, a ticket opened again or made void, in words, and what it took off."""
    facts = {"number": one.ticket, "reason": one.reason}
    later = one.date != one.of_date
    if one.kind is Corrected.REFUND:
        words = w.REFUNDED_LATER if later else w.REFUNDED
    elif one.kind is Corrected.VOID:
        words = w.MADE_VOID_LATER if later else w.MADE_VOID
    else:
        words = w.OPENED_AGAIN_LATER if later else w.OPENED_AGAIN
    said = house.say(words, sold=one.of_date, corrected=one.date, **facts)
    return said, house.settings.currency.text(-one.amount)


OUTSIDE = Direction.OUTSIDE
PETTY_WORDS = {Direction.IN: w.PAID_IN, Direction.OUT: w.PAID_OUT, OUTSIDE: w.SPENT_OUTSIDE}
WHY_FLOAT: dict[str, str] = {
    FloatDifference.FIRST: w.FLOAT_FIRST,
    FloatDifference.BANK: w.FLOAT_BANK,
    FloatDifference.UNKNOWN: w.FLOAT_UNKNOWN,
}


def _drawer(house: House, petty: Iterable[Petty], drawer: DrawerFigures) -> Pairs:
    text = house.settings.currency.text
    pairs = [(house.say(w.FLOAT), text(drawer.float_amount)), *_pieces(house, drawer.float_pieces)]
    if drawer.float_difference:
        why = WHY_FLOAT.get(drawer.difference)
        pairs.append((house.say(w.LEFT_BEFORE), text(drawer.taken_over)))
        pairs += [(house.say(why), text(drawer.float_difference))] if why else []
    pairs += [(house.say(w.CASH_HANDED), text(drawer.cash_in)), (house.say(w.CHANGE_GIVEN), text(-drawer.cash_out))]
    for one in petty:
        said = house.say(PETTY_WORDS[one.direction], category=one.category)
        signed = one.amount if one.direction == Direction.IN else -one.amount
        pairs.append((", ".join([said, one.note] if one.note else [said]), text(signed)))
    pairs += [(house.say(w.TIPS_OUT), text(-drawer.tips_out))] if drawer.tips_out else []
    pairs += [(house.say(w.TO_BANK), text(-drawer.banked))] if drawer.banked else []
    pairs.append((house.say(w.EXPECTED), text(drawer.expected)))
    pairs += _counted(house, drawer)
    pairs += [(house.say(w.TO_BANK), text(-drawer.to_bank))] if drawer.to_bank else []
    return (
        *pairs,
        *([(house.say(w.STAYS), text(drawer.left))] if drawer.left is not None and not drawer.until else []),
    )


def _pieces(house: House, pieces: Mapping[int, int]) -> list[tuple[str, str]]:
    text = house.settings.currency.text
    return [(f"{number} x {text(value)}", text(worth_of({value: number}))) for value, number in pieces.items()]


def _counted(house: House, drawer: DrawerFigures) -> list[tuple[str, str]]:
    if drawer.counted is None:
        return [(house.say(w.DRAWER_NOT_COUNTED), "")]
    text = house.settings.currency.text
    word = house.say(w.AGREES if not drawer.over else w.OVER if drawer.over > 0 else w.SHORT)
    handed = house.staff().get(drawer.handed_to)
    on = [(house.say(w.HANDED_TO, at=drawer.until, name=handed.name), "")] if handed else []
    return [
        *on,
        *_pieces(house, drawer.counted_pieces),
        (house.say(w.COUNTED_BY, name=house.staff()[drawer.counted_by].name), text(drawer.counted)),
        (word, text(abs(drawer.over))),
    ]
