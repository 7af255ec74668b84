"""The invented house of the demo, and its day."""
