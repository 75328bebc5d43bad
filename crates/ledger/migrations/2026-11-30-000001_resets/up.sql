-- A link to a new password holds only as long as what allowed it: who made it, and at which farm. Neither stands where
-- it was made on the command line, by whoever runs the server.
ALTER TABLE password_resets
    ADD COLUMN made_by uuid REFERENCES people,
    ADD COLUMN farm_id uuid REFERENCES farms,
    ADD CHECK ((made_by IS NULL) = (farm_id IS NULL));
CREATE INDEX password_resets_maker ON password_resets (made_by);
-- It is not known who made older ones: they are spent.
UPDATE password_resets SET used = true;

-- Whatever becomes of either's place at any farm: what the link would open is not what it was made for.
CREATE FUNCTION resets_end_with_a_place() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE password_resets SET used = true
        WHERE NOT used AND (person_id = NEW.person_id OR made_by = NEW.person_id);
    RETURN NEW;
END $$;
CREATE TRIGGER memberships_end_resets AFTER INSERT OR UPDATE ON memberships
    FOR EACH ROW EXECUTE FUNCTION resets_end_with_a_place();
