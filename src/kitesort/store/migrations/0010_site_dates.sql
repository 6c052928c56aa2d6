-- Ground that is a class on one date only: bare before the crop is up, flooded on one pass.
ALTER TABLE site ADD COLUMN true_on date;
