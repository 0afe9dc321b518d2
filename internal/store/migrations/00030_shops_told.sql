-- +goose Up
-- A job that a shop was asked about, or that is on its way there, has a shop: without one nobody could say where it goes.
UPDATE shop_job SET state = 'wanted', trip_id = NULL, fetched_on = NULL, agreed_cents = NULL
    WHERE shop_id IS NULL AND state IN ('asked', 'quoted', 'agreed', 'booked');
ALTER TABLE shop_job
    ADD COLUMN untold boolean NOT NULL DEFAULT false, -- the shop's computer has not heard of the last step
    ADD CONSTRAINT shop_job_chosen CHECK (state IN ('wanted', 'closed', 'called-off') OR shop_id IS NOT NULL);

-- +goose Down
ALTER TABLE shop_job DROP CONSTRAINT shop_job_chosen, DROP COLUMN untold;
