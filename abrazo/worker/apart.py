"""A process that does one piece of work for the house, with the lowest claim on the machine, and ends with it.

Reading a long file keeps an interpreter busy for many seconds; here it takes nothing from the pages, and its memory
goes with the process. Parent and child are the same program: what they say to one another is pickled.
"""

from __future__ import annotations

import os
import pickle
import select
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from itertools import islice
from typing import Any, TypeVar, cast

from abrazo.core.errors import Code, Refused

T = TypeVar("T")
LOOK_EVERY = 0.2  # seconds between looks at whether the answer is there, and in the child at whether the parent is
PATIENCE = 300.0  # seconds for one piece of work
IN_PART = 500  # entries of a list that are answered at once: taking in all of them would hold up the parent's threads
COMMAND = (sys.executable, "-m", "abrazo.worker.apart")


class Stopped(Exception):
    """The house closes: the work was given up."""


def do_apart(ended: threading.Event, work: Callable[..., T], /, *given: object) -> T:
    """What a function answers in a process of its own. Refused as it refuses, or when that dies or takes too long.

    Raises Stopped as soon as `ended` is set.
    """
    with subprocess.Popen(COMMAND, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as process:  # noqa: S603  # ourselves
        try:
            assert process.stdin is not None
            assert process.stdout is not None
            pickle.dump((work, given), process.stdin)
            process.stdin.close()
            _wait(process.stdout.fileno(), ended)
            return cast(T, _answer(process.stdout))
        except (EOFError, BrokenPipeError, pickle.UnpicklingError):
            raise Refused(Code.FILE_BROKE, "file") from None
        finally:
            process.kill()


def _wait(answers: int, ended: threading.Event) -> None:
    until = time.monotonic() + PATIENCE
    while not select.select([answers], [], [], LOOK_EVERY)[0]:
        if ended.is_set():
            raise Stopped
        if time.monotonic() > until:
            raise Refused(Code.FILE_BROKE, "file")


def _answer(said: Any) -> object:
    answer = pickle.load(said)  # noqa: S301  # by our own process
    if isinstance(answer, Refused):
        raise answer
    if isinstance(answer, list):
        while part := pickle.load(said):  # noqa: S301
            answer.extend(part)
    return answer


def _do(answers: Any) -> None:
    work, given = pickle.load(sys.stdin.buffer)  # noqa: S301
    try:
        answer = work(*given)
    except Refused as refusal:
        answer = refusal
    pickle.dump([] if isinstance(answer, list) else answer, answers)
    if isinstance(answer, list):
        left = iter(answer)
        while part := list(islice(left, IN_PART)):
            pickle.dump(part, answers)
        pickle.dump([], answers)
    answers.flush()


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(LOOK_EVERY)
    os._exit(1)


if __name__ == "__main__":
    os.nice(19)
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    _do(sys.stdout.buffer)
