"""A real OpenSSH server on loopback, for the tests and for the bench."""

import getpass
import shutil
import socket
import subprocess
import time
from dataclasses import dataclass
from pathlib import Path

SSHD = shutil.which("sshd") or "/usr/sbin/sshd"


@dataclass(slots=True)
class Server:
    """A running OpenSSH server that lets one key in."""

    folder: Path
    port: int
    process: "subprocess.Popen[bytes]"

    @property
    def way(self) -> str:
        """How it is reached."""
        return f"ssh {getpass.getuser()}@127.0.0.1:{self.port}"

    @property
    def identity(self) -> tuple[Path, ...]:
        """The key that it lets in."""
        return (self.folder / "id",)

    @property
    def fingerprint(self) -> str:
        """What a person would compare on the chair itself, as OpenSSH says it."""
        said = subprocess.run(
            ["ssh-keygen", "-lf", str(self.folder / "host.pub")], capture_output=True, text=True, check=True
        )
        return said.stdout.split()[1]


def make_key(path: Path) -> None:
    """A new key pair, in place of one that is there."""
    path.unlink(missing_ok=True)
    subprocess.run(["ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", str(path)], check=True)


def free_port() -> int:
    """A port that nobody listens at."""
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        return int(taken.getsockname()[1])


def start_server(folder: Path, port: int, *, force: str = "") -> Server:
    """Start one with the host key that lies in the folder.

    Args:
        force: A command that is run in place of whatever is asked for, as a strange login shell would.
    """
    (folder / "authorized").write_text((folder / "id.pub").read_text())
    config = [
        f"Port {port}",
        "ListenAddress 127.0.0.1",
        f"HostKey {folder / 'host'}",
        f"AuthorizedKeysFile {folder / 'authorized'}",
        "StrictModes no",
        "UsePAM no",
        "PermitRootLogin prohibit-password",
        "PasswordAuthentication no",
        f"PidFile {folder / 'pid'}",
        f"SetEnv HOME={folder / 'home'} XDG_RUNTIME_DIR={folder / 'run'}",
        *([f"ForceCommand {force}"] if force else []),
    ]
    (folder / "config").write_text("\n".join(config) + "\n")
    with (folder / "log").open("ab") as log:
        process = subprocess.Popen([SSHD, "-D", "-e", "-f", str(folder / "config")], stderr=log, stdout=log)
    deadline = time.monotonic() + 30
    while time.monotonic() < deadline:
        with socket.socket() as trial:
            if trial.connect_ex(("127.0.0.1", port)) == 0:
                return Server(folder, port, process)
        if process.poll() is not None:
            raise AssertionError((folder / "log").read_text())
        time.sleep(0.02)
    raise AssertionError("the SSH server never came up")
