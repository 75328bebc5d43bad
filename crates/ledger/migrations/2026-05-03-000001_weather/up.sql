-- Weather: a station a farm, its days and hours, the forecast last heard, imports and what they found.
--
-- Days are laid out for many farms and many decades: farm and station first in the key, so that one
-- farm's years lie together and the table can be distributed by farm; partitioned by decade, so that
-- old decades are never touched again. They are measurements, not ink: a file may be read again.

CREATE TABLE stations (
    farm_id uuid PRIMARY KEY REFERENCES farms,
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    latitude double precision NOT NULL CHECK (latitude BETWEEN -90 AND 90),
    elevation_m double precision NOT NULL CHECK (elevation_m BETWEEN -430 AND 6000),
    -- What a weather service knows the station by; none when it lives on files alone.
    code text CHECK (length(code) BETWEEN 1 AND 200),
    -- Counts up whenever anything of its weather changes: what is worked out from it hangs on this.
    revision bigint NOT NULL DEFAULT 0,
    -- The last day on which the service answered, by the farm's clock; and what went wrong since.
    heard_on date,
    trouble text
);

CREATE TABLE weather_days (
    farm_id uuid NOT NULL REFERENCES farms,
    day date NOT NULL CHECK (day BETWEEN '1800-01-01' AND '2200-12-31'),
    tmin real,
    tmax real,
    rain real CHECK (rain >= 0),
    radiation real CHECK (radiation >= 0),
    dew_point real,
    wind real CHECK (wind >= 0),
    CHECK (tmin <= tmax),
    PRIMARY KEY (farm_id, day)
) PARTITION BY RANGE (day);

DO $$
BEGIN
    FOR decade IN 180..220 LOOP
        EXECUTE format('CREATE TABLE weather_days_%s PARTITION OF weather_days FOR VALUES FROM (%L) TO (%L)',
            decade * 10, make_date(decade * 10, 1, 1), make_date(decade * 10 + 10, 1, 1));
    END LOOP;
END $$;

CREATE TABLE weather_hours (
    farm_id uuid NOT NULL REFERENCES farms,
    day date NOT NULL,
    hour integer NOT NULL CHECK (hour BETWEEN 0 AND 23),
    temperature real NOT NULL,
    rain real NOT NULL CHECK (rain >= 0),
    radiation real NOT NULL CHECK (radiation >= 0),
    humidity real NOT NULL CHECK (humidity BETWEEN 0 AND 100),
    wind real NOT NULL CHECK (wind >= 0),
    PRIMARY KEY (farm_id, day, hour)
);

CREATE TABLE forecast_days (
    farm_id uuid NOT NULL REFERENCES farms,
    member integer NOT NULL CHECK (member >= 0),
    day date NOT NULL,
    tmin real NOT NULL,
    tmax real NOT NULL,
    rain real NOT NULL CHECK (rain >= 0),
    CHECK (tmin <= tmax),
    PRIMARY KEY (farm_id, member, day)
);

CREATE TABLE weather_imports (
    farm_id uuid NOT NULL REFERENCES farms,
    id uuid NOT NULL,
    imported_at timestamptz NOT NULL DEFAULT now(),
    imported_by uuid NOT NULL REFERENCES people,
    file_name text NOT NULL CHECK (length(file_name) BETWEEN 1 AND 200),
    added integer NOT NULL,
    replaced integer NOT NULL,
    findings jsonb NOT NULL,
    findings_in_all integer NOT NULL,
    PRIMARY KEY (farm_id, id)
);

GRANT SELECT, INSERT, UPDATE ON stations, weather_days, weather_hours TO inkmeadow_app;
GRANT SELECT, INSERT, DELETE ON forecast_days TO inkmeadow_app;
GRANT SELECT, INSERT ON weather_imports TO inkmeadow_app;

-- Readings of a person's own instruments are ink, and win over the station for their day and place.
ALTER TABLE entries DROP CONSTRAINT entries_kind_check;
ALTER TABLE entries ADD CONSTRAINT entries_kind_check CHECK (kind IN (
    'choices', 'step', 'lot-tag', 'lot-report', 'note', 'strike',
    'site', 'soil-test', 'soil-sample', 'spray', 'past-crop', 'bioassay', 'dressing', 'cut',
    'soil-temperature', 'rain-gauge', 'irrigation'));
ALTER TABLE entries DROP CONSTRAINT entries_ground_check;
ALTER TABLE entries ADD CONSTRAINT entries_ground_check CHECK (
    kind NOT IN ('site', 'soil-test', 'soil-sample', 'spray', 'past-crop', 'bioassay', 'dressing', 'cut',
        'soil-temperature', 'rain-gauge', 'irrigation')
    OR field_id IS NOT NULL);
