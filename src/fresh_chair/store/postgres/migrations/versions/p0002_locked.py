"""Owners without a login, functions that see no temporary tables and that crews alone call, tokens of one's own."""

from alembic import op

revision = "p0002"
down_revision = "p0001"
branch_labels = None
depends_on = None

# The tables' owner, and the one whose rights the few functions have that do more than their caller may.
_TABLES, _ACTS = "fresh_chair_tables", "fresh_chair_acts"
_NOBODY = "NOLOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION NOBYPASSRLS PASSWORD NULL"
# Temporary tables come last, and are never looked at unless they are named.
_PINNED = "SET search_path = pg_catalog, fresh_chair, pg_temp"

_FUNCTIONS = f"""
CREATE OR REPLACE FUNCTION fresh_chair.crews(wanted text) RETURNS text[] LANGUAGE sql STABLE {_PINNED} AS $$
    SELECT COALESCE(array_agg(crew.name), '{{}}') FROM fresh_chair.crew
    WHERE pg_has_role(crew.name || '_' || wanted, 'USAGE')
$$;
CREATE OR REPLACE FUNCTION fresh_chair.studies_for(wanted text) RETURNS text[] LANGUAGE sql STABLE {_PINNED} AS $$
    -- Nothing is added to a study that was moved away, until it is moved back.
    SELECT COALESCE(array_agg(id), '{{}}') FROM fresh_chair.study
    WHERE crew = ANY (fresh_chair.crews(CASE wanted WHEN 'people' THEN 'logs' ELSE wanted END))
    AND (away IS NULL OR wanted IN ('reads', 'people'))
$$;
CREATE OR REPLACE FUNCTION fresh_chair.erasing(of_study text) RETURNS boolean LANGUAGE sql STABLE {_PINNED} AS $$
    SELECT EXISTS (
        SELECT FROM fresh_chair.erasure WHERE erasure.study = of_study
        AND erasure.xmin = pg_current_xact_id()::xid
    )
$$;
CREATE OR REPLACE FUNCTION fresh_chair.only_appended() RETURNS trigger LANGUAGE plpgsql {_PINNED} AS $$
BEGIN
    -- Words of a person go within the very transaction that puts their erasure on record, and nothing else changes.
    IF TG_OP = 'UPDATE' AND TG_TABLE_NAME IN ('entry', 'sort_entry', 'chair_entry', 'evidence_entry', 'baseline_state')
        AND to_jsonb(NEW) - 'body' = to_jsonb(OLD) - 'body' AND fresh_chair.erasing(OLD.study)
    THEN RETURN NEW; END IF;
    IF TG_OP = 'DELETE' AND TG_TABLE_NAME = 'entry' AND fresh_chair.erasing(OLD.study) THEN RETURN OLD; END IF;
    RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
END $$;
CREATE OR REPLACE FUNCTION fresh_chair.keep_state() RETURNS trigger LANGUAGE plpgsql {_PINNED} AS $$
BEGIN
    IF EXISTS (
        SELECT FROM fresh_chair.seat WHERE study = OLD.study AND chair = OLD.chair AND state = OLD.number
    ) THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
    RETURN NEW;
END $$;
CREATE OR REPLACE FUNCTION fresh_chair.keep_held() RETURNS trigger LANGUAGE plpgsql {_PINNED} AS $$
BEGIN
    IF OLD.state IS NOT NULL AND NEW.state IS DISTINCT FROM OLD.state THEN
        RAISE EXCEPTION 'entries are only ever appended' USING ERRCODE = 'integrity_constraint_violation';
    END IF;
    RETURN NEW;
END $$;
CREATE OR REPLACE FUNCTION fresh_chair.keep_hunch() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER {_PINNED} AS $$
DECLARE
    begun boolean := EXISTS (
        SELECT FROM fresh_chair.entry
        JOIN fresh_chair.seat ON seat.study = entry.study AND seat.id = entry.sitting
        JOIN fresh_chair.person ON person.study = seat.study AND person.code = seat.participant
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
CREATE OR REPLACE FUNCTION fresh_chair.tell_stations() RETURNS trigger LANGUAGE plpgsql {_PINNED} AS $$
BEGIN
    -- Once for a statement, however many entries it adds.
    PERFORM pg_notify(channel, '') FROM fresh_chair.study WHERE id IN (SELECT fresh.study FROM fresh);
    RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION fresh_chair.tell_of_plan() RETURNS trigger LANGUAGE plpgsql {_PINNED} AS $$
BEGIN
    PERFORM pg_notify(NEW.channel, '');
    RETURN NULL;
END $$;
CREATE OR REPLACE FUNCTION fresh_chair.seat_beside(of_study text, sitting_id text, beside_id text) RETURNS bigint
LANGUAGE plpgsql SECURITY DEFINER {_PINNED} AS $$
-- Two stations that could not ask have begun the same sitting: the second is kept as a sitting of its own. Whoever logs
-- may do that, and cannot change the plan otherwise.
DECLARE made bigint;
BEGIN
    IF NOT EXISTS (
        SELECT FROM fresh_chair.study
        WHERE id = of_study AND away IS NULL AND pg_has_role(session_user, crew || '_logs', 'USAGE')
    ) THEN RAISE EXCEPTION 'permission denied' USING ERRCODE = 'insufficient_privilege'; END IF;
    UPDATE fresh_chair.study SET revision = revision + 1 WHERE id = of_study;
    SELECT number INTO made FROM fresh_chair.seat WHERE study = of_study AND id = beside_id;
    IF made IS NULL THEN
        INSERT INTO fresh_chair.seat (study, id, number, participant, chair, position, cards, state)
        SELECT study, beside_id, (SELECT max(number) + 1 FROM fresh_chair.seat AS every WHERE every.study = of_study),
            participant, chair, position, cards, state
        FROM fresh_chair.seat WHERE study = of_study AND id = sitting_id RETURNING number INTO made;
    END IF;
    RETURN made;
END $$;
CREATE OR REPLACE FUNCTION fresh_chair.confirmed(lsn pg_lsn) RETURNS boolean LANGUAGE sql STABLE SECURITY DEFINER
{_PINNED} AS $$
    SELECT bool_or(flush_lsn >= lsn) FROM pg_catalog.pg_stat_replication
$$
"""
# What the functions need that do more than their caller may, and no more.
_ACTS_MAY = (
    "SELECT ON fresh_chair.crew, fresh_chair.study, fresh_chair.seat, fresh_chair.entry, fresh_chair.person",
    "UPDATE (revision) ON fresh_chair.study",
    "INSERT ON fresh_chair.seat",
    "EXECUTE ON FUNCTION fresh_chair.crews(text), fresh_chair.studies_for(text)",
    "USAGE ON SCHEMA fresh_chair",
)
_ACTS_SEE = {"study": ("SELECT", "UPDATE"), "seat": ("SELECT", "INSERT"), "entry": ("SELECT",), "person": ("SELECT",)}
_ACTS_OWN = ("keep_hunch()", "seat_beside(text, text, text)", "confirmed(pg_lsn)")


