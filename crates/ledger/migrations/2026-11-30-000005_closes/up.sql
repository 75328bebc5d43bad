-- What an entry closes belongs to the entry, whatever its kind: a step of a stand's plan, of which season, and which time
-- of it. Steps of before say it in their payload; it is read from there.

ALTER TABLE entries
    ADD COLUMN closes_stand uuid,
    ADD COLUMN closes_step text CHECK (length(closes_step) BETWEEN 1 AND 100),
    ADD COLUMN closes_season smallint CHECK (closes_season BETWEEN 1950 AND 2200),
    ADD COLUMN closes_occurrence integer CHECK (closes_occurrence BETWEEN 1 AND 999),
    ADD FOREIGN KEY (farm_id, closes_stand) REFERENCES stands,
    ADD CHECK ((closes_stand IS NULL) = (closes_step IS NULL)),
    ADD CHECK (closes_stand IS NOT NULL OR (closes_season IS NULL AND closes_occurrence IS NULL));
GRANT INSERT (closes_stand, closes_step, closes_season, closes_occurrence) ON entries TO inkmeadow_app;

-- Where an entry closes nothing, its text is what it always has been.
CREATE OR REPLACE FUNCTION entry_told(farm uuid, entry uuid) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', e.farm_id, e.id, e.kind, e.version, to_char(e.occurred_on, 'YYYY-MM-DD'),
        (extract(epoch FROM e.recorded_at) * 1000000)::bigint, e.recorded_by, e.via, coalesce(e.strikes::text, '-'),
        e.payload::text,
        (SELECT coalesce(string_agg(s.kind || ' ' || s.subject_id, ',' ORDER BY s.kind COLLATE "C", s.subject_id), '-')
            FROM entry_subjects s WHERE s.farm_id = e.farm_id AND s.entry_id = e.id),
        'closes ' || e.closes_stand || ' ' || coalesce(e.closes_season::text, '-') || ' '
            || coalesce(e.closes_occurrence::text, '-') || ' ' || e.closes_step)
    FROM entries e WHERE e.farm_id = farm AND e.id = entry
$$;
