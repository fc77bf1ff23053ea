"""One station of a test: a moderator or an observer who logs until told to leave, and writes down each mark it showed.

Run as a program: ADDRESS SITTING AUTHOR SECONDS SEED SHOWN. It opens the study as often as it takes, goes on with its
sitting where a program before it was killed, and ends with 0 once the server has all of its marks.
"""

import signal
import sys
import time
from contextlib import suppress
from pathlib import Path
from random import Random

from fresh_chair.core.errors import FreshChairError, Refused
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy, open_study
from fresh_chair.store.address import read_address

MODERATOR = "moderator"


def opened_at_last(address: str, author: str) -> OpenStudy:
    """The study, once the server answers."""
    while True:
        try:
            opened = open_study(read_address(address), observe=author != MODERATOR, author=author)
        except FreshChairError:
            time.sleep(0.2)
            continue
        try:
            opened.warm_up()
        except FreshChairError:
            opened.close()
            continue
        assert opened.store.link is not None
        opened.store.link.join(author)
        return opened


def follow(opened: OpenStudy, live: LiveSitting | None) -> None:
    """Do what the screen does between two keys."""
    opened.spool.bring_back()
    with suppress(FreshChairError):
        if live is None:
            opened.take_in(opened.unread())
        elif opened.spool.behind(live.seat.number) or live.opened.observes:
            live.take_in(live.unread())


def taken_up(opened: OpenStudy, number: int, author: str) -> LiveSitting:
    """The sitting in hand: begun, gone on with, or joined."""
    while True:
        phase = opened.phase(number)
        try:
            if author != MODERATOR and phase.open:
                live = LiveSitting(opened, opened.study.seat(number))
                live.join(live.now())
                return live
            if author == MODERATOR:
                live = LiveSitting(opened, opened.study.seat(number))
                if phase is Phase.EMPTY:
                    live.begin(live.now())
                else:
                    live.resume(live.interruption(live.now()), j.Gap.ASIDE, live.now())
                if live.state.phase is Phase.READING:
                    live.log(j.AttemptStarted(live.state.card or "none"), live.now())
                return live
        except FreshChairError as problem:
            print(author, number, phase, problem, file=sys.stderr)
            time.sleep(0.2)
        follow(opened, None)
        time.sleep(0.05)


def next_key(live: LiveSitting, author: str, dice: Random) -> j.Content:
    """What is logged next: mostly snags; a moderator also ends attempts and begins others, an observer marks them."""
    state, chance = live.state, dice.random()
    if author != MODERATOR and chance < 0.4 and state.phase is Phase.RUNNING:
        return j.WrongPlace()
    if author == MODERATOR and chance < 0.15:
        if state.phase is Phase.RUNNING:
            return j.AttemptStopped()
        if state.phase is Phase.JUDGING:
            return j.OutcomeJudged(Outcome.GAVE_UP)
        if state.phase is Phase.EASE:
            return j.EaseRated(3)
        if state.phase is Phase.READING and state.card is not None:
            return j.AttemptStarted(state.card)
    return j.SnagSeen(f"{author} {chance}")


def tell(opened: OpenStudy, live: LiveSitting) -> None:
    """Say how it stands, for whoever wonders why it does not end."""
    spool = opened.spool
    number = live.seat.number
    print(
        spool.words, spool.waiting, spool.behind(number), spool.reads_anew(number), spool.clashes,
        opened.others.known(number), len(live.entries), live.state.phase, vars(spool), file=sys.stderr,
    )  # fmt: skip


def main() -> None:
    """Log for a while."""
    address, number, author, seconds, seed, shown = sys.argv[1:7]
    dice = Random(seed)
    opened = opened_at_last(address, author)
    live = taken_up(opened, int(number), author)
    signal.signal(signal.SIGUSR1, lambda *_: tell(opened, live))
    end = time.monotonic() + float(seconds)
    with Path(shown).open("a", encoding="ascii", buffering=1) as file:
        while time.monotonic() < end:
            with suppress(Refused):
                entry = live.log(next_key(live, author, dice), live.now())
                file.write(f"{entry.id}\n")
            time.sleep(dice.uniform(0.02, 0.2))
            follow(opened, live)
        # Where a server took over just now, that is noticed at the next question, two seconds later at most.
        settled = time.monotonic() + 4
        while opened.spool.waiting or time.monotonic() < settled:
            follow(opened, live)
            time.sleep(0.05)
    opened.close()


if __name__ == "__main__":
    main()
