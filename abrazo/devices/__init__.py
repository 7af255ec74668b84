"""Stand-ins for the devices of a till. Each can be told what comes next; tests and demo use the same classes."""
