-- The ledger's chain: each entry's place in its farm's ledger, and a digest over what it says and the digest before
-- it. Whoever alters, removes or slips in an entry behind the application's back breaks it from there on, and
-- `inkmeadow verify` tells where. The place also says cheaply how far a farm's ledger has come.

CREATE TABLE ledger_chain (
    farm_id uuid NOT NULL REFERENCES farms,
    position bigint NOT NULL CHECK (position >= 1),
    entry_id uuid NOT NULL,
    digest bytea NOT NULL CHECK (length(digest) = 32),
    PRIMARY KEY (farm_id, position),
    UNIQUE (farm_id, entry_id),
    FOREIGN KEY (farm_id, entry_id) REFERENCES entries
);
CREATE TRIGGER ledger_chain_permanent BEFORE UPDATE OR DELETE ON ledger_chain
    FOR EACH ROW EXECUTE FUNCTION ink_is_permanent();
CREATE TRIGGER ledger_chain_stays BEFORE TRUNCATE ON ledger_chain
    FOR EACH STATEMENT EXECUTE FUNCTION ink_is_permanent();
GRANT SELECT, INSERT ON ledger_chain TO inkmeadow_app;

-- All that an entry says, as one text: the same wherever and by whomever it is asked.
CREATE FUNCTION entry_told(farm uuid, entry uuid) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', e.farm_id, e.id, e.kind, e.version, to_char(e.occurred_on, 'YYYY-MM-DD'),
        (extract(epoch FROM e.recorded_at) * 1000000)::bigint, e.recorded_by, e.via, coalesce(e.strikes::text, '-'),
        e.payload::text,
        (SELECT coalesce(string_agg(s.kind || ' ' || s.subject_id, ',' ORDER BY s.kind COLLATE "C", s.subject_id), '-')
            FROM entry_subjects s WHERE s.farm_id = e.farm_id AND s.entry_id = e.id))
    FROM entries e WHERE e.farm_id = farm AND e.id = entry
$$;

-- Put an entry at the end of its farm's chain. Two writers of one farm: the second waits until the first has
-- committed, so that places are given in the order of commits.
CREATE FUNCTION chain_entry(farm uuid, entry uuid) RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
    last ledger_chain%ROWTYPE;
BEGIN
    PERFORM pg_advisory_xact_lock(hashtextextended('chain ' || farm, 0));
    SELECT * INTO last FROM ledger_chain WHERE farm_id = farm ORDER BY position DESC LIMIT 1;
    INSERT INTO ledger_chain (farm_id, position, entry_id, digest) VALUES (farm, coalesce(last.position, 0) + 1, entry,
        sha256(coalesce(last.digest, ''::bytea) || convert_to(entry_told(farm, entry), 'UTF8')));
    RETURN coalesce(last.position, 0) + 1;
END $$;

-- Entries of older databases, in the order in which they were written down.
DO $$
DECLARE
    one record;
BEGIN
    FOR one IN SELECT farm_id, id FROM entries ORDER BY farm_id, recorded_at, id LOOP
        PERFORM chain_entry(one.farm_id, one.id);
    END LOOP;
END $$;

-- The order in which entries are folded, page by page.
CREATE INDEX entries_order ON entries (farm_id, occurred_on, recorded_at, id);
