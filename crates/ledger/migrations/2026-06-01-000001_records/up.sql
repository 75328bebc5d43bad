-- Records: what an entry is about is open, its kind is checked where kinds are declared.
--
-- An entry is about any number of things, of any kind, found fast by each of them: a new kind of
-- thing or of record needs no column and no migration.

CREATE TABLE entry_subjects (
    farm_id uuid NOT NULL,
    kind text NOT NULL CHECK (length(kind) BETWEEN 1 AND 40),
    subject_id uuid NOT NULL,
    entry_id uuid NOT NULL,
    PRIMARY KEY (farm_id, kind, subject_id, entry_id),
    FOREIGN KEY (farm_id, entry_id) REFERENCES entries
);
CREATE INDEX entry_subjects_entry ON entry_subjects (farm_id, entry_id);

-- Entries of older databases are about what their columns said.
INSERT INTO entry_subjects (farm_id, kind, subject_id, entry_id)
    SELECT farm_id, 'field', field_id, id FROM entries WHERE field_id IS NOT NULL
    UNION ALL SELECT farm_id, 'stand', stand_id, id FROM entries WHERE stand_id IS NOT NULL
    UNION ALL SELECT farm_id, 'lot', lot_id, id FROM entries WHERE lot_id IS NOT NULL;

-- With the columns go the indexes and checks that name them.
ALTER TABLE entries
    DROP COLUMN field_id,
    DROP COLUMN stand_id,
    DROP COLUMN lot_id,
    DROP CONSTRAINT entries_kind_check,
    DROP CONSTRAINT entries_version_check,
    ADD CONSTRAINT entries_kind_is_a_word CHECK (length(kind) BETWEEN 1 AND 40),
    ADD CONSTRAINT entries_version_counts CHECK (version >= 1);

CREATE TRIGGER entry_subjects_permanent BEFORE UPDATE OR DELETE ON entry_subjects
    FOR EACH ROW EXECUTE FUNCTION ink_is_permanent();
CREATE TRIGGER entry_subjects_stay BEFORE TRUNCATE ON entry_subjects
    FOR EACH STATEMENT EXECUTE FUNCTION ink_is_permanent();
GRANT SELECT, INSERT ON entry_subjects TO inkmeadow_app;

-- The day at a farm is the day of its time zone. Farms of older databases went by the sun at their
-- longitude, and go on so until somebody chooses (the sign of these names is the other way round).
ALTER TABLE farms ADD COLUMN time_zone text NOT NULL DEFAULT 'Etc/UTC' CHECK (length(time_zone) BETWEEN 1 AND 60);
UPDATE farms SET time_zone = CASE
    WHEN round(longitude / 15) < 0 THEN 'Etc/GMT+' || (-round(longitude / 15))::int
    WHEN round(longitude / 15) > 0 THEN 'Etc/GMT-' || round(longitude / 15)::int
    ELSE 'Etc/UTC' END;
