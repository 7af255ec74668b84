"""What a booking's sheet says of its deposit: asked for, held, to be given back or kept; and of the fee."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Refused
from abrazo.desk.context import House
from abrazo.desk.doors import booking_changes as desk
from abrazo.desk.payments.deposits import may_go_back
from abrazo.desk.payments.refunds import charged_deposit
from abrazo.desk.tickets.deposits import of_booking
from abrazo.store import bookings
from abrazo.store.bookings import Booking
from abrazo.store.deposits import AskedDeposit, HeldDeposit
from abrazo.store.tenders import PaymentRow


@dataclass(frozen=True, slots=True)
class DepositSheet:
    """Minor units: `wanted` is still asked for, `keeps`, `charges` are of the fee. `card`: what can go back to one."""

    wanted: int
    asked: AskedDeposit | None
    keeps: int
    charges: int
    goes_back: bool
    card: tuple[HeldDeposit, PaymentRow] | None


def deposit_sheet(house: House, booking: Booking) -> DepositSheet:
    """The deposit of a booking as it stands."""
    keeps, charges = desk.fee_of(house, booking)
    goes_back = bool(booking.deposit) and not keeps and _may_go(house, booking)
    card = charged_deposit(house, of_booking(house, booking)) if goes_back else None
    return DepositSheet(
        desk.wanted_deposit(house, booking), desk.asked(house, booking), keeps, charges, goes_back, card
    )


def _may_go(house: House, booking: Booking) -> bool:
    try:
        may_go_back(house, of_booking(house, booking))
    except Refused:
        return False
    return True


def still_here(house: House) -> list[Booking]:
    """Bookings that are over and of whose deposits something is still here."""
    return bookings.over_with_deposit(house.connection)


def left_over(house: House, ticket: int) -> list[Booking]:
    """The bookings of a ticket of whose deposits something is left that the bill did not need."""
    return [one for one in bookings.on_ticket(house.connection, ticket) if one.deposit]
