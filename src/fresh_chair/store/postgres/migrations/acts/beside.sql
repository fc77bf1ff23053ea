CREATE FUNCTION fresh_chair.keep_baseline(of_study text, of_number bigint, of_body bytea) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    IF of_body IS NULL OR octet_length(of_body) > 40000000 OR of_number IS NULL OR of_number < 1 OR (
        NOT fresh_chair.may_bring(of_study) AND of_number > 1 + (
            SELECT COALESCE(max(number), 0) FROM fresh_chair.baseline_state WHERE study = of_study
        )
    ) THEN
        RAISE EXCEPTION 'That state of a chair cannot be kept.' USING ERRCODE = 'FC001';
    END IF;
    INSERT INTO fresh_chair.baseline_state (study, number, body) VALUES (of_study, of_number, of_body);
END $$;

CREATE FUNCTION fresh_chair.keep_file(of_study text, of_name text, of_body bytea) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    IF of_name IS NULL OR of_name !~ '^[^/\\[:cntrl:]]{1,200}$' OR of_name IN ('.', '..') OR of_body IS NULL THEN
        RAISE EXCEPTION 'A file of that name is not kept.' USING ERRCODE = 'FC001';
    END IF;
    INSERT INTO fresh_chair.attached_file (study, name, body) VALUES (of_study, of_name, of_body)
    ON CONFLICT DO NOTHING;
END $$;

CREATE FUNCTION fresh_chair.note_bench(of_study text, checks json) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    one record;
    last bigint;
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    SELECT COALESCE(max(number), 0) INTO last FROM fresh_chair.fixture_check WHERE study = of_study;
    FOR one IN SELECT * FROM json_to_recordset(checks) AS listed (
        number bigint, wall_ns bigint, name text, presence text, note text
    ) LOOP
        PERFORM fresh_chair.require_next(one.number, last, fresh_chair.may_bring(of_study));
        PERFORM fresh_chair.require_moment(0, '', one.wall_ns, fresh_chair.may_bring(of_study));
        IF octet_length(one.name) + octet_length(one.presence) + octet_length(one.note) > 40000 THEN
            RAISE EXCEPTION 'A look at the bench holds at most 40 kB.' USING ERRCODE = 'FC001';
        END IF;
        INSERT INTO fresh_chair.fixture_check (study, number, wall_ns, name, presence, note, login, kept_at)
        VALUES (
            of_study, one.number, one.wall_ns, one.name, one.presence, one.note, session_user, clock_timestamp()
        );
        last := one.number;
    END LOOP;
END $$;

CREATE FUNCTION fresh_chair.put_hunch(
    of_study text, of_id text, of_card text, of_chair text, of_words text, of_severity bigint, written bigint,
    sealed bigint, of_late boolean
) RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    IF of_id IS NULL OR length(of_id) NOT BETWEEN 1 AND 200 OR length(of_card) > 200 OR length(of_chair) > 200
        OR written NOT BETWEEN 0 AND 9214646400000000000 OR sealed NOT BETWEEN 0 AND 9214646400000000000
    THEN
        RAISE EXCEPTION 'That hunch cannot be kept.' USING ERRCODE = 'FC001';
    END IF;
    INSERT INTO fresh_chair.hunch (
        study, id, card, chair, words, severity, written_wall_ns, sealed_wall_ns, late
    ) VALUES (of_study, of_id, of_card, of_chair, of_words, of_severity, written, sealed, of_late)
    ON CONFLICT (study, id) DO UPDATE SET card = excluded.card, chair = excluded.chair, words = excluded.words,
        severity = excluded.severity, written_wall_ns = excluded.written_wall_ns,
        sealed_wall_ns = excluded.sealed_wall_ns, late = excluded.late;
END $$;

