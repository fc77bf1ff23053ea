CREATE FUNCTION fresh_chair.require_right(of_study text, wanted text) RETURNS void LANGUAGE plpgsql PINNED AS $$
BEGIN
    -- Asked of the login that connected, whatever role it has taken since.
    IF NOT EXISTS (
        SELECT FROM fresh_chair.study WHERE id = of_study AND (away IS NULL OR wanted = 'reads')
        AND pg_has_role(session_user, crew || '_' || wanted, 'USAGE')
    ) THEN
        RAISE EXCEPTION 'permission denied for this study' USING ERRCODE = 'insufficient_privilege';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.may_bring(of_study text) RETURNS boolean LANGUAGE sql STABLE PINNED AS $$
    -- A study that is moved here, or a copy brought back, holds what others wrote elsewhere.
    SELECT EXISTS (
        SELECT FROM fresh_chair.study WHERE id = of_study AND pg_has_role(session_user, crew || '_plans', 'USAGE')
    )
$$;

CREATE FUNCTION fresh_chair.require_author(of_study text, author text) RETURNS void LANGUAGE plpgsql PINNED AS $$
BEGIN
    IF author IS NULL OR length(author) NOT BETWEEN 1 AND 200 THEN
        RAISE EXCEPTION 'Nobody is named as the author of that entry, or by too long a name.' USING ERRCODE = 'FC001';
    END IF;
    -- The name of a login belongs to that login.
    IF author <> session_user AND EXISTS (
        SELECT FROM pg_catalog.pg_roles AS other, fresh_chair.study
        WHERE other.rolname = author AND other.rolcanlogin AND study.id = of_study
        AND pg_has_role(other.oid, study.crew || '_logs', 'USAGE')
    ) THEN
        RAISE EXCEPTION 'The name % is that of another login; entries under it are that login''s.', author
            USING ERRCODE = 'FC001', HINT = 'Connect under that login, or log under another name.';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.require_station(of_station text) RETURNS void LANGUAGE plpgsql PINNED AS $$
BEGIN
    IF of_station IS NULL OR length(of_station) NOT BETWEEN 1 AND 100 THEN
        RAISE EXCEPTION 'That station has no name, or too long a one.' USING ERRCODE = 'FC001';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.require_moment(ticks_ns bigint, boot text, wall_ns bigint, brought boolean) RETURNS void
LANGUAGE plpgsql PINNED AS $$
BEGIN
    -- Entries that are brought stand as they were, readable or not.
    IF brought THEN RETURN; END IF;
    IF ticks_ns IS NULL OR boot IS NULL OR wall_ns IS NULL OR length(boot) > 200
        OR ticks_ns < 0 OR wall_ns < 0 OR wall_ns >= 9214646400000000000
    THEN
        RAISE EXCEPTION 'The time of that entry is none that an entry can have.' USING ERRCODE = 'FC001';
    END IF;
    -- No machine has been running for ten years.
    IF wall_ns > (extract(epoch FROM clock_timestamp() + interval '1 day') * 1000000000)::bigint
        OR ticks_ns > 315576000000000000
    THEN
        RAISE EXCEPTION 'The clock of this machine is more than a day ahead of the server''s.'
            USING ERRCODE = 'FC001', HINT = 'Set one of both; what was logged here is kept and brought then.';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.require_content(kind text, version bigint, body text, brought boolean) RETURNS void
LANGUAGE plpgsql PINNED AS $$
BEGIN
    IF brought THEN RETURN; END IF;
    IF kind IS NULL OR kind !~ '^[a-z][a-z_]{0,59}$' OR version IS NULL OR version NOT BETWEEN 1 AND 1000000 THEN
        RAISE EXCEPTION 'That is no kind of entry.' USING ERRCODE = 'FC001';
    END IF;
    IF body IS NULL OR octet_length(body) > 4000000 THEN
        RAISE EXCEPTION 'An entry holds at most 4 MB.' USING ERRCODE = 'FC001';
    END IF;
    BEGIN
        IF json_typeof(body::json) = 'object' AND body::json ->> 'kind' = kind THEN RETURN; END IF;
    EXCEPTION WHEN data_exception THEN
        NULL;
    END;
    RAISE EXCEPTION 'The content of that entry is not of its kind.' USING ERRCODE = 'FC001';
END $$;

CREATE FUNCTION fresh_chair.require_next(number bigint, last bigint, brought boolean) RETURNS void
LANGUAGE plpgsql PINNED AS $$
BEGIN
    -- One that is there already is refused by its key: whoever writes is told that it was overtaken.
    IF number IS NULL OR number < 1 OR number > 2000000 OR (NOT brought AND number > last + 1) THEN
        RAISE EXCEPTION 'Entry % cannot follow entry %.', number, last
            USING ERRCODE = 'FC001', HINT = 'Entries are numbered one by one. Open the study again.';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.chained(before bytea, salt bytea, VARIADIC parts text[]) RETURNS bytea
LANGUAGE sql IMMUTABLE PINNED AS $$
    -- Each digest holds the one before it: whoever changes an entry changes all that follow, or is found out.
    SELECT sha256(COALESCE(before, ''::bytea) || salt || convert_to(array_to_json(parts)::text, 'UTF8'))
$$;

CREATE FUNCTION fresh_chair.microseconds(moment timestamptz) RETURNS text LANGUAGE sql IMMUTABLE PINNED AS $$
    SELECT (extract(epoch FROM moment) * 1000000)::bigint::text
$$;

CREATE OR REPLACE FUNCTION fresh_chair.only_appended() RETURNS trigger LANGUAGE plpgsql PINNED AS $$
BEGIN
    -- The functions that erase a person, and they alone, are run by that role, which may change nothing but bodies.
    IF current_user = 'fresh_chair_acts' AND TG_OP IN ('UPDATE', 'DELETE')
        AND TG_TABLE_NAME IN ('entry', 'sort_entry', 'chair_entry', 'evidence_entry', 'baseline_state')
    THEN
        IF TG_OP = 'DELETE' AND TG_TABLE_NAME = 'entry' THEN RETURN OLD; END IF;
        IF TG_OP = 'UPDATE' AND to_jsonb(NEW) - 'body' - 'salt' = to_jsonb(OLD) - 'body' - 'salt' THEN
            RETURN NEW;
        END IF;
    END IF;
    RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
END $$
