DROP TRIGGER memberships_founded ON memberships;
DROP TRIGGER weather_imports_founded ON weather_imports;
DROP TRIGGER stands_founded ON stands;
DROP TRIGGER seed_lots_founded ON seed_lots;
DROP TRIGGER fields_founded ON fields;
DROP TRIGGER farms_founded ON farms;
DROP FUNCTION farm_founded, field_founded, lot_founded, stand_founded, import_founded, member_founded;
DROP FUNCTION founded, farm_told, field_told, lot_told, import_told;
DROP TABLE foundings;
DROP FUNCTION foundings_stay;
CREATE OR REPLACE FUNCTION chain_entry(farm uuid, entry uuid) RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
    last ledger_chain%ROWTYPE;
BEGIN
    PERFORM pg_advisory_xact_lock(hashtextextended('chain ' || farm, 0));
    SELECT * INTO last FROM ledger_chain WHERE farm_id = farm ORDER BY position DESC LIMIT 1;
    INSERT INTO ledger_chain (farm_id, position, entry_id, digest) VALUES (farm, coalesce(last.position, 0) + 1, entry,
        sha256(coalesce(last.digest, ''::bytea) || convert_to(entry_told(farm, entry), 'UTF8')));
    RETURN coalesce(last.position, 0) + 1;
END $$;
