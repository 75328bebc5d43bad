-- A picture is sent before the entry that tells of it. One whose entry never came is taken away after a week, by whoever
-- sends the next one; none that an entry tells of ever is.
CREATE INDEX entries_photo ON entries (farm_id, (payload->>'photo')) WHERE kind = 'photo';

-- With the owner's rights, as the application has none to take a picture away.
CREATE FUNCTION sweep_photos(farm uuid) RETURNS bigint LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
    WITH swept AS (
        DELETE FROM photos p WHERE p.farm_id = farm AND p.created_at < now() - interval '7 days'
            AND NOT EXISTS (SELECT FROM entries e WHERE e.farm_id = p.farm_id AND e.kind = 'photo'
                AND e.payload->>'photo' = p.id::text)
        RETURNING 1)
    SELECT count(*) FROM swept
$$;
REVOKE ALL ON FUNCTION sweep_photos FROM PUBLIC;
GRANT EXECUTE ON FUNCTION sweep_photos TO inkmeadow_app;
