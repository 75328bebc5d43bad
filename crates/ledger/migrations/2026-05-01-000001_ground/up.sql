-- The ground: people, farms, fields, seed lots, stands, and the ledger of entries.
--
-- Every table that grows carries farm_id first in its key, so that it can be partitioned by farm.
-- The application signs in as inkmeadow_app, which may add entries and read them, never change
-- or remove one; a trigger holds the table's owner to the same.

CREATE TABLE people (
    id uuid PRIMARY KEY,
    email text NOT NULL UNIQUE CHECK (email = lower(email) AND email LIKE '%_@_%'),
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    password_hash text NOT NULL,
    units text NOT NULL DEFAULT 'us' CHECK (units IN ('us', 'metric')),
    theme text NOT NULL DEFAULT 'light' CHECK (theme IN ('light', 'dark', 'sunlight')),
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE farms (
    id uuid PRIMARY KEY,
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    latitude double precision NOT NULL CHECK (latitude BETWEEN -90 AND 90),
    longitude double precision NOT NULL CHECK (longitude BETWEEN -180 AND 180),
    elevation_m double precision NOT NULL CHECK (elevation_m BETWEEN -430 AND 6000),
    -- A practice farm's clock stands at this day; a real farm has none and goes by the calendar.
    practice_day date,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE memberships (
    farm_id uuid NOT NULL REFERENCES farms,
    person_id uuid NOT NULL REFERENCES people,
    role text NOT NULL CHECK (role IN ('manager', 'crew', 'adviser')),
    PRIMARY KEY (farm_id, person_id)
);
CREATE INDEX memberships_person ON memberships (person_id);

-- Only a hash of the cookie's key is kept, so a copy of this table signs nobody in.
CREATE TABLE sessions (
    key_hash bytea PRIMARY KEY,
    state jsonb NOT NULL,
    expires_at timestamptz NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expires_at);

CREATE TABLE fields (
    farm_id uuid NOT NULL REFERENCES farms,
    id uuid NOT NULL,
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    boundary jsonb NOT NULL,
    setback_m double precision NOT NULL CHECK (setback_m >= 0),
    area_m2 double precision NOT NULL CHECK (area_m2 > 0),
    sown_area_m2 double precision NOT NULL CHECK (sown_area_m2 > 0 AND sown_area_m2 <= area_m2),
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (farm_id, id),
    UNIQUE (farm_id, name)
);

CREATE TABLE seed_lots (
    farm_id uuid NOT NULL REFERENCES farms,
    id uuid NOT NULL,
    crop text NOT NULL,
    label text NOT NULL CHECK (length(label) BETWEEN 1 AND 100),
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (farm_id, id),
    UNIQUE (farm_id, crop, label)
);

CREATE TABLE stands (
    farm_id uuid NOT NULL,
    id uuid NOT NULL,
    field_id uuid NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields
);
CREATE INDEX stands_field ON stands (farm_id, field_id);

CREATE TABLE entries (
    farm_id uuid NOT NULL REFERENCES farms,
    id uuid NOT NULL,
    field_id uuid,
    stand_id uuid,
    lot_id uuid,
    kind text NOT NULL CHECK (kind IN ('choices', 'step', 'lot-tag', 'lot-report', 'note', 'strike')),
    version integer NOT NULL CHECK (version = 1),
    occurred_on date NOT NULL CHECK (occurred_on BETWEEN '1900-01-01' AND '2200-01-01'),
    recorded_at timestamptz NOT NULL DEFAULT now(),
    recorded_by uuid NOT NULL REFERENCES people,
    via text NOT NULL CHECK (via IN ('web', 'demo', 'stand-in', 'import')),
    payload jsonb NOT NULL CHECK (jsonb_typeof(payload) = 'object'),
    strikes uuid,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields,
    FOREIGN KEY (farm_id, stand_id) REFERENCES stands,
    FOREIGN KEY (farm_id, lot_id) REFERENCES seed_lots,
    FOREIGN KEY (farm_id, strikes) REFERENCES entries,
    -- An entry is struck at most once, and only a strike strikes.
    UNIQUE (farm_id, strikes),
    CHECK ((kind = 'strike') = (strikes IS NOT NULL)),
    CHECK (kind NOT IN ('choices', 'step') OR (stand_id IS NOT NULL AND field_id IS NOT NULL)),
    CHECK (kind NOT IN ('lot-tag', 'lot-report') OR lot_id IS NOT NULL)
);
CREATE INDEX entries_stand ON entries (farm_id, stand_id, occurred_on);
CREATE INDEX entries_lot ON entries (farm_id, lot_id) WHERE lot_id IS NOT NULL;
CREATE INDEX entries_day ON entries (farm_id, occurred_on DESC, id DESC);

CREATE FUNCTION ink_is_permanent() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'entries are permanent: strike an entry and record it anew'
        USING ERRCODE = 'insufficient_privilege';
END $$;
CREATE TRIGGER entries_permanent BEFORE UPDATE OR DELETE ON entries
    FOR EACH ROW EXECUTE FUNCTION ink_is_permanent();
CREATE TRIGGER entries_stay BEFORE TRUNCATE ON entries
    FOR EACH STATEMENT EXECUTE FUNCTION ink_is_permanent();

CREATE FUNCTION no_strike_of_a_strike() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF EXISTS (SELECT 1 FROM entries WHERE farm_id = NEW.farm_id AND id = NEW.strikes AND kind = 'strike') THEN
        RAISE EXCEPTION 'a strike can not be struck: record the entry anew' USING ERRCODE = 'check_violation';
    END IF;
    RETURN NEW;
END $$;
CREATE TRIGGER entries_strike BEFORE INSERT ON entries
    FOR EACH ROW WHEN (NEW.strikes IS NOT NULL) EXECUTE FUNCTION no_strike_of_a_strike();

GRANT SELECT, INSERT, UPDATE ON people, farms, memberships, fields, seed_lots, stands TO inkmeadow_app;
GRANT SELECT, INSERT, UPDATE, DELETE ON sessions TO inkmeadow_app;
GRANT SELECT, INSERT ON entries TO inkmeadow_app;
