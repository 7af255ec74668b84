"""What the owner of a unit is told of a hire: a JSON file for each event, as docs/formats/hire-event.md says."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field

FORMAT = "abrazo hire event 1"


@dataclass(frozen=True, slots=True)
class HireEventFile:
    """An event: times are wall times of the house (`at` is UTC), `amounts` texts in `currency` (ISO 4217)."""

    house: str
    reference: str
    event: str
    at: str
    hire: str
    unit: str
    kind: str
    starts: str
    due: str
    currency: str
    note: str = ""
    amounts: Mapping[str, str] = field(default_factory=dict)


def hire_event_text(event: HireEventFile) -> str:
    """The file."""
    return json.dumps({"format": FORMAT, **asdict(event)}, indent=1, ensure_ascii=False)
