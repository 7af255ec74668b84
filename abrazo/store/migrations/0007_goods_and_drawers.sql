-- ==== Goods that come and go without a sale; pieces that come back

-- Goods that came back, were bought, or were lost. What is there is the last count less what was sold, with these.
CREATE TABLE stock_move (
  id INTEGER PRIMARY KEY, -- order
  item TEXT NOT NULL REFERENCES item, -- that moved
  at TEXT NOT NULL, -- when, UTC
  quantity TEXT NOT NULL, -- how many came; negative: went
  why TEXT NOT NULL, -- came back, unsaleable, bought, taken back
  refund INTEGER REFERENCES refund, -- with which it came back
  petty INTEGER REFERENCES petty_cash, -- with which it was paid out of a drawer
  staff TEXT NOT NULL REFERENCES staff, -- who wrote it down
  till TEXT NOT NULL REFERENCES till -- where
) STRICT;
CREATE INDEX stock_move_item ON stock_move (item, at);
CREATE TRIGGER stock_move_is_not_changed BEFORE UPDATE ON stock_move
  BEGIN SELECT RAISE(ABORT, 'goods that moved are not changed'); END;
CREATE TRIGGER stock_move_is_not_removed BEFORE DELETE ON stock_move
  BEGIN SELECT RAISE(ABORT, 'goods that moved are not removed'); END;

ALTER TABLE refund_part ADD COLUMN pieces TEXT; -- how many of the line come back; null: an amount off it, or a charge
ALTER TABLE refund ADD COLUMN for_sale INTEGER NOT NULL DEFAULT 1; -- 0: what comes back is not for sale again

-- A drawer that was counted and handed over within a day: what moved before it, so that the next section begins there.
CREATE TABLE drawer_section (
  count INTEGER PRIMARY KEY REFERENCES drawer_count, -- the count with which it ended
  day INTEGER NOT NULL REFERENCES day, -- on which business day
  till TEXT NOT NULL REFERENCES till, -- whose drawer
  handed_to TEXT NOT NULL REFERENCES staff, -- who goes on with it
  petty INTEGER NOT NULL, -- the last money paid out or in before it; 0: none on any day
  moved TEXT NOT NULL -- JSON: what moved on the day until then, minor units
) STRICT;
CREATE INDEX drawer_section_day ON drawer_section (day);
CREATE TRIGGER drawer_section_is_not_changed BEFORE UPDATE ON drawer_section
  BEGIN SELECT RAISE(ABORT, 'a drawer that was handed over stays so'); END;
CREATE TRIGGER drawer_section_is_not_removed BEFORE DELETE ON drawer_section
  BEGIN SELECT RAISE(ABORT, 'a drawer that was handed over stays so'); END;

-- Money that was spent without a drawer. The rule of the column is rewritten in place, since others refer to the rows.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '(direction IN (''out'', ''in''))', '(direction IN (''out'', ''in'', ''outside''))')
  WHERE type = 'table' AND name = 'petty_cash';
PRAGMA writable_schema = RESET;

ALTER TABLE correction ADD COLUMN typed TEXT NOT NULL DEFAULT ''; -- what was filled in when it was handed on, JSON; empty: nothing
ALTER TABLE settings ADD COLUMN free_discount TEXT NOT NULL DEFAULT '0'; -- percent up to which everybody gives a discount
ALTER TABLE adjustment ADD COLUMN free INTEGER NOT NULL DEFAULT 0; -- 1: somebody typed its reason, so that the books do not name it
