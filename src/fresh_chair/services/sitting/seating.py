"""A seat held for this station before a person sits down in it, where several stations share a study."""

from fresh_chair.core.errors import NotSaved, Refused
from fresh_chair.services.plan.preparation import seal_hunches
from fresh_chair.services.study.mark_outbox import MarkOutbox
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.store.stations import StationLink


class SeatUnanswered(Refused):
    """The server did not say whether a seat is free; only a person can say that it is taken all the same."""


def hold_seat(opened: OpenStudy, number: int, *, unheld: bool = False) -> None:
    """Hold a sitting for this station, with its person and its chair, and seal the predictions for it.

    It may take a while: the server is asked. Where it cannot be, sittings that were kept for this station beforehand
    can be begun all the same.

    Args:
        opened: The open study.
        number: The sitting.
        unheld: Begin it although it is not kept for this station and the server does not answer.

    Raises:
        Refused: Where another station holds it, its person or its chair.
        SeatUnanswered: Where nothing is known of that.
        NotSaved: Where predictions cannot be sealed in a study on this disk.
    """
    link, seat = opened.store.link, opened.study.seat(number)
    newcomer = opened.study.person_by_code[seat.participant].is_newcomer
    if link is None:
        if newcomer:
            # Whatever is predicted from here on is no prediction.
            seal_hunches(opened, [seat.chair])
        return
    elsewhere = opened.held_elsewhere.get(number)
    if elsewhere is not None:
        said = f"Sitting {number} is held by {elsewhere}: somebody sits in it there."
        raise Refused(said, "Watch it: open --observer NAME")
    try:
        if not link.connected:
            raise NotSaved("The server cannot be reached.")
        link.reserve([number], seat=True)
        if newcomer:
            seal_hunches(opened, [seat.chair])
    except NotSaved:
        if not unheld and not _is_kept(link, number):
            said = f"Nobody was seated: {_unheld(link, number)}."
            raise SeatUnanswered(said, "Keep sittings beforehand with: reserve") from None
        hold_later(opened, number)


def hold_later(opened: OpenStudy, number: int) -> None:
    """Hold a sitting for this station as soon as the server answers; it is not waited for.

    The others learn of it before they see a mark. Where another station holds the seat by then, both are kept.
    """
    link = opened.store.link
    if link is not None and isinstance(opened.spool, MarkOutbox):
        opened.spool.then(lambda: link.reserve([number], seat=True), at_first=True)


def unheld_objection(opened: OpenStudy, number: int) -> str:
    """Why a sitting should not begin while the server cannot be asked; empty where nothing is against it."""
    link = opened.store.link
    if link is None or link.connected or _is_kept(link, number):
        return ""
    return _unheld(link, number)


def at_two_stations(opened: OpenStudy, number: int) -> str:
    """The sentence about a sitting that this station and another one log; empty where only one does."""
    link = opened.store.link
    if link is None:
        return ""
    own = opened.spool.clashes.get(number)
    for each in link.known:
        if own is not None and each.number == number and each.station != link.station:
            return f"Sitting {number} goes on at {each.station} as well; yours is kept beside it, as sitting {own}."
        if each.beside == number and each.station != link.station:
            return f"Sitting {number} goes on at {each.station} as well, kept beside yours as sitting {each.number}."
    return ""


def _is_kept(link: StationLink, number: int) -> bool:
    return any(each.number == number and each.station == link.station for each in link.known)


def _unheld(link: StationLink, number: int) -> str:
    said = "does not answer" if link.connected else "cannot be reached"
    return f"the server {said}, and sitting {number} is not kept for {link.station}"


def let_go_of_seat(opened: OpenStudy, number: int) -> None:
    """Hold a sitting no longer, once its last mark is on the server."""
    link, spool = opened.store.link, opened.spool
    if link is not None and isinstance(spool, MarkOutbox):
        spool.then(lambda: link.release(list({number, spool.clashes.get(number, number)})))
