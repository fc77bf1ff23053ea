"""A walk over a recording that is not on this machine: asked about before anything begins."""

from pathlib import Path

from fresh_chair.services.study.open_study import open_study
from tests.terminal.pseudo import PROGRAM, PseudoTerminal


def test_a_recording_that_is_not_here_is_asked_about_before_a_walk_begins(small_path: Path, tmp_path: Path) -> None:
    command = [*PROGRAM, "walk", str(small_path), "A", "--recording", "gone.webm 0:30"]
    for more, said in (([], "no file to tell when it was recorded"), (["--began", "2026-11-03T10:00"], "Does it play")):
        terminal = PseudoTerminal([*command, *more], tmp_path / "state")
        try:
            terminal.wait_for(said)
            if more:
                terminal.send(b"n\n")
            assert terminal.ended() not in (0, None)
        finally:
            terminal.close()
        opened = open_study(small_path)
        assert not opened.entries
        opened.close()
    terminal = PseudoTerminal([*command, "--began", "2026-11-03T10:00"], tmp_path / "state")
    try:
        terminal.wait_for("Does it play elsewhere")
        terminal.send(b"y\n")
        terminal.wait_for("gone.webm stands at")
    finally:
        terminal.close()
