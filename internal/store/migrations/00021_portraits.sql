-- +goose Up
-- A photograph by which an instrument is known again; the latest counts.
ALTER TABLE photo ADD COLUMN portrait boolean NOT NULL DEFAULT false;

-- +goose Down
ALTER TABLE photo DROP COLUMN portrait;
