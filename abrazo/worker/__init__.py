"""Work that goes on whoever looks: card machines, the outbox, tables that free themselves, the log of writes."""
