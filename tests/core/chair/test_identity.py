"""Who a chair says it is: where places disagree, among themselves and with the plan."""

from dataclasses import replace

import pytest

from fresh_chair.core.chair.identity import Fact, disagreements, fact
from fresh_chair.core.plan.chairs import Chair, Machine


def facts(*parts: tuple[str, str, str]) -> list[Fact]:
    return [Fact(name=name, value=value, source=source) for name, value, source in parts]


CHAIR = Chair(letter="A", name="Saltmarsh", release="9", desktop="Samphire 3", kernel="6.12", machine="m")
MACHINE = Machine(id="m", name="a laptop", memory="8 GB", virtual=False)


def test_places_that_say_the_same_in_other_words_do_not_disagree() -> None:
    said = facts(
        ("distribution", "Saltmarsh Linux", "os-release"),
        ("release", "9.2", "os-release"),
        ("kernel", "6.12.4-saltmarsh (x86_64)", "uname"),
        ("kernel", "6.12.4-saltmarsh", "/proc/version"),
        ("desktop", "SAMPHIRE", "environment"),
        ("memory", "7.6 GiB", "/proc/meminfo"),
        ("machine", "real Acme 12", "dmi"),
    )
    assert disagreements(said, CHAIR, MACHINE) == []


@pytest.mark.parametrize(
    ("name", "value", "planned"),
    [
        ("distribution", "Oakum", "Saltmarsh"),
        ("release", "10", "9"),
        ("kernel", "6.15.0", "6.12"),
        ("desktop", "Wick", "Samphire 3"),
        ("memory", "3.8 GiB", "8 GB"),
        ("machine", "virtual (kvm)", "real"),
    ],
)
def test_what_contradicts_the_plan_is_shown_with_both_sides(name: str, value: str, planned: str) -> None:
    found = disagreements(facts((name, value, "there")), CHAIR, MACHINE)
    assert [(d.name, d.one, d.one_source, d.other, d.other_source) for d in found] == [
        (name, planned, "the plan", value, "there")
    ]


def test_a_kind_of_machine_that_nobody_said_is_contradicted_by_nothing() -> None:
    assert disagreements(facts(("machine", "virtual (kvm)", "dmi")), CHAIR, replace(MACHINE, virtual=None)) == []


def test_two_places_on_the_chair_that_contradict_each_other_are_shown() -> None:
    found = disagreements(facts(("kernel", "6.12.4", "uname"), ("kernel", "6.11.0", "/proc/version")))
    assert [(d.one_source, d.other_source) for d in found] == [("uname", "/proc/version")]


def test_a_fact_cannot_act_and_is_not_endless() -> None:
    made = fact("distribution", "\x1b]0;owned\x07[bold]" + "x" * 5000, "os-release")
    assert made is not None
    assert "\x1b" not in made.value
    assert len(made.value) <= 400
    assert fact("edition", "  \n ", "os-release") is None


@pytest.mark.parametrize(
    ("found", "differ"),
    [("flatpak, dpkg", False), ("dpkg", False), ("dpkg, flatpak, snap", False), ("rpm", True)],
)
def test_package_formats_are_alike_in_any_order_and_where_one_names_more(found: str, *, differ: bool) -> None:
    chair = replace(CHAIR, package_formats=("dpkg", "flatpak"))
    told = disagreements(facts(("package formats", found, "the commands that are there")), chair)
    assert bool(told) is differ
