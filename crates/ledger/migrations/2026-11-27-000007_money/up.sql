-- What a farm pays in, by its code of ISO 4217: amounts of money are kept without one. And the month that its year
-- begins with, where that is not left to the hemisphere.
ALTER TABLE farms
    ADD COLUMN currency text NOT NULL DEFAULT 'USD' CHECK (currency ~ '^[A-Z]{3}$'),
    ADD COLUMN year_begins integer CHECK (year_begins BETWEEN 1 AND 12);
GRANT UPDATE (currency, year_begins) ON farms TO inkmeadow_app;
