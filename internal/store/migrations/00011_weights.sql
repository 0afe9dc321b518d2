-- +goose Up
-- What counts how much when the time box chooses, by what happens if a task is left undone.
ALTER TABLE school
    ADD weigh_convenience double precision NOT NULL DEFAULT 1 CHECK (weigh_convenience BETWEEN 0 AND 100),
    ADD weigh_sound double precision NOT NULL DEFAULT 3 CHECK (weigh_sound BETWEEN 0 AND 100),
    ADD weigh_playing double precision NOT NULL DEFAULT 6 CHECK (weigh_playing BETWEEN 0 AND 100),
    ADD weigh_harm double precision NOT NULL DEFAULT 12 CHECK (weigh_harm BETWEEN 0 AND 100),
    ADD weigh_health double precision NOT NULL DEFAULT 20 CHECK (weigh_health BETWEEN 0 AND 100);

-- +goose Down
ALTER TABLE school DROP weigh_convenience, DROP weigh_sound, DROP weigh_playing, DROP weigh_harm, DROP weigh_health;
