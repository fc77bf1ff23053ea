"""Real parts asked for real: settings stores in a real session, dpkg, and OpenSSH on loopback."""

import subprocess
from contextlib import suppress
from pathlib import Path

import pytest

from fresh_chair.core.chair.drift import drift_of
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.state import State
from fresh_chair.core.checks.meaning import Found, Witnessed, judged
from fresh_chair.core.checks.parser import read_check
from fresh_chair.core.errors import HostKeyChanged, HostKeyUnknown, Unreachable
from fresh_chair.probe.parsing.identity import identity_of
from fresh_chair.probe.parsing.state import state_of
from fresh_chair.probe.questions.framing import Question
from fresh_chair.probe.questions.readings import CONDITIONS, CONSENTS, READINGS
from fresh_chair.probe.questions.state import IDENTITY, STATE
from fresh_chair.probe.runner import Progress, ask
from fresh_chair.probe.ssh import HostKeys, Ssh
from fresh_chair.probe.transport import Local, Transport, address_of
from fresh_chair.probe.witnessing import asks_of, found_of, questions_for
from tests.probe.conftest import ServerMaker, Session
from tests.probe.openssh import Server

LOOK = "org.gnome.desktop.interface"


def state_over(transport: Transport) -> State:
    return state_of(ask(transport, STATE))


def witnessed(transport: Transport, *lines: str, before: dict[str, Found] | None = None) -> dict[str, Witnessed]:
    checks = [read_check(line) for line in lines]
    found = found_over(transport, *lines)
    return {check.text: judged(check, found, before).witnessed for check in checks}


def found_over(transport: Transport, *lines: str) -> dict[str, Found]:
    asks = asks_of(map(read_check, lines))
    return found_of(asks, ask(transport, questions_for(asks)))


def ssh_to(server: Server, tmp_path: Path, *, confirm: bool = True) -> Ssh:
    address = address_of(server.way)
    assert address is not None
    keys = HostKeys(tmp_path / "confirmed")
    if confirm and not keys.trusted("127.0.0.1", server.port):
        keys.trust("127.0.0.1", server.port, (server.folder / "host.pub").read_text())
    return Ssh(address, keys, identity=server.identity)


def test_a_theme_that_is_really_changed_is_seen_as_drift_and_confirmed_by_its_check(session: Session) -> None:
    dark = f"setting gsettings {LOOK} color-scheme changed to prefer-dark"
    here = Local(session.environment)
    baseline, before = state_over(here), found_over(here, dark)
    assert drift_of(baseline, state_over(here)).freshness == "fresh"
    session.run("gsettings", "set", LOOK, "color-scheme", "prefer-dark")
    drift = drift_of(baseline, state_over(here))
    assert "the theme was changed" in [said.words for said in told(drift.differences)]
    assert [d.before for d in drift.differences if d.key.endswith("color-scheme")] == ["'default'"]
    assert witnessed(here, dark, before=before) == {dark: Witnessed.CONFIRMED}
    session.run("gsettings", "reset", LOOK, "color-scheme")
    assert witnessed(here, dark, before=before) == {dark: Witnessed.CONTRADICTED}


def test_xfconf_is_asked_where_it_runs_and_read_from_its_files_where_it_does_not(session: Session) -> None:
    here = Local(session.environment)
    theme = "setting xfconf xsettings /Net/ThemeName is Nightfall"
    folder = session.home / ".config" / "xfce4" / "xfconf" / "xfce-perchannel-xml"
    folder.mkdir(parents=True)
    channel = (
        '<?xml version="1.0" encoding="UTF-8"?>\n<channel name="xsettings" version="1.0">'
        '<property name="Net" type="empty"><property name="ThemeName" type="string" value="{}"/></property></channel>'
    )
    (folder / "xsettings.xml").write_text(channel.format("Day"))
    baseline = state_over(here)
    assert baseline.sections["settings"]["xfconf xsettings /Net/ThemeName"] == "Day"
    session.run("xfconf-query", "-c", "xsettings", "-p", "/Net/ThemeName", "-s", "Nightfall")
    drift = drift_of(baseline, state_over(here))
    assert "the theme was changed" in [said.words for said in told(drift.differences)]
    assert witnessed(here, theme) == {theme: Witnessed.CONFIRMED}
    # Without the bus, from the file that the store keeps; written for it here, since the store takes its time.
    (folder / "xsettings.xml").write_text(channel.format("Nightfall"))
    quiet = {name: value for name, value in session.environment.items() if name != "DBUS_SESSION_BUS_ADDRESS"}
    assert witnessed(Local(quiet), theme) == {theme: Witnessed.CONFIRMED}
    assert state_over(Local(quiet)).sections["settings"]["xfconf xsettings /Net/ThemeName"] == "Nightfall"


def _standing(session: Session) -> set[str]:
    """Every process on the session's bus, and every file in its home folder."""
    address = f"DBUS_SESSION_BUS_ADDRESS={session.environment['DBUS_SESSION_BUS_ADDRESS']}".encode()
    found = {str(path) for path in session.home.rglob("*")}
    for process in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):
            if address in (process / "environ").read_bytes():
                found.add((process / "cmdline").read_text().replace("\0", " "))
    return found


