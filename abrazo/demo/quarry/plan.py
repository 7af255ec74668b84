"""Quarry Lake Yard: an invented house. All people, prices and places are made up."""

from __future__ import annotations

from fractions import Fraction

from abrazo.core.money import Currency
from abrazo.core.states import AdjustmentKind, AfterSale, Does, Home, Scope, StaffRole, TaxMode
from abrazo.core.tax import Tax, TaxPart
from abrazo.demo.codes import code_of
from abrazo.desk.context import Settings
from abrazo.desk.setup.founding import Plan
from abrazo.store.adjustments import Preset
from abrazo.store.after_sale import AfterSaleRow
from abrazo.store.benefits import BenefitRow
from abrazo.store.catalogue import Category, ChoiceGroup, GroupChoice, Item
from abrazo.store.hires import HireKind, TariffRow, Unit
from abrazo.store.memberships import MembershipItem
from abrazo.store.series import SeriesKind
from abrazo.store.staff import Staff
from abrazo.store.till import Till

SETTINGS = Settings(
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
    free_discount="10",
    job_prefix="W-",
    hire_prefix="R-",
    open_days="1 2 3 4 5 6",
    prep_places="grill",
    does=" ".join((Does.BOOKINGS, Does.JOBS, Does.HIRE, Does.KITCHEN)),
    demo=True,
)
PARTS = (TaxPart("State 6.25 %", Fraction("0.0625")), TaxPart("Town 2 %", Fraction("0.02")))
TAXES = ((Tax("A", Fraction("0.0825"), "Sales tax 8.25 %", PARTS), "0.0825"),)
DOLLARS = tuple((value, value >= 100) for value in (1, 5, 10, 25, 100, 500, 1000, 2000, 5000))

STAFF = (
    (Staff("ottilie", "Ottilie Brandt-Moss", StaffRole.SUPERVISOR, "Yard"), "640218"),
    (Staff("lucio", "Lucio Harrow", StaffRole.CLERK, "Mechanic", takes_jobs=True), "3175"),
    (Staff("dagny", "Dagny Pruitt", StaffRole.CLERK, "Mechanic", takes_jobs=True), "8206"),
    (Staff("perrin", "Perrin Okafor", StaffRole.CLERK, "Dock", takes_bookings=True), "4419"),
    (Staff("sunniva", "Sunniva Tate", StaffRole.SERVER, "Snack counter"), "7052"),
)
TILLS = (Till("yard", "Yard", "card machine 1", Home.DESK), Till("dock", "Dock", "card machine 2", Home.DESK))


def _group(id: str, name: str, least: int, most: int, *choices: tuple[str, str, int]) -> ChoiceGroup:
    return ChoiceGroup(
        id, name, least, most, tuple(GroupChoice(f"{id}-{one}", words, price) for one, words, price in choices)
    )


GROUPS = (
    _group("roll", "Size", 1, 1, ("s", "small", 0), ("l", "large", 350)),
    _group("relish", "Relish", 0, 1, ("dill", "dill", 0), ("beet", "beet", 0), ("hot", "hot pepper", 0)),
    _group("more", "Extra", 0, 2, ("trout", "more trout", 400), ("slaw", "slaw", 150)),
    _group("syrup", "Syrup", 1, 3, ("cherry", "sour cherry", 0), ("mint", "mint", 0), ("lemon", "lemon", 0)),
)
CATEGORIES = (
    Category("snacks", "Snacks", "soup"),
    Category("gear", "Shop", "shopping-bag"),
    Category("yard", "Yard work", "tool", first_for="job", tasks=True),
    Category("floats", "Sauna & lessons", "kayak", first_for="booking"),
    Category("ahead", "Paid ahead", "calendar"),
    Category("dock", "Hire", "kayak"),
)
ITEMS = (
    (Item("corn", 11, "Griddled corn", "snacks", 550, "A", "grill", "snacks"), ()),
    (Item("trout-roll", 12, "Smoked trout roll", "snacks", 1095, "A", "grill", "snacks"), ("roll", "relish", "more")),
    (Item("root-cordial", 13, "Root cordial", "snacks", 350, "A", "", "drinks"), ()),
    (Item("shaved-ice", 14, "Shaved ice", "snacks", 450, "A", "", "snacks"), ("syrup",)),
    (Item("outboard", 21, "Outboard service", "yard", 18900, None, "", "labor", job_days=4), ()),
    (Item("bearings", 22, "Trailer bearings", "yard", 8250, "A", "", "parts"), ()),
    (Item("hull-wash", 23, "Hull wash", "yard", 475, None, "", "labor", unit="ft"), ()),
    (Item("propeller", 24, "Propeller dressing", "yard", 6500, None, "", "labor"), ()),
    (Item("lay-up", 25, "Winter lay-up", "yard", 42000, None, "", "labor", job_days=30), ()),
    (Item("ice-saw", 26, "Ice-saw sharpening", "yard", 2400, None, "", "labor"), ()),
    (Item("lure", 31, "Lure", "gear", 799, "A", "", "gear", code=code_of(31)), ()),
    (Item("line", 32, "Line, 100 yards", "gear", 1295, "A", "", "gear", code=code_of(32)), ()),
    (Item("lake-map", 33, "Lake map", "gear", 650, "A", "", "gear", code=code_of(33)), ()),
    (Item("tow-rope", 34, "Tow rope", "gear", 85, "A", "", "gear", code=code_of(34), unit="ft"), ()),
    (Item("sauna", 41, "Sauna float with host", "floats", 9500, "A", "", "floats", minutes=120), ()),
    (Item("casting", 42, "Casting lesson", "floats", 4000, "A", "", "lessons", minutes=45), ()),
    (Item("six-saunas", 51, "Six saunas", "ahead", 48000, "A", "", "floats", code=code_of(51)), ()),
    (Item("quarry-friend", 52, "Quarry Friend, a year", "ahead", 6000, "A", "", "memberships",
          code=code_of(52)), ()),
    (Item("canoe", 61, "Canoe", "dock", 3600, "A", "", "boats"), ()),
    (Item("pedal-raft", 62, "Pedal raft", "dock", 4200, "A", "", "boats"), ()),
    (Item("sauna-float", 63, "Sauna float, without host", "dock", 12000, "A", "", "boats"), ()),
)  # fmt: skip