def upgrade() -> None:
    # Whatever the owner so far has hung on its tables does nothing while a superuser changes them.
    op.execute("SET LOCAL session_replication_role = replica")
    _roles()
    for part in _FUNCTIONS.strip().split(";\nCREATE OR REPLACE "):
        op.execute(part if part.startswith("CREATE") else f"CREATE OR REPLACE {part}")
    _owners()
    for grant in _ACTS_MAY:
        op.execute(f"GRANT {grant} TO {_ACTS}")
    for table, verbs in _ACTS_SEE.items():
        for verb in verbs:
            clause = "WITH CHECK (true)" if verb == "INSERT" else "USING (true)"
            op.execute(
                f"CREATE POLICY {table}_acts_{verb.lower()} ON fresh_chair.{table} FOR {verb} TO {_ACTS} {clause}"
            )
    # What no reader takes is refused here; rows from before stay as they are.
    op.execute(
        "ALTER TABLE fresh_chair.hunch ADD CONSTRAINT hunch_readable CHECK ("
        "severity BETWEEN 0 AND 4 AND length(words) BETWEEN 1 AND 2000) NOT VALID"
    )
    # Stations are told on a channel that those who see the study know, and nobody else.
    op.execute(
        "ALTER TABLE fresh_chair.study ADD COLUMN channel text NOT NULL "
        "DEFAULT 'fresh_chair_' || replace(gen_random_uuid()::text, '-', '')"
    )
    # Who only reads may say that they are there, too; nobody says so for another login.
    for verb, clause in (("INSERT", "WITH CHECK ({0})"), ("UPDATE", "USING ({0})")):
        op.execute(f"DROP POLICY station_{verb.lower()} ON fresh_chair.station")
        rule = "login = session_user AND study = ANY ((SELECT fresh_chair.studies_for('reads'))::text[])"
        op.execute(f"CREATE POLICY station_{verb.lower()} ON fresh_chair.station FOR {verb} {clause.format(rule)}")
    # The token of a transaction is its login's alone.
    op.execute("DELETE FROM fresh_chair.commit_token")
    op.execute("ALTER TABLE fresh_chair.commit_token ADD COLUMN login text NOT NULL DEFAULT session_user")
    op.execute("ALTER TABLE fresh_chair.commit_token ENABLE ROW LEVEL SECURITY")
    op.execute("CREATE POLICY commit_token_own ON fresh_chair.commit_token USING (login = session_user)")
    op.execute("REVOKE EXECUTE ON ALL FUNCTIONS IN SCHEMA fresh_chair FROM PUBLIC")


