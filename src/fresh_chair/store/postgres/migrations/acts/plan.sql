CREATE FUNCTION fresh_chair.plan_columns(of_table text, of_row json) RETURNS text[] LANGUAGE plpgsql STABLE PINNED AS $$
DECLARE
    found_columns text[];
BEGIN
    IF of_table NOT IN ('machine', 'chair', 'card', 'person', 'carried', 'chair_state', 'seat', 'study')
        OR json_typeof(of_row) IS DISTINCT FROM 'object'
    THEN
        RAISE EXCEPTION 'That is no part of a plan.' USING ERRCODE = 'FC001';
    END IF;
    SELECT array_agg(name ORDER BY name) INTO found_columns FROM json_object_keys(of_row) AS name;
    IF EXISTS (
        SELECT FROM unnest(found_columns) AS name WHERE name IN ('study', 'rowid', 'crew', 'name', 'channel')
        OR NOT EXISTS (
            SELECT FROM pg_catalog.pg_attribute WHERE attnum > 0 AND NOT attisdropped AND attname = name
            AND attrelid = ('fresh_chair.' || quote_ident(of_table))::regclass
        )
    ) THEN
        RAISE EXCEPTION 'That is no part of a plan.' USING ERRCODE = 'FC001';
    END IF;
    RETURN COALESCE(found_columns, '{}');
END $$;

CREATE FUNCTION fresh_chair.in_words(names text[], before_name text, between_names text)
RETURNS text LANGUAGE sql IMMUTABLE PINNED AS $$
    SELECT string_agg(format('%s%I', before_name, name), between_names ORDER BY name) FROM unnest(names) AS name
$$;

CREATE FUNCTION fresh_chair.make_study(of_study text, of_row json) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    names text[] := fresh_chair.plan_columns('study', of_row);
BEGIN
    IF NOT pg_has_role(session_user, current_setting('fresh_chair.crew') || '_plans', 'USAGE') THEN
        RAISE EXCEPTION 'permission denied for this crew' USING ERRCODE = 'insufficient_privilege';
    END IF;
    EXECUTE format(
        'INSERT INTO fresh_chair.study (id, %s) SELECT $1, %s '
        'FROM json_populate_record(NULL::fresh_chair.study, $2) AS given',
        fresh_chair.in_words(array_remove(names, 'id'), '', ', '),
        fresh_chair.in_words(array_remove(names, 'id'), 'given.', ', ')
    ) USING of_study, of_row;
END $$;

CREATE FUNCTION fresh_chair.put_plan(of_study text, of_table text, listed json, key_names text[]) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    names text[] := fresh_chair.plan_columns(of_table, listed -> 0);
    changed text[];
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'plans');
    IF of_table = 'study' OR octet_length(listed::text) > 40000000 THEN
        RAISE EXCEPTION 'That is no part of a plan.' USING ERRCODE = 'FC001';
    END IF;
    SELECT array_agg(name) INTO changed FROM unnest(names) AS name WHERE name <> ALL (key_names);
    EXECUTE format(
        'INSERT INTO fresh_chair.%1$I (study, %2$s) SELECT $1, %3$s '
        'FROM json_populate_recordset(NULL::fresh_chair.%1$I, $2) AS given %4$s',
        of_table, fresh_chair.in_words(names, '', ', '),
        fresh_chair.in_words(names, 'given.', ', '),
        CASE WHEN cardinality(key_names) = 0 THEN '' ELSE format(
            'ON CONFLICT (study, %s) DO UPDATE SET (%s) = ROW (%s)',
            fresh_chair.in_words(key_names, '', ', '), fresh_chair.in_words(changed, '', ', '),
            fresh_chair.in_words(changed, 'excluded.', ', ')
        ) END
    ) USING of_study, listed;
END $$;

CREATE FUNCTION fresh_chair.where_in_plan(of_table text, found_by json) RETURNS text LANGUAGE sql STABLE PINNED AS $$
    SELECT COALESCE(string_agg(format('kept.%1$I = sought.%1$I', name), ' AND '), 'false')
    FROM unnest(fresh_chair.plan_columns(of_table, found_by)) AS name
