CREATE FUNCTION fresh_chair.take_turn(of_study text, of_sitting text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    -- A row is locked, and no number that strangers could lock as well.
    PERFORM fresh_chair.require_right(of_study, 'logs');
    PERFORM FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting FOR NO KEY UPDATE;
END $$;

CREATE FUNCTION fresh_chair.require_holder(of_study text, of_sitting text, of_station text, of_turn bigint) RETURNS void
LANGUAGE plpgsql PINNED AS $$
DECLARE
    newest record;
BEGIN
    IF of_station IS NOT NULL THEN PERFORM fresh_chair.require_station(of_station); END IF;
    -- Whoever adds beside the moderator holds nothing, and has no turn.
    IF of_turn IS NULL THEN RETURN; END IF;
    SELECT turn, station INTO newest FROM fresh_chair.holder
    WHERE study = of_study AND sitting = of_sitting ORDER BY turn DESC LIMIT 1;
    -- A station that could not ask has no turn yet.
    IF newest.turn > of_turn AND (of_turn > 0 OR newest.station IS DISTINCT FROM of_station) THEN
        RAISE EXCEPTION 'That sitting is moderated at % now.', newest.station USING ERRCODE = 'FC002';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.append_to_sitting(
    of_study text, of_sitting text, entries json, brought boolean, of_station text, of_turn bigint
) RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    one record;
    last bigint;
    before bytea;
    newest record;
    own_salt bytea;
    own_digest bytea;
    at timestamptz := clock_timestamp();
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    brought := brought AND fresh_chair.may_bring(of_study);
    PERFORM FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting FOR NO KEY UPDATE;
    PERFORM fresh_chair.require_holder(of_study, of_sitting, of_station, of_turn);
    SELECT number, digest INTO last, before FROM fresh_chair.entry
    WHERE study = of_study AND sitting = of_sitting ORDER BY number DESC LIMIT 1;
    last := COALESCE(last, 0);
    FOR one IN SELECT * FROM json_to_recordset(entries) AS listed (
        number bigint, id text, kind text, version bigint, ticks_ns bigint, boot text, wall_ns bigint, author text,
        body text
    ) LOOP
        -- Sent twice, it stands once.
        CONTINUE WHEN EXISTS (
            SELECT FROM fresh_chair.entry AS there WHERE there.study = of_study AND there.sitting = of_sitting
            AND there.id = one.id AND there.number = one.number AND there.body = one.body
        );
        PERFORM fresh_chair.require_next(one.number, last, brought);
        PERFORM fresh_chair.require_content(one.kind, one.version, one.body, brought);
        PERFORM fresh_chair.require_moment(one.ticks_ns, one.boot, one.wall_ns, brought);
        IF NOT brought AND (one.id IS NULL OR length(one.id) NOT BETWEEN 1 AND 200) THEN
            RAISE EXCEPTION 'That entry has no name, or too long a one.' USING ERRCODE = 'FC001';
        END IF;
        IF NOT brought THEN
            PERFORM fresh_chair.require_author(of_study, one.author);
            SELECT ticks_ns, wall_ns INTO newest FROM fresh_chair.entry AS there
            WHERE there.study = of_study AND there.sitting = of_sitting AND there.boot = one.boot
            ORDER BY there.number DESC LIMIT 1;
            IF FOUND AND one.ticks_ns > newest.ticks_ns + GREATEST(one.wall_ns - newest.wall_ns, 0) + 86400000000000
            THEN
                RAISE EXCEPTION 'The time of that entry lies more than a day beyond its sitting''s.'
                    USING ERRCODE = 'FC001';
            END IF;
        END IF;
        IF one.number <> last + 1 THEN
            -- Behind a gap, or before rows that stand aside: the chain goes on from the entry before it.
            SELECT digest INTO before FROM fresh_chair.entry AS there WHERE there.study = of_study
            AND there.sitting = of_sitting AND there.number < one.number ORDER BY there.number DESC LIMIT 1;
        END IF;
        own_salt := uuid_send(gen_random_uuid());
        own_digest := fresh_chair.chained(
            before, own_salt, one.number::text, one.id, one.kind, one.version::text, one.ticks_ns::text, one.boot,
            one.wall_ns::text, one.author, one.body, session_user::text, fresh_chair.microseconds(at),
            COALESCE(of_station, '')
        );
        INSERT INTO fresh_chair.entry (
            study, sitting, number, id, kind, version, ticks_ns, boot, wall_ns, author, body, login, kept_at, station,
            salt, digest
        ) VALUES (
            of_study, of_sitting, one.number, one.id, one.kind, one.version, one.ticks_ns, one.boot, one.wall_ns,
            one.author, one.body, session_user, at, of_station, own_salt, own_digest
        );
        IF one.number = 1 THEN
            -- The newest state that the chair was in when the sitting began.
            UPDATE fresh_chair.seat SET state = (
                SELECT max(held.number) FROM fresh_chair.chair_state AS held
                WHERE held.study = seat.study AND held.chair = seat.chair
                AND (held.since_wall_ns IS NULL OR held.since_wall_ns <= one.wall_ns)
            ) WHERE study = of_study AND id = of_sitting AND state IS NULL;
        END IF;
        last := GREATEST(last, one.number);
        before := own_digest;
    END LOOP;
END $$;

CREATE FUNCTION fresh_chair.beat(of_study text, of_sitting text, ticks bigint, of_boot text, wall bigint) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    PERFORM fresh_chair.require_moment(ticks, of_boot, wall, fresh_chair.may_bring(of_study));
    INSERT INTO fresh_chair.pulse (study, sitting, ticks_ns, boot, wall_ns)
    VALUES (of_study, of_sitting, ticks, of_boot, wall)
    ON CONFLICT (study, sitting) DO UPDATE
    SET ticks_ns = excluded.ticks_ns, boot = excluded.boot, wall_ns = excluded.wall_ns;
END $$
