"""A process that does one piece of work for the house, with the lowest claim on the machine, and ends with it.

Reading a long file keeps an interpreter busy for many seconds; here it takes nothing from the pages, and its memory
goes with the process. Parent and child are the same program: what they say to one another is pickled.
"""

from __future__ import annotations

import inspect
import os
import pickle
import select
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Generator, Iterator
from contextlib import closing
from itertools import islice
from types import GeneratorType
from typing import Any, TypeVar, cast

from abrazo.core.errors import Code, Refused

T = TypeVar("T")
Said = Generator[Any, None, None]
NO_MORE = "no more is said"
LOOK_EVERY = 0.2  # seconds between looks at whether the answer is there, and in the child at whether the parent is
PATIENCE = 300.0  # seconds for one piece of work
IN_PART = 500  # entries of a list that are answered at once: taking in all of them would hold up the parent's threads
COMMAND = (sys.executable, "-m", "abrazo.worker.apart")


class Stopped(Exception):
    """The house closes: the work was given up."""


def do_apart(ended: threading.Event, work: Callable[..., T], /, *given: object) -> T:
    """What a function answers in a process of its own; of a generator function what it yields, as it comes.

    Refused as it refuses, or when that process dies or takes too long. Raises Stopped as soon as `ended` is set.
    """
    said = _said_apart(ended, work, given)
    if inspect.isgeneratorfunction(work):
        return cast(T, said)
    with closing(said):
        answer = next(said)
        if isinstance(answer, list):
            for part in said:
                answer.extend(part)
    return cast(T, answer)


def _said_apart(ended: threading.Event, work: Callable[..., object], given: tuple[object, ...]) -> Said:
    """Everything that a process says of its work, one after the other."""
    with subprocess.Popen(COMMAND, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as process:  # noqa: S603  # ourselves
        try:
            assert process.stdin is not None
            assert process.stdout is not None
            pickle.dump((work, given), process.stdin)
            process.stdin.close()
            _wait(process.stdout.fileno(), ended)
            while (said := _next(process)) != NO_MORE:
                if isinstance(said, Refused):
                    raise said
                if ended.is_set():
                    raise Stopped
                yield said
        except (EOFError, BrokenPipeError, pickle.UnpicklingError):
            raise Refused(Code.FILE_BROKE, "file") from None
        finally:
            process.kill()


def _next(process: subprocess.Popen[bytes]) -> object:
    """What it says next; a process that is silent for too long is ended."""
    patience = threading.Timer(PATIENCE, process.kill)
    patience.daemon = True
    patience.start()
    try:
        assert process.stdout is not None
        return pickle.load(process.stdout)  # noqa: S301  # by our own process
    finally:
        patience.cancel()


def _wait(answers: int, ended: threading.Event) -> None:
    until = time.monotonic() + PATIENCE
    while not select.select([answers], [], [], LOOK_EVERY)[0]:
        if ended.is_set():
            raise Stopped
        if time.monotonic() > until:
            raise Refused(Code.FILE_BROKE, "file")


def _do(answers: Any) -> None:
    work, given = pickle.load(sys.stdin.buffer)  # noqa: S301
    try:
        for said in _all_of(work(*given)):
            pickle.dump(said, answers)
            answers.flush()
        pickle.dump(NO_MORE, answers)
    except Refused as refusal:
        pickle.dump(refusal, answers)
    answers.flush()


def _all_of(answer: object) -> Iterator[object]:
    """What is said of an answer: each that a generator yields, a list in parts."""
    if isinstance(answer, GeneratorType):
        yield from answer
    elif isinstance(answer, list):
        yield []
        left = iter(answer)
        while part := list(islice(left, IN_PART)):
            yield part
    else:
        yield answer


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(LOOK_EVERY)
    os._exit(1)


if __name__ == "__main__":
    os.nice(19)
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    _do(sys.stdout.buffer)
