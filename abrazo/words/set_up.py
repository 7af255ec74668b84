"""What set-up shows: the names of things, fields and sections, each field with what it does."""

from __future__ import annotations

from collections.abc import Iterator

from abrazo.core.states import Right

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
    "families": ("Families", "Family", "Goods that differ in size and colour only; each item names its family."),
    "price-lists": (
        "Price lists",
        "Price list",
        "Other prices by hour, day or season. Of several that hold the first counts.",
    ),
    "words": ("Quick notes", "Quick note", "What is written again and again, offered at a touch."),
    "series": ("Series", "Series", "So many uses paid ahead, sold as an item."),
    "memberships": ("Memberships", "Membership", "Kinds of membership, and what each gives."),
    "membership-items": ("Memberships sold", "Membership sold", "Items that sell a membership for some months."),
    "hire": ("Things for hire", "Thing for hire", "What is hired out: what it costs for how long, and its terms."),
    "units": ("Units for hire", "Unit for hire", "Each thing that goes out and comes back, by what stands on it."),
    "printers": (
        "Printers",
        "Printer",
        "On the network (ESC/POS over TCP): for receipts and papers of tills, for slips of places that prepare.",
    ),
    "after-sale": (
        "After a sale",
        "What happens",
        "What happens by itself when a ticket ends: a receipt, the drawer, a message. It can be left out for one ticket.",
    ),
    "rights": ("Rights", "Role", "What each role may do alone; some rights are lent for one act by a PIN."),
    "tables": ("Tables", "Table", "Where they stand on the floor plan, in units of 820 by 664 from the top left."),
    "hours": (
        "Hours for bookings",
        "Hours",
        "For example 9:00-12:30 13:30-17:00: what lies between is a break. Nothing is a day off; no hours at all: always.",
    ),
    "booking-terms": ("What services ask for", "Terms", "When one is booked, for each who comes."),
    "tenders": (
        "Ways to pay",
        "Way to pay",
        "What the pay page offers, in this order; those of your own are recorded.",
    ),
    "own-fields": ("Questions", "Question", "What the house asks besides; it stands on the sheets of whom it asks."),
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
    "messages": "E-mail and text messages",
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
        "family": (
            "Family",
            "Of goods that differ in size and colour only, by its name; a new name makes one. Empty: none.",
        ),
        "size": ("Its size", "Of one of a family."),
        "colour": ("Its colour", "Of one of a family."),
    },
    "categories": {
        "name": ("Name", "As the pick pane shows it."),
        "parent": ("Lies in", "Another category. Empty: on top."),
        "icon": ("Drawing", "The drawing beside its name."),
        "first_for": ("Opens first for", "Tickets of this kind begin picking here."),
        "tills": ("Offered at", "None chosen: at every till. A search and a scan find what lies in it all the same."),
        "roles": ("Offered to", "None chosen: to everybody."),
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
        "groups": ("Only on", "Items that are reported under these, with ; between. Empty: on everything."),
    },
    "families": {
        "name": ("Name", "As it is picked; its goods are chosen by size and colour then."),
        "code": ("Barcode", "One that all its goods share, if they do."),
    },
    "price-lists": {
        "name": ("Name", "As tickets say it beside a price."),
        "days": ("On", "The days on which it begins."),
        "begins": ("From", "A time of day, for example 17:00."),
        "ends": ("Until", "Up to this time; one before the first runs past midnight, the same is a day later."),
        "first_on": ("First date", "Of a season. Empty: from any."),
        "last_on": ("Last date", "Empty: without end."),
        "prices": ("Prices", "Of what costs something else then. All other items keep their usual price."),
        "item": ("Item", ""),
        "price": ("Costs", ""),
    },
    "words": {
        "words": ("Words", "As they are written down."),
        "about": (
            "Offered with",
            "With what it can be touched instead of typed.",
        ),
        "groups": ("Only for", "Items that are reported under these, with ; between. Empty: for all."),
    },
    "series": {
        "uses": ("Uses", "How many it has. What was sold keeps its own."),
        "days": ("Good for, days", "From the day on which it is sold."),
        "items": (
            "Covers",
            "One use, one piece of any of these; they bear the same tax. It counts for what was sold, too.",
        ),
        "item": ("Item", ""),
    },
    "memberships": {
        "name": ("Name", "As tickets and sheets say it."),
        "household": ("Covers the household", "Everybody of its holder's household, not the holder alone."),
        "gives": (
            "Gives",
            "Percent off an item, or off all that is reported under a word; so many times a year, or always.",
        ),
        "percent": ("Percent", ""),
        "item": ("Off this item", ""),
        "report_group": ("Or reported under", ""),
        "times": ("Times a year", ""),
    },
    "membership-items": {
        "kind": ("Membership", "Which one it sells."),
        "months": ("Months", "For how long."),
    },
    "hire": {
        "value": ("Worth", "To replace one."),
        "tariffs": (
            "Tariffs",
            "Each for a length (90 min, 2 h, 1 d), or for a window of the week, from and to, as 5 16:00 for Friday at 16:00.",
        ),
        "minutes": ("For", ""),
        "from": ("Or from", ""),
        "to": ("To", ""),
        "grace": ("Late without cost, minutes", "After the time at which it was due."),
        "late_step": ("Late is counted by, minutes", "Every started one costs."),
        "late_price": ("Each of these costs", "Up to what a new hire would have cost."),
        "margin": ("Card good for, days after", "The card that secures it must not end before."),
        "early": ("Early returns give back", "What the cheapest tariffs make less, where the house says so at all."),
        "owner": ("Belongs to", "Somebody else, who gets a share and files about it. Empty: to the house."),
        "share": ("Their share, percent", "Of what a hire brings without tax."),
    },
    "units": {
        "name": ("Stands on it", "For example D-07. It stays as it is."),
        "item": ("Is", "Which of the things for hire."),
        "code": ("Barcode", "On it."),
        "note": ("Condition", "As it was last written down."),
    },
    "after-sale": {
        "name": ("Name", "As the last page of a ticket shows it."),
        "does": (
            "What happens",
            "At once, but for messages: they can go out days later.",
        ),
        "sources": ("After which tickets", "By how they began. None chosen: after all."),
        "days": ("Days later", "Messages only. Empty: at once."),
        "clock": ("At", "Messages only: the time of that day. Empty: the same time as the sale."),
        "words": ("Message", "To whose sale it was, as a text or by e-mail. [name] and [house] are filled in."),
    },
    "printers": {
        "name": ("Name", "Where it stands."),
        "address": ("Address", "Host or host:port; the port is commonly 9100."),
        "prints": ("Prints", "What none is for prints on the stand-in's paper."),
        "drawers": ("Opens the drawers of these tills", "The drawer hangs at the printer."),
    },
    "own-fields": {
        "name": ("Asked", "What it is called, for example Boot size."),
        "about": ("Of", "Of whom or what it is asked."),
        "choices": ("One of", "With ; between. Empty: anything."),
        "prints": (
            "Stands on papers",
            "A job's on its papers, a person's on the papers of their jobs.",
        ),
    },
    "staff": {
        "name": ("Name", "As papers show it."),
        "role": ("Role", "Which rights they have: see Rights."),
        "title": ("Does here", "Beside the name on the sign-in page."),
        "pin": ("PIN", "Four digits or more, six or more for who lends rights. Empty: it stays as it is."),
        "takes_bookings": ("Takes bookings", "The day of bookings has a column of theirs."),
        "takes_jobs": ("Does jobs", "Jobs can be given to them."),
        "counter_only": ("Counter mode only", "They see nothing but counter mode."),
        "in_training": ("In training", "They sign in to practise on a copy of the house, and for nothing else."),
    },
    "tills": {
        "name": ("Name", "As papers show it."),
        "home": ("Stands in", "Today begins with the room or with the desk."),
        "begins": ("After signing in", "What stands there first: Today, or counter mode."),
        "machine": ("Card machine", "The one beside it."),
    },
    "rights": {right.name.lower(): (right[:1].upper() + right[1:], "") for right in Right},
    "tables": {
        "name": ("Name", "At most four letters and digits."),
        "area": ("Area", "Of the room: tables stand together by it."),
        "seats": ("Seats", ""),
        "shape": ("Shape", "How it is drawn."),
        "x": ("From the left", "Empty: where there is room."),
        "y": ("From the top", "Empty: where there is room."),
        "width": ("Width", ""),
        "height": ("Depth", ""),
    },
    "hours": dict(
        zip(
            ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"),
            ((day, "") for day in ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")),
            strict=True,
        )
    ),
    "booking-terms": {
        "deposit": ("Deposit", "Asked for when it is booked."),
        "fee": ("If they do not come", "Owed by who neither comes nor calls."),
    },
    "tenders": {
        "name": ("Called", "It stays: papers that went out say it."),
        "reference": ("Asks for", "By which it can be matched; of those that are only recorded."),
        "offered": ("Offered", "On the pay page. Cash stays."),
    },
    "settings": {
        "tips_to": ("Tips go to", "Those of new tickets: to the staff who served, by what they served, or to a pool."),
        "logo": ("Picture at the head of receipts", ""),
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
            "With ; between. Items say which of them is theirs.",
        ),
        "send_at_once": ("Orders go there as they are picked", "Else when they are sent, or with the last payment."),
        "tab_hold": ("Held on a card for a tab", "Unless said otherwise."),
        "delivery_fee": ("Fee for bringing an order", "Unless said otherwise."),
        "delivery_tax": ("Tax on that fee", "Empty: none."),
        "receipt_head": ("Lines under the address", "On receipts: a phone number, hours, where you are found."),
        "tax_number_on_receipts": ("Receipts show the tax number", "Under the address."),
        "message": ("Words at the foot", "Of each receipt."),
        "show_removed": ("Receipts show removed lines", "They stay in the ticket's journal either way."),
        "legal_name": ("Legal name", "As invoices have it. Empty: the name of the house."),
        "country": ("Country", "Of the address, two letters. Empty: that of its phone numbers."),
        "tax_number": ("Tax number", "Without one invoices are on paper only."),
        "invoice_prefix": ("Before invoice numbers", ""),
        "credit_prefix": ("Before credit note numbers", ""),
        "one_series": (
            "One series for everything",
            "No two things that bear a number have the same. No: each kind counts by itself.",
        ),
        "numbers_by_till": (
            "Each till counts by itself",
            "The first digits of a number say at which till it was made.",
        ),
        "job_prefix": ("Before job numbers", "What is there keeps its own."),
        "hire_prefix": ("Before hire numbers", "What is there keeps its own."),
        "aside_prefix": ("Before numbers of goods set aside", "What is there keeps its own."),
        "mail_server": ("Mail server", "Host or host:port. Empty: e-mail goes to the stand-in."),
        "mail_security": ("Reached by", "starttls or tls; none only inside the house."),
        "mail_user": ("Signs in as", "Empty: without sign-in."),
        "mail_password": ("With the password", "Never shown. Empty: it stays as it is."),
        "mail_from": ("E-mail comes from", "The address in whose name it goes out."),
        "text_address": (
            "Text messages go to",
            "The URL of a service that takes them, as the documents say (text messages). Empty: to the stand-in.",
        ),
        "text_token": ("With the token", "By which the house is known there. Never shown. Empty: it stays as it is."),
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
TABLES = {  # what is written out
    "tickets": "Tickets",
    "lines": "Lines of tickets",
    "payments": "Payments",
    "tips": "Tips",
    "drawer": "Drawer movements",
    "corrections": "Corrections",
    "stock": "Stock movements",
    "bookings": "Bookings",
    "people": "People (all of them)",
    "memberships-held": "Memberships of people",
    "series-held": "Series of people",
    "stored-value": "Gift cards, vouchers, store credit",
    "points": "Points of people",
}
WHOSE = {
    "person": "Whose: a name that is known. People come in first.",
    "phone": "Theirs. Needed where several people have the same name.",
}
HELD = {  # what people held before, as columns of files
    "stored-value": {
        "kind": "gift card, voucher or store credit",
        "number": "The whole number of a gift card or voucher, as its barcode says it.",
        **WHOSE,
        "good_until": "2027-06-30; empty: for ever.",
        "balance": "What is on it.",
    },
    "series-held": {
        **WHOSE,
        "series": "One that the house sells, by its name.",
        "uses": "How many it has in all.",
        "left": "How many of them are left.",
        "sold_on": "2026-03-01; may be empty.",
        "until": "The last day on which it can be used.",
        "worth": "What the uses left are worth, without tax: the house owes it, and it becomes a sale with each use.",
    },
    "memberships-held": {
        **WHOSE,
        "membership": "A kind that the house has, by its name.",
        "since": "Its first day.",
        "until": "Its last day.",
    },
    "points": {**WHOSE, "points": "How many."},
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
AFTER_SALE = {
    "receipt": "print the receipt",
    "drawer": "open the drawer",
    "message": "send a message",
    "hand over": "hand over jobs that are ready",
}
OF_ITEM = ("name", "price", "category", "tax", "report_group", "number", "code")  # of what is an item with more to it
for _kind in ("series", "membership-items", "hire"):
    FIELDS[_kind] = {id: FIELDS["items"][id] for id in OF_ITEM} | FIELDS[_kind]
for _kind in (
    "items",
    "categories",
    "taxes",
    "presets",
    "price-lists",
    "words",
    "memberships",
    "printers",
    "after-sale",
    "own-fields",
    "tenders",
):
    FIELDS[_kind]["position"] = ("Place in the order", "The lowest number comes first. Empty: at the end.")
# the pages that are no lists, and what is part of one: what each is called, and what it is for
PLACES: dict[str, tuple[str, str]] = {
    "brought": ("Held from before", "Gift cards, vouchers, store credit, series, memberships and points from files."),
    "rights": ("Rights", "What each role may do alone, and what a supervisor's PIN is asked for."),
    "floor": ("Floor plan", "Areas and tables, drawn."),
    "bookings": ("Bookings", "Hours, deposits and fees of bookings."),
    "tenders": ("Ways to pay", "Which are offered, in which order, those that are recorded only; whose the tips are."),
    "out": ("Written out", "Tickets, payments, tips, movements and corrections as tables."),
    "changes": ("Who changed what", "In set-up, the latest first; what was changed is turned round here."),
    "logo": ("Picture at the head of receipts", "A logo, black and white; with what papers say."),
}
ABOUT = {"item": "items", "job": "jobs", "place": "where things lie", "person": "people"}  # of words and questions
WHATS = {"added": "added", "changed": "changed", "retired": "retired", "brought back": "brought back"}


def texts() -> Iterator[str]:
    """Every text of this catalogue once."""
    yield from dict.fromkeys(
        [
            *(word for three in THINGS.values() for word in three),
            *SECTIONS.values(),
            *(word for two in PLACES.values() for word in two),
            *(word for fields in FIELDS.values() for two in fields.values() for word in two if word),
            *TABLES.values(),
            *(word for columns in HELD.values() for word in columns.values()),
            *DOES.values(),
            *AFTER_SALE.values(),
            *ABOUT.values(),
            *WHATS.values(),
        ]
    )
