"""The counts that stories wrote down, as a table: `make acts`."""

from __future__ import annotations

import sys
from pathlib import Path


def main(file: Path) -> None:
    """Each job with what is wanted and what was found; the most of several runs."""
    found: dict[str, tuple[int, int]] = {}
    for line in file.read_text("utf-8").splitlines():
        acts, wanted, job = line.split("\t")
        found[job] = (int(wanted), max(int(acts), found.get(job, (0, 0))[1]))
    wide = max(map(len, found), default=3)
    print(f"{'job':{wide}}  wanted  found")
    for job, (want, most) in sorted(found.items()):
        print(f"{job:{wide}}  {want:6}  {most:5}{'' if most <= want else '  more'}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
