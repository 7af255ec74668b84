-- What a payment came by no longer says that it was only recorded: who shows it says so.
UPDATE payment SET route = substr(route, 1, length(route) - length(', recorded')) WHERE route LIKE '%, recorded';
UPDATE refund SET route = substr(route, 1, length(route) - length(', recorded')) WHERE route LIKE '%, recorded';
