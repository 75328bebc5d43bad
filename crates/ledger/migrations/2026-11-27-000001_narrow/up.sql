-- What gives entries their meaning is not the application's to rewrite: a field's area, a stand's field, a lot's
-- label, a person's name, a role, when something was recorded. What it does change in place it may change by
-- column and nothing beside it.

REVOKE UPDATE ON people, farms, memberships, fields, seed_lots, stands FROM inkmeadow_app;
GRANT UPDATE (units, theme, odds_level, password_hash) ON people TO inkmeadow_app;
GRANT UPDATE (practice_day) ON farms TO inkmeadow_app;

-- The moment of recording is the database's own, never the writer's.
REVOKE INSERT ON entries FROM inkmeadow_app;
GRANT INSERT (farm_id, id, kind, version, occurred_on, recorded_by, via, payload, strikes) ON entries TO inkmeadow_app;

-- Whether the tables are those of this build is the application's to ask.
GRANT SELECT ON __diesel_schema_migrations TO inkmeadow_app;
