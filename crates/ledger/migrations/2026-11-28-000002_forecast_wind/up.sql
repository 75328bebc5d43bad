-- Wind of a forecast, m/s at 2 m: in which hours of a day to come it may be sprayed. Services need not tell it.
ALTER TABLE forecast_days ADD COLUMN wind real CHECK (wind >= 0 AND wind <= 60);
