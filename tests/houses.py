"""Two houses for tests: Marram (EUR, tax contained, cash to 5 cents) and Quarry Lake (USD, tax added in two parts, other
ids everywhere, no kitchen, no tables). What a test needs of either it asks for by role."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from abrazo.demo.house import PLAN as MARRAM_PLAN
from abrazo.demo.quarry.plan import PLAN as QUARRY_LAKE_PLAN
from abrazo.desk.setup.founding import Plan

QUARRY_PLAN = replace(QUARRY_LAKE_PLAN, settings=replace(QUARRY_LAKE_PLAN.settings, demo=False))


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