def _roles() -> None:
    """Make both owners, without a login and rights, and end every membership in them and of them."""
    for role in (_TABLES, _ACTS):
        op.execute(
            f"DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_catalog.pg_roles WHERE rolname = '{role}') "
            f"THEN CREATE ROLE {role} {_NOBODY}; ELSE ALTER ROLE {role} {_NOBODY}; END IF; END $$"
        )
        op.execute(
            "DO $$ DECLARE of record; BEGIN "
            "FOR of IN SELECT granted.rolname AS given, taker.rolname AS holder "
            "FROM pg_catalog.pg_auth_members AS held "
            "JOIN pg_catalog.pg_roles AS granted ON granted.oid = held.roleid "
            "JOIN pg_catalog.pg_roles AS taker ON taker.oid = held.member "
            f"WHERE '{role}' IN (granted.rolname, taker.rolname) "
            "LOOP EXECUTE format('REVOKE %I FROM %I CASCADE', of.given, of.holder); END LOOP; END $$"
        )
    # How far a standby is, which is told by one function and to nobody else.
    op.execute(f"GRANT pg_read_all_stats TO {_ACTS}")


def _owners() -> None:
    """Give everything in the schema to both owners."""
    op.execute(
        "DO $$ DECLARE of record; BEGIN "
        "FOR of IN SELECT relname, relkind FROM pg_catalog.pg_class "
        "WHERE relnamespace = 'fresh_chair'::regnamespace AND relkind IN ('r', 'v') "
        "LOOP EXECUTE format('ALTER %s fresh_chair.%I OWNER TO "
        f"{_TABLES}', CASE of.relkind WHEN 'v' THEN 'VIEW' ELSE 'TABLE' END, of.relname); END LOOP; END $$"
    )
    op.execute(
        "DO $$ DECLARE of record; BEGIN "
        "FOR of IN SELECT oid::regprocedure AS name FROM pg_catalog.pg_proc "
        "WHERE pronamespace = 'fresh_chair'::regnamespace "
        f"LOOP EXECUTE format('ALTER FUNCTION %s OWNER TO {_TABLES}', of.name); END LOOP; END $$"
    )
    for name in _ACTS_OWN:
        op.execute(f"ALTER FUNCTION fresh_chair.{name} OWNER TO {_ACTS}")
    op.execute(f"ALTER SCHEMA fresh_chair OWNER TO {_TABLES}")
