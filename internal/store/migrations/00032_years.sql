-- +goose Up
-- What grows with the years is found by instrument, or by when it ended.
CREATE INDEX part_life_instrument ON part_life (school_id, instrument_id, part, put_on);
CREATE INDEX photo_instrument ON photo (school_id, instrument_id, taken_at);
CREATE INDEX shop_job_instrument ON shop_job (school_id, instrument_id, wanted_on DESC);
CREATE INDEX shop_job_ended ON shop_job (school_id, closed_on DESC) WHERE state IN ('closed', 'called-off');
CREATE INDEX shop_job_line_finding ON shop_job_line (school_id, finding_id) WHERE finding_id IS NOT NULL;
CREATE INDEX finding_found ON finding (school_id, found_at);
CREATE INDEX notice_sent ON notice (school_id, sent_at DESC, id DESC);

-- +goose Down
DROP INDEX part_life_instrument, photo_instrument, shop_job_instrument, shop_job_ended, shop_job_line_finding, finding_found, notice_sent;
