"""The keys of Sit: which act each names, and the entry it logs, by which the rules say whether it is offered."""

from collections.abc import Sequence

from textual.binding import Binding, BindingType

from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.rules import may_follow
from fresh_chair.core.sitting.state.phase import Phase

KEYS: list[BindingType] = [
    Binding("enter", "seat_next", "seats who is next", id="sit.seat", tooltip="Seat whoever is next on the board"),
    Binding(
        "enter",
        "do('course.meet')",
        "the first card",
        id="sit.meet",
        tooltip="The words before the first card were said",
    ),
    Binding(
        "enter", "do('course.start')", "start the clock", id="sit.start", tooltip="The card was read; the clock starts"
    ),
    Binding("enter", "do('endings.judge')", "how it ended", id="sit.judge", tooltip="Say how the attempt ended"),
    Binding("enter", "do('endings.rate')", "ease", id="sit.rate", tooltip="Ask how easy it was"),
    Binding("enter", "do('endings.answer')", "next statement", id="sit.answer", tooltip="Ask the usability scale"),
    Binding(
        "enter", "do('course.close_sitting')", "ends the sitting", id="sit.close", tooltip="The participant gets up"
    ),
    Binding(
        "enter", "do('endings.stop')", "ends", id="sit.stop", tooltip="The clock stops; how it ended is asked next"
    ),
    Binding(
        "i", "do('course.take_up')", "back to it", id="sit.take_up", tooltip="Back to the card that was left running"
    ),
    Binding(
        "minus",
        "do('course.left_ready')",
        "it is ready",
        id="sit.ready",
        key_display="-",
        tooltip="What was left running has come to its end",
    ),
    Binding("P", "do('player.follow')", "follow", id="sit.follow", show=False, tooltip="Follow a player, or stop"),
    Binding("space", "do('player.play')", "play, stop", id="sit.play", tooltip="The recording's clock runs, or stands"),
    Binding(
        "slash",
        "do('player.time_code')",
        "time code",
        id="sit.code",
        key_display="/",
        tooltip="Where the player stands",
    ),
    Binding(
        "left",
        "do('player.nudge', -5)",
        "5 s back",
        id="sit.earlier",
        key_display="←",
        show=False,
        tooltip="5 s back in it",
    ),
    Binding(
        "right", "do('player.nudge', 5)", "5 s on", id="sit.later", key_display="→", show=False, tooltip="5 s on in it"
    ),
    *(
        Binding(key, f"do('marks.tell_wait', '{how}')", how, id=f"sit.wait_{name}", tooltip=f"This wait: {how}")
        for key, how, name in (
            ("v", "shown progress", "shown"),
            ("c", "silent", "silent"),
            ("b", "believed frozen", "frozen"),
        )
    ),
    *(
        Binding(key, f"do('marks.tell_help', '{level}')", words, id=f"sit.help_{name}", tooltip=f"This help: {level}")
        for key, level, words, name in (
            ("c", "repeated the card", "card again", "repeated"),
            ("g", "encouraged", "gave courage", "encouraged"),
            ("v", "hinted", "voiced a hint", "hinted"),
            ("b", "showed", "by showing", "showed"),
        )
    ),
    Binding("w", "do('marks.wait')", "waiting", id="sit.wait", tooltip="The machine is busy, from here or no longer"),
    Binding("s", "do('remarks.snag')", "snag", id="sit.snag", tooltip="A trouble, now; words follow"),
    Binding("a", "do('marks.aside')", "aside", id="sit.aside", tooltip="Talk or telephone, from here or no longer"),
    Binding("h", "do('marks.helped')", "helped", id="sit.helped", tooltip="You helped"),
    Binding(
        "p", "do('marks.wrong_place')", "wrong place", id="sit.wrong_place", tooltip="Looked where the thing is not"
    ),
    Binding(
        "d", "do('remarks.delight')", "delight", id="sit.delight", tooltip="Something that pleased, now; words follow"
    ),
    Binding(
        "f", "do('marks.said_done')", "says done", id="sit.said_done", tooltip="The participant says it is finished"
    ),
    Binding("t", "do('marks.mark', 'tries again')", "tries again", id="sit.tries", tooltip="Tries the same again"),
    Binding(
        "r", "do('marks.mark', 'no reaction')", "no reaction", id="sit.reaction", tooltip="The machine does not react"
    ),
    Binding("z", "do('marks.mark', 'hesitates')", "hesitates", id="sit.hesitates", tooltip="Stops and looks"),
    Binding("m", "do('marks.mark', 'misled')", "misled", id="sit.misled", tooltip="A message names the wrong cause"),
    Binding(
        "o", "do('marks.visit')", "at a place", id="sit.place", tooltip="Where the person is; typed, with completion"
    ),
    Binding("l", "do('marks.step')", "next step", id="sit.step", tooltip="One step further on the expected route"),
    Binding("q", "do('remarks.quote')", "quote", id="sit.quote", tooltip="In the participant's own words"),
    Binding("y", "do('remarks.warning')", "warning", id="sit.warning", tooltip="The machine warns"),
    Binding("k", "do('remarks.question')", "question", id="sit.question", tooltip="Something to come back to"),
    Binding("x", "do('course.pass_card')", "pass over", id="sit.pass", tooltip="Leave this card out, with why"),
    Binding("n", "do('remarks.note')", "note", id="sit.note", tooltip="Anything else worth keeping, now; words follow"),
    Binding("u", "do('endings.undo')", "take back", id="sit.undo", tooltip="Strike the last entry, as a correction"),
    Binding(
        "g", "do('remarks.known')", "how known", id="sit.known", show=False, tooltip="Done, seen, heard, read about"
    ),
    Binding(
        "e",
        "do('remarks.words')",
        "words",
        id="sit.words",
        tooltip="Words still to come; or for the last mark, such as what was said",
    ),
    Binding("up", "look(3)", "back", id="sit.back", show=False, tooltip="Look further back in the journal"),
    Binding("down", "look(-3)", "forward", id="sit.forward", show=False, tooltip="Look forward in the journal"),
    Binding(
        "i",
        "do('course.leave_running')",
        "left running",
        id="sit.leave",
        tooltip="It works on; the next card meanwhile",
    ),
    Binding(
        "comma",
        "do('marks.restart', 'restart')",
        "restart",
        id="sit.restart",
        key_display=",",
        tooltip="The machine is restarted, for this card",
    ),
    Binding(
        "full_stop",
        "do('marks.restart', 'new login')",
        "new login",
        id="sit.login",
        key_display=".",
        tooltip="Out and in again, for this card",
    ),
    Binding(
        "t", "do('course.once_more')", "try one again", id="sit.again", show=False, tooltip="A card once more, with why"
    ),
    Binding(
        "backspace",
        "do('course.break_off')",
        "break off",
        id="sit.break_off",
        key_display="Bksp",
        tooltip="End the sitting before its end, with why",
    ),
    Binding(
        "J", "do('observing.see')", "as I saw it", id="sit.see", tooltip="How the last attempt ended, as you saw it"
    ),
    Binding("j", "journal", "journal", id="sit.journal", tooltip="Every entry: strike, move, reword, add late"),
    Binding("l", "look_back", "over time", id="sit.look_back", tooltip="A sitting that is over as a drawing"),
    Binding("1", "go('plan')", "the board", id="sit.board", tooltip="Go to Plan"),
    Binding("4", "go('sort')", "sort its snags", id="sit.sort", tooltip="Go to Sort"),
]

