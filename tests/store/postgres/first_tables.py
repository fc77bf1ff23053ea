"""The rights that the first tables gave, for attacks that succeeded there."""

# What the first tables granted: rows of ledgers were written directly.
_APPENDED = "entry, sort_entry, chair_entry, evidence_entry, baseline_state, fixture_check, attached_file"
FIRST_GRANTS = {
    "reads": (
        "USAGE ON SCHEMA fresh_chair",
        "SELECT ON crew, study, machine, chair, card, carried, chair_state, seat, script, change, hunch, erasure, "
        f"pulse, station, reservation, alembic_version, person_code, {_APPENDED}",
        "SELECT, INSERT, UPDATE ON commit_token",
    ),
    "logs": (
        "SELECT ON person",
        f"INSERT ON {_APPENDED}, hunch, pulse, reservation, station",
        "UPDATE ON hunch, pulse, reservation, station",
        "DELETE ON hunch, reservation",
        "UPDATE (state) ON seat",
    ),
    "plans": (
        "INSERT, UPDATE, DELETE ON machine, chair, card, person, carried, chair_state, seat",
        "INSERT ON study, script, change",
        "UPDATE (away, title, question, sample, seed, revision, version, sheet) ON study",
    ),
    "owns": (
        "INSERT ON erasure",
        "UPDATE (body) ON entry, sort_entry, chair_entry, evidence_entry, baseline_state",
        "DELETE ON entry, pulse, attached_file",
    ),
}