$$;

CREATE FUNCTION fresh_chair.change_plan(of_study text, of_table text, new_row json, found_by json) RETURNS bigint
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    names text[] := fresh_chair.plan_columns(of_table, new_row);
    changed bigint;
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'plans');
    IF of_table = 'study' OR octet_length(new_row::text) > 4000000 THEN
        RAISE EXCEPTION 'That is no part of a plan.' USING ERRCODE = 'FC001';
    END IF;
    EXECUTE format(
        'UPDATE fresh_chair.%1$I AS kept SET (%2$s) = ROW (%3$s) '
        'FROM json_populate_record(NULL::fresh_chair.%1$I, $2) AS given, '
        'json_populate_record(NULL::fresh_chair.%1$I, $3) AS sought WHERE kept.study = $1 AND %4$s',
        of_table, fresh_chair.in_words(names, '', ', '),
        fresh_chair.in_words(names, 'given.', ', '), fresh_chair.where_in_plan(of_table, found_by)
    ) USING of_study, new_row, found_by;
    GET DIAGNOSTICS changed = ROW_COUNT;
    RETURN changed;
END $$;

CREATE FUNCTION fresh_chair.drop_plan(of_study text, of_table text, found_by json) RETURNS bigint
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    dropped bigint;
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'plans');
    IF of_table = 'study' THEN
        RAISE EXCEPTION 'That is no part of a plan.' USING ERRCODE = 'FC001';
    END IF;
    EXECUTE format(
        'DELETE FROM fresh_chair.%1$I AS kept USING json_populate_record(NULL::fresh_chair.%1$I, $2) AS sought '
        'WHERE kept.study = $1 AND %2$s', of_table, fresh_chair.where_in_plan(of_table, found_by)
    ) USING of_study, found_by;
    GET DIAGNOSTICS dropped = ROW_COUNT;
    RETURN dropped;
END $$;

CREATE FUNCTION fresh_chair.change_head(of_study text, new_row json, at_revision bigint) RETURNS boolean
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
DECLARE
    names text[] := fresh_chair.plan_columns('study', new_row);
BEGIN
    PERFORM fresh_chair.require_right(of_study, 'plans');
    IF names && ARRAY['id', 'revision', 'made_wall_ns', 'away'] OR octet_length(new_row::text) > 4000000 THEN
        RAISE EXCEPTION 'That is no part of a plan.' USING ERRCODE = 'FC001';
    END IF;
    -- Two that change a plan at once: the second is told, and reads on.
    UPDATE fresh_chair.study SET revision = revision + CASE WHEN at_revision IS NULL THEN 0 ELSE 1 END
    WHERE id = of_study AND (at_revision IS NULL OR revision = at_revision);
    IF NOT FOUND THEN RETURN false; END IF;
    IF cardinality(names) > 0 THEN
        EXECUTE format(
            'UPDATE fresh_chair.study SET (%s) = ROW (%s) '
            'FROM json_populate_record(NULL::fresh_chair.study, $2) AS given WHERE study.id = $1',
            fresh_chair.in_words(names, '', ', '), fresh_chair.in_words(names, 'given.', ', ')
        ) USING of_study, new_row;
    END IF;
    RETURN true;
END $$;

CREATE FUNCTION fresh_chair.send_away(of_study text, to_place text) RETURNS void
LANGUAGE plpgsql SECURITY DEFINER PINNED AS $$
BEGIN
    -- Asked without whether it is here: one that was moved away is called back as well.
    IF NOT fresh_chair.may_bring(of_study) OR length(to_place) > 4000 THEN
        RAISE EXCEPTION 'permission denied for this study' USING ERRCODE = 'insufficient_privilege';
    END IF;
    UPDATE fresh_chair.study SET away = to_place WHERE id = of_study;
END $$
