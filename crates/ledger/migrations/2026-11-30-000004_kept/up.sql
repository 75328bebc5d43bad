-- Answers as they went out, so that a server that has just started has them. Nothing here is knowledge: whatever it hangs
-- on is in the key, and it may be thrown away at any moment; the database itself throws it away when it crashes.
CREATE UNLOGGED TABLE kept_answers (
    farm_id uuid NOT NULL REFERENCES farms,
    key bytea NOT NULL CHECK (length(key) = 32),
    body bytea NOT NULL,
    kept_at timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (farm_id, key)
);
ALTER TABLE kept_answers ALTER COLUMN body SET STORAGE EXTERNAL;
GRANT SELECT, INSERT, DELETE ON kept_answers TO inkmeadow_app;
