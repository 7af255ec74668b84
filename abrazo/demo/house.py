"""Marram Boathouse, the Galley: an invented house. All people, prices and places are made up."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from abrazo.core.money import Currency
from abrazo.core.states import AdjustmentKind, AfterSale, Home, Scope, Shape, StaffRole, TaxCategory, TaxMode
from abrazo.core.tax import Tax
from abrazo.demo.codes import code_of as code_of
from abrazo.desk.context import Settings
from abrazo.desk.setup.founding import Plan
from abrazo.store.adjustments import Preset
from abrazo.store.after_sale import AfterSaleRow
from abrazo.store.benefits import BenefitRow
from abrazo.store.catalogue import Category, ChoiceGroup, GroupChoice, Item
from abrazo.store.hires import HireKind, TariffRow, Unit
from abrazo.store.memberships import MembershipItem
from abrazo.store.prices import PriceList
from abrazo.store.room import Spot
from abrazo.store.series import SeriesKind
from abrazo.store.staff import Staff
from abrazo.store.stock import Family, Variant
from abrazo.store.till import Till

SETTINGS = Settings(
    name="Marram Boathouse",
    address="The Galley, Saltpan Slip 3, Marram",
    message="The tide comes back, so may you.",
    currency=Currency.of("EUR"),
    tax_mode=TaxMode.INCLUSIVE,
    cash_rounding=5,
    service_percent="10",
    service_from=8,
    service_tax="std",
    delivery_tax="std",
    surcharge_tax="std",
    patience=8.0,
    region="IE",
    zone="Europe/Dublin",
    tab_hold=3000,
    free_discount="10",
    legal_name="Marram Boathouse Ltd",
    country="IE",
    tax_number="IE0000000MB",
    demo=True,
)

ANONYMOUS = ("Counter", "Hatch window", "Slipway stall")  # where sales without a customer are made

TAXES = (
    (Tax("std", Fraction("0.20"), "VAT 20 %", category=TaxCategory.RATED), "0.20"),
    (Tax("red", Fraction("0.10"), "VAT 10 %", category=TaxCategory.RATED), "0.10"),
    (Tax("zero", Fraction(0), "VAT 0 %", category=TaxCategory.ZERO), "0"),
)

EURO = tuple((value, value >= 500) for value in (5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000))

SERVER, CLERK, CRAFTSMAN, SUPERVISOR = StaffRole
STAFF = (
    (Staff("odile", "Odile Marsh", SUPERVISOR, "Supervisor"), "407118"),
    (Staff("tamsin", "Tamsin Rook", SERVER, "Server"), "2086"),
    (Staff("jory", "Jory Penhale", SERVER, "Server, bar"), "3395"),
    (Staff("wren", "Wren Achterberg", CLERK, "Landing desk"), "5512"),
    (Staff("idris", "Idris Vane", CLERK, "Instructor", takes_bookings=True), "6120"),
    (Staff("pilar", "Pilar Sandoval", CLERK, "Instructor", takes_bookings=True), "7734"),
    (Staff("bastian", "Bastian Okoro", CLERK, "The Shed", takes_jobs=True), "8849"),
    (Staff("noor", "Noor Castellan", CLERK, "Fitter", takes_bookings=True), "9263"),
)

TILLS = (Till("galley", "Galley", "card machine 1"), Till("landing", "Landing", "card machine 2", Home.DESK))


def _group(id: str, name: str, least: int, most: int, *choices: tuple[str, int]) -> ChoiceGroup:
    made = tuple(GroupChoice(f"{id}-{i}", label, price) for i, (label, price) in enumerate(choices, 1))
    return ChoiceGroup(id, name, least, most, made)


GROUPS = (
    _group("pot-size", "Size", 1, 1, ("half", 0), ("full", 700)),
    _group("pint", "Measure", 1, 1, ("half", 0), ("pint", 260)),
    _group("leaf", "Leaf", 1, 1, ("smoky", 0), ("green", 0), ("mint", 0)),
    _group("bread", "Bread", 1, 1, ("sourdough", 0), ("rye", 0), ("gluten-free", 120)),
    _group("sauce", "Sauce", 0, 2, ("caper", 0), ("dulse", 0), ("hot", 0)),
    _group("toastie-extra", "Extras", 0, 2, ("extra crab", 300), ("samphire", 150), ("egg", 120)),
    _group("pot-extra", "Extras", 0, 2, ("extra bread", 220), ("chips beside", 350)),
    _group("honey", "Honey", 0, 1, ("heather honey", 80)),
    _group("milk", "Milk", 0, 1, ("oat milk", 40), ("cold milk", 0)),
    _group("bun", "How", 0, 1, ("warm", 0), ("with butter", 60)),
    _group("out", "Leave out", 0, 3, ("no cream", 0), ("no onion", 0), ("no nuts", 0)),
    _group("ice", "Ice", 0, 1, ("no ice", 0)),
)

CATEGORIES = (
    Category("pots", "Pots & soups", "soup"),
    Category("toasties", "Toasties", "bread"),
    Category("sides", "Salads & sides", "salad"),
    Category("sweet", "Buns & sweet", "cookie"),
    Category("tea", "Tea & hot", "cup"),
    Category("ale", "Ale & cider", "glass-full", first_for="tab"),
    Category("soft", "Spritz & soft", "leaf"),
    Category("sessions", "Sessions", "kayak", first_for="walk-in"),
    Category("addons", "Add-ons", "hanger", first_for="booking"),
    Category("ahead", "Paid ahead", "calendar"),
    Category("hire", "Boats & boards", "kayak"),
    Category("tasks", "Shed tasks", "tool", tasks=True),
    Category("drysuits", "Drysuits", "tool", "tasks"),
    Category("sails", "Sails", "tool", "tasks"),
    Category("oars", "Oars", "tool", "tasks"),
    Category("kayaks", "Kayaks", "tool", "tasks"),
    Category("shop", "Shop", "shopping-bag", first_for="job"),
)

# category, tax, place, report group: number, name, price, choice groups
_LIST: dict[tuple[str, str, str, str], tuple[tuple[int, str, int, tuple[str, ...]], ...]] = {
    ("pots", "red", "kitchen", "food"): (
        (11, "Smoked mussel pot", 1400, ("pot-size", "pot-extra", "out")),
        (12, "Fish soup", 980, ("bread", "out")),
        (13, "Clam and leek pot", 1580, ("pot-extra", "out")),
        (14, "Barley broth", 820, ("bread",)),
        (15, "Soup of the tide", 760, ()),
    ),
    ("toasties", "red", "kitchen", "food"): (
        (21, "Crab toastie", 1450, ("bread", "toastie-extra", "sauce")),
        (22, "Smoked fish toastie", 1320, ("bread", "toastie-extra", "sauce")),
        (23, "Leek and curd toastie", 1180, ("bread", "toastie-extra")),
        (24, "Half toastie and soup", 1260, ("bread",)),
        (25, "Child's toastie", 740, ()),
        (26, "Mushroom toastie", 1120, ("bread", "sauce")),
    ),
    ("sides", "red", "kitchen", "food"): (
        (31, "Griddled leek salad", 1090, ("out",)),
        (32, "Seaweed-salt chips", 490, ("sauce",)),
        (33, "Kelp-butter bread", 420, ()),
        (34, "Pickled samphire", 350, ()),
        (35, "Beetroot and curd", 640, ("out",)),
        (36, "Dressed crab", 1680, ("bread",)),
    ),
    ("sweet", "red", "kitchen", "food"): (
        (41, "Cardamom bun", 380, ("bun",)),
        (42, "Lemon posset", 620, ()),
        (43, "Oat and rhubarb bake", 580, ("out",)),
        (44, "Ginger parkin", 360, ("bun",)),
        (45, "Sea-salt caramel pot", 590, ()),
    ),
    ("tea", "red", "bar", "hot drinks"): (
        (51, "Pot of tea", 360, ("leaf", "honey", "milk")),
        (52, "Hot cordial", 340, ("honey",)),
        (53, "Filter coffee", 320, ("milk",)),
        (54, "Milky coffee", 380, ("milk",)),
        (55, "Hot chocolate", 420, ("milk",)),
    ),
    ("ale", "std", "bar", "bar"): (
        (61, "Estuary pale ale", 360, ("pint",)),
        (62, "Dark harbour ale", 380, ("pint",)),
        (63, "Bottle of cider", 1240, ()),
        (64, "Small cider", 460, ()),
        (65, "White wine, glass", 590, ()),
        (66, "Red wine, glass", 590, ()),
    ),
    ("soft", "std", "bar", "soft drinks"): (
        (71, "Rhubarb spritz", 840, ("ice",)),
        (72, "Sea buckthorn spritz", 860, ("ice",)),
        (73, "Elderflower fizz", 420, ("ice",)),
        (74, "Apple juice", 360, ()),
        (75, "Still water, bottle", 300, ()),
    ),
}


def slug(name: str) -> str:
    """The id of an item: its name in small letters."""
    plain = "".join(c if c.isalnum() else " " for c in name.lower().replace("'", ""))
    return "-".join(plain.split())


def _items() -> tuple[tuple[Item, tuple[str, ...]], ...]:
    return tuple(
        (Item(slug(name), number, name, category, price, tax, place, group), groups)
        for (category, tax, place, group), listed in _LIST.items()
        for number, name, price, groups in listed
    )


# What the Landing, the Shed and the Shop sell. Number, name, price, then minutes, unit or the code's in-house number.
_SESSIONS = (
    (101, "First paddle", 4800, 90),
    (102, "Skiff lesson", 5200, 60),
    (103, "Roll clinic", 6400, 120),
    (104, "Drysuit fitting", 1800, 45),
    (105, "Guided creek tour", 5800, 150),
)
_ADDONS = ((111, "Wetsuit", 1200), (112, "Dry bag loan", 400), (113, "Photos", 1500))
_AHEAD = ((115, "Five paddles", 20000, "sessions"), (116, "Tidekeeper, a year", 9600, "memberships"))
_HIRED = (
    (191, "Single kayak", 4000),
    (192, "Double kayak", 5500),
    (193, "Rowing skiff", 7000),
    (194, "Board", 3000),
)
_TASKS = (
    (121, "Neck seal", 5800, ""),
    (122, "Wrist seals", 4200, ""),
    (123, "Pressure test", 1400, ""),
    (124, "Zip wax", 800, ""),
    (131, "Sail seam patch", 2400, ""),
    (132, "Luff re-stitch", 3600, ""),
    (133, "Off-cuts of sailcloth", 1800, "kg"),
    (141, "Oar re-leather", 2200, ""),
    (142, "Oar balance", 1200, ""),
    (143, "Oar varnish", 1600, ""),
    (151, "Hull patch", 4500, ""),
    (152, "Gel-coat polish", 6000, ""),
    (153, "Rudder line", 1900, ""),
    (154, "Rope splice", 700, ""),
)
_SHOP = (
    (161, "Braided rope", 280, "m", "std"),
    (171, "Dry bag S, red", 1900, "", "std"),
    (172, "Dry bag S, teal", 1900, "", "std"),
    (173, "Dry bag M, red", 2400, "", "std"),
    (174, "Dry bag M, teal", 2400, "", "std"),
    (175, "Dry bag L, red", 2900, "", "std"),
    (176, "Dry bag L, teal", 2900, "", "std"),
    (181, "Sun hat", 2200, "", "std"),
    (182, "Paddle leash", 1400, "", "std"),
    (183, "Tide tables", 650, "", "zero"),
    (184, "Enamel mug", 1100, "", "std"),
    (185, "Kelp soap", 750, "", "std"),
)


def _desk_items() -> Iterator[tuple[Item, tuple[str, ...]]]:
    for number, name, price, minutes in _SESSIONS:
        yield Item(slug(name), number, name, "sessions", price, "std", "", "sessions", minutes=minutes), ()
    for number, name, price in _ADDONS:
        yield Item(slug(name), number, name, "addons", price, "std", "", "sessions"), ()
    for number, name, price in _HIRED:
        yield Item(slug(name), number, name, "hire", price, "std", "", "boats"), ()
    for number, name, price, group in _AHEAD:
        yield Item(slug(name), number, name, "ahead", price, "std", "", group, code=code_of(number)), ()
    for number, name, price, unit in _TASKS:
        category = ("drysuits", "sails", "oars", "kayaks")[min(number - 120, 39) // 10]
        yield Item(slug(name), number, name, category, price, "std", "", "shed", unit=unit), ()
    for number, name, price, unit, tax in _SHOP:
        group = "printed matter" if tax == "zero" else "shop"
        yield Item(slug(name), number, name, "shop", price, tax, "", group, code=code_of(number), unit=unit), ()


PRESETS = (
    Preset("regular", "Regular 10 %", AdjustmentKind.DISCOUNT, percent="10"),
    Preset("crew", "Crew meal", AdjustmentKind.DISCOUNT, percent="50", scope=Scope.LINE),
    Preset("waited", "Waited too long", AdjustmentKind.COMP, percent="100", scope=Scope.LINE),
    Preset("late-tide", "Late tide 2.00 off", AdjustmentKind.DISCOUNT, amount=200, scope=Scope.LINE),
    Preset("saltpan", "Saltpan Rowers", AdjustmentKind.DISCOUNT, percent="8", code="SALTPAN8"),
    Preset("corkage", "Corkage", AdjustmentKind.SURCHARGE, amount=600, scope=Scope.TICKET),
    Preset("quick", "Done within a day", AdjustmentKind.SURCHARGE, percent="15", scope=Scope.LINE, groups="shed"),
    Preset("gluten-free", "Gluten-free bread", AdjustmentKind.SURCHARGE, amount=80, scope=Scope.LINE, groups="food"),
)


LISTS = (
    (PriceList("late-tide", "Late tide", "0123456", "17:00", "19:00"),
     {"estuary-pale-ale": 320, "dark-harbour-ale": 340, "rhubarb-spritz": 700, "bottle-of-cider": 1090}),
    (PriceList("small-hours", "Small hours", "45", "22:00", "01:00"), {"fish-soup": 1080, "seaweed-salt-chips": 560}),
)  # fmt: skip
DRINKS = "hot drinks;bar;soft drinks"
NOTES = (
    ("no salt", "food"), ("allergy: ask the kitchen", f"food;{DRINKS}"), ("sauce beside it", "food"),
    ("well done", "food"), ("share, two spoons", "food"), ("no ice", DRINKS), ("for the birthday", ""),
)  # fmt: skip
JOB_NOTES = (
    "call before extra work",
    "own parts in the bag",
    "old glue left on",
    "fuel smell, air it first",
    "collected by somebody else",
)
JOB_PLACES = ("bench", "drying room", "rack 1", "rack 2", "outside")


MEMBERSHIPS = (
    ("tidekeeper", "Tidekeeper", (
        BenefitRow("tidekeeper-sessions", "tidekeeper", "Tidekeeper: 12 % off sessions", "12", report_group="sessions"),
        BenefitRow("tidekeeper-check", "tidekeeper", "Tidekeeper: the year's free drysuit check", "100",
                    item="pressure-test", times=1),
    )),
)  # fmt: skip
FLEET = "Creekside Fleet"
HIRE = (
    HireKind("single-kayak", FLEET, "60", 90000, 15, 60, 1000),
    HireKind("double-kayak", FLEET, "60", 140000, 15, 60, 1400),
    HireKind("rowing-skiff", FLEET, "60", 220000, 15, 60, 1800),
    HireKind("board", "", "0", 60000, 15, 60, 800),
)
# half day, day, weekend, week; minor units
_PRICES = {"single-kayak": (2500, 4000, 7000, 15000), "double-kayak": (3500, 5500, 9500, 21000),
           "rowing-skiff": (4500, 7000, 12000, 27000), "board": (1800, 3000, 5000, 11000)}  # fmt: skip
TARIFFS = tuple(
    tariff
    for item, (half, day, weekend, week) in _PRICES.items()
    for tariff in (
        TariffRow(f"{item}-half-day", item, "half day", half, 240),
        TariffRow(f"{item}-day", item, "day", day, 1440),
        TariffRow(f"{item}-weekend", item, "weekend", weekend, None, 4, "17:00", 0, "09:00"),
        TariffRow(f"{item}-week", item, "week", week, 10080),
    )
)
UNITS = tuple(
    Unit(f"{letter}-{number:02d}", item, code_of(900 + first + number))
    for item, letter, first, many in (("single-kayak", "K", 0, 4), ("double-kayak", "D", 20, 3),
                                      ("rowing-skiff", "R", 40, 2), ("board", "B", 60, 3))
    for number in range(1, many + 1)
)  # fmt: skip
SOLD_MEMBERSHIPS = (MembershipItem("tidekeeper-a-year", "tidekeeper", 12),)
SERIES = (SeriesKind("five-paddles", 5, 365, ("first-paddle", "skiff-lesson")),)
DRY_BAG = Family("dry-bag", "Dry bag", code_of(170))
BAGS = tuple(
    Variant(f"dry-bag-{size.lower()}-{colour}", DRY_BAG.id, size, colour)
    for size in "SML"
    for colour in ("red", "teal")
)
SHELVES = {bag.item: f"wall by the door, hook {hook}" for hook, bag in enumerate(BAGS, 1)}
SHELVES |= {"sun-hat": "window", "paddle-leash": "drawer 3", "tide-tables": "by the till", "enamel-mug": "shelf 2",
            "kelp-soap": "shelf 2", "braided-rope": "the Shed, drum 1"}  # fmt: skip
COUNTED = dict(zip((bag.item for bag in BAGS), (6, 4, 5, 1, 3, 0), strict=True))
COUNTED |= {"sun-hat": 9, "paddle-leash": 12, "tide-tables": 30, "enamel-mug": 8, "kelp-soap": 2}


def _spots() -> tuple[Spot, ...]:
    deck = [("D1", 2), ("D2", 2), ("D3", 4), ("D4", 4), ("D5", 8), ("D6", 4)]
    made = []
    for i, (name, seats) in enumerate(deck):
        shape = Shape.ROUND if seats == 2 else Shape.SQUARE
        made.append(Spot(name, name, "Deck", shape, 20 + i % 3 * 176, 34 + i // 3 * 150, 140, 98, seats))
    for i in range(2):
        made.append(Spot(f"P{i + 1}", f"P{i + 1}", "Pontoon", Shape.SQUARE, 574, 34 + i * 150, 226, 98, 12))
    for i in range(8):
        shape, seats = (Shape.ROUND, 2) if i % 4 == 3 else (Shape.SQUARE, 4)
        made.append(
            Spot(f"G{i + 1}", f"G{i + 1}", "Indoors", shape, 20 + i % 4 * 138, 364 + i // 4 * 148, 114, 96, seats)
        )
    for i in range(6):
        x, y = 592 + i % 2 * 108, 352 + i // 2 * 96
        made.append(Spot(f"B{i + 1}", f"B{i + 1}", "Bar", Shape.STOOL, x, y, 100, 76, 1))
    return tuple(made)


AFTER_SALE = (
    AfterSaleRow(
        "word-back", "Ask how it was", AfterSale.MESSAGE, "booking;walk-in", 2, "10:00",
        "Hello [name], how was it on the water? A word back helps us. [house]",
    ),
)  # fmt: skip
PETTY = ("ice", "small change", "postage", "cleaning", "errands")
PLAN = Plan(SETTINGS, TAXES, EURO, STAFF, TILLS, GROUPS, CATEGORIES, (*_items(), *_desk_items()), _spots(),
            PRESETS, ("drysuit-fitting", "off-cuts-of-sailcloth"), LISTS,
            ((DRY_BAG, BAGS),), MEMBERSHIPS, SOLD_MEMBERSHIPS, HIRE, TARIFFS, UNITS, SERIES, SHELVES, ANONYMOUS,
            PETTY, NOTES, JOB_NOTES, JOB_PLACES, AFTER_SALE)  # fmt: skip
