-- What entries are about, as it was founded: a digest each, which the next link of the chain covers. Whoever changes a
-- field's area, a lot's crop, the farm's name or an author's behind the application's back is found out as well.

CREATE TABLE foundings (
    farm_id uuid NOT NULL REFERENCES farms,
    kind text NOT NULL CHECK (kind IN ('farm', 'field', 'lot', 'person', 'stand', 'weather-import')),
    subject_id uuid NOT NULL,
    digest bytea NOT NULL CHECK (length(digest) = 32),
    -- The link that covers it; none before the next one is made.
    position bigint,
    PRIMARY KEY (farm_id, kind, subject_id),
    FOREIGN KEY (farm_id, position) REFERENCES ledger_chain
);
CREATE INDEX foundings_covered ON foundings (farm_id, position);

CREATE FUNCTION foundings_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    -- A link takes it in, once; nothing else ever happens to it.
    IF TG_OP = 'UPDATE' THEN
        IF OLD.position IS NULL AND (NEW.farm_id, NEW.kind, NEW.subject_id, NEW.digest)
            = (OLD.farm_id, OLD.kind, OLD.subject_id, OLD.digest) THEN
            RETURN NEW;
        END IF;
    END IF;
    RAISE EXCEPTION 'how something was founded is permanent' USING ERRCODE = 'insufficient_privilege';
END $$;
CREATE TRIGGER foundings_permanent BEFORE UPDATE OR DELETE ON foundings
    FOR EACH ROW EXECUTE FUNCTION foundings_stay();
CREATE TRIGGER foundings_not_emptied BEFORE TRUNCATE ON foundings
    FOR EACH STATEMENT EXECUTE FUNCTION foundings_stay();
GRANT SELECT, INSERT, UPDATE (position) ON foundings TO inkmeadow_app;

-- What a row says that was founded, as one text.
CREATE FUNCTION farm_told(t farms) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', t.name, t.latitude, t.longitude, t.elevation_m, t.time_zone, t.currency,
        coalesce(t.year_begins::text, '-'), coalesce(t.closed_on::text, '-'))
$$;
CREATE FUNCTION field_told(t fields) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', t.name, coalesce(t.boundary::text, '-'), t.setback_m, t.area_m2, t.sown_area_m2)
$$;
CREATE FUNCTION lot_told(t seed_lots) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', t.crop, t.label)
$$;
CREATE FUNCTION import_told(t weather_imports) RETURNS text LANGUAGE sql STABLE AS $$
    SELECT concat_ws(E'\n', (extract(epoch FROM t.imported_at) * 1000000)::bigint, t.imported_by, t.file_name,
        t.added, t.replaced, t.findings_in_all, t.findings::text, coalesce(encode(t.digest, 'hex'), '-'))
$$;

CREATE FUNCTION founded(farm uuid, what text, subject uuid, told text) RETURNS void LANGUAGE sql AS $$
    INSERT INTO foundings (farm_id, kind, subject_id, digest)
    VALUES (farm, what, subject, sha256(convert_to(told, 'UTF8')))
$$;

-- A farm that comes by an archive may have been corrected since it was founded: the digest comes with it.
CREATE FUNCTION farm_founded() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF coalesce(current_setting('ink.farm_digest', true), '') = '' THEN
        PERFORM founded(NEW.id, 'farm', NEW.id, farm_told(NEW));
    ELSE
        INSERT INTO foundings (farm_id, kind, subject_id, digest)
        VALUES (NEW.id, 'farm', NEW.id, decode(current_setting('ink.farm_digest'), 'hex'));
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION field_founded() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN PERFORM founded(NEW.farm_id, 'field', NEW.id, field_told(NEW)); RETURN NULL; END $$;
CREATE FUNCTION lot_founded() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN PERFORM founded(NEW.farm_id, 'lot', NEW.id, lot_told(NEW)); RETURN NULL; END $$;
CREATE FUNCTION stand_founded() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN PERFORM founded(NEW.farm_id, 'stand', NEW.id, NEW.field_id::text); RETURN NULL; END $$;
CREATE FUNCTION import_founded() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN PERFORM founded(NEW.farm_id, 'weather-import', NEW.id, import_told(NEW)); RETURN NULL; END $$;
-- Whoever comes to a farm may write there: under the name they had then.
CREATE FUNCTION member_founded() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM founded(NEW.farm_id, 'person', NEW.person_id, (SELECT name FROM people WHERE id = NEW.person_id));
    RETURN NULL;
END $$;
CREATE TRIGGER farms_founded AFTER INSERT ON farms FOR EACH ROW EXECUTE FUNCTION farm_founded();
CREATE TRIGGER fields_founded AFTER INSERT ON fields FOR EACH ROW EXECUTE FUNCTION field_founded();
CREATE TRIGGER seed_lots_founded AFTER INSERT ON seed_lots FOR EACH ROW EXECUTE FUNCTION lot_founded();
CREATE TRIGGER stands_founded AFTER INSERT ON stands FOR EACH ROW EXECUTE FUNCTION stand_founded();
CREATE TRIGGER weather_imports_founded AFTER INSERT ON weather_imports FOR EACH ROW EXECUTE FUNCTION import_founded();
CREATE TRIGGER memberships_founded AFTER INSERT ON memberships FOR EACH ROW EXECUTE FUNCTION member_founded();

-- What is there already is covered, as it stands now, by the next link.
SELECT founded(t.id, 'farm', t.id, farm_told(t)) FROM farms t;
SELECT founded(t.farm_id, 'field', t.id, field_told(t)) FROM fields t;
SELECT founded(t.farm_id, 'lot', t.id, lot_told(t)) FROM seed_lots t;
SELECT founded(t.farm_id, 'stand', t.id, t.field_id::text) FROM stands t;
SELECT founded(t.farm_id, 'weather-import', t.id, import_told(t)) FROM weather_imports t;
SELECT founded(m.farm_id, 'person', m.person_id, p.name) FROM memberships m JOIN people p ON p.id = m.person_id;

-- A link covers the entry, and what was founded since the link before. Where nothing was, its digest is what it always
-- has been.
CREATE OR REPLACE FUNCTION chain_entry(farm uuid, entry uuid) RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
    last ledger_chain%ROWTYPE;
    place bigint;
    told text := entry_told(farm, entry);
    one record;
    kinds text[] := '{}';
    subjects uuid[] := '{}';
BEGIN
    PERFORM pg_advisory_xact_lock(hashtextextended('chain ' || farm, 0));
    SELECT * INTO last FROM ledger_chain WHERE farm_id = farm ORDER BY position DESC LIMIT 1;
    place := coalesce(last.position, 0) + 1;
    FOR one IN SELECT kind, subject_id, digest FROM foundings WHERE farm_id = farm AND position IS NULL
        ORDER BY kind COLLATE "C", subject_id
    LOOP
        told := told || E'\n' || one.kind || ' ' || one.subject_id || ' ' || encode(one.digest, 'hex');
        kinds := kinds || one.kind;
        subjects := subjects || one.subject_id;
    END LOOP;
    INSERT INTO ledger_chain (farm_id, position, entry_id, digest) VALUES (farm, place, entry,
        sha256(coalesce(last.digest, ''::bytea) || convert_to(told, 'UTF8')));
    UPDATE foundings f SET position = place FROM unnest(kinds, subjects) AS taken(kind, subject_id)
        WHERE f.farm_id = farm AND f.kind = taken.kind AND f.subject_id = taken.subject_id;
    RETURN place;
END $$;
