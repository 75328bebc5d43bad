-- The odds at which a window counts as open: each person's own, on every screen.
ALTER TABLE people ADD COLUMN odds_level double precision NOT NULL DEFAULT 0.5
    CHECK (odds_level BETWEEN 0.01 AND 0.99);
