-- A large farm for measuring: the demo's Fennick Hollow many times over. As the tables' owner, on a database that is
-- thrown away afterwards: 294 fields, some 500 stands, 100,000 entries.
SET session_replication_role = replica;
CREATE FUNCTION pg_temp.again(id uuid, turn int) RETURNS uuid LANGUAGE sql IMMUTABLE AS
    $$ SELECT md5(id::text || ' ' || turn)::uuid $$;
CREATE TEMP TABLE farm AS SELECT id FROM farms WHERE name = 'Fennick Hollow';
CREATE TEMP TABLE old_stands AS SELECT s.* FROM stands s, farm WHERE s.farm_id = farm.id;
CREATE TEMP TABLE old_fields AS SELECT f.* FROM fields f, farm WHERE f.farm_id = farm.id;
CREATE TEMP TABLE old_entries AS SELECT e.* FROM entries e, farm WHERE e.farm_id = farm.id;
CREATE TEMP TABLE old_subjects AS SELECT s.* FROM entry_subjects s, farm WHERE s.farm_id = farm.id;

INSERT INTO fields (farm_id, id, name, boundary, setback_m, area_m2, sown_area_m2)
    SELECT farm_id, pg_temp.again(id, turn), name || ' ' || turn, boundary, setback_m, area_m2, sown_area_m2
    FROM old_fields, generate_series(1, 20) turn;
-- Stands for themselves, and as many again that stood there before.
INSERT INTO stands (farm_id, id, field_id)
    SELECT farm_id, pg_temp.again(id, turn), pg_temp.again(field_id, (turn - 1) % 20 + 1)
    FROM old_stands, generate_series(1, 45) turn;
CREATE TEMP TABLE turns AS
    SELECT e.id, turn FROM old_entries e, generate_series(1, 20) turn
    UNION ALL
    SELECT e.id, turn FROM old_entries e, generate_series(21, 45) turn
        WHERE EXISTS (SELECT FROM old_subjects s WHERE s.entry_id = e.id AND s.kind = 'stand');
INSERT INTO entries (farm_id, id, kind, version, occurred_on, recorded_at, recorded_by, via, payload, strikes)
    SELECT farm_id, pg_temp.again(e.id, turn), kind, version, occurred_on, recorded_at, recorded_by, via, payload,
        pg_temp.again(strikes, turn)
    FROM old_entries e JOIN turns USING (id);
INSERT INTO entry_subjects (farm_id, kind, subject_id, entry_id)
    SELECT s.farm_id, s.kind, CASE s.kind WHEN 'field' THEN pg_temp.again(s.subject_id, (turn - 1) % 20 + 1)
        WHEN 'stand' THEN pg_temp.again(s.subject_id, turn) ELSE s.subject_id END, pg_temp.again(s.entry_id, turn)
    FROM old_subjects s JOIN turns ON turns.id = s.entry_id;
-- The rest of ten years: a gauge, a thermometer, a note, field by field.
CREATE TEMP TABLE daily AS
    SELECT f.id AS field, gen_random_uuid() AS entry, turn FROM fields f, farm, generate_series(1, 322) turn
    WHERE f.farm_id = farm.id;
INSERT INTO entries (farm_id, id, kind, version, occurred_on, recorded_at, recorded_by, via, payload)
    SELECT farm.id, entry, kinds[turn % 3 + 1], 1, date '2026-05-13' - turn * 11, now(),
        (SELECT recorded_by FROM old_entries LIMIT 1), 'import', payloads[turn % 3 + 1]
    FROM daily, farm, (SELECT ARRAY['rain-gauge', 'soil-temperature', 'note'] AS kinds, ARRAY[
        '{"rain": {"unit": "m", "value": 0.0038}}'::jsonb,
        '{"depth": {"unit": "m", "value": 0.05}, "temperature": {"unit": "degC", "value": 12.5}}'::jsonb,
        '{"text": "walked it, nothing to tell"}'::jsonb] AS payloads) said;
INSERT INTO entry_subjects (farm_id, kind, subject_id, entry_id) SELECT farm.id, 'field', field, entry FROM daily, farm;
DO $$
DECLARE
    one record;
BEGIN
    FOR one IN SELECT e.farm_id, e.id FROM entries e WHERE NOT EXISTS
        (SELECT FROM ledger_chain c WHERE c.farm_id = e.farm_id AND c.entry_id = e.id) ORDER BY recorded_at, id LOOP
        PERFORM chain_entry(one.farm_id, one.id);
    END LOOP;
END $$;
RESET session_replication_role;
ANALYZE;
SELECT (SELECT count(*) FROM fields f, farm WHERE f.farm_id = farm.id) AS fields,
    (SELECT count(*) FROM stands s, farm WHERE s.farm_id = farm.id) AS stands,
    (SELECT count(*) FROM entries e, farm WHERE e.farm_id = farm.id) AS entries;
