-- A machine that stays silent does not lock its payer: somebody with the right lets them pay otherwise; it stays asked for.
ALTER TABLE card_request ADD COLUMN freed_at TEXT; -- when its payer was let pay otherwise
ALTER TABLE card_request ADD COLUMN charge TEXT REFERENCES card_request; -- the charge that goes back, which came too late and paid nothing
ALTER TABLE card_request ADD COLUMN charged INTEGER; -- minor units that were charged too late, with the tip chosen on the machine
DROP INDEX one_open_request_a_payer;
CREATE UNIQUE INDEX one_open_request_a_payer ON card_request (payer)
  WHERE state IN ('asked', 'sent', 'unknown') AND freed_at IS NULL AND charge IS NULL;
CREATE INDEX card_request_freed ON card_request (freed_at) WHERE freed_at IS NOT NULL;
