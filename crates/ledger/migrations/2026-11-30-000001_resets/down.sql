DROP TRIGGER memberships_end_resets ON memberships;
DROP FUNCTION resets_end_with_a_place;
ALTER TABLE password_resets DROP COLUMN made_by, DROP COLUMN farm_id;
