-- What is edited in place has a version that counts up with each edit: the second of two writers is told what the
-- first one changed.
ALTER TABLE stations ADD COLUMN version integer NOT NULL DEFAULT 1;

-- A digest of what was handed in: the same id with other content is another import, and is told so.
ALTER TABLE weather_imports ADD COLUMN digest bytea;
