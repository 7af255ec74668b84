"""Houses for stories start as copies of one process that has read the application already: a start takes a second less.

Each is a process of its own, that is killed and ends as any other does.
"""

from __future__ import annotations

import functools
import json
import os
import signal
import subprocess
import sys
import time
from collections.abc import Sequence

LOOK_EVERY = 0.02


class Forked:
    """A process that was started so, as `subprocess.Popen` would tell of it."""

    def __init__(self, arguments: Sequence[str]) -> None:
        parent = _parent()
        assert parent.stdin
        assert parent.stdout
        parent.stdin.write(json.dumps(list(arguments)) + "\n")
        parent.stdin.flush()
        self.pid = int(parent.stdout.readline())

    def poll(self) -> int | None:
        """None while it runs."""
        try:
            os.kill(self.pid, 0)
        except ProcessLookupError:
            return 0
        return None

    def wait(self, seconds: float = 60) -> None:
        """Wait until it has ended."""
        until = time.monotonic() + seconds
        while self.poll() is None:
            assert time.monotonic() < until, "it does not end"
            time.sleep(LOOK_EVERY)

    def kill(self) -> None:
        """As `kill -9` does."""
        self._tell(signal.SIGKILL)

    def terminate(self) -> None:
        """Tell it to end."""
        self._tell(signal.SIGTERM)

    def _tell(self, what: signal.Signals) -> None:
        if self.poll() is None:
            os.kill(self.pid, what)


@functools.cache
def _parent() -> subprocess.Popen[str]:
    """The process that they are copies of; it ends with this one."""
    command = [sys.executable, "-m", "tests.stories.forking"]
    return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)


def serve() -> None:
    """Start a copy for each line of arguments."""
    import abrazo.cli.read_once
    import abrazo.cli.serving  # noqa: F401
    from abrazo.cli.main import run

    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # nobody waits for them here
    for line in sys.stdin:
        arguments = json.loads(line)
        pid = os.fork()
        if pid:
            print(pid, flush=True)
            continue
        signal.signal(signal.SIGCHLD, signal.SIG_DFL)
        nothing = os.open(os.devnull, os.O_RDWR)
        os.dup2(nothing, 0)
        os.dup2(nothing, 1)
        sys.argv = ["abrazo", *arguments]
        run()
        sys.exit()


if __name__ == "__main__":
    serve()
