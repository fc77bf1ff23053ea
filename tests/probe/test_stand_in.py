"""The stand-in chair: a real SSH server, made-up answers, and drift as its people make it."""

import asyncio
from pathlib import Path

import pytest

from fresh_chair.core.chair.answers import Answer
from fresh_chair.core.chair.drift import drift_of, noise_between
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.errors import OutsideError
from fresh_chair.demo.machines import MadeUpMachine
from fresh_chair.probe.parsing.state import state_of
from fresh_chair.probe.questions.framing import Question
from fresh_chair.probe.questions.state import IDENTITY, STATE
from fresh_chair.probe.runner import ask_all
from fresh_chair.probe.ssh import HostKeys, Ssh
from fresh_chair.probe.stand_in import stand_in
from fresh_chair.probe.transport import Address


async def asked(machine: MadeUpMachine, folder: Path, *questions: Question) -> dict[str, Answer]:
    async with stand_in(machine.answer, host_key=folder / "key") as (port, fingerprint):
        keys = HostKeys(folder / f"confirmed-{port}")
        import asyncssh

        public = asyncssh.read_private_key(str(folder / "key"))
        assert public.get_fingerprint() == fingerprint
        keys.trust("127.0.0.1", port, public.export_public_key().decode())
        way = Ssh(Address("127.0.0.1", port, "guest"), keys)
        try:
            return await ask_all(way, questions)
        finally:
            await way.close()


@pytest.mark.parametrize("letter", ["A", "B", "C"])
async def test_each_chair_is_fresh_until_somebody_sits_there_and_again_when_put_back(
    letter: str, tmp_path: Path
) -> None:
    machine = MadeUpMachine(letter)
    baseline = state_of(await asked(machine, tmp_path, *STATE))
    noise = noise_between(baseline, state_of(await asked(machine, tmp_path, *STATE)))
    assert drift_of(baseline, state_of(await asked(machine, tmp_path, *STATE)), noise).freshness == "fresh"
    machine.sit_down()
    drift = drift_of(baseline, state_of(await asked(machine, tmp_path, *STATE)), noise)
    assert drift.freshness == "not fresh"
    assert "the theme was changed" in [said.words for said in told(drift.differences)]
    machine.put_back()
    assert drift_of(baseline, state_of(await asked(machine, tmp_path, *STATE)), noise).freshness == "fresh"


async def test_it_runs_nothing_and_keeps_its_host_key(tmp_path: Path) -> None:
    machine, marker = MadeUpMachine("B"), tmp_path / "ran"
    answers = await asked(machine, tmp_path, Question("anything", f"touch {marker}"), IDENTITY[0])
    assert not marker.exists()
    assert answers["anything"].why == "what it needs is not there"
    assert "Lanternwood" in answers["os-release"].text
    key = (tmp_path / "key").read_bytes()
    await asked(machine, tmp_path, IDENTITY[0])
    assert (tmp_path / "key").read_bytes() == key


async def test_a_port_that_is_taken_is_one_sentence(tmp_path: Path) -> None:
    machine = MadeUpMachine("B")
    async with stand_in(machine.answer, host_key=tmp_path / "key") as (port, _):
        with pytest.raises(OutsideError, match=f"cannot listen at port {port}"):
            async with stand_in(machine.answer, host_key=tmp_path / "key", port=port):
                await asyncio.sleep(0)
