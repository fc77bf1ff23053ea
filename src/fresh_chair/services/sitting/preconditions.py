"""Preconditions of a sitting at the bench, and those that were skipped. Nothing here prevents a sitting."""

from fresh_chair.core.clock import Moment
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.fixtures import bench_of
from fresh_chair.core.plan.people import Consent, lacking_consents, screened
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.sitting.journal import ChairFound
from fresh_chair.core.sitting.state.phase import Phase
from fresh_chair.services.chair.freshness import found_at, tried_since
from fresh_chair.services.study.open_study import OpenStudy


@frozen
class BenchLine:
    """One thing that should be so.

    Attributes:
        done: False where it is missing, or nobody has looked.
    """

    words: str
    done: bool


def bench_lines(opened: OpenStudy, seat: Seat, found: ChairFound) -> list[BenchLine]:
    """The preconditions of this sitting: the chair, the fixtures, consent; and the chair's alterations.

    Args:
        opened: The study.
        seat: The sitting.
        found: How the chair was found when it began.
    """
    study = opened.study
    chair, person = study.chair_by_letter[seat.chair], study.person_by_code[seat.participant]
    why = f": {'; '.join(found.told)}" if found.told else ""
    lines = [BenchLine(f"the chair is {found.freshness}{why}", found.freshness == "fresh")]
    lines += _put_back(opened, seat, fresh=found.freshness == "fresh")
    titles = {study.card_by_id[card].title for card in seat.cards}
    for fixture in bench_of(study, opened.fixture_checks):
        if titles & set(fixture.cards):
            state = "there" if fixture.ready else "missing" if fixture.check is not None else "nobody has looked"
            lines.append(BenchLine(f"{fixture.name}: {state}", fixture.ready))
    if person.role == "participant" and study.sheet.consents:
        lacking = lacking_consents(person, study.sheet.consents)
        said = f"no consent yet: {', '.join(lacking)}" if lacking else "consent is dated"
        lines.append(BenchLine(said, not lacking))
    lines += [BenchLine(f"altered: {alteration}", True) for alteration in chair.alterations]
    return [*lines, *_start_states(opened, seat)]


def _put_back(opened: OpenStudy, seat: Seat, *, fresh: bool) -> list[BenchLine]:
    """The put-back steps of the cards tried at this chair since it was last proved fresh."""
    tried = tried_since(opened, seat.chair)
    steps = [step.rstrip(".") for card in opened.study.cards if card.id in tried for step in card.put_back]
    if not steps:
        return []
    if fresh:
        return [BenchLine("put back: the chair is fresh, so it is done", True)]
    more = f" and {len(steps) - 3} more" if len(steps) > 3 else ""
    return [BenchLine(f"put back, not proved: {'; '.join(steps[:3])}{more}", False)]


def _start_states(opened: OpenStudy, seat: Seat) -> list[BenchLine]:
    """Whether the chair itself is asked for the start states of this sitting's cards."""
    from fresh_chair.services.chair.enquiries import BEFORE, lines_of

    stated = [card for card in seat.cards if opened.study.card_by_id[card].start]
    if not stated:
        return []
    reach = opened.known_chairs.of(seat.chair).reach
    asked = [card for card in stated if lines_of(opened, seat.chair, BEFORE, [card])] if reach else []
    if not asked or reach == "courier":
        return [BenchLine("start states: by eye, the chair cannot be asked", True)]
    return [BenchLine(f"start states: the chair is asked before {len(asked)} of {len(stated)} cards", True)]


def unasked_consents(study: Study, seat: Seat) -> tuple[Consent, ...]:
    """The consents this person has not given yet."""
    person = study.person_by_code[seat.participant]
    if not person.is_newcomer:
        return ()
    return tuple(consent for consent in study.sheet.consents if consent.id not in person.consents)


_SCREENED = {"failed": "the screener says no", "open": "the screener is not done"}


def seating_objections(opened: OpenStudy, seat: Seat) -> list[str]:
    """Objections to seating this person there now, a few words each; none of them prevents it."""
    study = opened.study
    person = study.person_by_code[seat.participant]
    found = []
    earlier = [
        other.chair
        for other in study.seats
        if other.participant == seat.participant
        and other.position < seat.position
        and opened.phase(other.number) is Phase.EMPTY
    ]
    if earlier:
        found.append(f"out of {seat.participant}'s order: {' and '.join(earlier)} comes first")
    if person.left:
        found.append(f"{seat.participant} left")
    if person.is_newcomer:
        result = screened(person, study.sheet.screener).result
        found += (
            ["the screener says no"] if result == "failed" else ["the screener is not done"] if result == "open" else []
        )
        lacking = lacking_consents(person, study.sheet.consents)
        if lacking:
            found.append(f"not agreed to yet: {', '.join(lacking)}")
    return found


def skipped(opened: OpenStudy, seat: Seat, now: Moment) -> tuple[str, ...]:
    """The preconditions that did not hold when the person sat down; the chair's own state is on record besides."""
    lines = bench_lines(opened, seat, found_at(opened, seat.chair, now))
    return tuple(line.words[:400] for line in lines[1:] if not line.done)
