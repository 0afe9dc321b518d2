-- +goose Up
-- Which column of a school's own spreadsheets is which of ours, as it was said the last time; and which of the first steps it does
-- without.
ALTER TABLE school ADD import_columns jsonb NOT NULL DEFAULT '{}', ADD steps_aside jsonb NOT NULL DEFAULT '[]';

-- +goose Down
ALTER TABLE school DROP import_columns, DROP steps_aside;
