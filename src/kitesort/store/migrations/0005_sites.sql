-- A site belongs to a class of its own study. Rows from before are left as they are.
ALTER TABLE land_class ADD CONSTRAINT land_class_of_study UNIQUE (id, study_id);
ALTER TABLE site ADD CONSTRAINT site_class_of_study
    FOREIGN KEY (class_id, study_id) REFERENCES land_class (id, study_id) NOT VALID;
-- The name that the browser gave an outline: an answer that was lost does not make two of it.
ALTER TABLE site ADD COLUMN client_key text;
CREATE UNIQUE INDEX site_client_key ON site (study_id, client_key) WHERE client_key IS NOT NULL;
