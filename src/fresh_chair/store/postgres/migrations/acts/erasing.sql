CREATE FUNCTION fresh_chair.record_erasure(
    of_study text, of_participant text, wall bigint, of_author text, kept boolean
) RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'owns');
    -- Somebody of this study; or the place of words about somebody, and when they were put otherwise.
    IF of_participant !~ '^(finding|evidence|sitting):[0-9/]{1,20} [0-9]{1,20}$' AND NOT EXISTS (
        SELECT FROM fresh_chair.person WHERE study = of_study AND code = of_participant
    ) THEN
        RAISE EXCEPTION 'Nobody is called so in this study.' USING ERRCODE = 'FC001';
    END IF;
    INSERT INTO fresh_chair.erasure (study, participant, wall_ns, author, figures_kept, login, kept_at)
    VALUES (of_study, of_participant, wall, of_author, kept, session_user, clock_timestamp());
END $$;

CREATE FUNCTION fresh_chair.require_erasure(of_study text, of_participant text) RETURNS void
LANGUAGE plpgsql PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'owns');
    IF NOT EXISTS (
        SELECT FROM fresh_chair.erasure WHERE study = of_study AND participant = of_participant
    ) THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
END $$;

CREATE FUNCTION fresh_chair.rewrite(
    of_study text, of_participant text, of_ledger text, of_sitting text, of_number bigint, new_body text
) RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    of_kind text;
    of_version bigint;
    places bigint;
    of_person boolean := EXISTS (SELECT FROM fresh_chair.person WHERE study = of_study AND code = of_participant);
BEGIN
    -- The one place where an entry is changed: for an erasure on record, and what was changed is on record as well.
    PERFORM fresh_chair.require_erasure(of_study, of_participant);
    IF of_ledger NOT IN ('entry', 'sort_entry', 'chair_entry', 'evidence_entry') OR (
        -- Of sittings, those of the person alone.
        of_person AND of_ledger = 'entry' AND NOT EXISTS (
            SELECT FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting AND participant = of_participant
        )
    ) OR (
        -- Other words stand in the entry alone that the record names.
        NOT of_person AND split_part(of_participant, ' ', 1) IS DISTINCT FROM CASE of_ledger
            WHEN 'sort_entry' THEN 'finding:' || of_number
            WHEN 'evidence_entry' THEN 'evidence:' || of_number
            WHEN 'entry' THEN 'sitting:' || (
                SELECT number FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting
            ) || '/' || of_number
        END
    ) THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    EXECUTE format(
        'SELECT kind, version FROM fresh_chair.%I WHERE study = $1 AND number = $2 %s', of_ledger,
        CASE of_ledger WHEN 'entry' THEN 'AND sitting = $3' ELSE 'AND $3 IS NOT DISTINCT FROM $3' END
    ) INTO of_kind, of_version USING of_study, of_number, of_sitting;
    PERFORM fresh_chair.require_content(of_kind, of_version, new_body, false);
    EXECUTE format(
        'UPDATE fresh_chair.%I SET body = $4, salt = NULL WHERE study = $1 AND number = $2 %s', of_ledger,
        CASE of_ledger WHEN 'entry' THEN 'AND sitting = $3' ELSE 'AND $3 IS NOT DISTINCT FROM $3' END
    ) USING of_study, of_number, of_sitting, new_body;
    GET DIAGNOSTICS places = ROW_COUNT;
    IF places = 1 THEN
        INSERT INTO fresh_chair.rewritten (study, participant, ledger, sitting, number, seat, login, kept_at)
        VALUES (
            of_study, of_participant, of_ledger, CASE of_ledger WHEN 'entry' THEN of_sitting ELSE '' END, of_number,
            (SELECT number FROM fresh_chair.seat WHERE study = of_study AND id = of_sitting), session_user,
            clock_timestamp()
        ) ON CONFLICT DO NOTHING;
    END IF;
END $$;

CREATE FUNCTION fresh_chair.rewrite_baseline(of_study text, of_participant text, of_number bigint, new_body bytea)
RETURNS void LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_erasure(of_study, of_participant);
    -- It only ever loses names.
    UPDATE fresh_chair.baseline_state SET body = new_body
    WHERE study = of_study AND number = of_number AND octet_length(new_body) <= octet_length(body) + 64;
    IF FOUND THEN
        INSERT INTO fresh_chair.rewritten (study, participant, ledger, sitting, number, login, kept_at)
        VALUES (of_study, of_participant, 'baseline_state', '', of_number, session_user, clock_timestamp())
        ON CONFLICT DO NOTHING;
    END IF;
END $$;

CREATE FUNCTION fresh_chair.drop_sittings_of(of_study text, of_participant text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_erasure(of_study, of_participant);
    IF (SELECT figures_kept FROM fresh_chair.erasure WHERE study = of_study AND participant = of_participant) THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    DELETE FROM fresh_chair.pulse USING fresh_chair.seat
    WHERE pulse.study = of_study AND seat.study = of_study AND seat.id = pulse.sitting
    AND seat.participant = of_participant;
    -- The seat goes as well: its number is what an earlier export knows it by.
    INSERT INTO fresh_chair.rewritten (study, participant, ledger, sitting, number, seat, login, kept_at)
    SELECT of_study, of_participant, 'entry', entry.sitting, entry.number, seat.number, session_user, clock_timestamp()
    FROM fresh_chair.entry JOIN fresh_chair.seat ON seat.study = entry.study AND seat.id = entry.sitting
    WHERE entry.study = of_study AND seat.participant = of_participant
    ON CONFLICT DO NOTHING;
    DELETE FROM fresh_chair.entry USING fresh_chair.seat
    WHERE entry.study = of_study AND seat.study = of_study AND seat.id = entry.sitting
    AND seat.participant = of_participant;
END $$;

CREATE FUNCTION fresh_chair.drop_file(of_study text, of_name text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'owns');
    DELETE FROM fresh_chair.attached_file WHERE study = of_study AND name = of_name
    AND EXISTS (SELECT FROM fresh_chair.erasure WHERE erasure.study = of_study);
END $$
