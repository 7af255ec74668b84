"""What every page of set-up has around it."""

from __future__ import annotations

from typing import Any

from abrazo.desk.setup.kinds import AHEAD, NEEDS, SOLD, WHO
from abrazo.words import set_up as words

GROUPS = [[(one.id, NEEDS.get(one.id, "")) for one in kinds] for kinds in (SOLD, AHEAD, WHO)]  # as the bar has them


def frame(**more: Any) -> dict[str, Any]:
    """The kinds and sections that the bar leads to, which of them is `here`, and what was looked for."""
    return {"kinds": words.THINGS, "sections": words.SECTIONS, "groups": GROUPS, "here": "", "find": ""} | more
