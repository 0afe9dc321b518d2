-- +goose Up
-- What is asked before a school is known is for the application alone, and not for whoever may connect.
-- +goose StatementBegin
DO $$
DECLARE f regprocedure;
BEGIN
    FOR f IN SELECT p.oid::regprocedure FROM pg_proc p WHERE p.pronamespace = 'public'::regnamespace AND p.prosecdef LOOP
        EXECUTE format('REVOKE ALL ON FUNCTION %s FROM PUBLIC', f);
        EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO solfeggio_app', f);
    END LOOP;
END
$$;
-- +goose StatementEnd

-- +goose Down
SELECT 1;