CO_OP = "Basalt Float Co-op"
HIRE = (
    HireKind("canoe", "", "0", 95000, 15, 60, 1200),
    HireKind("pedal-raft", "", "0", 160000, 15, 60, 1500),
    HireKind("sauna-float", CO_OP, "70", 900000, 15, 60, 4000),
)
_PRICES = {"canoe": (2200, 3600, 8000), "pedal-raft": (2600, 4200, 9500), "sauna-float": (8000, 12000, 26000)}
TARIFFS = tuple(
    tariff
    for item, (hours, day, weekend) in _PRICES.items()
    for tariff in (
        TariffRow(f"{item}-two-hours", item, "two hours", hours, 120),
        TariffRow(f"{item}-day", item, "day", day, 1440),
        TariffRow(f"{item}-weekend", item, "weekend", weekend, None, 4, "16:00", 0, "10:00"),
    )
)
UNITS = tuple(
    Unit(f"{letter}-{number:02d}", item, code_of(900 + first + number))
    for item, letter, first, many in (("canoe", "C", 0, 5), ("pedal-raft", "P", 20, 3), ("sauna-float", "F", 40, 2))
    for number in range(1, many + 1)
)
PRESETS = (
    Preset("neighbour", "Neighbor 10 %", AdjustmentKind.DISCOUNT, percent="10"),
    Preset("rain", "Rained off", AdjustmentKind.COMP, percent="100", scope=Scope.LINE),
    Preset("haul", "Haul-out", AdjustmentKind.SURCHARGE, amount=2500, scope=Scope.TICKET),
    Preset("ahead-of-others", "Ahead of the others", AdjustmentKind.SURCHARGE, percent="20", scope=Scope.LINE,
           groups="labor;parts"),
)  # fmt: skip
MEMBERSHIPS = (
    ("friend", "Quarry Friend", (BenefitRow("friend-hire", "friend", "Quarry Friend: 10 % off hire", "10",
                                            report_group="boats"),)),
)  # fmt: skip
PLAN = Plan(
    settings=SETTINGS,
    taxes=TAXES,
    denominations=DOLLARS,
    staff=STAFF,
    tills=TILLS,
    groups=GROUPS,
    categories=CATEGORIES,
    items=ITEMS,
    spots=(),
    presets=PRESETS,
    variable=("ice-saw",),
    memberships=MEMBERSHIPS,
    sold_memberships=(MembershipItem("quarry-friend", "friend", 12),),
    hire=HIRE,
    tariffs=TARIFFS,
    units=UNITS,
    series=(SeriesKind("six-saunas", 6, 365, ("sauna",)),),
    shelves={"lure": "wall, row 2", "line": "wall, row 1", "lake-map": "by the till", "tow-rope": "drum by the door"},
    anonymous_accounts=("Snack counter", "Shop"),
    petty_categories=("ice", "small change", "bait"),
    notes=(("no ice", "drinks"), ("cut in half", "snacks")),
    job_notes=("call before extra work", "trailer stays", "keys in the box", "gas in the tank"),
    after_sale=(
        AfterSaleRow(
            "still-running",
            "Ask whether it runs",
            AfterSale.MESSAGE,
            "job",
            7,
            "09:30",
            "Hello [name], does everything run as it should? Tell us if it does not. [house]",
        ),
    ),
    job_places=("yard", "shed", "slip", "trailer row"),
)
