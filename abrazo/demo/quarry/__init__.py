"""Quarry Lake Yard, the other house for a demo: another currency, taxes that are added, no tables, other names for all."""
