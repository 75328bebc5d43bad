-- A thing that an entry is about may have a part in it: what something comes from, what it goes to.

ALTER TABLE entry_subjects ADD COLUMN part text NOT NULL DEFAULT '' CHECK (length(part) <= 20);

-- Where a thing has no part, the text of its entry is what it always has been.
CREATE OR REPLACE FUNCTION entry_told(farm uuid, entry uuid) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', e.farm_id, e.id, e.kind, e.version, to_char(e.occurred_on, 'YYYY-MM-DD'),
        (extract(epoch FROM e.recorded_at) * 1000000)::bigint, e.recorded_by, e.via, coalesce(e.strikes::text, '-'),
        e.payload::text,
        (SELECT coalesce(string_agg(s.kind || ' ' || s.subject_id || CASE s.part WHEN '' THEN '' ELSE ' ' || s.part END, ',' ORDER BY s.kind COLLATE "C", s.subject_id), '-')
            FROM entry_subjects s WHERE s.farm_id = e.farm_id AND s.entry_id = e.id),
        'closes ' || e.closes_stand || ' ' || coalesce(e.closes_season::text, '-') || ' '
            || coalesce(e.closes_occurrence::text, '-') || ' ' || e.closes_step)
    FROM entries e WHERE e.farm_id = farm AND e.id = entry
$$;
