"""The table of rights: every route that answers a page or a form, and what it needs. What is not in it does not start.

What an act needs beyond it, or only sometimes (a comp, much money out of the drawer), the act asks for itself:
desk/permissions.py.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from abrazo.desk.permissions import Right

NOBODY = ""  # nobody has to be signed in
EVERYBODY = "everybody"  # whoever is signed in
ROUTES: Mapping[str, str] = {  # by what is needed, routes with two blanks between them
    NOBODY: """
        GET /sign-in  POST /sign-in  POST /lock
    """,
    EVERYBODY: """
        POST /counter-mode/leave  GET /devices  GET /devices/listen  GET /display  GET /display/live  GET /set-up/floor
        GET /bookings  GET /set-up/bookings  GET /set-up/house  GET /set-up  GET /set-up/list/{kind}
        GET /set-up/list/{kind}/new  GET /set-up/list/{kind}/{ref}  GET /set-up/changes  GET /set-up/files/{kind}
        GET /set-up/logo
        GET /set-up/out  GET /set-up/brought
        GET /set-up/rights  GET /my-tips  POST /notes  GET /people  POST /people
        GET /people/{person:int}
        POST /people/{person:int}  GET /prep/{place}  POST /prep/slips/{slip}  GET /  GET /find  GET /set-up/tenders
        GET /prep/workshop
        GET /goods  GET /kept  POST /practice/till  GET /files/{file:int}
    """,
    Right.SELL: """
        POST /people/{person:int}/merge  POST /people/{person:int}/part
        GET /jobs/{job:int}/change  POST /jobs/{job:int}/change  POST /jobs/{job:int}/agree
        POST /jobs/{job:int}/cancel  POST /jobs/{job:int}/remind
        GET /set-aside  GET /tickets/{ticket}/set-aside  POST /tickets/{ticket}/set-aside
        POST /tickets/{ticket}/set-aside/tag  POST /tickets/{ticket}/set-aside/cancel
        POST /people/{person:int}/account/write-off  POST /people/{person:int}/account/remind
        GET /hire  POST /hire  GET /hire/{hire:int}  POST /hire/{hire:int}/back  GET /tickets/{ticket}/hire
        POST /tickets/{ticket}/hire  POST /tickets/{ticket}/hire/card
        POST /devices/outbox  GET /calendar
        GET /tickets/{ticket}/adjust  POST /tickets/{ticket}/adjust  POST /tickets/{ticket}/adjust/off
        POST /tickets/{ticket}/adjust/charge  POST /tickets/{ticket}/adjust/benefit  POST /tickets/{ticket}/adjust/list
        POST /tickets/{ticket}/adjust/price  POST /bookings/{booking}/check-out  POST /bookings/{booking}/state
        POST /bookings/{booking}/price  GET /bookings/new  POST /bookings/new  GET /bookings/{booking:int}/change
        POST /bookings/{booking:int}/change  POST /bookings/move  POST /bookings/{booking:int}/cancel
        POST /bookings/{booking:int}/bring-back  POST /bookings/{booking:int}/deposit
        POST /bookings/{booking:int}/give-back  POST /bookings/{booking:int}/keep-deposit
        POST /bookings/{booking:int}/fee  POST /bookings/{booking:int}/other-date
        GET /courses  POST /courses  GET /courses/{course:int}  POST /courses/{course:int}
        POST /courses/{course:int}/join  POST /courses/{course:int}/call-off  POST /courses/{course:int}/print
        GET /courses/{course:int}/participants.csv  POST /tickets/{ticket}/places
        POST /tickets/{ticket}/bookings  POST /people/{person}/book  POST /walk-ins
        POST /tickets/{ticket}/next-visit
        GET /walk-ins/{walk_in}  POST /walk-ins/{walk_in}  GET /counter-mode  POST /counter-mode/add
        POST /counter-mode/give  POST /counter-mode/remove  POST /counter-mode/pay  POST /counter-mode/sold-from
        GET /counter-mode/change-line  POST /counter-mode/change  POST /counter-mode/put-by
        POST /counter-mode/bring-back  POST /counter-mode/gift
        POST /counter-mode/send  POST /counter-mode/hold  GET /tickets/{ticket}/person  POST /tickets/{ticket}/person
        POST /people/{person:int}/sale  POST /jobs/{job}/settle  POST /jobs/{job}/give-back
        POST /jobs/{job}/keep-deposit  POST /tickets/{ticket}/jobs  GET /tickets/{ticket}/move
        POST /tickets/{ticket}/move  POST /tickets/{ticket}/unmove  POST /tickets/{ticket}/unmerge
        POST /tickets/{ticket}/hand-to
        POST /tickets/{ticket}/aside
        POST /tickets/{ticket}/back  POST /last-receipt  GET /past  POST /past/{number}/correct
        POST /past/{number}/refund  POST /past/{number}/refunds/{refund}/print
        POST /tickets/{ticket}/void-on  POST /people/{person:int}/account  GET /people/{person:int}/statement
        POST /people/{person:int}/statement  GET /people/{person:int}/statement/statement.{kind}
        GET /invoices/{invoice:int}  GET /invoices/{invoice:int}/invoice.{kind}  POST /invoices/{invoice:int}/mail
        GET /tickets/{ticket}/invoice/{payer}  POST /tickets/{ticket}/invoice/{payer}
        GET /people/{person:int}/invoices  POST /people/{person:int}/invoices
        POST /people/{person:int}/store-card  POST /people/{person:int}/store-account
        POST /people/{person:int}/forget-card  GET /orders/new  POST /orders
        POST /tickets/{ticket}/send  GET /tickets/{ticket}/receipts/{payer}
        POST /tickets/{ticket}/receipts/{payer}/mail  POST /tickets/{ticket}/receipts/{payer}/text
        POST /tickets/{ticket}/receipts/{payer}/prefer  GET /tickets/{ticket}/receipts/{payer}/receipt.{kind}
        POST /tickets/{ticket}/receipts/{payer}  POST /scan  POST /unlisted  POST /counter  GET /tables/{spot}/seat
        POST /tables/{spot}/seat  POST /tickets/{ticket}/share  POST /tickets/{ticket}/share/amount
        POST /tickets/{ticket}/share/print  POST /tickets/{ticket}/share/for  POST /tickets/{ticket}/share/line
        POST /tickets/{ticket}/share/fees  POST /tickets/{ticket}/share/charge  POST /tickets/{ticket}/signed
        GET /tickets/{ticket}/payments/{payment}/sign  POST /tickets/{ticket}/payments/{payment}/sign
        GET /tickets/{ticket}/payments/{payment}/signature.svg  GET /tabs/new  POST /tabs  POST /tickets/{ticket}/hold
        POST /tickets/{ticket}/held  POST /tickets/{ticket}/let-go  POST /tickets/{ticket}/clear
        GET /tickets/{ticket}/take-off  POST /tickets/{ticket}/remove  POST /tickets/{ticket}/for-member
        POST /tickets/{ticket}/quantity
        POST /tickets/{ticket}/cash  POST /tickets/{ticket}/invoices  GET /tickets/{ticket}/payments/{payment}
        POST /tickets/{ticket}/card  POST /tickets/{ticket}/keyed  POST /tickets/{ticket}/stored-card
        POST /tickets/{ticket}/spend  POST /tickets/{ticket}/sell-stored  POST /tickets/{ticket}/record
        POST /tickets/{ticket}/account  POST /tickets/{ticket}/card/stop  POST /tickets/{ticket}/card/ask
        POST /tickets/{ticket}/card/free  POST /tickets/{ticket}/card/late
        POST /tickets/{ticket}/take-back  POST /tickets/{ticket}/slip-tip  POST /tickets/{ticket}/slips
        GET /tickets/{ticket}/live  GET /tickets/{ticket}  GET /tickets/{ticket}/history  GET /tickets/{ticket}/why
        POST /tickets/{ticket}/add  POST /tickets/{ticket}/again  POST /tickets/{ticket}/unlisted
        POST /tickets/{ticket}/swap  GET /tickets/{ticket}/change-line  POST /tickets/{ticket}/change
        POST /tickets/{ticket}/guests  POST /tickets/{ticket}/give  POST /tickets/{ticket}/parts
        POST /tickets/{ticket}/name  POST /tickets/{ticket}/bill  GET /tickets/{ticket}/done
        POST /tickets/{ticket}/free  POST /tickets/{ticket}/afterwards
        GET /till  POST /till/petty  POST /till/petty/{row}/back  POST /till/tips
        POST /till/bank
        GET /till/count
        POST /till/count  POST /till/sum
        GET /till/close  POST /till/close  GET /till/open  POST /till/open  POST /tickets/{ticket}/tip
    """,
    Right.WORK_ON_JOBS: """
        GET /jobs/new  POST /jobs/new  POST /jobs/estimate  GET /jobs/{job}  POST /jobs/{job}/state
        POST /jobs/{job}/hand-over  POST /jobs/{job}/undo  POST /jobs/{job}/print
    """,
    Right.MOVE_FILES: """
        GET /set-up/out/file
        GET /set-up/files/{kind}/{name}.{form}
        GET /bookings.ics  POST /calendar  POST /people/import  GET /people/{person:int}/held.json
    """,
    Right.STAND_INS: """
        POST /devices/machine  POST /devices/printer  POST /devices/scanner  POST /devices/drawer
        POST /devices/faults
    """,
    Right.SET_UP: """
        POST /people/{person:int}/account/terms  POST /people/{person:int}/erase
        POST /set-up/bookings/hours  POST /set-up/bookings/terms
        POST /new-item  POST /set-up/list/{kind}/new  POST /set-up/list/{kind}/{ref}
        POST /set-up/list/{kind}/{ref}/retire
        POST /set-up/changes  POST /set-up/test  POST /set-up/logo
        POST /set-up/files/{kind}  POST /set-up/files/{kind}/look
        POST /set-up/brought  POST /set-up/brought/look  POST /set-up/brought/back
        POST /set-up/floor  POST /set-up/house  POST /set-up/rights  POST /set-up/tenders  POST /set-up/tenders/tips
        POST /set-up/tenders/add
    """,
    Right.GIVE_MEMBERSHIPS: """
        POST /people/{person:int}/membership
    """,
    Right.CHANGE_SENDING: """
        POST /prep/{place}/sending
    """,
    Right.COUNT_GOODS: """
        POST /goods/count
    """,
    Right.PAY_TIPS: """
        GET /till/pool  POST /till/pool  GET /till/pool/{division:int}  POST /till/pool/{division:int}/print
    """,
    Right.SEE_REPORTS: """
        GET /till/match  POST /till/match  POST /till/payout
        GET /till/report  GET /till/report.{form}  POST /till/report
        GET /till/auditor.zip  GET /till/owed  GET /hire/owners  GET /hire/owners/owner.csv
        GET /accounts  GET /accounts/accounts.csv  POST /accounts/statements  GET /accounts/statements/{run:int}
        POST /accounts/statements/{run:int}/stop  GET /accounts/statements/{run:int}/statements.pdf
    """,
}
NEEDS = {
    route.strip(): needs
    for needs, routes in ROUTES.items()
    for route in routes.replace("\n", "  ").split("  ")
    if route.strip()
}


class NotInTable(Exception):
    """A route without an entry in the table of rights."""


def right_of(method: str, path: str) -> Right | None:
    """The right that a route needs of whoever is signed in; None when it needs none."""
    needs = NEEDS[f"{'GET' if method == 'HEAD' else method} {path}"]
    return None if needs in (NOBODY, EVERYBODY) else Right(needs)


def must_stand_here(routes: Iterable[str]) -> None:
    """Raises NotInTable for a route, as method and path, that nobody put into the table."""
    missing = sorted(route for route in routes if route not in NEEDS)
    if missing:
        raise NotInTable(", ".join(missing))
