-- The ground of a field: site, soil tests, sprays, past crops, bioassays, dressings, cuts, and
-- samples sent to a laboratory. All are entries about a field.

ALTER TABLE entries DROP CONSTRAINT entries_kind_check;
ALTER TABLE entries ADD CONSTRAINT entries_kind_check CHECK (kind IN (
    'choices', 'step', 'lot-tag', 'lot-report', 'note', 'strike',
    'site', 'soil-test', 'soil-sample', 'spray', 'past-crop', 'bioassay', 'dressing', 'cut'));
ALTER TABLE entries ADD CONSTRAINT entries_ground_check CHECK (
    kind NOT IN ('site', 'soil-test', 'soil-sample', 'spray', 'past-crop', 'bioassay', 'dressing', 'cut')
    OR field_id IS NOT NULL);
CREATE INDEX entries_field ON entries (farm_id, field_id, occurred_on) WHERE field_id IS NOT NULL;
