-- A farm is corrected where it stands; each correction is an entry of the same transaction. One that is closed is
-- read, and written no more.
ALTER TABLE farms ADD COLUMN version integer NOT NULL DEFAULT 1, ADD COLUMN closed_on date;
GRANT UPDATE (name, latitude, longitude, elevation_m, time_zone, version, closed_on) ON farms TO inkmeadow_app;

-- Who has forgotten a password sets a new one by a link of which only a hash is kept.
CREATE TABLE password_resets (
    key_hash bytea PRIMARY KEY,
    person_id uuid NOT NULL REFERENCES people,
    expires_at timestamptz NOT NULL,
    used boolean NOT NULL DEFAULT false
);
CREATE INDEX password_resets_person ON password_resets (person_id);
GRANT SELECT, INSERT, UPDATE (used) ON password_resets TO inkmeadow_app;