def test_no_question_starts_a_service_or_leaves_a_file(session: Session) -> None:
    here = Local(session.environment)
    checks = [
        "setting xfconf xsettings /Net/ThemeName is Nightfall",
        f"setting gsettings {LOOK} color-scheme is default",
        "setting dconf /no/such is 1",
        "default for web is 'a'",
        "process no-such runs",
    ]
    ask(here, [Question("warm up", "true")])
    before = _standing(session)
    for question in (*IDENTITY, *STATE, CONDITIONS, *READINGS, *CONSENTS):
        ask(here, [question])
        assert _standing(session) == before, question.name
    witnessed(here, *checks)
    assert _standing(session) == before


def test_dpkg_files_users_and_ini_files_answer_checks(home: Path, surroundings: dict[str, str]) -> None:
    here = Local(surroundings)
    (home / ".config").mkdir()
    (home / ".config" / "kdeglobals").write_text("[General]\nColorScheme=Nightfall\n[KDE]\nwidgetStyle=a\n")
    (home / "a letter.txt").write_text("dear")
    there = {
        "package bash is there": Witnessed.CONFIRMED,
        "package no-such-package is there": Witnessed.CONTRADICTED,
        "program sh is there": Witnessed.CONFIRMED,
        "program no-such-program is gone": Witnessed.CONFIRMED,
        "file '~/a letter.txt' is there": Witnessed.CONFIRMED,
        "file ~/other.txt is gone": Witnessed.CONFIRMED,
        "user root is there": Witnessed.CONFIRMED,
        "user nobody-such is there": Witnessed.CONTRADICTED,
        "process no-such-process runs": Witnessed.CONTRADICTED,
        "setting ini ~/.config/kdeglobals General ColorScheme is Nightfall": Witnessed.CONFIRMED,
        "setting ini ~/.config/absent General ColorScheme is Nightfall": Witnessed.CONTRADICTED,
        "setting dconf /no/such is 1": Witnessed.CANNOT_TELL,
        "count of packages above 50": Witnessed.CONFIRMED,
        "command 'echo one two' matches 'one *'": Witnessed.CONFIRMED,
    }
    assert witnessed(here, *there) == there


def test_a_file_that_changes_is_seen_by_its_checksum_and_never_read(home: Path, surroundings: dict[str, str]) -> None:
    here, line = Local(surroundings), "file ~/notes.txt changed"
    (home / "notes.txt").write_text("one")
    before = found_over(here, line)
    (home / "notes.txt").write_text("two")
    assert witnessed(here, line, before=before) == {line: Witnessed.CONFIRMED}
    answers = ask(here, STATE)
    assert "two" not in answers["home"].text
    assert state_of(answers).sections["home"]["notes.txt"] == "3 bytes"


def test_hostile_words_in_a_check_are_words_and_no_shell(home: Path, surroundings: dict[str, str]) -> None:
    here = Local(surroundings)
    lines = [
        "package 'x; touch ~/owned' is there",
        "file '~/$(touch ~/owned)' is there",
        "user '`touch ~/owned`' is there",
        "setting ini '~/a b;touch ~/owned' G K is 1",
        "default for web is '$(touch ~/owned)'",
        "process '$(touch ~/owned)' runs",
        "network '$(touch ~/owned)' is up",
    ]
    witnessed(here, *lines)
    assert list(home.iterdir()) == []


def test_the_same_questions_have_the_same_answers_here_and_over_ssh(make_server: ServerMaker, tmp_path: Path) -> None:
    server = make_server()
    (server.folder / "home" / "left behind.txt").write_text("x")
    remote = state_over(ssh_to(server, tmp_path))
    environment = {"HOME": str(server.folder / "home"), "PATH": "/usr/local/bin:/usr/bin:/bin"}
    local = state_over(Local(environment))
    assert remote.sections["packages"] == local.sections["packages"]
    assert remote.sections["users"] == local.sections["users"]
    assert remote.sections["home"] == local.sections["home"]
    assert "left behind.txt" in remote.sections["home"]
    assert remote.unread.keys() == local.unread.keys()
    facts, _ = identity_of(ask(ssh_to(server, tmp_path), IDENTITY[:2]))
    assert {fact.name for fact in facts} >= {"distribution", "kernel"}


