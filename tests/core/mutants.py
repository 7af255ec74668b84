"""What `make mutants` found: how many changes of the core its tests notice, and which they do not.

A change that means the same is listed with its reason and counted apart.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
from collections import Counter
from pathlib import Path

FOLDER = Path("mutants/abrazo/core")
SURVIVED, UNTESTED = 0, 33  # exit codes of a mutant's tests, as mutmut writes them
THE_SAME = (  # the line that a mutant puts in, and why it means the same
    (r"strict=|zip\(.*, \)", "a guard against lists of different lengths, which no caller gives"),
    (r"astimezone\(None\)", "the machine's own zone, which is UTC where tests run"),
    (r"raise (Value|Assertion|Type)Error\(.*XX", "a text for whoever mends a bug"),
    (r"0 <= pieces", "pieces of 0 were left out just before"),
    (r"ensure_ascii=None", "None is as good as False"),
    (
        r"denominator == 1\) and False|step <= 1\) and False|step < 1 |step >= 1 and",
        "only slower: a step of 1 rounds nothing",
    ),
    (r"if top <= 0|if top < 1", "0 has no sign, and there are only whole numbers"),
    (r"range\(3\):  # what was written", "a third time changes nothing"),
)


def shown(mutant: str) -> str:
    """The lines that a mutant changes."""
    said = subprocess.run(["mutmut", "show", mutant], capture_output=True, text=True, check=True).stdout
    return "\n".join(line for line in said.splitlines() if re.match(r"[-+](?![-+])", line))


def reason(lines: str) -> str:
    """Why a mutant means the same; empty when it does not."""
    put_in = "\n".join(line for line in lines.splitlines() if line.startswith("+"))
    return next((why for sign, why in THE_SAME if re.search(sign, put_in)), "")


def main() -> int:
    """Print the figures and what survived; 1 when less than 95 of 100 are noticed."""
    ends: Counter[str] = Counter()
    left = []
    for file in sorted(FOLDER.glob("*.meta")):
        for mutant, code in json.loads(file.read_text("utf-8"))["exit_code_by_key"].items():
            ends["not run" if code is None else "survived" if code in (SURVIVED, UNTESTED) else "noticed"] += 1
            if code in (SURVIVED, UNTESTED):
                left.append((mutant, shown(mutant)))
    reasons = {mutant: reason(lines) for mutant, lines in left}
    for mutant, lines in left:
        print(f"{mutant}: {reasons[mutant] or 'NOT NOTICED'}\n{lines}")
    same = sum(bool(why) for why in reasons.values())
    judged = ends["noticed"] + ends["survived"] - same
    print(f"{ends['noticed']} of {judged} noticed, {same} mean the same, {ends['not run']} not run")
    return int(ends["noticed"] < 0.95 * judged)


if __name__ == "__main__":
    sys.exit(main())
