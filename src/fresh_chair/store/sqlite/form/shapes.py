"""The objects that the migrations make, so that any other in a file is noticed before it is read.

A test makes each revision anew and holds this against it; it prints what belongs here where the two differ.
"""

import hashlib


def shape_of(table: object, sql: object) -> str:
    """A short checksum of one object of a file: the table it belongs to, and its SQL but for white space."""
    plain = " ".join(f"{table} {sql}".split())
    return hashlib.sha256(plain.encode("utf-8", "replace")).hexdigest()[:16]


_S0001 = {
    "table alembic_version": "081d577121a0e727",
    "table study": "b16f6d6850c08685",
    "table chair": "7ba29cfdfc57049a",
    "table card": "85e38b4318c57b0a",
    "table person": "39dab50b3734a7f9",
    "table seat": "183358c6d50d28f5",
    "table entry": "4d88ecbe4a048980",
    "table sort_entry": "a27463d0713724e3",
    "table pulse": "5feed24e0342d9e7",
    "trigger entry_no_update": "eaf4dbd07dd94639",
    "trigger entry_no_delete": "bc3a8e02ca22cf80",
    "trigger sort_entry_no_update": "84781c8ed08e032e",
    "trigger sort_entry_no_delete": "c74c7f1e10dba368",
}
_S0002 = {
    "table alembic_version": "081d577121a0e727",
    "table study": "4ea497e46564c042",
    "table chair": "7ba29cfdfc57049a",
    "table card": "85e38b4318c57b0a",
    "table person": "39dab50b3734a7f9",
    "table seat": "183358c6d50d28f5",
    "table entry": "4d88ecbe4a048980",
    "table sort_entry": "a27463d0713724e3",
    "table pulse": "5feed24e0342d9e7",
    "trigger sort_entry_no_update": "84781c8ed08e032e",
    "trigger sort_entry_no_delete": "c74c7f1e10dba368",
    "table machine": "163b79fcd05fba6a",
    "table carried": "065dd374df941abf",
    "table script": "07ce9b27067daa46",
    "table change": "17209ebd2868f032",
    "table hunch": "e981c851b66bae90",
    "table fixture_check": "2902e8574758087b",
    "table erasure": "0f568dbae4a02eb5",
    "trigger script_no_update": "da16e999209060b1",
    "trigger script_no_delete": "8b3aeb667ac8565b",
    "trigger change_no_update": "885cb155a7ea27ff",
    "trigger change_no_delete": "c2d2fd28ba39e333",
    "trigger fixture_check_no_update": "af7d9a8604e89d9a",
    "trigger fixture_check_no_delete": "c49b71e11493615b",
    "trigger erasure_no_update": "7933ef642f602401",
    "trigger erasure_no_delete": "743a4491f009a10e",
    "trigger hunch_no_update": "06bea99d3fb9c433",
    "trigger hunch_no_delete": "089a54c8a2691387",
    "trigger entry_no_update": "8f720259b74a9887",
    "trigger entry_no_delete": "c6b3ccb7d3e15ce9",
}
_S0004 = {
    "table alembic_version": "081d577121a0e727",
    "table study": "244c421199b0ddd6",
    "table machine": "37bc36a00852ce91",
    "table chair": "2b6b74eaa605a077",
    "table card": "8173a9e7ddc23577",
    "table person": "db95d803a31eded8",
    "table carried": "8135ac17f5ad253d",
    "table chair_state": "19b2d1f38c4a234a",
    "table seat": "423cea3d6eec9b0f",
    "table entry": "8f08e9e69f3532d6",
    "table sort_entry": "87348d0a1d54a7a2",
    "table chair_entry": "1b485a3ebd438fb1",
    "table baseline_state": "750b40658affe4ff",
    "table pulse": "4bc14d067d87cd53",
    "table script": "f364c49ed1b01f60",
    "table change": "5c78efd03108f999",
    "table hunch": "be9163d3ae115d24",
    "table fixture_check": "d921570257cfb6e3",
    "table erasure": "42798ae189688725",
    "index chair_letter": "a57fa14d107ada2e",
    "trigger sort_entry_no_update": "84781c8ed08e032e",
    "trigger sort_entry_no_delete": "c74c7f1e10dba368",
    "trigger chair_entry_no_update": "75870f5c732d251c",
    "trigger chair_entry_no_delete": "6334487c2e0d9be9",
    "trigger baseline_state_no_update": "598afd822e10888f",
    "trigger baseline_state_no_delete": "37d09a15d2cd08a5",
    "trigger script_no_update": "da16e999209060b1",
    "trigger script_no_delete": "8b3aeb667ac8565b",
    "trigger change_no_update": "885cb155a7ea27ff",
    "trigger change_no_delete": "c2d2fd28ba39e333",
    "trigger fixture_check_no_update": "af7d9a8604e89d9a",
    "trigger fixture_check_no_delete": "c49b71e11493615b",
    "trigger erasure_no_update": "7933ef642f602401",
    "trigger erasure_no_delete": "743a4491f009a10e",
    "trigger chair_state_no_update": "5b5ffd7b46984cf5",
    "trigger chair_state_no_delete": "c0a81c50f5d8b0af",
    "trigger hunch_no_update": "5ea795b7104d278c",
    "trigger hunch_no_delete": "a187674231a47192",
    "trigger entry_no_update": "3f18cfb0284cfa14",
    "trigger entry_no_delete": "262f4bdb0e04cbf0",
}
# Each revision's objects, by kind and name; the third only adds to the second.
SHAPES: dict[str, dict[str, str]] = {
    "s0001": _S0001,
    "s0002": _S0002,
    "s0003": {
        **_S0002,
        "table chair_entry": "f36e7ca00f241348",
        "table chair_state": "f92f7c51359601ef",
        "trigger chair_entry_no_update": "75870f5c732d251c",
        "trigger chair_entry_no_delete": "6334487c2e0d9be9",
        "trigger chair_state_no_update": "6268c3f6bee40f26",
        "trigger chair_state_no_delete": "9879f43c706f4589",
    },
    "s0004": _S0004,
    "s0005": {
        **_S0004,
        "table evidence_entry": "e42b103551e8ec23",
        "trigger evidence_entry_no_update": "ab6843af6725588d",
        "trigger evidence_entry_no_delete": "825829a6e2e5fd70",
    },
}
