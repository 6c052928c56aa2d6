-- Classes have an order of their own, and may belong together under another one.
ALTER TABLE land_class ADD COLUMN position integer;
ALTER TABLE land_class ADD COLUMN parent_id integer;
