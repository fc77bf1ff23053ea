"""The keys of Sort."""

from textual.binding import Binding

KEYS = [
    Binding(
        "space", "do('members.take')", "take up", id="sort.take", tooltip="Take this up, with all that say the same"
    ),
    Binding("o", "do('members.open')", "new finding", id="sort.open", tooltip="Make a finding of what is taken up"),
    Binding("j", "do('members.join')", "join", id="sort.join", tooltip="Put what is taken up into the finding in hand"),
    Binding("enter", "page", "page", id="sort.page", tooltip="Everything about this finding"),
    Binding("v", "do('judging.severity')", "severity", id="sort.severity", tooltip="Say how bad this is, and why"),
    Binding("i", "do('narrowing.inside')", "inside", id="sort.inside", tooltip="Show its observations at the left"),
    Binding("x", "do('members.part')", "part", id="sort.part", tooltip="Take this out of the finding"),
    Binding("s", "do('members.split')", "split", id="sort.split", tooltip="A finding of its own for what is taken up"),
    Binding("m", "do('members.merge')", "merge", id="sort.merge", tooltip="This finding and the next one are one"),
    Binding("a", "do('narrowing.alike')", "alike", id="sort.alike", tooltip="Those at the left that look like this"),
    Binding("slash", "do('narrowing.search')", "find", id="sort.find", key_display="/", tooltip="Narrow by typing"),
    Binding(
        "f", "do('narrowing.narrow')", "filter", id="sort.filter", tooltip="By kind, chair, card, person, evidence"
    ),
    Binding("r", "do('members.retitle')", "rename", id="sort.retitle", tooltip="Give this finding a better name"),
    Binding(
        "k",
        "do('members.sort_of')",
        "sort",
        id="sort.sort",
        show=False,
        tooltip="Problem, strength, oddity, taste, ...",
    ),
    Binding("g", "do('members.tag')", "tag", id="sort.tag", show=False, tooltip="Put a tag of your own on it, or off"),
    Binding(
        "b",
        "do('members.place')",
        "under",
        id="sort.place",
        show=False,
        tooltip="Put it under a head with its siblings",
    ),
    Binding(
        "e", "do('members.words')", "words", id="sort.words", show=False, tooltip="Write its words, or better ones"
    ),
    Binding(
        "ampersand",
        "do('members.tie')",
        "tie",
        id="sort.tie",
        key_display="&",
        show=False,
        tooltip="Because of, speaks for, same as, ... another thing",
    ),
    Binding("u", "do('members.undo')", "take back", id="sort.undo", show=False, tooltip="Strike your last change here"),
    Binding(
        "t", "sheet('raters')", "raters", id="sort.raters", show=False, tooltip="Several raters, and settling them"
    ),
    Binding(
        "d", "sheet('discovery')", "discovery", id="sort.discovery", show=False, tooltip="How many are still unseen"
    ),
    Binding("n", "sheet('again')", "again", id="sort.again", show=False, tooltip="What is to be tested again"),
    Binding(
        "w", "sheet('observers')", "observers", id="sort.observers", show=False, tooltip="Two observers side by side"
    ),
    Binding("tab", "other", "other list", id="sort.other", tooltip="Go to the other list"),
    Binding("left", "do('narrowing.pile','observations')", "left", id="sort.left", show=False, tooltip="Observations"),
    Binding("right", "do('narrowing.pile','findings')", "right", id="sort.right", show=False, tooltip="Findings"),
    Binding("escape", "do('narrowing.back')", "back", id="sort.back", show=False, tooltip="All loose ones again"),
]
