-- A ticket that is taken up again keeps its prices, or takes those of today: it is asked once each time.
ALTER TABLE ticket ADD COLUMN prices_kept_at TEXT; -- when somebody said that it keeps its prices

-- Presets and usual notes stand only where they fit.
ALTER TABLE preset ADD COLUMN groups TEXT NOT NULL DEFAULT ''; -- report groups of lines that it is for, with semicolons; empty: all
ALTER TABLE preset_note ADD COLUMN groups TEXT NOT NULL DEFAULT ''; -- report groups that it is for, with semicolons; empty: all
