"""The kinds of things that a house is set up with; each is described where its rules stand."""

from __future__ import annotations

from collections.abc import Mapping

from abrazo.core.states import Does
from abrazo.desk.setup.after_sale import AFTER_SALE
from abrazo.desk.setup.booking_rules import HOURS, TERMS
from abrazo.desk.setup.equipment import PRINTERS
from abrazo.desk.setup.floor import TABLES
from abrazo.desk.setup.goods import CATEGORIES, FAMILIES, GROUPS, ITEMS, PRESETS, PRICE_LISTS, TAXES, WORDS
from abrazo.desk.setup.paid_ahead import HIRE, MEMBERSHIP_ITEMS, MEMBERSHIPS, SERIES, UNITS
from abrazo.desk.setup.role_rights import ROLE_RIGHTS
from abrazo.desk.setup.tender_types import TENDERS
from abrazo.desk.setup.things import Thing
from abrazo.desk.setup.workers import OWN_FIELDS, STAFF, TILLS

SOLD = (ITEMS, CATEGORIES, GROUPS, FAMILIES, PRICE_LISTS, PRESETS, TAXES, WORDS)
AHEAD = (SERIES, MEMBERSHIPS, MEMBERSHIP_ITEMS, HIRE, UNITS)
WHO = (STAFF, TILLS, PRINTERS, AFTER_SALE, OWN_FIELDS)
DRAWN = (ROLE_RIGHTS, TABLES, HOURS, TERMS, TENDERS)  # each has a page of its own besides
NEEDS: Mapping[str, Does] = {  # what a house must do for it to be asked
    **dict.fromkeys((HIRE.id, UNITS.id), Does.HIRE),
    **dict.fromkeys((HOURS.id, TERMS.id), Does.BOOKINGS),
    TABLES.id: Does.TABLES,
}
KINDS: Mapping[str, Thing] = {one.id: one for one in (*SOLD, *AHEAD, *WHO, *DRAWN)}
IN_ORDER: Mapping[str, Thing] = {  # each after what it names
    one.id: one
    for one in (
        *(
            TILLS,
            TAXES,
            CATEGORIES,
            GROUPS,
            FAMILIES,
            ITEMS,
            SERIES,
            MEMBERSHIPS,
            MEMBERSHIP_ITEMS,
            HIRE,
            UNITS,
            PRICE_LISTS,
        ),
        *(PRESETS, WORDS, PRINTERS, AFTER_SALE, STAFF, OWN_FIELDS, ROLE_RIGHTS, TABLES, HOURS, TERMS, TENDERS),
    )
}
