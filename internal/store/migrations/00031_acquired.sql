-- +goose Up
-- Of many instruments only the year or the month is known in which they came; acquired_on is then the first day of it.
ALTER TABLE instrument ADD COLUMN acquired_as text NOT NULL DEFAULT '' CHECK (acquired_as IN ('', 'month', 'year'));

-- +goose Down
ALTER TABLE instrument DROP COLUMN acquired_as;
