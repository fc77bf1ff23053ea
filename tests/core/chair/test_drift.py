"""Drift: what differs, what is left out by name, and how a person would say it."""

from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.chair.drift import differences, drift_of, noise_between
from fresh_chair.core.chair.drift_words import told
from fresh_chair.core.chair.state import SECTIONS, State, state_from, state_text

STATES = st.dictionaries(
    st.sampled_from(SECTIONS),
    st.dictionaries(st.text("abc", min_size=1, max_size=3), st.text("01", max_size=2)),
    max_size=4,
).map(State)


def state(**sections: dict[str, str]) -> State:
    return State(sections)


@given(STATES)
def test_a_state_does_not_differ_from_itself_and_survives_the_disk(one: State) -> None:
    assert differences(one, one) == []
    again = state_from(state_text(one), where="here")
    assert again.sections == one.sections
    drift = drift_of(one, again)
    assert drift.freshness == ("fresh" if one.count else "not checked")


@given(STATES, STATES)
def test_every_difference_is_told_once_or_left_out_by_name(one: State, other: State) -> None:
    found = differences(one, other)
    for each in found:
        assert one.sections[each.section].get(each.key) == each.before
        assert other.sections[each.section].get(each.key) == each.now
        assert each.before != each.now
    drift = drift_of(one, other, [each.name for each in found[::2]])
    assert sorted(e.name for e in (*drift.differences, *drift.hidden)) == sorted(e.name for e in found)
    assert [e.name for e in drift.hidden] == [e.name for e in found[::2]]
    assert sorted(e.name for said in told(found) for e in said.differences) == sorted(e.name for e in found)


@given(STATES, STATES)
def test_what_moved_between_two_baselines_is_no_drift_afterwards(one: State, other: State) -> None:
    assert drift_of(one, other, noise_between(one, other)).differences == ()


def test_a_section_that_could_not_be_read_is_not_compared_and_said() -> None:
    before = State({"users": {"a": "sh"}, "home": {"x": "1"}})
    now = State({"home": {"x": "1"}}, {"users": "getent is not there"})
    drift = drift_of(before, now)
    assert drift.freshness == "fresh"
    assert drift.unread == {"users": "getent is not there"}
    assert drift_of(before, State({}, {"users": "no", "home": "no"})).freshness == "not checked"


def test_noise_may_be_named_by_its_beginning() -> None:
    before, now = state(home={"a/1": "x", "b": "x"}), state(home={"a/2": "x", "b": "y"})
    drift = drift_of(before, now, ["home:a/*"])
    assert [each.key for each in drift.differences] == ["b"]
    assert len(drift.hidden) == 2


def words(before: State, now: State) -> list[str]:
    return [said.words for said in told(differences(before, now))]


def test_differences_are_said_as_a_person_would_say_them() -> None:
    before = state(
        settings={
            "gsettings org.gnome.desktop.interface color-scheme": "'default'",
            "gsettings org.gnome.desktop.interface gtk-theme": "'A'",
            "gsettings org.gnome.desktop.interface icon-theme": "'A'",
            "gsettings org.gnome.desktop.background picture-uri": "'a'",
            "gsettings org.gnome.shell favorite-apps": "[]",
            "xfconf xfwm4 /general/workspace_count": "4",
            "xfconf xsettings /Net/ThemeName": "A",
            "dconf /org/odd/thing": "1",
        },
        networks={},
        programs={"a.desktop": "A"},
        packages={"dpkg x": "1", "dpkg y": "1"},
        home={"Documents": "folder"},
        users={"mara": "/bin/sh"},
    )
    now = state(
        settings={name: value + "2" for name, value in before.sections["settings"].items()},
        networks={"Harbour": "up"},
        programs={"a.desktop": "A", "b.desktop": "B", "c.desktop": "C"},
        packages={"dpkg x": "2"},
        home={"Documents": "folder", ".local/share/Trash/files/a": "3 bytes", ".config/x": "1 bytes", "b": "1 bytes"},
        users={},
    )
    assert words(before, now) == [
        "one other setting was changed",
        "the picture behind everything was changed",
        "the theme was changed",
        "the icons were changed",
        "the programs that are pinned were changed",
        "windows and workspaces were changed",
        "two programs were added",
        "one package has another version: dpkg x",
        "one package was removed: dpkg y",
        "one network is remembered: Harbour",
        "one user was removed: mara",
        "one file in which programs keep notes changed",
        "the bin holds one more",
        "one file or folder was left behind: b",
    ]


def test_many_things_are_counted_and_names_cannot_act() -> None:
    before, now = (
        state(autostart={}, packages={}),
        state(autostart={"a": "1", "b": "1"}, packages={f"dpkg p{n}": "1" for n in range(40)}),
    )
    assert words(before, now) == ["two programs now start by themselves", "40 packages were added"]
    assert words(state(users={}), state(users={"\x1b[2Jx": "sh"})) == ["one user was added: ␛[2Jx"]
