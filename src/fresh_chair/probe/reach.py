"""From the way a chair is reached to the transport that goes it."""

from pathlib import Path

from fresh_chair.core.errors import InputError
from fresh_chair.probe.transport import COURIER, Local, Transport, address_of


def transport_to(way: str, *, known_hosts: Path, identity: tuple[Path, ...] = ()) -> Transport:
    """The transport for a way.

    Args:
        way: `here`, or `ssh user@host:port`.
        known_hosts: The file of confirmed host keys.
        identity: Private keys to use besides the user's own.

    Raises:
        InputError: Where it is no way, or one on which nothing can be asked at once.
    """
    address = address_of(way)
    if way.strip() == COURIER:
        raise InputError(
            "A courier has to be sent.",
            "Write the courier's script, run it on the chair, and read what it brings back.",
        )
    if address is None:
        return Local()
    # Loading it costs a fifth of a second; only who asks over SSH pays for it.
    from fresh_chair.probe.ssh import HostKeys, Ssh

    return Ssh(address, HostKeys(known_hosts, Path.home() / ".ssh" / "known_hosts"), identity=identity)
