ALTER TABLE forecast_days DROP COLUMN wind;
