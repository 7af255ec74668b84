"""Two houses for tests: Marram (EUR, tax contained, cash to 5 cents) and Quarry Lake (USD, tax added in two parts, other
ids everywhere, no kitchen, no tables). What a test needs of either it asks for by role."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction

from abrazo.core.money import Currency
from abrazo.core.states import AdjustmentKind, Home, Scope, StaffRole, TaxMode
from abrazo.core.tax import Tax, TaxPart
from abrazo.demo.house import PLAN as MARRAM_PLAN
from abrazo.desk.context import Settings
from abrazo.desk.setup.founding import Plan
from abrazo.store.adjustments import Preset
from abrazo.store.catalogue import Category, ChoiceGroup, GroupChoice, Item
from abrazo.store.staff import Staff
from abrazo.store.till import Till

PARTS = (TaxPart("State 6.25 %", Fraction("0.0625")), TaxPart("Town 2 %", Fraction("0.02")))
QUARRY_PLAN = Plan(
    petty_categories=("ice", "small change"),
    settings=Settings(
        name="Quarry Lake Yard",
        address="Ledge Road 1, Quarry Lake",
        message="Mind the ledge.",
        currency=Currency.of("USD"),
        tax_mode=TaxMode.EXCLUSIVE,
        cash_rounding=1,
        service_percent="0",
        service_from=99,
        service_tax="A",
        delivery_tax="A",
        surcharge_tax="A",
        patience=8.0,
        region="US",
        zone="America/Chicago",
        demo=False,
    ),
    taxes=((Tax("A", Fraction("0.0825"), "Sales tax 8.25 %", PARTS), "0.0825"),),
    denominations=tuple((value, value >= 100) for value in (1, 5, 10, 25, 100, 500, 1000, 2000, 5000)),
    staff=(
        (Staff("ottilie", "Ottilie Brandt-Moss", StaffRole.SUPERVISOR, "Yard"), "640218"),
        (Staff("lucio", "Lucio Harrow", StaffRole.CLERK, "Mechanic", takes_jobs=True), "3175"),
        (Staff("perrin", "Perrin Okafor", StaffRole.CLERK, "Dock", takes_bookings=True), "4419"),
        (Staff("sunniva", "Sunniva Tate", StaffRole.SERVER, "Snack counter"), "7052"),
    ),
    tills=(Till("yard", "Yard", "card machine 1", Home.DESK), Till("dock", "Dock", "card machine 2", Home.DESK)),
    groups=(ChoiceGroup("roll", "Size", 1, 1, (GroupChoice("roll-s", "small", 0), GroupChoice("roll-l", "large", 350))),),
    categories=(Category("snacks", "Snacks", "soup"), Category("yard", "Yard work", "tool", first_for="job"), Category("gear", "Gear", "kayak")),
    items=(
        (Item("corn", 11, "Griddled corn", "snacks", 550, "A", "grill", "snacks"), ()),
        (Item("trout-roll", 12, "Smoked trout roll", "snacks", 1095, "A", "grill", "snacks"), ("roll",)),
        (Item("outboard", 21, "Outboard service", "yard", 18900, None, "", "labour"), ()),
        (Item("bearings", 22, "Trailer bearings", "yard", 8250, "A", "", "parts"), ()),
        (Item("hull-wash", 23, "Hull wash", "yard", 475, None, "", "labour", unit="ft"), ()),
        (Item("lure", 31, "Lure", "gear", 799, "A", "", "gear"), ()),
        (Item("sauna", 41, "Sauna float", "gear", 9500, "A", "", "floats", minutes=120), ()),
    ),
    spots=(),
    presets=(
        Preset("neighbour", "Neighbour 10 %", AdjustmentKind.DISCOUNT, percent="10"),
        Preset("haul", "Haul-out", AdjustmentKind.SURCHARGE, amount=2500, scope=Scope.TICKET),
    ),
)  # fmt: skip


@dataclass(frozen=True)
class Of:
    """A house for tests: how it is set up, and which of its ids play which part."""

    plan: Plan
    opened: datetime
    boss: str
    clerk: str
    other: str
    till: str
    second_till: str
    food: str  # no choice to make
    goods: str
    task: str  # the tax of which is that of goods
    work: str  # a task; where labour is not taxed, this one
    surcharge: str
    item_tax: str


MARRAM = Of(
    MARRAM_PLAN, datetime(2026, 6, 13, 14, 20), "odile", "tamsin", "jory", "galley", "landing",
    "soup-of-the-tide", "enamel-mug", "neck-seal", "wrist-seals", "corkage", "std",
)  # fmt: skip
QUARRY = Of(
    QUARRY_PLAN, datetime(2026, 9, 12, 10, 40), "ottilie", "perrin", "sunniva", "yard", "dock",
    "corn", "lure", "bearings", "outboard", "haul", "A",
)  # fmt: skip
HOUSES = {"marram": MARRAM, "quarry": QUARRY}
