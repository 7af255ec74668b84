"""SQLite and plain SQL: reads and writes, no rule, no commit of its own."""
