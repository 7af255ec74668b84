-- People who may pay later, companies besides. A line that pays an account may name the invoice that it pays.
ALTER TABLE person ADD COLUMN account INTEGER NOT NULL DEFAULT 0;
UPDATE person SET account = 1 WHERE company = 1
  OR id IN (SELECT t.person FROM payment p JOIN ticket t ON t.id = p.ticket WHERE p.tender = 'account');
ALTER TABLE line ADD COLUMN invoice INTEGER REFERENCES payment;
CREATE INDEX line_invoice ON line (invoice) WHERE invoice IS NOT NULL;
CREATE INDEX payment_on_account ON payment (ticket) WHERE tender = 'account';
CREATE INDEX line_received ON line (report_group) WHERE report_group LIKE 'on account: %';
