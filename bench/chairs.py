"""Reading a chair: over loopback SSH against one plain ssh call, drift over many keys, and a proof of freshness."""

import shlex
import subprocess
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from statistics import median

from tests.probe.openssh import Server, free_port, make_key, start_server

from fresh_chair.core.chair.drift import drift_of
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.state import State
from fresh_chair.probe.questions.framing import Question
from fresh_chair.probe.questions.state import DEFAULTS, IDENTITY, PROGRAMS, SOURCES, STATE
from fresh_chair.probe.runner import ask
from fresh_chair.probe.ssh import HostKeys, Ssh
from fresh_chair.probe.transport import address_of
from fresh_chair.services.chair.asking import run_enquiry
from fresh_chair.services.chair.enquiries import known_hosts
from fresh_chair.services.file.new_study import new_demo
from fresh_chair.services.study.open_study import open_study

KEYS = 20_000
ROUNDS = 5
QUESTIONS = list({question.name: question for question in (*IDENTITY, DEFAULTS, PROGRAMS, SOURCES, *STATE)}.values())


def chairs(folder: Path) -> None:
    """Measure, and print."""
    _drift()
    place = folder / "server"
    for part in ("home", "run"):
        (place / part).mkdir(parents=True)
    for number in range(400):
        (place / "home" / f"file-{number}").write_text("x" * number)
    Path("/run/sshd").mkdir(parents=True, exist_ok=True)
    for key in ("host", "id"):
        make_key(place / key)
    server = start_server(place, free_port())
    try:
        _over_ssh(server)
        _proof(server, folder)
    finally:
        server.process.kill()
        server.process.wait()


def _timed(act: Callable[[], object]) -> float:
    begun = time.perf_counter()
    act()
    return time.perf_counter() - begun


def _drift() -> None:
    before = State({"settings": {f"gsettings org.example.part{n % 400} key-{n}": str(n) for n in range(KEYS)}})
    now = State({"settings": {**before.sections["settings"], **{
        f"gsettings org.example.part{n % 400} key-{n}": "other" for n in range(0, KEYS, 50)}}})  # fmt: skip
    noise = [f"settings:gsettings org.example.part{n % 400} key-{n}" for n in range(0, KEYS, 500)]
    times = [_timed(lambda: told(drift_of(before, now, noise).differences)) for _ in range(ROUNDS)]
    print(f"drift over {KEYS} keys, 400 of them different")
    print(f"  {1000 * median(times):7.1f} ms, aim under 200 ms")


def _ssh(server: Server) -> Ssh:
    address = address_of(server.way)
    assert address is not None
    keys = HostKeys(server.folder / "confirmed")
    if not keys.trusted("127.0.0.1", server.port):
        keys.trust("127.0.0.1", server.port, (server.folder / "host.pub").read_text())
    return Ssh(address, keys, identity=server.identity)


def _plain(server: Server, questions: Sequence[Question]) -> None:
    """The same commands, one after the other, in one call of OpenSSH's own client."""
    script = "\n".join(f"sh -c {shlex.quote(question.script)} </dev/null" for question in questions)
    user, host = server.way.removeprefix("ssh ").rsplit(":", 1)[0].split("@")
    known = f"UserKnownHostsFile={server.folder / 'plain'}"
    command = ["ssh", "-p", str(server.port), "-i", str(server.folder / "id"), "-o", "StrictHostKeyChecking=no"]
    command += ["-o", known, "-o", "BatchMode=yes", f"{user}@{host}", "sh"]
    subprocess.run(command, input=script.encode(), capture_output=True, check=False, timeout=300)


def _over_ssh(server: Server) -> None:
    # Asking the package manager for updates takes seconds of its own, and would hide what asking costs.
    quick = [question for question in QUESTIONS if question.name != "updates"]
    for questions, what in ((QUESTIONS, "all questions"), (quick, "all but the updates that wait")):
        ask(_ssh(server), questions)
        _plain(server, questions)
        ours, plain = [], []
        for _ in range(ROUNDS):
            ours.append(_timed(lambda q=questions: ask(_ssh(server), q)))  # type: ignore[misc]
            plain.append(_timed(lambda q=questions: _plain(server, q)))  # type: ignore[misc]
        ratio = median(ours) / median(plain)
        print(f"identity and baseline over loopback SSH, {what} ({len(questions)}), median of {ROUNDS}")
        print(f"  one plain ssh call         {1000 * median(plain):7.0f} ms")
        print(f"  Fresh Chair                {1000 * median(ours):7.0f} ms   ratio {ratio:.2f}, aim under 1.5")


def _proof(server: Server, folder: Path) -> None:
    path = folder / "proof.fresh"
    new_demo(path)
    opened = open_study(path)
    trusted = known_hosts()
    before = trusted.read_bytes() if trusted.exists() else b""
    try:
        HostKeys(trusted).trust("127.0.0.1", server.port, (server.folder / "host.pub").read_text())
        way, identity = server.way, server.identity
        run_enquiry(opened, "A", "baseline", way=way, identity=identity)
        times = [_timed(lambda: run_enquiry(opened, "A", "fresh", way=way, identity=identity)) for _ in range(ROUNDS)]
    finally:
        trusted.write_bytes(before)
        opened.close()
    print("proof of freshness from asking to on record, over loopback SSH")
    print(f"  {1000 * median(times):7.0f} ms")