CREATE FUNCTION fresh_chair.drop_hunch(of_study text, of_id text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    DELETE FROM fresh_chair.hunch WHERE study = of_study AND id = of_id;
END $$;

CREATE FUNCTION fresh_chair.seal_hunches(of_study text, of_chair text, wall bigint) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    PERFORM fresh_chair.require_moment(0, '', wall, fresh_chair.may_bring(of_study));
    UPDATE fresh_chair.hunch SET sealed_wall_ns = wall
    WHERE study = of_study AND chair = of_chair AND sealed_wall_ns IS NULL;
END $$;

CREATE FUNCTION fresh_chair.add_changes(of_study text, changes json) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    one record;
    last bigint;
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'plans');
    SELECT COALESCE(max(number), 0) INTO last FROM fresh_chair.change WHERE study = of_study;
    FOR one IN SELECT * FROM json_to_recordset(changes) AS listed (
        number bigint, wall_ns bigint, author text, path text, "before" text, "after" text, sittings bigint
    ) LOOP
        PERFORM fresh_chair.require_next(one.number, last, true);
        INSERT INTO fresh_chair.change (
            study, number, wall_ns, author, path, "before", "after", sittings, login, kept_at
        ) VALUES (
            of_study, one.number, one.wall_ns, one.author, one.path, one."before", one."after", one.sittings,
            session_user, clock_timestamp()
        );
    END LOOP;
END $$;

CREATE FUNCTION fresh_chair.add_script(
    of_study text, of_number bigint, wall bigint, of_author text, of_text text
) RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'plans');
    PERFORM fresh_chair.require_next(of_number, 0, true);
    INSERT INTO fresh_chair.script (study, number, wall_ns, author, text, login, kept_at)
    VALUES (of_study, of_number, wall, of_author, of_text, session_user, clock_timestamp());
END $$;

