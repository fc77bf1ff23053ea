"""The tables of studies, append-only by trigger; each study's rows are seen by the roles of its crew alone."""

from alembic import op

revision = "p0001"
down_revision = None
branch_labels = None
depends_on = None

_OF_STUDY = "study text NOT NULL REFERENCES study (id)"
_MOMENT = "ticks_ns bigint NOT NULL, boot text NOT NULL, wall_ns bigint NOT NULL"
_LEDGER = f"kind text NOT NULL, version bigint NOT NULL, {_MOMENT}, author text NOT NULL, body text NOT NULL"
_DOCUMENT = "position bigint NOT NULL, version bigint NOT NULL, body text NOT NULL"
# The columns of the tables are those of a study file, so that one SQL serves both.
_TABLES = {
    "machine": f"{_OF_STUDY}, id text NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id)",
    "chair": (
        f"{_OF_STUDY}, rowid bigint GENERATED ALWAYS AS IDENTITY, id text NOT NULL, letter text NOT NULL, "
        f"gone boolean NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id)"
    ),
    "card": f"{_OF_STUDY}, id text NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id)",
    "person": f"{_OF_STUDY}, code text NOT NULL, role text NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, code)",
    "carried": f"{_OF_STUDY}, id text NOT NULL, {_DOCUMENT}, PRIMARY KEY (study, id)",
    "chair_state": (
        f"{_OF_STUDY}, chair text NOT NULL, number bigint NOT NULL, since_wall_ns bigint, version bigint NOT NULL, "
        "body text NOT NULL, PRIMARY KEY (study, chair, number), "
        "FOREIGN KEY (study, chair) REFERENCES chair (study, id)"
    ),
    "seat": (
        f"{_OF_STUDY}, id text NOT NULL, number bigint NOT NULL, participant text NOT NULL, chair text NOT NULL, "
        "position bigint NOT NULL, cards text NOT NULL, state bigint, PRIMARY KEY (study, id), UNIQUE (study, number), "
        "FOREIGN KEY (study, participant) REFERENCES person (study, code), "
        "FOREIGN KEY (study, chair) REFERENCES chair (study, id), "
        "FOREIGN KEY (study, chair, state) REFERENCES chair_state (study, chair, number)"
    ),
    "entry": (
        f"{_OF_STUDY}, sitting text NOT NULL, number bigint NOT NULL, id text NOT NULL, {_LEDGER}, "
        "PRIMARY KEY (study, sitting, number), UNIQUE (study, id), "
        "FOREIGN KEY (study, sitting) REFERENCES seat (study, id)"
    ),
    "sort_entry": f"{_OF_STUDY}, number bigint NOT NULL, {_LEDGER}, PRIMARY KEY (study, number)",
    "chair_entry": f"{_OF_STUDY}, number bigint NOT NULL, chair text NOT NULL, {_LEDGER}, PRIMARY KEY (study, number)",
    "evidence_entry": f"{_OF_STUDY}, number bigint NOT NULL, {_LEDGER}, PRIMARY KEY (study, number)",
    "baseline_state": f"{_OF_STUDY}, number bigint NOT NULL, body bytea NOT NULL, PRIMARY KEY (study, number)",
    "pulse": (
        f"{_OF_STUDY}, sitting text NOT NULL, {_MOMENT}, PRIMARY KEY (study, sitting), "
        "FOREIGN KEY (study, sitting) REFERENCES seat (study, id)"
    ),
    "script": (
        f"{_OF_STUDY}, number bigint NOT NULL, wall_ns bigint NOT NULL, author text NOT NULL, text text NOT NULL, "
        "PRIMARY KEY (study, number)"
    ),
    "change": (
        f"{_OF_STUDY}, number bigint NOT NULL, wall_ns bigint NOT NULL, author text NOT NULL, path text NOT NULL, "
        '"before" text NOT NULL, "after" text NOT NULL, sittings bigint NOT NULL, PRIMARY KEY (study, number)'
    ),
    "hunch": (
        f"{_OF_STUDY}, id text NOT NULL, card text NOT NULL, chair text NOT NULL, words text NOT NULL, "
        "severity bigint NOT NULL, written_wall_ns bigint NOT NULL, sealed_wall_ns bigint, late boolean NOT NULL, "
        "PRIMARY KEY (study, id)"
    ),
    "fixture_check": (
        f"{_OF_STUDY}, number bigint NOT NULL, wall_ns bigint NOT NULL, name text NOT NULL, presence text NOT NULL, "
        "note text NOT NULL, PRIMARY KEY (study, number)"
    ),
    "erasure": (
        f"{_OF_STUDY}, participant text NOT NULL, wall_ns bigint NOT NULL, author text NOT NULL, "
        "figures_kept boolean NOT NULL, PRIMARY KEY (study, participant)"
    ),
    "attached_file": (f"{_OF_STUDY}, name text NOT NULL, body bytea NOT NULL, PRIMARY KEY (study, name)"),
    "station": (
        f"{_OF_STUDY}, name text NOT NULL, machine text NOT NULL, "
        "login text NOT NULL DEFAULT session_user, author text NOT NULL, "
        "offset_ns bigint NOT NULL, round_trip_ns bigint NOT NULL, joined timestamptz NOT NULL DEFAULT now(), "
        "seen timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (study, name)"
    ),
    "reservation": (
        f"{_OF_STUDY}, sitting text NOT NULL, station text NOT NULL, seated boolean NOT NULL, "
        "since timestamptz NOT NULL DEFAULT now(), PRIMARY KEY (study, sitting), "
        "FOREIGN KEY (study, sitting) REFERENCES seat (study, id) ON DELETE CASCADE"
    ),
}
_APPENDED = (
    "sort_entry", "chair_entry", "baseline_state", "evidence_entry", "script", "change", "fixture_check", "erasure",
)  # fmt: skip
_LEDGERS = ("entry", "sort_entry", "chair_entry", "evidence_entry")

