-- +goose Up
-- A report goes along with what people do: somebody has looked, nothing like it was found, it came back from a shop.
ALTER TABLE report DROP CONSTRAINT report_state_check,
    ADD CONSTRAINT report_state_check CHECK (state IN ('open', 'seen', 'found', 'answered', 'sound', 'mended'));

-- +goose Down
UPDATE report SET state = 'answered', answer = CASE state WHEN 'mended' THEN 'Mended.' ELSE 'Seen.' END WHERE state IN ('seen', 'sound', 'mended');
ALTER TABLE report DROP CONSTRAINT report_state_check,
    ADD CONSTRAINT report_state_check CHECK (state IN ('open', 'found', 'answered'));
