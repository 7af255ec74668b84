-- Past tickets by a part of a name, among very many: only what has a name is looked through.
CREATE INDEX ticket_named ON ticket (name) WHERE name IS NOT NULL;
CREATE INDEX guest_named ON guest (name, ticket) WHERE name IS NOT NULL;
CREATE INDEX ticket_spot ON ticket (spot) WHERE spot IS NOT NULL;