_FUNCTIONS = """
CREATE FUNCTION crews(wanted text) RETURNS text[] LANGUAGE sql STABLE SET search_path = fresh_chair AS $$
    SELECT COALESCE(array_agg(crew.name), '{}') FROM crew WHERE pg_has_role(crew.name || '_' || wanted, 'USAGE')
$$;
CREATE FUNCTION studies_for(wanted text) RETURNS text[] LANGUAGE sql STABLE SET search_path = fresh_chair AS $$
    -- Nothing is added to a study that was moved away, until it is moved back.
    SELECT COALESCE(array_agg(id), '{}') FROM study
    WHERE crew = ANY (crews(CASE wanted WHEN 'people' THEN 'logs' ELSE wanted END))
    AND (away IS NULL OR wanted IN ('reads', 'people'))
$$;
CREATE FUNCTION only_appended() RETURNS trigger LANGUAGE plpgsql SET search_path = fresh_chair AS $$
BEGIN
    -- Words of a person go within the very transaction that puts their erasure on record, and nothing else changes.
    IF TG_OP = 'UPDATE' AND TG_TABLE_NAME IN ('entry', 'sort_entry', 'chair_entry', 'evidence_entry', 'baseline_state')
        AND to_jsonb(NEW) - 'body' = to_jsonb(OLD) - 'body' AND erasing(OLD.study)
    THEN RETURN NEW; END IF;
    IF TG_OP = 'DELETE' AND TG_TABLE_NAME = 'entry' AND erasing(OLD.study) THEN RETURN OLD; END IF;
    RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
END $$;
CREATE FUNCTION erasing(of_study text) RETURNS boolean LANGUAGE sql STABLE SET search_path = fresh_chair AS $$
    SELECT EXISTS (
        SELECT FROM erasure WHERE erasure.study = of_study
        AND erasure.xmin = pg_current_xact_id()::xid
    )
$$;
CREATE FUNCTION keep_state() RETURNS trigger LANGUAGE plpgsql SET search_path = fresh_chair AS $$
BEGIN
    IF EXISTS (SELECT FROM seat WHERE study = OLD.study AND chair = OLD.chair AND state = OLD.number) THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
    RETURN NEW;
END $$;
CREATE FUNCTION keep_held() RETURNS trigger LANGUAGE plpgsql SET search_path = fresh_chair AS $$
BEGIN
    IF OLD.state IS NOT NULL AND NEW.state IS DISTINCT FROM OLD.state THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    RETURN NEW;
END $$;
CREATE FUNCTION keep_hunch() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = fresh_chair AS $$
DECLARE
    begun boolean := EXISTS (
        SELECT FROM entry JOIN seat ON seat.study = entry.study AND seat.id = entry.sitting
        JOIN person ON person.study = seat.study AND person.code = seat.participant
        WHERE seat.study = OLD.study AND seat.chair = OLD.chair AND person.role NOT IN ('expert', 'reviewer')
    );
BEGIN
    IF OLD.sealed_wall_ns IS NOT NULL OR (begun AND (
        TG_OP = 'DELETE' OR NEW.sealed_wall_ns IS NULL
        OR to_jsonb(NEW) - 'sealed_wall_ns' <> to_jsonb(OLD) - 'sealed_wall_ns'
    )) THEN
        RAISE EXCEPTION 'hunches are sealed' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
    RETURN NEW;
END $$;
CREATE FUNCTION tell_stations() RETURNS trigger LANGUAGE plpgsql SET search_path = fresh_chair AS $$
BEGIN
    -- Once for a statement, however many entries it adds.
    PERFORM pg_notify('fresh_chair', study) FROM (SELECT DISTINCT study FROM fresh) AS told;
    RETURN NULL;
END $$;
CREATE FUNCTION tell_of_plan() RETURNS trigger LANGUAGE plpgsql SET search_path = fresh_chair AS $$
BEGIN
    PERFORM pg_notify('fresh_chair', NEW.id);
    RETURN NULL;
END $$;
CREATE FUNCTION seat_beside(of_study text, sitting_id text, beside_id text) RETURNS bigint LANGUAGE plpgsql
SECURITY DEFINER SET search_path = fresh_chair AS $$
-- Two stations that could not ask have begun the same sitting: the second is kept as a sitting of its own. Whoever logs
-- may do that, and cannot change the plan otherwise.
DECLARE made bigint;
BEGIN
    IF NOT EXISTS (
        SELECT FROM study WHERE id = of_study AND away IS NULL AND pg_has_role(session_user, crew || '_logs', 'USAGE')
    ) THEN RAISE EXCEPTION 'permission denied' USING ERRCODE = 'insufficient_privilege'; END IF;
    UPDATE study SET revision = revision + 1 WHERE id = of_study;
    SELECT number INTO made FROM seat WHERE study = of_study AND id = beside_id;
    IF made IS NULL THEN
        INSERT INTO seat (study, id, number, participant, chair, position, cards, state)
        SELECT study, beside_id, (SELECT max(number) + 1 FROM seat AS every WHERE every.study = of_study),
            participant, chair, position, cards, state
        FROM seat WHERE study = of_study AND id = sitting_id RETURNING number INTO made;
    END IF;
    RETURN made;
END $$;
CREATE FUNCTION confirmed(lsn pg_lsn) RETURNS boolean LANGUAGE sql STABLE SECURITY DEFINER
SET search_path = pg_catalog AS $$
    SELECT bool_or(flush_lsn >= lsn) FROM pg_stat_replication
$$;
"""


