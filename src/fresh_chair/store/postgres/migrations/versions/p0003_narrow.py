"""All writing by functions, an act each; every entry with its login, its time and its digest."""

from pathlib import Path

from alembic import op

revision = "p0003"
down_revision = "p0002"
branch_labels = None
depends_on = None

_ACTS = "fresh_chair_acts"
_PINNED = "SET search_path = pg_catalog, fresh_chair, pg_temp"
_FOLDER = Path(__file__).parent.parent / "acts"
# Each ledger beside those of sittings: what its function is called, and the column it has beyond the others.
_LEDGERS = {"sort_entry": ("sorting", ""), "evidence_entry": ("evidence", ""), "chair_entry": ("chairs", "chair")}
_NEW = {
    # Entries that an erasure has changed, whose digests tell nothing of them any more.
    "rewritten": (
        "participant text NOT NULL, ledger text NOT NULL, sitting text NOT NULL, number bigint NOT NULL, seat bigint, "
        "login text NOT NULL, kept_at timestamptz NOT NULL, PRIMARY KEY (participant, ledger, sitting, number)"
    ),
    # Who has moderated a sitting, in turn.
    "holder": (
        "sitting text NOT NULL, turn bigint NOT NULL, station text NOT NULL, login text NOT NULL, "
        "since timestamptz NOT NULL, PRIMARY KEY (sitting, turn)"
    ),
}
_SIGNED = ("entry", *_LEDGERS, "script", "change", "fixture_check", "erasure")
# What the functions need beyond p0002, and no more.
_ACTS_MAY = (
    "SELECT ON fresh_chair.sort_entry, fresh_chair.evidence_entry, fresh_chair.chair_entry, "
    "fresh_chair.erasure, fresh_chair.rewritten, fresh_chair.holder, fresh_chair.baseline_state, "
    "fresh_chair.attached_file, fresh_chair.fixture_check, fresh_chair.hunch, fresh_chair.change, "
    "fresh_chair.reservation, fresh_chair.station, fresh_chair.pulse, fresh_chair.commit_token",
    "INSERT ON fresh_chair.entry, fresh_chair.sort_entry, fresh_chair.evidence_entry, fresh_chair.chair_entry, "
    "fresh_chair.baseline_state, fresh_chair.attached_file, fresh_chair.fixture_check, fresh_chair.hunch, "
    "fresh_chair.script, fresh_chair.change, fresh_chair.pulse, fresh_chair.reservation, fresh_chair.station, "
    "fresh_chair.erasure, fresh_chair.rewritten, fresh_chair.holder, fresh_chair.commit_token",
    "UPDATE (body, salt) ON fresh_chair.entry, fresh_chair.sort_entry, fresh_chair.evidence_entry, "
    "fresh_chair.chair_entry",
    "UPDATE (body) ON fresh_chair.baseline_state",
    "SELECT, INSERT, UPDATE, DELETE ON fresh_chair.machine, fresh_chair.chair, fresh_chair.card, fresh_chair.person, "
    "fresh_chair.carried, fresh_chair.chair_state, fresh_chair.seat",
    "INSERT, UPDATE ON fresh_chair.study",
    "UPDATE ON fresh_chair.hunch, fresh_chair.pulse, fresh_chair.reservation, fresh_chair.station, "
    "fresh_chair.commit_token",
    "DELETE ON fresh_chair.hunch, fresh_chair.reservation, fresh_chair.station, fresh_chair.commit_token, "
    "fresh_chair.entry, fresh_chair.pulse, fresh_chair.attached_file",
)


def upgrade() -> None:
    op.execute("SET LOCAL session_replication_role = replica")
    for table in _SIGNED:
        op.execute(f"ALTER TABLE fresh_chair.{table} ADD COLUMN login text, ADD COLUMN kept_at timestamptz")
    for table in ("entry", *_LEDGERS):
        op.execute(f"ALTER TABLE fresh_chair.{table} ADD COLUMN salt bytea, ADD COLUMN digest bytea")
    op.execute("ALTER TABLE fresh_chair.entry ADD COLUMN station text")
    op.execute("ALTER TABLE fresh_chair.reservation ADD COLUMN beside text")
    op.execute("ALTER TABLE fresh_chair.commit_token ADD COLUMN marked timestamptz NOT NULL DEFAULT now()")
    op.execute("DROP FUNCTION fresh_chair.seat_beside(text, text, text)")
    for table, columns in _NEW.items():
        _appended_table(table, columns)
    for statement in statements():
        op.execute(statement)
    op.execute("DROP FUNCTION fresh_chair.erasing(text)")
    _chain()
    _rights()


