"""What a house costs that nobody works in, and one behind a proxy: `python -m bench.houses [number] [seconds]`.

Memory is what a house's processes have for themselves and their part of what they share (PSS); times are of /proc.
The baseline is the first house alone.
"""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from dataclasses import dataclass
from pathlib import Path
from statistics import median

from abrazo.demo.day import MARRAM
from abrazo.demo.making import make_demo
from abrazo.worker.worker import IDLE_AFTER

TICK = os.sysconf("SC_CLK_TCK")


@dataclass
class Served:
    """A house with its processes."""

    url: str
    process: subprocess.Popen[bytes]
    started: float  # seconds until it answered

    def family(self) -> list[int]:
        """Its process and those that it started."""
        kin = subprocess.run(["pgrep", "-P", str(self.process.pid)], capture_output=True, text=True, check=False)
        return [self.process.pid, *map(int, kin.stdout.split())]

    def memory(self) -> float:
        """Mebibytes."""
        found = 0
        for pid in self.family():
            lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
            found += next(int(line.split()[1]) for line in lines if line.startswith("Pss:"))
        return found / 1024

    def worked(self) -> float:
        """Seconds of processor time so far."""
        found = 0
        for pid in self.family():
            parts = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
            found += int(parts[11]) + int(parts[12])
        return found / TICK


def serve(template: Path, folder: Path, name: str) -> Served:
    """Start one, and wait until it answers."""
    house = folder / name
    shutil.copytree(template, house)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    began = time.perf_counter()
    command = [sys.executable, "-m", "abrazo", "serve", "--port", str(port), "--db", str(house / "house.db")]
    compiled = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    process = subprocess.Popen(command, stdout=subprocess.DEVNULL, env=compiled)
    while True:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/health", timeout=5)
            return Served(f"http://127.0.0.1:{port}", process, time.perf_counter() - began)
        except OSError:
            time.sleep(0.02)


def answered(url: str, times: int = 40) -> float:
    """The median of so many sign-in pages, in seconds."""
    found = []
    for _ in range(times):
        began = time.perf_counter()
        urllib.request.urlopen(f"{url}/sign-in", timeout=10).read()
        found.append(time.perf_counter() - began)
    return median(found)


def measure(houses: list[Served], seconds: float) -> tuple[float, float]:
    """Mebibytes a house, and which part of one processor each needs while nobody works."""
    before, began = [one.worked() for one in houses], time.perf_counter()
    time.sleep(seconds)
    passed = time.perf_counter() - began
    used = [(one.worked() - was) / passed for one, was in zip(houses, before, strict=True)]
    return median(one.memory() for one in houses), median(used)


def main(number: int, seconds: float) -> None:
    """Print what one house costs, and each of several."""
    with tempfile.TemporaryDirectory() as name:
        folder, houses = Path(name), list[Served]()
        (folder / "template").mkdir()
        make_demo(folder / "template" / "house.db", MARRAM)
        try:
            houses.append(serve(folder / "template", folder, "house-1"))
            answered(houses[0].url, 5)
            time.sleep(IDLE_AFTER)
            alone = measure(houses, seconds)
            first = answered(houses[0].url)
            houses += [serve(folder / "template", folder, f"house-{place}") for place in range(2, number + 1)]
            for one in houses:
                answered(one.url, 5)
            time.sleep(IDLE_AFTER)
            each = measure(houses, seconds)
            print(f"one house: {alone[0]:.0f} MiB, {alone[1]:.2%} of a processor, {houses[0].started:.1f} s to start")
            print(f"each of {number}: {each[0]:.0f} MiB (ratio {each[0] / alone[0]:.2f}), {each[1]:.2%}")
            print(f"start, median: {median(one.started for one in houses):.1f} s")
            later = answered(houses[0].url)
            print(f"a page: {later * 1000:.1f} ms, {first * 1000:.1f} ms alone (ratio {later / first:.2f})")
        finally:
            for one in houses:
                one.process.terminate()
            for one in houses:
                one.process.wait(30)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10, float(sys.argv[2]) if len(sys.argv) > 2 else 30)
