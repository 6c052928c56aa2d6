-- A site that the analyst vouches for is not doubted any more; one set aside never trains.
ALTER TABLE site ADD COLUMN trusted boolean NOT NULL DEFAULT false;
ALTER TABLE site ADD COLUMN set_aside boolean NOT NULL DEFAULT false;
