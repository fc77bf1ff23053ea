"""What answers mean: formats that cannot run here, on output written for these tests; and hostile text in all."""

from collections.abc import Callable
from datetime import UTC, datetime
from time import process_time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.chair.answers import Answer
from fresh_chair.probe.parsing import settings, software, system
from fresh_chair.probe.parsing.identity import assignments, identity_of
from fresh_chair.probe.parsing.measured import consents, measured
from fresh_chair.probe.parsing.state import state_of

HYPHENED = {"os_release": "os-release", "start_up": "start-up"}


def answers(**texts: str) -> dict[str, Answer]:
    named = {HYPHENED.get(name, name.replace("_", " ")): text for name, text in texts.items()}
    return {name: Answer(name, text) for name, text in named.items()}


def test_packages_of_six_formats() -> None:
    text = """=== dpkg
ii  quill 8.1-2
rc  removed 1.0
iF  half 1.0
=== rpm
kettle 5.0-2.sm9
gpg-pubkey 1-2
=== pacman
daub 2.3-1
=== apk
busybox-1.36.1-r2
so-lib-doc-0.9
=== flatpak
org.example.Daub\t2.3\tstable
org.example.Plain\t\tstable
=== snap
Name  Version  Rev  Tracking  Publisher  Notes
core  16.1     99   latest    somebody   base
"""
    assert software.packages(text) == {
        "dpkg quill": "8.1-2",
        "rpm kettle": "5.0-2.sm9",
        "rpm gpg-pubkey": "1-2",
        "pacman daub": "2.3-1",
        "apk busybox": "1.36.1-r2",
        "apk so-lib-doc": "0.9",
        "flatpak org.example.Daub": "2.3 stable",
        "flatpak org.example.Plain": "stable",
        "snap core": "16.1",
    }


def test_networks_as_nmcli_connman_and_iwd_name_them() -> None:
    terse = "Harbour\\:Guest:802-11-wireless:wlan0\nOld one:802-11-wireless:\nlo:loopback:lo\nback\\\\slash:vpn:\n"
    assert system.networks(terse) == {"Harbour:Guest": "up", "Old one": "remembered", "back\\slash": "remembered"}
    listed = "*AO Harbour Guest        wifi_0000_managed_psk\n*A  Other                wifi_1_managed_none\n"
    listed += "    Never seen    wifi_2\n"
    assert system.networks(listed) == {"Harbour Guest": "up", "Other": "remembered"}
    assert system.networks("Harbour.psk\nfree.open\nnot-one\n") == {"Harbour": "remembered", "free": "remembered"}


def test_settings_stores_are_told_apart_and_dconf_does_not_repeat_what_a_schema_says() -> None:
    gsettings = settings.gsettings("org.x.look theme 'day'\norg.x.look size uint32 4\nbroken\n")
    assert gsettings == {"gsettings org.x.look theme": "'day'", "gsettings org.x.look size": "uint32 4"}
    dump = "[org/x/look]\ntheme='night'\n\n[org/x/panels/1]\nsize=3\n\n[/]\nroot=1\n"
    assert settings.dconf(dump, gsettings) == {"dconf /org/x/panels/1/size": "3", "dconf /root": "1"}


def test_xfconf_is_read_from_its_tool_and_from_its_files_alike() -> None:
    tool = "=== xsettings\n/Net/ThemeName             Day\n/Xft/DPI                   96\n"
    files = (
        '=== files\n<?xml version="1.0"?>\n<!-- a remark -->\n<channel name="xsettings" version="1.0">'
        '<property name="Net" type="empty"><property name="ThemeName" type="string" value="Day"/></property>'
        '<property name="Xft" type="empty"><property name="DPI" type="int" value="96"/></property></channel>'
        '<channel name="other"><property name="list" type="array"><value type="int" value="1"/>'
        '<value type="int" value="2"/></property>'
        '<property name="odd" type="string" value="a &amp; &lt;b&gt;"/></channel>'
    )
    read = settings.xfconf(files)
    assert settings.xfconf(tool) == {k: v for k, v in read.items() if k.startswith("xfconf xsettings")}
    assert read["xfconf other /list"] == "1; 2"
    assert read["xfconf other /odd"] == "a & <b>"


def test_ini_files_of_groups_within_groups() -> None:
    text = "=== kdeglobals\n[General]\nColorScheme=Day\nFixed[$i]=x\n# no\n[Containments][1][Applets]\nplugin=clock\n"
    text += "=== kwinrc\n[Desktops]\nNumber=4\n"
    assert settings.ini(text) == {
        "ini kdeglobals [General] ColorScheme": "Day",
        "ini kdeglobals [General] Fixed": "x",
        "ini kdeglobals [Containments][1][Applets] plugin": "clock",
        "ini kwinrc [Desktops] Number": "4",
    }