CREATE FUNCTION fresh_chair.take_turn_to_reserve(of_study text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    -- One station at a time asks and takes.
    PERFORM fresh_chair.require_right(of_study, 'logs');
    PERFORM FROM fresh_chair.study WHERE id = of_study FOR NO KEY UPDATE;
END $$;

CREATE FUNCTION fresh_chair.reserve(of_study text, of_sitting text, of_station text, is_seated boolean) RETURNS bigint
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.take_turn_to_reserve(of_study);
    PERFORM fresh_chair.require_station(of_station);
    INSERT INTO fresh_chair.reservation AS held (study, sitting, station, seated)
    VALUES (of_study, of_sitting, of_station, is_seated)
    ON CONFLICT (study, sitting) DO UPDATE SET seated = excluded.seated WHERE held.station = excluded.station;
    IF NOT FOUND THEN
        RAISE EXCEPTION 'That sitting is held by another station.' USING ERRCODE = 'FC001';
    END IF;
    RETURN CASE WHEN is_seated THEN fresh_chair.take_seat(of_study, of_sitting, of_station) END;
END $$;

CREATE FUNCTION fresh_chair.take_seat(of_study text, of_sitting text, of_station text) RETURNS bigint
LANGUAGE plpgsql PINNED AS $$
DECLARE
    newest record;
BEGIN
    -- Each change of station gives a higher number: marks under a lower one are those of a holder before.
    PERFORM FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting FOR NO KEY UPDATE;
    SELECT turn, station INTO newest FROM fresh_chair.holder
    WHERE study = of_study AND sitting = of_sitting ORDER BY turn DESC LIMIT 1;
    IF newest.station = of_station THEN RETURN newest.turn; END IF;
    INSERT INTO fresh_chair.holder (study, sitting, turn, station, login, since)
    VALUES (of_study, of_sitting, COALESCE(newest.turn, 0) + 1, of_station, session_user, clock_timestamp());
    RETURN COALESCE(newest.turn, 0) + 1;
END $$;

CREATE FUNCTION fresh_chair.seat_beside(of_study text, of_sitting text, beside_id text, of_station text) RETURNS bigint
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    made bigint;
BEGIN
    -- Two stations log the same sitting: that of the second is kept as one of its own. Whoever logs may do that, and
    -- cannot change the plan otherwise.
    PERFORM fresh_chair.require_right(of_study, 'logs');
    IF beside_id IS NULL OR length(beside_id) NOT BETWEEN 1 AND 200 THEN
        RAISE EXCEPTION 'That sitting has no name, or too long a one.' USING ERRCODE = 'FC001';
    END IF;
    UPDATE fresh_chair.study SET revision = revision + 1 WHERE id = of_study;
    SELECT number INTO made FROM fresh_chair.seat WHERE study = of_study AND id = beside_id;
    IF made IS NULL THEN
        INSERT INTO fresh_chair.seat (study, id, number, participant, chair, position, cards, state)
        SELECT study, beside_id, (SELECT max(number) + 1 FROM fresh_chair.seat AS every WHERE every.study = of_study),
            participant, chair, position, cards, state
        FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting RETURNING number INTO made;
        -- None is said where nobody sits in it: marks that are brought from elsewhere.
        IF of_station IS NOT NULL THEN
            PERFORM fresh_chair.require_station(of_station);
            INSERT INTO fresh_chair.reservation (study, sitting, station, seated, beside)
            VALUES (of_study, beside_id, of_station, true, of_sitting);
            PERFORM fresh_chair.take_seat(of_study, beside_id, of_station);
        END IF;
    END IF;
    RETURN made;
END $$;

CREATE FUNCTION fresh_chair.release(of_study text, of_sitting text, of_station text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    -- One that another station holds as well, where none is said: that station may be gone for good.
    PERFORM fresh_chair.require_right(of_study, 'logs');
    DELETE FROM fresh_chair.reservation
    WHERE study = of_study AND sitting = of_sitting AND (of_station IS NULL OR station = of_station);
END $$;

CREATE FUNCTION fresh_chair.announce(
    of_study text, of_name text, of_machine text, of_author text, ahead bigint, took bigint
) RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'reads');
    PERFORM fresh_chair.require_station(of_name), fresh_chair.require_station(of_machine);
    IF length(of_author) > 200 THEN
        RAISE EXCEPTION 'That author has too long a name.' USING ERRCODE = 'FC001';
    END IF;
    -- Those that were not seen for a month are forgotten.
    DELETE FROM fresh_chair.station WHERE study = of_study AND seen < now() - interval '30 days';
    INSERT INTO fresh_chair.station AS held (study, name, machine, login, author, offset_ns, round_trip_ns)
    VALUES (of_study, of_name, of_machine, session_user, of_author, ahead, took)
    ON CONFLICT (study, name) DO UPDATE SET machine = excluded.machine, author = excluded.author,
        offset_ns = excluded.offset_ns, round_trip_ns = excluded.round_trip_ns, seen = now()
    WHERE held.login = session_user;
    IF NOT FOUND THEN
        RAISE EXCEPTION 'Another login has announced a station of that name.' USING ERRCODE = 'FC001';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.be_seen(of_study text, of_name text, gone boolean) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    UPDATE fresh_chair.station SET seen = CASE WHEN gone THEN now() - interval '1 minute' ELSE now() END
    WHERE study = of_study AND name = of_name AND login = session_user;
END $$;

CREATE FUNCTION fresh_chair.mark_commit(of_session text, of_token text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    IF of_session !~ '^[0-9a-f]{16}$' OR of_token !~ '^[0-9a-f]{0,16}$' THEN
        RAISE EXCEPTION 'That is no token.' USING ERRCODE = 'FC001';
    END IF;
    UPDATE fresh_chair.commit_token SET token = of_token, marked = now()
    WHERE session = of_session AND login = session_user;
    IF NOT FOUND THEN
        -- Sessions that were left long ago ask no more.
        DELETE FROM fresh_chair.commit_token WHERE login = session_user AND marked < now() - interval '1 day';
        INSERT INTO fresh_chair.commit_token (session, token, login) VALUES (of_session, of_token, session_user);
    END IF;
END $$;

CREATE FUNCTION fresh_chair.marked_commit(of_session text) RETURNS text
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    found_token text;
BEGIN
    -- It waits for a transaction of that session, where the server has not noticed yet that nobody hears its answer.
    INSERT INTO fresh_chair.commit_token (session, token, login) VALUES (of_session, '', session_user)
    ON CONFLICT (session) DO NOTHING;
    SELECT token INTO found_token FROM fresh_chair.commit_token
    WHERE session = of_session AND login = session_user FOR UPDATE;
    RETURN found_token;
END $$
