"""The demo's stand-in chair: a made-up machine behind a real SSH server, to try Set without a second computer."""

import asyncio
import contextlib
import os
import signal
import sys
from collections.abc import Callable

from platformdirs import user_data_path

from fresh_chair.core.errors import InputError
from fresh_chair.core.text import legible

PAUSE_SECONDS = 0.08
HELP = "Enter: the next person sits down there and gets up again. b: put it back as at first boot. q: switch it off."


def serve_demo_chair(letter: str, port: int, say: Callable[[str], None]) -> None:
    """Serve until it is switched off.

    Args:
        letter: Which chair of the demo study it stands in for.
        port: Where to listen on this computer.
        say: Prints a line.

    Raises:
        InputError: Where the demo has no such chair.
        OutsideError: Where it cannot listen.
    """
    if letter not in ("A", "B", "C"):
        raise InputError(f"The demo has no chair {legible(letter[:3])}.", "It has A, B and C.")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(_serve(letter, port, say))


async def _serve(letter: str, port: int, say: Callable[[str], None]) -> None:
    from fresh_chair.demo.machines import MadeUpMachine
    from fresh_chair.probe.stand_in import stand_in

    machine = MadeUpMachine(letter)
    loop, over = asyncio.get_running_loop(), asyncio.Event()
    for sign in (signal.SIGINT, signal.SIGTERM):
        loop.add_signal_handler(sign, over.set)
    key = user_data_path("fresh-chair") / "stand-in" / "host_key"
    async with stand_in(machine.answer, host_key=key, port=port, pause_seconds=PAUSE_SECONDS) as (at, fingerprint):
        say(f"A stand-in for chair {machine.letter}: made up, and it runs nothing. Its host key is {fingerprint}.")
        say(f"In Set, reach chair {machine.letter} by: ssh guest@127.0.0.1:{at}")
        say(HELP)

        def typed() -> None:
            data = os.read(sys.stdin.fileno(), 4096)
            if not data:
                # Nobody can type there; it goes on until it is ended.
                loop.remove_reader(sys.stdin)
            for line in data.decode("utf-8", "replace").splitlines():
                if line.strip() == "q":
                    over.set()
                elif line.strip() == "b":
                    machine.put_back()
                    say("Put back, as at first boot.")
                else:
                    say(f"Sat and left: {machine.sit_down()}.")

        with contextlib.suppress(PermissionError, ValueError, OSError):
            loop.add_reader(sys.stdin, typed)
        await over.wait()
    say("Switched off.")