def test_default_programs_are_those_of_the_first_file_that_says_one() -> None:
    text = """=== /home/x/.config/mimeapps.list
[Added Associations]
text/plain=wrong.desktop
[Default Applications]
text/plain=mine.desktop;other.desktop;
=== /usr/share/applications/mimeapps.list
[Default Applications]
text/plain=theirs.desktop
x-scheme-handler/http=web.desktop;
=== /usr/share/applications/mimeinfo.cache
[MIME Cache]
image/png=pictures.desktop;more.desktop;
x-scheme-handler/http=cached.desktop
"""
    assert software.defaults(text) == {"web": "web.desktop", "pictures": "pictures.desktop", "text": "mine.desktop"}


def test_programs_are_what_menus_show_by_their_first_name() -> None:
    text = """/a/quill.desktop:[Desktop Entry]
/a/quill.desktop:Name=Quill
/a/quill.desktop:[Desktop Action new]
/a/quill.desktop:Name=New page
/a/helper.desktop:[Desktop Entry]
/a/helper.desktop:Name=Helper
/a/helper.desktop:NoDisplay=true
/b/off.desktop:Name=Off
/b/off.desktop:Hidden=TRUE
"""
    assert software.programs(text) == {"quill": "Quill"}


def test_users_are_people_and_the_home_folder_is_names_and_sizes() -> None:
    passwd = (
        "root:x:0:0::/root:/bin/bash\ndaemon:x:1:1::/:/usr/sbin/nologin\nmara:x:1000:1000::/home/mara:/bin/sh\nbroken\n"
    )
    assert system.users(passwd) == {"root": "/bin/bash", "mara": "/bin/sh"}
    found = "d\t4096\t\nd\t4096\tPictures\nf\t77\tPictures/a\tb.png\nl\t3\tlink\nf\t9\t.bash_history\ns\t0\tsocket\n"
    assert system.home(found) == {
        "Pictures": "folder", "Pictures/a b.png": "77 bytes", "link": "link", "socket": "special",
    }  # fmt: skip
    listed = "ls drwxr-xr-x 2 0 0 4096 Nov  9 10:00 ./Pictures\nls -rw-r--r-- 1 0 0 77 Nov  9 10:00 ./Pictures/a.png\n"
    assert system.home(listed) == {"Pictures": "folder", "Pictures/a.png": "77 bytes"}


def test_half_a_list_is_not_held_against_anything() -> None:
    state = state_of(
        {
            "packages": Answer("packages", "=== dpkg\nii  a 1\n", cut=True),
            "users": Answer("users", "root:x:0:0::/root:/bin/sh\n"),
            "gsettings": Answer("gsettings", "org.x a 1\n", cut=True),
        }
    )
    assert set(state.sections) == {"users"}
    assert state.unread["packages"] == "is too long to be read whole"
    assert state.unread["settings"].startswith("gsettings is too long")
    assert state.unread["home"] == "was not asked"


def test_identity_keeps_where_each_fact_was_read() -> None:
    facts, unread = identity_of(
        answers(
            os_release='NAME="Saltmarsh"\nVERSION_ID=9\nVARIANT="Home"\n$(rm -rf /)\n',
            kernel="Linux\n6.12.4\nx86_64\nLinux version 6.12.4 (x)\n",
            session=" 31 XDG_CURRENT_DESKTOP=ubuntu:GNOME\n  2 XDG_CURRENT_DESKTOP=odd\n  9 WAYLAND_DISPLAY=w\n",
            desktop_version="gnome-shell 46.2\n",
            machine="model name\t: Four Cores\ncores 4\nMemTotal: 8000000 kB\n"
            "sys_vendor Acme\nproduct_name L12\ndetected none\n",
            disk="/dev/sda2 100000000 40000000 55000000 43% /\n"
            'NAME="sda1" SIZE="536870912" TYPE="part" FSTYPE="vfat" MOUNTPOINT="/boot"\n'
            'NAME="sda3" SIZE="10737418240" TYPE="part" FSTYPE="ext4" MOUNTPOINT=""\n',
            language='LANG="en_GB.UTF-8"\n#\nXKBLAYOUT="gb"\n',
            updates="apt 3\nflatpak 1\n",
        )
    )
    said = {(fact.name, fact.value, fact.source) for fact in facts}
    assert ("distribution", "Saltmarsh", "os-release") in said
    assert ("kernel", "6.12.4 (x86_64)", "uname") in said
    assert ("desktop", "GNOME", "the surroundings of running programs") in said
    assert ("session", "wayland", "the surroundings of running programs") in said
    assert ("desktop version", "46.2", "gnome-shell --version") in said
    assert ("machine", "real Acme L12", "systemd-detect-virt") in said
    values = {fact.name: fact.value for fact in facts}
    assert values["memory"] == "7.6 GiB"
    # 5,000,000 blocks of 1 KiB that are neither used nor available, and a part of 10 GiB that nothing is mounted on.
    assert values["reserved on disk"] == "4.8 GiB kept back by the file system, 10 GiB in parts that are not mounted"
    assert values["keyboard"] == "gb"
    assert {(u.name, u.why) for u in unread} >= {("graphics", "was not asked"), ("programs", "was not asked")}


