"""Shared profiles of the property tests: repeatable, without deadlines on a noisy machine."""

from __future__ import annotations

import os

from hypothesis import HealthCheck, settings

settings.register_profile(
    "house", deadline=None, derandomize=True, max_examples=150, suppress_health_check=[HealthCheck.too_slow]
)
settings.register_profile("mutants", settings.get_profile("house"), max_examples=25)  # run some thousand times
settings.register_profile("long", settings.get_profile("house"), derandomize=False, max_examples=3000)
TIMES = 20 if os.environ.get("PROPERTIES") == "long" else 1  # for tests that set a number of their own
settings.load_profile(os.environ.get("PROPERTIES", "house"))
