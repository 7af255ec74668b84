-- A ticket that is taken up again keeps its prices, or takes those of today: it is asked once each time.
ALTER TABLE ticket ADD COLUMN prices_kept_at TEXT; -- when somebody said that it keeps its prices