def test_readings_carry_their_conditions_and_a_clock_that_is_years_off_is_said() -> None:
    now = datetime(2026, 11, 25, tzinfo=UTC).timestamp()
    found = measured(
        answers(
            conditions="up 360.0\nonline\nbattery\nroot overlay\nupdating dnf\n946684800\n",
            memory="MemTotal: 8000000 kB\nMemAvailable: 7000000 kB\nSwapTotal: 100 kB\nSwapFree: 100 kB\n",
            space="Filesystem x\n/dev/sda2 100000000 40000000 55000000 43% /\n",
            at_rest="cpu 100 0 100 800 0 0 0 0\ncpu 110 0 110 1780 0 0 0 0\n",
            start_up="Startup finished in 1min 2.500s (kernel) + 500ms (userspace) = 1min 3s\ngraphical reached\n",
            updates="apt 3\n",
        ),
        now=now,
    )
    values = {each["what"]: each for each in found.readings}
    assert values["idle memory"]["low"] == round(1_000_000 / 1024)
    assert values["swap used"]["low"] == 0
    assert values["processor at rest"]["low"] == 2.0  # 20 of 1000 ticks were not idle
    assert values["start-up time"]["low"] == 63.0
    assert values["updates waiting"]["low"] == 3
    assert {each["medium"] for each in found.readings} == {"live"}
    assert {each["power"] for each in found.readings} == {"battery"}
    assert {each["minutes_up"] for each in found.readings} == {6.0}
    assert values["disk used"]["open_now"] == "updating: dnf"
    assert found.remarks == ["the chair's clock says 2000-01-01 00:00 UTC, which is not now"]
    assert [each.name for each in found.unread] == ["running processes"]


@pytest.mark.parametrize(
    ("name", "text", "switch"),
    [
        ("firewall", "ENABLED=yes\n", "on"),
        ("firewall", "firewalld inactive\n", "off"),
        ("encryption", "disk \npart /boot\ncrypt /\n", "on"),
        ("encryption", "disk \npart /\n", "off"),
        ("automatic login", "AutomaticLoginEnable=False\nAutomaticLogin=guest\n", "off"),
        ("automatic login", "autologin-user=guest\n", "on"),
        ("automatic login", "", "off"),
        ("update policy", 'APT::Periodic::Unattended-Upgrade "1";\napt\n', "on"),
        ("update policy", "apt\n", "off"),
        ("location", "true\n", "on"),
    ],
)
def test_defaults_are_read_with_where(name: str, text: str, switch: str) -> None:
    assert consents({name: Answer(name, text)})[name][0] == switch


IDENTITY = ("os-release", "kernel", "session", "machine", "disk")
READERS: list[Callable[[str], object]] = [
    software.packages,
    software.programs,
    software.defaults,
    software.sources,
    system.users,
    system.networks,
    system.printers,
    system.checksums,
    system.home,
    settings.gsettings,
    settings.xfconf,
    settings.ini,
    assignments,
    lambda text: settings.dconf(text, {}),
    lambda text: identity_of(
        {name: Answer(name, text) for name in ("os-release", "kernel", "session", "machine", "disk")}
    ),
    lambda text: measured(
        {n: Answer(n, text) for n in ("conditions", "memory", "space", "at rest", "start-up")}, now=0.0
    ),
    lambda text: consents({n: Answer(n, text) for n in ("firewall", "encryption", "automatic login", "location")}),
]


@given(
    st.lists(
        st.text(max_size=60)
        | st.sampled_from(
            ["=== dpkg", "=== files", "[a", "]", "cpu 1", "up 1e999", "MemTotal: 9999999999999999 kB", "\x1b[2J"]
        ),
        max_size=12,
    ).map("\n".join),
    st.sampled_from(READERS),
)
def test_no_text_whatsoever_makes_a_reader_fail(text: str, reader: Callable[[str], object]) -> None:
    reader(text)
    reader("=== dpkg\n" + text)
    reader("=== files\n<channel name='x'>" + text)


def test_megabytes_of_nonsense_are_read_in_time_that_grows_with_them_only() -> None:
    for reader in READERS:
        for head, part, tail in (
            ("=== files\n", '<property name="x" ', ""),
            ("", "a" * 20, ""),
            ("=== dpkg\n", "x" * 4, "-1"),
            ("=== dpkg\n", "x 1-1\n", ""),
        ):
            once, fourfold = (_cpu_seconds(reader, head + part * size + tail) for size in (12_500, 50_000))
            # Four times as much takes four times as long; what grows with the square takes sixteen.
            assert fourfold < 10 * max(once, 0.01), reader


def _cpu_seconds(reader: Callable[[str], object], text: str) -> float:
    """The least of three runs, in processor time: what else this machine does is not in it."""
    found = []
    for _ in range(3):
        began = process_time()
        reader(text)
        found.append(process_time() - began)
    return min(found)
