-- Who is asked to a farm: by a link of which only a hash is kept, for one person, for some days.
CREATE TABLE invitations (
    farm_id uuid NOT NULL REFERENCES farms,
    id uuid NOT NULL,
    key_hash bytea NOT NULL UNIQUE,
    role text NOT NULL CHECK (role IN ('manager', 'crew', 'adviser')),
    made_by uuid NOT NULL REFERENCES people,
    expires_at timestamptz NOT NULL,
    used_by uuid REFERENCES people,
    withdrawn boolean NOT NULL DEFAULT false,
    PRIMARY KEY (farm_id, id)
);
GRANT SELECT, INSERT, UPDATE (used_by, withdrawn) ON invitations TO inkmeadow_app;

-- Whoever has left is known by name still: their entries stand under it. Each change is an entry of the same
-- transaction.
ALTER TABLE memberships ADD COLUMN ended boolean NOT NULL DEFAULT false;
GRANT UPDATE (role, ended) ON memberships TO inkmeadow_app;
