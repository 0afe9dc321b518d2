-- +goose Up
-- A school, its people, and the walls between schools.
--
-- Every table carries school_id, first in its keys and indexes, and row-level security lets a transaction see the rows
-- of one school only: the one named in the setting solfeggio.school_id. The web process works as solfeggio_app, which
-- owns nothing, so the policies bind it. Three tables are read before a school is known and stand outside: sessions,
-- sign_in_attempt and goose's own.
CREATE EXTENSION IF NOT EXISTS btree_gist;
CREATE EXTENSION IF NOT EXISTS citext;

-- +goose StatementBegin
DO $$
BEGIN
    IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'solfeggio_app') THEN
        CREATE ROLE solfeggio_app NOLOGIN;
    END IF;
    IF NOT pg_has_role(current_user, 'solfeggio_app', 'MEMBER') THEN -- an owner that may make no roles was given it before
        EXECUTE format('GRANT solfeggio_app TO %I', current_user);
    END IF;
EXCEPTION WHEN duplicate_object OR unique_violation THEN
    NULL; -- another database of the same cluster was quicker
END
$$;
-- +goose StatementEnd

CREATE FUNCTION current_school() RETURNS uuid
    LANGUAGE sql STABLE
    RETURN nullif(current_setting('solfeggio.school_id', true), '')::uuid;

CREATE TABLE school (
    school_id   uuid PRIMARY KEY,
    name        text NOT NULL CHECK (name <> ''),
    time_zone   text NOT NULL,
    locale      text NOT NULL,
    currency    text NOT NULL CHECK (currency ~ '^[A-Z]{3}$'),
    profile     text NOT NULL DEFAULT 'standard',
    player_care text NOT NULL DEFAULT 'trusted' CHECK (player_care IN ('trusted', 'tracked')),
    opens_at    double precision NOT NULL DEFAULT 0.75 CHECK (opens_at BETWEEN 0 AND 1),
    late_at     double precision NOT NULL DEFAULT 1.25 CHECK (late_at >= 1),
    version     integer NOT NULL DEFAULT 1,
    revision    bigint NOT NULL DEFAULT 1, -- counts the writes of the school, so that what was read can be known to be current
    created_at  timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE person (
    school_id     uuid NOT NULL REFERENCES school,
    id            uuid NOT NULL,
    email         citext NOT NULL CHECK (email LIKE '%_@_%'),
    name          text NOT NULL CHECK (name <> ''),
    role          text NOT NULL CHECK (role IN ('director', 'assistant', 'helper', 'viewer')),
    password_hash text NOT NULL,
    active        boolean NOT NULL DEFAULT true,
    version       integer NOT NULL DEFAULT 1,
    PRIMARY KEY (school_id, id)
);
-- Sign-in asks by e-mail before the school is known: the one index that does not begin with school_id.
CREATE UNIQUE INDEX person_email ON person (email);

-- +goose StatementBegin
CREATE FUNCTION sign_in_candidate(wanted citext)
    RETURNS TABLE (school_id uuid, id uuid, name text, role text, password_hash text)
    LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public
AS $$
    SELECT p.school_id, p.id, p.name, p.role, p.password_hash FROM person p WHERE p.email = wanted AND p.active
$$;
-- +goose StatementEnd

CREATE TABLE sign_in_attempt (
    email  citext NOT NULL,
    origin text NOT NULL,
    at     timestamptz NOT NULL
);
CREATE INDEX sign_in_attempt_email ON sign_in_attempt (email, at);
CREATE INDEX sign_in_attempt_origin ON sign_in_attempt (origin, at);

CREATE TABLE sessions (
    token  text PRIMARY KEY,
    data   bytea NOT NULL,
    expiry timestamptz NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);

ALTER TABLE school ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON school USING (school_id = (SELECT current_school()));
ALTER TABLE person ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON person USING (school_id = (SELECT current_school()));

GRANT USAGE ON SCHEMA public TO solfeggio_app;
GRANT SELECT, INSERT, UPDATE, DELETE ON school, person, sign_in_attempt, sessions TO solfeggio_app;

-- +goose Down
DROP TABLE sessions, sign_in_attempt, person, school;
DROP FUNCTION sign_in_candidate, current_school;
