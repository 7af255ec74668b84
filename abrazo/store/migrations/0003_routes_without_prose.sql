-- What a payment came by no longer says that it was only recorded: who shows it says so. Its figures stay as they are,
-- and the trigger that keeps them is put back as it was.
DROP TRIGGER payment_keeps_its_figures;
UPDATE payment SET route = substr(route, 1, length(route) - length(', recorded')) WHERE route LIKE '%, recorded';
CREATE TRIGGER payment_keeps_its_figures
  BEFORE UPDATE OF ticket, payer, day, till, staff, at, tender, route, amount, tip, tendered, machine, reference, extra,
    credit, card, stored, tip_of ON payment
  BEGIN SELECT RAISE(ABORT, 'payments keep their figures'); END;
