"""A server's studies survive its own tools: dumped, restored elsewhere, and sound there."""

import subprocess
from contextlib import closing
from pathlib import Path

from fresh_chair.core.sitting import journal as j
from fresh_chair.services.file.file_check import check_file
from fresh_chair.services.file.moving import move_study
from fresh_chair.services.server.servers import check_server, prepare_server
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import open_study
from fresh_chair.store.tables.copying import TABLES, rows_of
from fresh_chair.store.tables.store import TableStore
from tests.servers import KEEPER, TestServer, require_server


def test_a_dump_is_restored_into_another_database(
    server: TestServer, database: str, demo_path: Path, tmp_path: Path
) -> None:
    place = server.address("harbour", login="owner", database=database)
    move_study(demo_path, place)
    folder, dump, name = require_server(), tmp_path / "harbour.dump", f"{database}_restored"
    run = [str(folder / "pg_dump"), "--format=custom", f"--file={dump}", f"--dbname={server.dsn('postgres', database)}"]
    subprocess.run(run, check=True, capture_output=True)
    server.admin(f"CREATE DATABASE {name} OWNER {KEEPER}")
    try:
        run = [str(folder / "pg_restore"), "--exit-on-error", f"--dbname={server.dsn('postgres', name)}", str(dump)]
        subprocess.run(run, check=True, capture_output=True)
        restored = server.address("harbour", login="owner", database=name)
        # What everybody may do in a database is in no dump; preparing it takes that away again.
        assert [door.line for door in check_server(restored)] == [f'REVOKE TEMPORARY ON DATABASE "{name}" FROM PUBLIC;']
        prepare_server(server.address(login="postgres", database=name), "harbour")
        assert check_server(restored) == []
        assert not any(check.problems for check in check_file(restored))
        with closing(open_study(place)) as one, closing(open_study(restored)) as other:
            assert isinstance(one.store, TableStore)
            assert isinstance(other.store, TableStore)
            for table in TABLES:
                assert rows_of(one.store.database, table) == rows_of(other.store.database, table)
            # It is not only there, it goes on; and it still takes additions alone.
            live = LiveSitting(other, other.to_run()[0])
            live.begin(live.now())
            live.log(j.AttemptStarted(live.state.card or "none"), live.now())
        assert not other.spool.left_words()
    finally:
        server.admin(f"DROP DATABASE {name} WITH (FORCE)")
