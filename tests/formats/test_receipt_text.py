"""The receipt as it prints: 42 columns, whatever it has to say."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from abrazo.formats.receipt_text import WIDTH, Receipt, receipt_text

GOLDEN = Path(__file__).parent.parent / "golden" / "receipt.txt"
ONE = Receipt(
    things=("2 x Estuary pale ale (pint)",),
    house="Marram Boathouse", address="The Galley, Saltpan Slip 3, Marram", ticket=2117, place="Table D4",
    payer="seat A and seat B",
    whose="Table D4, seat A and seat B", currency="EUR", business_date="Sat 13 June 2026", at="16:26", server="Tamsin Rook",
    till="Galley",
    rows=(("2 x Estuary pale ale (pint), part of 12.40", "6.20"), ("Service charge 10 %", "0.62")),
    total="6.82", tip="0.70", rounding="-0.02", paid=(("Cash handed over", "10.00"), ("Change", "2.50")), due=None,
    taxes=(("VAT 20 % contained", "1.14"),), message="The tide comes back, so may you.", copy=2,
)  # fmt: skip


def test_golden() -> None:
    assert receipt_text(ONE) + "\n" == GOLDEN.read_text("utf-8")


@given(st.text(min_size=1, max_size=120), st.integers(0, 10**11))
def test_never_wider_than_the_paper(words: str, amount: int) -> None:
    text = receipt_text(replace(ONE, whose=words, rows=((words, str(amount)),), message=words))
    assert all(len(line) <= WIDTH for line in text.split("\n"))