def statements() -> list[str]:
    """Every function, as a statement each."""
    parts = [(_FOLDER / f"{name}.sql").read_text() for name in ("rules", "sittings", "plan", "erasing", "beside")]
    template = (_FOLDER / "ledger.sql").read_text()
    for table, (ledger, column) in _LEDGERS.items():
        parts.append(
            template.replace("{ledger}", ledger)
            .replace("{table}", table)
            .replace("{column}", f"{column} text, " if column else "")
            .replace("{value}", f"one.{column}" if column else "''")
            .replace("{more}", f"{column}, " if column else "")
            .replace("{put}", f"one.{column}, " if column else "")
        )
    whole = [part.replace("PINNED", _PINNED).strip() for part in parts]
    listed = [statement for part in whole for statement in part.split(";\n\nCREATE ")]
    return [each if each.startswith("CREATE ") else f"CREATE {each}" for each in listed]


def _appended_table(table: str, columns: str) -> None:
    """Make a table that is only ever added to, and seen by those who may read its study."""
    op.execute(
        f"CREATE TABLE fresh_chair.{table} (study text NOT NULL REFERENCES fresh_chair.study (id), "
        f"{columns.replace('PRIMARY KEY (', 'PRIMARY KEY (study, ')})"
    )
    op.execute(f"ALTER TABLE fresh_chair.{table} OWNER TO fresh_chair_tables")
    op.execute(f"ALTER TABLE fresh_chair.{table} ENABLE ROW LEVEL SECURITY")
    op.execute(
        f"CREATE POLICY {table}_select ON fresh_chair.{table} FOR SELECT "
        "USING (study = ANY ((SELECT fresh_chair.studies_for('reads'))::text[]))"
    )
    for when, row in (("UPDATE OR DELETE", "ROW"), ("TRUNCATE", "STATEMENT")):
        name = "only_appended" if row == "ROW" else "never_emptied"
        op.execute(
            f"CREATE TRIGGER {table}_{name} BEFORE {when} ON fresh_chair.{table} "
            f"FOR EACH {row} EXECUTE FUNCTION fresh_chair.only_appended()"
        )


def _chain() -> None:
    """Give the entries that are there a digest each; who brought them here is not known."""
    for table, name, within in (
        ("entry", "one.id", ("study", "sitting")),
        ("sort_entry", "''", ("study",)),
        ("evidence_entry", "''", ("study",)),
        ("chair_entry", "one.chair", ("study",)),
    ):
        order, own = (", ".join(f"{of}.{name}" for name in within) for of in ("held", "one"))
        station = ", ''" if table == "entry" else ""
        op.execute(
            f"DO $$ DECLARE one record; before bytea; ledger text; own_salt bytea; BEGIN "
            f"FOR one IN SELECT held.* FROM fresh_chair.{table} AS held ORDER BY {order}, held.number LOOP "
            f"IF ledger IS DISTINCT FROM concat_ws('/', {own}) THEN before := NULL; END IF; "
            f"ledger := concat_ws('/', {own}); own_salt := uuid_send(gen_random_uuid()); "
            f"before := fresh_chair.chained(before, own_salt, one.number::text, {name}, one.kind, one.version::text, "
            f"one.ticks_ns::text, one.boot, one.wall_ns::text, one.author, one.body, '', ''{station}); "
            f"UPDATE fresh_chair.{table} AS kept SET salt = own_salt, digest = before WHERE kept.study = one.study "
            f"AND kept.number = one.number {'AND kept.sitting = one.sitting' if table == 'entry' else ''}; "
            "END LOOP; END $$"
        )


def _rights() -> None:
    """Give the functions to the role that runs them, and that role the rights they need."""
    for grant in _ACTS_MAY:
        op.execute(f"GRANT {grant} TO {_ACTS}")
    op.execute(
        "DO $$ DECLARE of record; BEGIN "
        "FOR of IN SELECT policyname, tablename FROM pg_catalog.pg_policies "
        f"WHERE schemaname = 'fresh_chair' AND '{_ACTS}' = ANY (roles) "
        "LOOP EXECUTE format('DROP POLICY %I ON fresh_chair.%I', of.policyname, of.tablename); END LOOP; "
        "FOR of IN SELECT relname FROM pg_catalog.pg_class "
        "WHERE relnamespace = 'fresh_chair'::regnamespace AND relkind = 'r' AND relrowsecurity "
        "LOOP EXECUTE format('CREATE POLICY %I ON fresh_chair.%I FOR ALL "
        f"TO {_ACTS} USING (true) WITH CHECK (true)', of.relname || '_acts', of.relname); END LOOP; END $$"
    )
    op.execute(
        "DO $$ DECLARE of record; BEGIN "
        "FOR of IN SELECT oid::regprocedure AS name, prosecdef FROM pg_catalog.pg_proc "
        "WHERE pronamespace = 'fresh_chair'::regnamespace "
        "LOOP EXECUTE format('ALTER FUNCTION %s OWNER TO %I', of.name, "
        f"CASE WHEN of.prosecdef THEN '{_ACTS}' ELSE 'fresh_chair_tables' END); "
        "EXECUTE format('REVOKE EXECUTE ON FUNCTION %s FROM PUBLIC', of.name); "
        f"EXECUTE format('GRANT EXECUTE ON FUNCTION %s TO {_ACTS}', of.name); END LOOP; END $$"
    )
