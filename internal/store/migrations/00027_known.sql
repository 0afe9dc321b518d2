-- +goose Up
-- What was known of an instrument as it was handed out, as the agreement says it: a sentence a line. Agreements from before have none;
-- theirs are worked out again from what was written down until then.
ALTER TABLE hand_over ADD COLUMN known text NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE hand_over DROP COLUMN known;
