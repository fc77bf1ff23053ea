"""Questions for readings, with the conditions under which a chair answers."""

from fresh_chair.probe.questions.framing import Question
from fresh_chair.probe.questions.state import QUIETLY

REST_SECONDS = 5

CONDITIONS = Question(
    "conditions",
    'echo "up $(cut -d" " -f1 /proc/uptime)"\n'
    # The kernel's own table: a default route goes to 00000000.
    'awk \'NR > 1 && $2 == "00000000" {found = 1} END {print found ? "online" : "offline"}\' /proc/net/route\n'
    "for f in /sys/class/power_supply/*/online; do\n"
    '  [ -r "$f" ] && [ "$(cat "$f")" = 1 ] && echo mains\n'
    "done\n"
    "for f in /sys/class/power_supply/BAT*/status; do\n"
    '  [ -r "$f" ] && [ "$(cat "$f")" = Discharging ] && echo battery\n'
    "done\n"
    'awk \'$2 == "/" {kind = $3} END {print "root", kind}\' /proc/mounts\n'
    "grep -qwE 'boot=live|boot=casper|rd.live.image|archisobasedir' /proc/cmdline && echo live\n"
    "for c in apt apt-get dpkg dnf packagekitd unattended-upgr snapd zypper pacman; do\n"
    '  [ -n "$(ps -e -o stat=,comm= 2>/dev/null | awk -v c=$c \'$1 ~ /^[RD]/ && $2 == c\')" ] && echo "updating $c"\n'
    "done; date +%s; true",
    most_bytes=8_000,
)
READINGS = (
    CONDITIONS,
    Question("memory", "cat /proc/meminfo", most_bytes=20_000),
    Question("space", "df -Pk /", most_bytes=8_000),
    Question(
        "start-up",
        "command -v systemd-analyze >/dev/null 2>&1 || exit 127\nsystemd-analyze time",
        most_bytes=4_000,
        needs="systemd-analyze",
    ),
    Question("processes", "ps -e 2>/dev/null | wc -l", most_bytes=100),
    Question(
        "at rest",
        f"head -1 /proc/stat; sleep {REST_SECONDS}; head -1 /proc/stat", seconds=REST_SECONDS + 5, most_bytes=4_000,
    ),
)  # fmt: skip

CONSENTS = (
    Question(
        "automatic login",
        "grep -hsiE '^ *(AutomaticLoginEnable|AutomaticLogin|autologin-user|User) *=' "
        "/etc/gdm3/custom.conf /etc/gdm3/daemon.conf /etc/gdm/custom.conf /etc/lightdm/lightdm.conf "
        "/etc/lightdm/lightdm.conf.d/*.conf /etc/sddm.conf /etc/sddm.conf.d/*.conf; "
        "ls /etc/gdm3 /etc/gdm /etc/lightdm /etc/sddm.conf /etc/sddm.conf.d /usr/lib/sddm >/dev/null 2>&1; "
        "for d in /etc/gdm3 /etc/gdm /etc/lightdm /usr/lib/sddm /etc/sddm.conf; do [ -e $d ] && exit 0; done; exit 127",
        most_bytes=8_000,
        needs="a login screen that is known",
    ),
    Question(
        "encryption",
        "command -v lsblk >/dev/null 2>&1 || exit 127\nlsblk -rno TYPE,MOUNTPOINT",
        most_bytes=20_000,
        needs="lsblk",
    ),
    Question(
        "firewall",
        "if [ -r /etc/ufw/ufw.conf ]; then grep -i '^ENABLED=' /etc/ufw/ufw.conf; exit; fi\n"
        "if command -v firewall-cmd >/dev/null 2>&1; then "
        "systemctl is-active firewalld 2>/dev/null | sed 's/^/firewalld /'; exit 0; fi\n"
        "exit 127",
        most_bytes=2_000,
        needs="a firewall that is known",
    ),
    Question(
        "update policy",
        "if [ -d /etc/apt/apt.conf.d ]; then cat /etc/apt/apt.conf.d/*auto-upgrades 2>/dev/null; echo apt; exit 0; fi\n"
        "f=/etc/dnf/automatic.conf; if [ -r $f ]; then grep -E '^apply_updates' $f; echo dnf; exit 0; fi\n"
        "exit 127",
        most_bytes=8_000,
        needs="an update policy that is known",
    ),
    Question(
        "location",
        f"command -v gsettings >/dev/null 2>&1 || exit 127\n{QUIETLY} gsettings get org.gnome.system.location enabled",
        most_bytes=200,
        needs="gsettings",
    ),
    Question(
        "data sharing",
        "command -v gsettings >/dev/null 2>&1 || exit 127\n"
        f"{QUIETLY} gsettings get org.gnome.desktop.privacy report-technical-problems",
        most_bytes=200,
        needs="gsettings",
    ),
)
