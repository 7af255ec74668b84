"""Points.

Rules here
- points earned are the whole multiples of `points_per` minor units in what earns
- spent points are a tender at their set value
"""

from __future__ import annotations


def points_earned(earning_net: int, points_per: int) -> int:
    """Points for an earning net, both in minor units: floor(net / points_per)."""
    return earning_net // points_per


def points_worth(points: int, lot: int, value: int) -> int:
    """What spent points pay, in minor units: every whole `lot` of points is worth `value`."""
    return points // lot * value
