-- ==== What is held of a person is written out, and erased; the books stay

ALTER TABLE person ADD COLUMN erased_at TEXT; -- since when nothing personal is held; NULL: it is

-- The way of a payment on an account names whose account it is: only that may change, when they are erased.
DROP TRIGGER payment_keeps_its_figures;
CREATE TRIGGER payment_keeps_its_figures
  BEFORE UPDATE OF ticket, payer, day, till, staff, at, tender, amount, tip, tendered, machine, reference, extra,
    credit, card, stored, tip_of ON payment
  BEGIN SELECT RAISE(ABORT, 'payments keep their figures'); END;
CREATE TRIGGER payment_keeps_its_route BEFORE UPDATE OF route ON payment WHEN old.tender <> 'account'
  BEGIN SELECT RAISE(ABORT, 'payments keep their way'); END;
