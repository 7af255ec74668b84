"""The reckoning: rules without database, clock or screen. See docs/rules.md for one line per rule."""
