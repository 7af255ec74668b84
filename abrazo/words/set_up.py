"""What set-up shows: the names of things, fields and sections, each field with what it does."""

from __future__ import annotations

from collections.abc import Iterator

# thing: all of them, one of them, what they are for
THINGS: dict[str, tuple[str, str, str]] = {
    "items": ("Items", "Item", "Everything that is sold: goods, dishes, services, tasks."),
    "categories": ("Categories", "Category", "Where items are picked, in this order."),
    "choices": (
        "Choices",
        "Choice group",
        "What is asked about an item when it is picked: sizes, extras, how it is done.",
    ),
    "taxes": ("Taxes", "Tax", "Each rate that the house's sales bear."),
    "presets": ("Discounts", "Discount", "Discounts, comps and surcharges that are offered, each with its reason."),
    "staff": ("People who work here", "Person", "Who signs in, what they may do, and their PINs."),
    "tills": ("Tills", "Till", "Where people work: each has its drawer and its card machine."),
    "settings": ("House settings", "House setting", "What the house decides once."),
}
SECTIONS: dict[str, str] = {
    "house": "The house",
    "tickets": "Tickets",
    "papers": "Receipts and invoices",
    "numbers": "Numbers",
    "drawer": "Drawer",
    "jobs": "Jobs",
    "accounts": "Accounts and deposits",
    "ahead": "Paid ahead, set aside, points",
}
# thing and field: its name, and what it does
FIELDS: dict[str, dict[str, tuple[str, str]]] = {
    "items": {
        "name": ("Name", "As tickets and receipts show it."),
        "price": ("Price", "Of one, or of one unit. What is on open tickets stays as it is."),
        "category": ("Category", "Where it is picked."),
        "tax": ("Tax", "Empty: it bears none."),
        "report_group": ("Reported under", "Sales are summed by this word in reports."),
        "number": ("Number", "Typed to find it. Empty: the next one."),
        "code": ("Barcode", "What a scan says; the last digit of a GS1 code is checked."),
        "place": ("Prepared by", "Which place gets a slip. Empty: nobody."),
        "groups": ("Asks for", "Choice groups, asked in this order."),
        "unit": ("Sold by", "kg or m, for what is weighed or measured. Empty: by the piece."),
        "minutes": ("Takes, minutes", "A service that can be booked takes this long. Empty: it is none."),
        "job_days": ("Promised after, open days", "For a task of jobs. Empty: as the house promises."),
        "variable": ("Price may be typed over", "When it is put on a ticket."),
        "shelf": ("Lies at", "Where it is found."),
    },
    "categories": {
        "name": ("Name", "As the pick pane shows it."),
        "parent": ("Lies in", "Another category. Empty: on top."),
        "icon": ("Drawing", "The drawing beside its name."),
        "first_for": ("Opens first for", "Tickets of this kind begin picking here."),
        "tasks": ("Tasks of jobs", "What lies in it can be done in a job, and is offered at drop-off."),
    },
    "choices": {
        "name": ("Name", "What is asked: Size, Milk, With."),
        "least": ("At least", "So many have to be chosen; 0: none has to."),
        "most": ("At most", "So many can be chosen."),
        "choices": ("Choices", "Each with what it adds to the price; below zero takes off."),
        "label": ("Choice", ""),
        "price": ("Adds", ""),
    },
    "taxes": {
        "label": ("Name", "As receipts show it."),
        "rate": ("Percent", "Of all parts together."),
        "parts": ("Parts", "Where several authorities share it, each with its percent."),
        "category": ("Kind for e-invoices", "By EN 16931: S at a rate, Z at zero, E exempt, O outside of it."),
        "exemption": ("Why exempt", "As invoices say it."),
    },
    "presets": {
        "name": ("Reason", "As reports and receipts show it."),
        "kind": ("Kind", "A discount, a comp or a surcharge."),
        "percent": ("Percent", "Either this or an amount."),
        "amount": ("Amount", "Either this or a percent."),
        "scope": ("Given on", "A line, the whole ticket, or both."),
        "code": ("Code", "Only who knows it gives it. Empty: offered to all."),
    },
    "staff": {
        "name": ("Name", "As papers show it."),
        "role": ("Role", "Which rights they have: see Rights."),
        "title": ("Does here", "Beside the name on the sign-in page."),
        "pin": ("PIN", "Four digits or more, six or more for who lends rights. Empty: it stays as it is."),
        "takes_bookings": ("Takes bookings", "The day of bookings has a column of theirs."),
        "takes_jobs": ("Does jobs", "Jobs can be given to them."),
        "counter_only": ("Counter mode only", "They see nothing but counter mode."),
    },
    "tills": {
        "name": ("Name", "As papers show it."),
        "home": ("Stands in", "Today begins with the room or with the desk."),
        "machine": ("Card machine", "The one beside it."),
    },
    "settings": {
        "name": ("Name of the house", "On receipts and pages."),
        "address": ("Address", "At the head of receipts and invoices."),
        "does": (
            "What the house does",
            "Besides sales at the counter. What is not ticked shows nowhere; nothing is lost.",
        ),
        "language": ("Language", "Of pages and sentences."),
        "idle_minutes": ("Screens lock after, minutes", "Without a touch. Where slips are read they stay open."),
        "free_after": (
            "Paid tables free themselves after, minutes",
            "Since the last payment; until then it can be taken back on the spot. Empty: by hand.",
        ),
        "service_percent": ("Service charge, percent", "Of a table's bill. 0: none."),
        "service_from": ("Service charge from, guests", "A table of so many, or more, is charged it."),
        "service_tax": ("Tax on the service charge", "Empty: none."),
        "surcharge_tax": ("Tax on surcharges", "Empty: none."),
        "free_discount": (
            "Discounts by everybody up to, percent",
            "Of one's own choice with a reason, once on a line and once on a ticket; above it is a right. 0: presets only.",
        ),
        "prep_places": (
            "Where orders are prepared",
            "With ; between, as kitchen; bar. Items say which of them is theirs.",
        ),
        "tab_hold": ("Held on a card for a tab", "Unless said otherwise."),
        "delivery_fee": ("Fee for bringing an order", "Unless said otherwise."),
        "delivery_tax": ("Tax on that fee", "Empty: none."),
        "message": ("Words at the foot", "Of each receipt."),
        "show_removed": ("Receipts show removed lines", "They stay in the ticket's journal either way."),
        "legal_name": ("Legal name", "As invoices have it. Empty: the name of the house."),
        "country": ("Country", "Of the address, two letters. Empty: that of its phone numbers."),
        "tax_number": ("Tax number", "Without one invoices are on paper only."),
        "invoice_prefix": ("Before invoice numbers", ""),
        "credit_prefix": ("Before credit note numbers", ""),
        "one_series": (
            "One series for everything",
            "Tickets, jobs, hires and goods set aside never have the same number. No: each kind counts by itself.",
        ),
        "numbers_by_till": (
            "Each till counts by itself",
            "The first digits of a number say at which till it was made.",
        ),
        "job_prefix": ("Before job numbers", "What is there keeps its own."),
        "hire_prefix": ("Before hire numbers", "What is there keeps its own."),
        "aside_prefix": ("Before numbers of goods set aside", "What is there keeps its own."),
        "pay_out_limit": ("Everybody pays out up to", "Above it is a right."),
        "petty": ("Paid out for", "With ; between; the report sums each. Empty: nothing is paid out."),
        "sign_cash": ("Cash is signed for", "No: only what a card machine wants signed."),
        "sold_from": (
            "Sales without a customer are kept apart as",
            "With ; between; each till says in counter mode which it sells from. Empty: they are all one.",
        ),
        "open_days": ("Jobs are promised on", "Weekdays, Monday is 1."),
        "job_days": ("Promised after, open days", "Unless said otherwise."),
        "uncollected_days": ("Ready jobs stand apart after, days", "Nobody collected them."),
        "disposal_days": ("May be disposed of after, days", "0: never."),
        "reminder_days": ("Invoices are reminded of after, days", "With blanks between, each once. Empty: never."),
        "tax_on_advances": (
            "Tax on deposits and on goods set aside when they are paid",
            "As in the EU (Directive 2006/112/EC, article 65). No: with the sale for which they are used. Goods that are set aside already stay as they are.",
        ),
        "memberships_back": ("Days left of a membership are given back", "When it ends early."),
        "early_hires_back": (
            "Early returns by the tariffs",
            "What the price was above the cheapest is offered to go back.",
        ),
        "layaway_percent": ("Set aside from, percent", "So much of the total is paid first."),
        "layaway_days": ("Kept for, days", "Unless said otherwise."),
        "layaway_fee": ("Kept when cancelled, percent", "Of what was paid."),
        "layaway_tax": ("Tax on that", "Empty: none."),
        "points_per": ("A point for each", "Of what is bought, without tax."),
        "points_lot": ("Points are spent by", "So many together."),
        "points_value": ("Which are worth", "So much each time."),
    },
}
DOES = {
    "tables": "Tables",
    "tabs": "Tabs",
    "bookings": "Bookings, walk-ins, courses",
    "jobs": "Jobs: repairs, alterations",
    "hire": "Hire",
    "phone": "Orders by phone",
    "kitchen": "Kitchen or bar slips",
}
WHATS = {"added": "added", "changed": "changed", "retired": "retired", "brought back": "brought back"}


def texts() -> Iterator[str]:
    """Every text of this catalogue once."""
    yield from dict.fromkeys(
        [
            *(word for three in THINGS.values() for word in three),
            *SECTIONS.values(),
            *(word for fields in FIELDS.values() for two in fields.values() for word in two if word),
            *DOES.values(),
            *WHATS.values(),
        ]
    )
