"""The drawer."""

from __future__ import annotations

from abrazo.core.till import Drawer, expected_cash


def test_expected_cash() -> None:
    drawer = Drawer(
        float_=15000, cash_in=90000, change_and_refunds=20000, paid_out=1800, paid_in=500, tips_paid_out=2400
    )
    assert expected_cash(drawer) == 15000 + 90000 - 20000 - 1800 + 500 - 2400
