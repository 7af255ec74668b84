"""`abrazo stand-ins --check ADDRESS`: whether what answers there keeps the protocol of card machines."""

from __future__ import annotations

import json
from contextlib import closing

from abrazo.devices.conformance import Conformance, Found
from abrazo.devices.drivers.http_cards import HttpMachine

FAULTS = 1


def check(address: str, device: str, patience: float, as_json: bool) -> int:
    """Ask every rule of a device; 0 when it keeps them all, else 1 with each that it does not."""
    found = list[Found]()
    with closing(HttpMachine(device, address)) as machine:
        for one in Conformance(machine, patience).run():
            found.append(one)
            if not as_json:
                print(
                    f"{'kept  ' if not one.fault else 'BROKEN'} {one.rule}{': ' + one.fault if one.fault else ''}",
                    flush=True,
                )
    faults = [one for one in found if one.fault]
    if as_json:
        print(json.dumps({"rules": len(found), "broken": [{"rule": one.rule, "why": one.fault} for one in faults]}))
    else:
        print(f"{len(found) - len(faults)} of {len(found)} rules are kept.")
    return FAULTS if faults else 0
