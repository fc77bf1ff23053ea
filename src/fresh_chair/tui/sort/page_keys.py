"""The keys of a finding's page."""

from textual.binding import Binding

PAGE_KEYS = [
    Binding("enter", "do('edits.change')", "change", id="finding.change", tooltip="Change or open the line in hand"),
    Binding("v", "do('edits.severity')", "severity", id="finding.severity", tooltip="How bad it is, and why"),
    Binding("c", "do('edits.add','cause')", "cause", id="finding.cause", tooltip="A hypothesis of why it is so"),
    Binding(
        "t", "do('edits.add','trial')", "trial", id="finding.trial", tooltip="What was tried, and whether it helped"
    ),
    Binding("w", "do('edits.add','workaround')", "way round", id="finding.way", tooltip="How it can be got round"),
    Binding(
        "x", "do('edits.add','excuse')", "excuse", id="finding.excuse", tooltip="Why it is forgiven, and until when"
    ),
    Binding(
        "n",
        "do('edits.narrower')",
        "for whom",
        id="finding.narrower",
        show=False,
        tooltip="A severity for a chair, an audience, or once the workaround is known",
    ),
    Binding(
        "o",
        "do('edits.occurrence')",
        "comes back",
        id="finding.occurrence",
        show=False,
        tooltip="Whether it comes and goes",
    ),
    Binding(
        "delete",
        "do('edits.drop')",
        "drop",
        id="finding.drop",
        key_display="Del",
        show=False,
        tooltip="The line in hand does not hold, with why",
    ),
    Binding(
        "ampersand",
        "do('edits.tie')",
        "tie",
        id="finding.tie",
        key_display="&",
        show=False,
        tooltip="Tie the line in hand, or the finding, to another thing",
    ),
    Binding(
        "V",
        "do('looks.pictures')",
        "pictures",
        id="finding.pictures",
        show=False,
        tooltip="Show a picture of what was seen",
    ),
    Binding(
        "R",
        "do('looks.recording')",
        "recording",
        id="finding.recording",
        show=False,
        tooltip="The recording of the sitting, at this very moment",
    ),
    Binding("p", "do('looks.paper')", "on paper", id="finding.paper", show=False, tooltip="Write this page as a PDF"),
    Binding(
        "left", "column('left')", "left", id="finding.left", key_display="←", show=False, tooltip="The left column"
    ),
    Binding(
        "right", "column('right')", "right", id="finding.right", key_display="→", show=False, tooltip="The right column"
    ),
    Binding(
        "less_than_sign",
        "do('looks.neighbour',-1)",
        "before",
        id="finding.before",
        key_display="<",
        show=False,
        tooltip="The finding before",
    ),
    Binding(
        "greater_than_sign",
        "do('looks.neighbour',1)",
        "after",
        id="finding.after",
        key_display=">",
        show=False,
        tooltip="The next finding",
    ),
    Binding("u", "do('edits.undo')", "take back", id="finding.undo", show=False, tooltip="Strike your last change"),
]