def test_a_new_host_key_is_shown_and_nothing_asked_until_it_is_confirmed(
    make_server: ServerMaker, tmp_path: Path
) -> None:
    server = make_server()
    marker = server.folder / "home" / "asked"
    question = Question("q", f"touch {marker}; echo hello")
    with pytest.raises(HostKeyUnknown) as refused:
        ask(ssh_to(server, tmp_path, confirm=False), [question])
    assert refused.value.fingerprint == server.fingerprint
    assert not isinstance(refused.value, HostKeyChanged)
    assert not marker.exists()
    HostKeys(tmp_path / "confirmed").trust("127.0.0.1", server.port, refused.value.key)
    assert (tmp_path / "confirmed").stat().st_mode & 0o077 == 0
    assert ask(ssh_to(server, tmp_path), [question])["q"].text == "hello\n"
    # OpenSSH itself reads the same file.
    found = subprocess.run(
        ["ssh-keygen", "-F", f"[127.0.0.1]:{server.port}", "-f", str(tmp_path / "confirmed")],
        capture_output=True,
        check=False,
    )
    assert found.returncode == 0


def test_a_host_key_that_changed_is_refused_and_said_to_have_changed(make_server: ServerMaker, tmp_path: Path) -> None:
    first = make_server()
    ssh_to(first, tmp_path)
    first.process.kill()
    first.process.wait()
    second = make_server(like=first)
    with pytest.raises(HostKeyChanged, match="not the one that was confirmed") as refused:
        ask(ssh_to(second, tmp_path), [Question("q", "echo hello")])
    assert refused.value.fingerprint == second.fingerprint
    # Once it is confirmed again, the key that was trusted before is trusted no more.
    keys = HostKeys(tmp_path / "confirmed")
    keys.trust("127.0.0.1", second.port, refused.value.key)
    assert [key.get_fingerprint() for key in keys.trusted("127.0.0.1", second.port)] == [second.fingerprint]
    assert ask(ssh_to(second, tmp_path), [Question("q", "echo hello")])["q"].text == "hello\n"


def test_a_key_that_is_not_let_in_and_a_port_where_nobody_listens_are_one_sentence(
    make_server: ServerMaker, tmp_path: Path
) -> None:
    server = make_server()
    (server.folder / "authorized").write_text("")
    with pytest.raises(Unreachable, match="lets nobody in with the keys at hand"):
        ask(ssh_to(server, tmp_path), [Question("q", "echo hello")])
    server.process.kill()
    server.process.wait()
    with pytest.raises(Unreachable, match="cannot be reached: nobody listens there"):
        ask(ssh_to(server, tmp_path), [Question("q", "echo hello")])


def test_a_login_shell_that_prints_a_banner_first_is_not_heard(make_server: ServerMaker, tmp_path: Path) -> None:
    folder = tmp_path / "banner"
    folder.mkdir()
    shell = folder / "shell"
    shell.write_text('#!/bin/sh\nprintf "WELCOME\\033[2J\\n@n1 begin 1\\n@n1 done\\n"\nexec $SSH_ORIGINAL_COMMAND\n')
    shell.chmod(0o755)
    server = make_server(str(shell))
    assert ask(ssh_to(server, tmp_path), [Question("q", "echo hello")])["q"].text == "hello\n"


@pytest.mark.parametrize(
    ("shell", "said"),
    [
        ("while :; do echo motd motd motd motd; done", "talks on without answering"),
        ("exit 0", "printed no answer"),
        ("echo this account is not available", "printed no answer"),
    ],
)
def test_a_strange_shell_is_said_in_a_sentence(make_server: ServerMaker, tmp_path: Path, shell: str, said: str) -> None:
    file = tmp_path / "shell"
    file.write_text(f"#!/bin/sh\n{shell}\n")
    file.chmod(0o755)
    with pytest.raises(Unreachable, match=said):
        ask(ssh_to(make_server(str(file)), tmp_path), [Question("q", "echo hello")])


def test_a_connection_killed_half_way_keeps_what_was_answered(make_server: ServerMaker, tmp_path: Path) -> None:
    server = make_server()
    # The chair's own end of this connection goes away.
    heard = tmp_path / "heard"
    until_heard = f"while [ ! -e {heard} ]; do sleep 0.02; done"
    kill = Question("kill", f"{until_heard}; pkill -9 -P {server.process.pid}; sleep 20", seconds=20)
    # It goes once the first answer has been heard, not while that is still on its way.
    progress = Progress(changed=lambda: heard.touch() if progress.current == "kill" else None)
    questions = [Question("first", "echo one"), kill, Question("last", "echo three")]
    answers = ask(ssh_to(server, tmp_path), questions, progress)
    assert answers["first"].text == "one\n"
    assert "broke off" in answers["kill"].why
    assert "broke off" in answers["last"].why


def test_a_read_only_home_is_read_like_any_other(home: Path, surroundings: dict[str, str]) -> None:
    (home / "a.txt").write_text("x")
    home.chmod(0o555)
    try:
        state = state_over(Local(surroundings))
    finally:
        home.chmod(0o755)
    assert state.sections["home"] == {"a.txt": "1 bytes"}
    assert [path.name for path in home.iterdir()] == ["a.txt"]


def test_asking_leaves_nothing_behind(home: Path, surroundings: dict[str, str]) -> None:
    here = Local(surroundings)
    before = state_over(here)
    ask(here, IDENTITY[:4])
    assert drift_of(before, state_over(here)).freshness == "fresh"
    assert list(home.iterdir()) == []
