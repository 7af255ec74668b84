"""What works beside the pages of a house: a thread for all that is quick, one for files, one that sends."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from pathlib import Path

from abrazo.desk.context import Devices, why_unavailable
from abrazo.desk.output import after_sale, outbox, statement_runs
from abrazo.desk.output.outbox import Reach
from abrazo.desk.payments import card_poller, debits_back
from abrazo.desk.setup.founding import change_mark, close_house, open_house, tidy_up
from abrazo.desk.tickets import followed_taxes
from abrazo.worker import auto_close, hire_charges
from abrazo.worker.importer import Importer
from abrazo.worker.practices import Practices
from abrazo.worker.sender import Sender

LOOK_EVERY = 0.02  # seconds between looks at whether somebody wrote
IDLE_AFTER, LOOK_IDLE = 60.0, 0.1  # seconds without anything written, after which it is looked for less often
BACK_EVERY = 15.0  # seconds between asking what came back of bank accounts
TIDY_EVERY = 5.0  # seconds between checkpoints of the log of writes, and looks for tables that free themselves
log = logging.getLogger("abrazo.worker")


class Worker:
    """One thread that takes open charges on, makes statements, sends what waits, and tidies up."""

    def __init__(self, database: Path, devices: Devices) -> None:
        self.house = open_house(database, devices)
        self._importer, self._sender = Importer(database, devices), Sender(database, devices)
        self._practices = Practices(database, lambda copy: Worker(copy, Devices.beside(copy)))
        self._ended = threading.Event()
        self._wrote = time.monotonic()  # when somebody else wrote last
        self._thread = threading.Thread(target=self._run, name="worker", daemon=True)

    def start(self, *, again: bool = False) -> None:
        """First ask for what an earlier process left open, then follow.

        `again`: pages went on while it was away, so what they asked for meanwhile is new and is sent.
        """
        card_poller.follow(self.house, after_start=not again)
        outbox.send_waiting(self.house, reach=Reach.HERE)
        outbox.send_to_owners(self.house)
        self._thread.start()
        self._importer.start()
        self._sender.start()

    def stop(self) -> None:
        """End what is under way."""
        self._ended.set()
        self._importer.stop()
        self._sender.stop()
        self._thread.join(5)
        self._practices.stop()
        close_house(self.house)

    def _wait(self, seconds: float) -> None:
        """Sleep until something was confirmed by somebody else, or the time is over."""
        until, before = time.monotonic() + seconds, change_mark(self.house)
        every = LOOK_EVERY if time.monotonic() - self._wrote < IDLE_AFTER else LOOK_IDLE
        while time.monotonic() < until and not self._ended.wait(every):
            if change_mark(self.house) != before:
                self._wrote = time.monotonic()
                return

    def _run(self) -> None:
        tidied, ask_at = time.monotonic(), 0.0  # what came back while nobody asked is asked for at once
        while not self._ended.is_set():
            if time.monotonic() > ask_at:
                ask_at = time.monotonic() + BACK_EVERY
                self._try("what came back could not be asked for", self._ask_for_returned)
            if time.monotonic() - tidied > TIDY_EVERY:
                tidied = time.monotonic()
                self._try("the house could not be tidied", self._tidy)
            self._try("what is due after sales could not be done", self._do_what_is_due)
            self._try("a copy to practise on could not be looked after", self._look_after_practice)
            busy = self._try("a card machine could not be followed", self._follow)
            busy |= self._try("a statement could not be made", self._make_statement)
            self._wait(0.1 if busy else 1.0)

    def _tidy(self) -> bool:
        tidy_up(self.house)
        auto_close.free_paid(self.house)
        followed_taxes.follow_by_itself(self.house)
        return False

    def _ask_for_returned(self) -> bool:
        return debits_back.ask_for_returned(self.house)

    def _follow(self) -> bool:
        busy = card_poller.follow(self.house)
        hire_charges.settle(self.house)
        outbox.send_waiting(self.house, reach=Reach.HERE)
        return busy

    def _do_what_is_due(self) -> bool:
        try:
            after_sale.do_what_is_due(self.house)
        except Exception as fault:  # nor must what cannot be done
            if why_unavailable(fault) is None:
                after_sale.give_up(self.house)
            raise
        return False

    def _look_after_practice(self) -> bool:
        self._practices.look()
        return False

    def _make_statement(self) -> bool:
        try:
            return statement_runs.make_next(self.house)
        except Exception as fault:  # one that cannot be made must not keep the others waiting for ever
            if why_unavailable(fault) is None:
                statement_runs.give_up(self.house)
            raise

    def _try(self, otherwise: str, act: Callable[[], bool]) -> bool:
        """One thing that can't be done must not stop the others."""
        try:
            return act()
        except Exception as fault:
            if why_unavailable(fault) is None:
                log.exception(otherwise)
            else:
                log.warning("%s: %s", otherwise, fault)
        return False
