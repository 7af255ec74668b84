"""Shared profile of the property tests: repeatable, without deadlines on a noisy machine."""

from __future__ import annotations

from hypothesis import HealthCheck, settings

settings.register_profile(
    "house", deadline=None, derandomize=True, max_examples=150, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("house")