def upgrade() -> None:
    op.execute("SET search_path = fresh_chair")
    op.execute("CREATE TABLE crew (name text NOT NULL PRIMARY KEY)")
    op.execute(
        # Its name and crew are said by the session that makes it, as they are no columns of a study file.
        "CREATE TABLE study (id text NOT NULL PRIMARY KEY, "
        "name text NOT NULL UNIQUE DEFAULT current_setting('fresh_chair.study_name'), "
        "crew text NOT NULL DEFAULT current_setting('fresh_chair.crew') REFERENCES crew (name), "
        "away text, title text NOT NULL, question text NOT NULL, sample boolean NOT NULL, "
        "seed bigint NOT NULL, made_wall_ns bigint NOT NULL, revision bigint NOT NULL, version bigint NOT NULL, "
        "sheet text NOT NULL)"
    )
    for table, columns in _TABLES.items():
        op.execute(f"CREATE TABLE {table} ({columns})")
    for table in (*_LEDGERS, "baseline_state"):
        # As many as any reader takes; a later number is refused here, and not when it is read.
        op.execute(f"ALTER TABLE {table} ADD CHECK (number BETWEEN 1 AND 2000000)")
    op.execute("CREATE TABLE commit_token (session text NOT NULL PRIMARY KEY, token text NOT NULL)")
    op.execute("CREATE UNIQUE INDEX chair_letter ON chair (study, letter) WHERE NOT gone")
    for part in _FUNCTIONS.strip().split(";\nCREATE "):
        op.execute(part if part.startswith("CREATE") else f"CREATE {part}")
    for table in (*_APPENDED, "entry"):
        op.execute(
            f"CREATE TRIGGER {table}_only_appended BEFORE UPDATE OR DELETE ON {table} "
            "FOR EACH ROW EXECUTE FUNCTION only_appended()"
        )
        op.execute(
            f"CREATE TRIGGER {table}_never_emptied BEFORE TRUNCATE ON {table} "
            "FOR EACH STATEMENT EXECUTE FUNCTION only_appended()"
        )
    op.execute(
        "CREATE TRIGGER chair_state_kept BEFORE UPDATE OR DELETE ON chair_state "
        "FOR EACH ROW EXECUTE FUNCTION keep_state()"
    )
    op.execute("CREATE TRIGGER seat_held BEFORE UPDATE ON seat FOR EACH ROW EXECUTE FUNCTION keep_held()")
    op.execute("CREATE TRIGGER hunch_kept BEFORE UPDATE OR DELETE ON hunch FOR EACH ROW EXECUTE FUNCTION keep_hunch()")
    for table in (*_LEDGERS, "reservation"):
        op.execute(
            f"CREATE TRIGGER {table}_told AFTER INSERT ON {table} REFERENCING NEW TABLE AS fresh "
            "FOR EACH STATEMENT EXECUTE FUNCTION tell_stations()"
        )
    for verb, seen in (("UPDATE", "NEW"), ("DELETE", "OLD")):
        op.execute(
            f"CREATE TRIGGER reservation_{verb.lower()}_told AFTER {verb} ON reservation "
            f"REFERENCING {seen} TABLE AS fresh FOR EACH STATEMENT EXECUTE FUNCTION tell_stations()"
        )
    op.execute("CREATE TRIGGER study_told AFTER UPDATE ON study FOR EACH ROW EXECUTE FUNCTION tell_of_plan()")
    op.execute(
        "CREATE VIEW person_code AS SELECT study, code, role, position, version, "
        "json_build_object('code', code)::text AS body FROM person "
        "WHERE study = ANY ((SELECT studies_for('reads'))::text[])"
    )
    _rights()


def _rights() -> None:
    """See and change rows of one's own crew's studies only; which kinds of rows is granted to its roles."""
    for table in ("study", *_TABLES):
        op.execute(f"ALTER TABLE {table} ENABLE ROW LEVEL SECURITY")
        for verb in ("SELECT", "INSERT", "UPDATE", "DELETE"):
            # Asked once for a statement, not for each row.
            if table == "study":
                rule = f"crew = ANY ((SELECT crews('{'reads' if verb == 'SELECT' else 'plans'}'))::text[])"
            else:
                seen = "people" if table == "person" else "reads"
                needed = seen if verb == "SELECT" else "logs"
                rule = f"study = ANY ((SELECT studies_for('{needed}'))::text[])"
            clause = f"WITH CHECK ({rule})" if verb == "INSERT" else f"USING ({rule})"
            op.execute(f"CREATE POLICY {table}_{verb.lower()} ON {table} FOR {verb} {clause}")
