-- The demo's first farm two hundred times over, each with a manager of its own (p1@example.org and so on, the demo's
-- password). Ids within a farm stay: they are the farm's own.
SET session_replication_role = replica;
CREATE FUNCTION pg_temp.new(id uuid, n int) RETURNS uuid LANGUAGE sql IMMUTABLE AS $$ SELECT md5(id::text || n)::uuid $$;
CREATE TEMP TABLE src AS SELECT id FROM farms WHERE name = 'Fennick Hollow';
INSERT INTO people (id, email, name, password_hash, units) SELECT pg_temp.new(p.id, n), 'p' || n || '@example.org', 'Person ' || n, password_hash, units FROM people p, generate_series(1, 200) n WHERE email = 'mara@fennick.example';
INSERT INTO farms SELECT (jsonb_populate_record(NULL::farms, to_jsonb(f) || jsonb_build_object('id', pg_temp.new(f.id, n), 'name', 'Farm ' || n))).* FROM farms f, generate_series(1, 200) n WHERE f.id IN (SELECT id FROM src);
INSERT INTO memberships (farm_id, person_id, role) SELECT pg_temp.new((SELECT id FROM src), n), pg_temp.new(p.id, n), 'manager' FROM people p, generate_series(1, 200) n WHERE email = 'mara@fennick.example';
INSERT INTO stations SELECT (jsonb_populate_record(NULL::stations, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM stations f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO weather_days SELECT pg_temp.new(farm_id, n), day, tmin, tmax, rain, radiation, dew_point, wind FROM weather_days, generate_series(1, 200) n WHERE farm_id IN (SELECT id FROM src);
INSERT INTO forecast_days SELECT (jsonb_populate_record(NULL::forecast_days, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM forecast_days f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO fields SELECT (jsonb_populate_record(NULL::fields, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM fields f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO seed_lots SELECT (jsonb_populate_record(NULL::seed_lots, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM seed_lots f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO stands SELECT (jsonb_populate_record(NULL::stands, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM stands f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO entries SELECT (jsonb_populate_record(NULL::entries, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM entries f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO entry_subjects SELECT (jsonb_populate_record(NULL::entry_subjects, to_jsonb(f) || jsonb_build_object('farm_id', pg_temp.new(f.farm_id, n)))).* FROM entry_subjects f, generate_series(1, 200) n WHERE f.farm_id IN (SELECT id FROM src);
INSERT INTO ledger_chain SELECT pg_temp.new(farm_id, n), position, entry_id, digest FROM ledger_chain, generate_series(1, 200) n WHERE farm_id IN (SELECT id FROM src);
ANALYZE;