# The entry that each key logs; where one may follow, its key is offered.
LOGS: dict[str, str] = {
    **{kind: kind for kind in (*j.WORDABLE, "helped", "wrong_place", "said_done")},
    "start": "attempt_started",
    "meet": "attempt_started",
    "pass_card": "card_passed",
    "leave_running": "left_running",
    "take_up": "taken_up",
    "left_ready": "left_ready",
    "restart": "marked",
    "once_more": "card_reopened",
    "wait": "wait_began",
    "aside": "aside_began",
    "mark": "marked",
    "visit": "place_visited",
    "step": "step_reached",
    "stop": "attempt_stopped",
    "judge": "outcome_judged",
    "rate": "ease_rated",
    "see": "outcome_seen",
    "answer": "usability_answered",
    "close_sitting": "sitting_ended",
}
# Narrower than the rules: the scale is asked once, and declined by a key of its own before the sitting ends.
_ONLY = {"answer": Phase.USABILITY, "close_sitting": Phase.CLOSING}


def may_log(act: str, phase: Phase, *, observed: bool = False) -> bool:
    """Whether an act's entry may follow in a phase; true of an act that logs none of a kind of its own."""
    if act == "break_off":
        # It logs as many entries as the phase needs.
        return phase.open and not observed
    kind = LOGS.get(act)
    return kind is None or (may_follow(kind, phase, observed=observed) and phase is _ONLY.get(act, phase))


# What a key of one sign is called where keys are bound.
_SIGNS = {"comma": ",", "full_stop": ".", "minus": "-", "slash": "/", "plus": "+", "equals_sign": "="}


def keys_by_name(bindings: Sequence[BindingType], place: str) -> dict[str, str]:
    """The key each thing of a place comes with, by its name; Enter, the arrows and the places' digits are left out."""
    named = [binding for binding in bindings if isinstance(binding, Binding) and binding.id]
    keys = {str(binding.id).removeprefix(f"{place}."): _SIGNS.get(binding.key, binding.key) for binding in named}
    return {name: key for name, key in keys.items() if (len(key) == 1 or key == "backspace") and not key.isdigit()}
