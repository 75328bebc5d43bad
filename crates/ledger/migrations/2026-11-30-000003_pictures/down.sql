DROP FUNCTION sweep_photos;
DROP INDEX entries_photo;
