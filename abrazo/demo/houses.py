"""The houses that there are for a demo, by what they are called on the command line."""

from __future__ import annotations

from collections.abc import Mapping

from abrazo.demo.day import MARRAM
from abrazo.demo.making import DemoHouse
from abrazo.demo.quarry.day import QUARRY_LAKE

HOUSES: Mapping[str, DemoHouse] = {"marram": MARRAM, "quarry-lake": QUARRY_LAKE}
