-- +goose Up
-- What a held instrument waits for: the bench, where it is made ready, or the shop, when the bench has done what it can. The words of
-- the hold are for people only.
ALTER TABLE hold ADD awaits text NOT NULL DEFAULT 'bench' CONSTRAINT hold_awaits CHECK (awaits IN ('bench', 'shop'));
UPDATE hold SET awaits = 'shop' WHERE ended_at IS NULL AND because IN ('Waiting for the shop after mould.', 'Waiting for the shop after smoke.');

-- +goose Down
ALTER TABLE hold DROP awaits;
