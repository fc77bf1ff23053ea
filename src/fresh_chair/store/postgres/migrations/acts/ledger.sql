CREATE FUNCTION fresh_chair.append_to_{ledger}(of_study text, entries json, brought boolean) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    one record;
    last bigint;
    before bytea;
    own_salt bytea;
    own_digest bytea;
    at timestamptz := clock_timestamp();
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'logs');
    brought := brought AND fresh_chair.may_bring(of_study);
    SELECT number, digest INTO last, before FROM fresh_chair.{table}
    WHERE study = of_study ORDER BY number DESC LIMIT 1;
    last := COALESCE(last, 0);
    FOR one IN SELECT * FROM json_to_recordset(entries) AS listed (
        number bigint, {column}kind text, version bigint, ticks_ns bigint, boot text, wall_ns bigint, author text,
        body text
    ) LOOP
        PERFORM fresh_chair.require_next(one.number, last, brought);
        PERFORM fresh_chair.require_content(one.kind, one.version, one.body, brought);
        PERFORM fresh_chair.require_moment(one.ticks_ns, one.boot, one.wall_ns, brought);
        IF NOT brought THEN PERFORM fresh_chair.require_author(of_study, one.author); END IF;
        own_salt := uuid_send(gen_random_uuid());
        own_digest := fresh_chair.chained(
            before, own_salt, one.number::text, {value}, one.kind, one.version::text, one.ticks_ns::text, one.boot,
            one.wall_ns::text, one.author, one.body, session_user::text, fresh_chair.microseconds(at)
        );
        INSERT INTO fresh_chair.{table} (
            study, number, {more}kind, version, ticks_ns, boot, wall_ns, author, body, login, kept_at, salt, digest
        ) VALUES (
            of_study, one.number, {put}one.kind, one.version, one.ticks_ns, one.boot, one.wall_ns, one.author,
            one.body, session_user, at, own_salt, own_digest
        );
        last := GREATEST(last, one.number);
        before := own_digest;
    END LOOP;
END $$
