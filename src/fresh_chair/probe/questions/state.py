"""Questions about a chair's identity and state: POSIX shell, and commands that a desktop has.

Each question only reads, and starts nothing: a service that answers over D-Bus is asked where it runs already. What a
command needs and is not there ends with 127, and is said as that.
"""

from fresh_chair.probe.questions.framing import Question

# Reading dconf's store would make a file for its users in the runtime or cache folder; where it cannot, it reads alike.
QUIETLY = "XDG_RUNTIME_DIR=/proc"
_HAS_OWNER = "org.freedesktop.DBus.NameHasOwner"
_BUS = "/org/freedesktop/DBus"


def runs(name: str) -> str:
    """A condition of the shell: whether a name of the session's bus has an owner; asking the bus starts nothing."""
    return (
        '[ -n "${DBUS_SESSION_BUS_ADDRESS:-}" ] && { '
        f"gdbus call --session --dest org.freedesktop.DBus --object-path {_BUS} --method {_HAS_OWNER} {name} || "
        f"dbus-send --session --print-reply --dest=org.freedesktop.DBus {_BUS} {_HAS_OWNER} string:{name} || "
        f"busctl --user call org.freedesktop.DBus {_BUS} org.freedesktop.DBus NameHasOwner s {name}; "
        "} 2>/dev/null | grep -q true"
    )


XFCONF = "org.xfce.Xfconf"
_DATA_DIRS = (
    'dirs="${XDG_DATA_HOME:-$HOME/.local/share}:${XDG_DATA_DIRS:-/usr/local/share:/usr/share}:'
    '/var/lib/flatpak/exports/share:$HOME/.local/share/flatpak/exports/share:/var/lib/snapd/desktop"; IFS=:\n'
)
# One kind of file for each common purpose.
PURPOSE_TYPES = {
    "web": "x-scheme-handler/http",
    "mail": "x-scheme-handler/mailto",
    "pictures": "image/png",
    "music": "audio/mpeg",
    "video": "video/mp4",
    "pdf": "application/pdf",
    "text": "text/plain",
    "folders": "inode/directory",
}
_ENVIRONMENT = "XDG_CURRENT_DESKTOP|XDG_SESSION_TYPE|DESKTOP_SESSION|WAYLAND_DISPLAY|DISPLAY|LANG|XDG_SESSION_DESKTOP"

IDENTITY = (
    Question("os-release", "cat /etc/os-release 2>/dev/null || cat /usr/lib/os-release", needs="os-release"),
    Question("kernel", "uname -s; uname -r; uname -m; cat /proc/version 2>/dev/null"),
    Question(
        "session",
        # Another login, such as this one, does not have the desktop's surroundings; its own programs do.
        f"cat /proc/[0-9]*/environ 2>/dev/null | tr '\\0' '\\n' | grep -aE '^({_ENVIRONMENT})=.' | sort | uniq -c |"
        " sort -rn | head -40; true",
        most_bytes=20_000,
    ),
    Question(
        "desktop version",
        "export QT_QPA_PLATFORM=offscreen\n"
        "for c in gnome-shell plasmashell xfce4-session cinnamon mate-session lxqt-session budgie-panel; do\n"
        "  command -v $c >/dev/null 2>&1 || continue\n"
        '  v=$($c --version 2>/dev/null | grep -oE "[0-9]+([.][0-9]+)+" | head -1); [ -n "$v" ] && echo "$c $v"\n'
        "done; true",
        most_bytes=2_000,
    ),
    Question(
        "screens",
        "for d in /sys/class/drm/card*-*; do\n"
        '  [ "$(cat "$d/status" 2>/dev/null)" = connected ] && echo "${d##*/} $(head -1 "$d/modes" 2>/dev/null)"\n'
        "done; true",
        most_bytes=4_000,
    ),
    Question(
        "graphics",
        "for d in /sys/class/drm/card[0-9]; do\n"
        '  [ -e "$d/device/driver" ] && l=$(ls -ld "$d/device/driver") && echo "driver ${l##*/}"\n'
        "done\n"
        "command -v lspci >/dev/null 2>&1 && lspci 2>/dev/null | grep -E 'VGA|3D|Display'; true",
        most_bytes=4_000,
    ),
    Question(
        "machine",
        "grep -m1 -E '^(model name|Hardware|Model)' /proc/cpuinfo\n"
        "echo \"cores $(grep -c '^processor' /proc/cpuinfo)\"\n"
        "grep -E '^(MemTotal|SwapTotal):' /proc/meminfo\n"
        'command -v systemd-detect-virt >/dev/null 2>&1 && echo "detected $(systemd-detect-virt)"\n'
        "grep -q -w hypervisor /proc/cpuinfo && echo hypervisor\n"
        "for f in sys_vendor product_name; do\n"
        '  [ -r /sys/class/dmi/id/$f ] && echo "$f $(cat /sys/class/dmi/id/$f)"\n'
        "done; true",
        most_bytes=8_000,
    ),
    Question(
        "disk",
        "df -Pk / | tail -1\n"
        "command -v lsblk >/dev/null 2>&1 && lsblk -bPno NAME,SIZE,TYPE,FSTYPE,MOUNTPOINT 2>/dev/null; true",
        most_bytes=40_000,
    ),
    Question(
        "package formats",
        "for c in dpkg rpm pacman apk xbps-query flatpak snap; do\n"
        "  command -v $c >/dev/null 2>&1 && echo $c\n"
        "done; true",
        most_bytes=1_000,
    ),
    Question(
        "language",
        "cat /etc/locale.conf /etc/default/locale 2>/dev/null; echo '#'\n"
        "cat /etc/default/keyboard /etc/vconsole.conf /etc/X11/xorg.conf.d/00-keyboard.conf 2>/dev/null; true",
        most_bytes=8_000,
    ),
    Question(
        "updates",
        "known=\n"
        "if command -v apt-get >/dev/null 2>&1; then known=1\n"
        "  echo \"apt $(apt-get -s -o Debug::NoLocking=true dist-upgrade 2>/dev/null | grep -c '^Inst ')\"; fi\n"
        "if command -v dnf >/dev/null 2>&1; then known=1\n"
        "  echo \"dnf $(dnf -C -q check-update 2>/dev/null | grep -cE '^[A-Za-z0-9].* ')\"; fi\n"
        "if command -v zypper >/dev/null 2>&1; then known=1\n"
        "  echo \"zypper $(zypper --no-refresh -q lu 2>/dev/null | grep -c '^v ')\"; fi\n"
        "if command -v pacman >/dev/null 2>&1; then known=1\n"
        '  echo "pacman $(pacman -Qu 2>/dev/null | wc -l)"; fi\n'
        '[ -n "$known" ] || exit 127',
        seconds=30,
        most_bytes=2_000,
        needs="a package manager",
    ),
)

DEFAULTS = Question(
    "defaults",
    'c=${XDG_CONFIG_HOME:-$HOME/.config}; d=$(echo "${XDG_CURRENT_DESKTOP:-}" | tr A-Z a-z | cut -d: -f1)\n'
    'for f in "$c"/*-mimeapps.list "$c"/mimeapps.list /etc/xdg/*-mimeapps.list /etc/xdg/mimeapps.list '
    '"$HOME"/.local/share/applications/mimeapps.list /usr/local/share/applications/*mimeapps.list '
    "/usr/share/applications/*-mimeapps.list /usr/share/applications/mimeapps.list "
    "/usr/share/applications/defaults.list /usr/share/applications/mimeinfo.cache; do\n"
    '  [ -f "$f" ] && echo "=== $f" && '
    f"grep -E '^([[]|({'|'.join(PURPOSE_TYPES.values())})=)' \"$f\"\n"
    "done; true",
    most_bytes=60_000,
)
PROGRAMS = Question(
    "programs",
    _DATA_DIRS + 'for d in $dirs; do [ -d "$d/applications" ] && find "$d/applications" -name "*.desktop" '
    "-exec grep -HsE '^(Name|NoDisplay|Hidden)=|^[[]' {} +\n"
    "done; true",
    most_bytes=2_000_000,
)
SOURCES = Question(
    "sources",
    "cat /etc/apt/sources.list /etc/apt/sources.list.d/*.list 2>/dev/null | grep -E '^deb ' | sed 's/^/apt /'\n"
    "for f in /etc/apt/sources.list.d/*.sources; do\n"
    '  [ -f "$f" ] && awk -v f="${f##*/}" \'/^URIs:/{u=$2} /^Suites:/{print "apt", f, u, $2}\' "$f"\n'
    "done\n"
    "grep -HsE '^enabled=1' /etc/yum.repos.d/*.repo /etc/zypp/repos.d/*.repo | cut -d: -f1 | sort -u |"
    " sed 's/^/rpm /'\n"
    "grep -sE '^[[]' /etc/pacman.conf | grep -v '[[]options]' | sed 's/^/pacman /'\n"
    "command -v flatpak >/dev/null 2>&1 && flatpak remotes --columns=name,url 2>/dev/null | sed 's/^/flatpak /'; true",
    most_bytes=60_000,
)
PACKAGES = Question(
    "packages",
    "known=\n"
    "if command -v dpkg-query >/dev/null 2>&1; then known=1; echo '=== dpkg'\n"
    "  dpkg-query -W -f '${db:Status-Abbrev} ${Package} ${Version}\\n'; fi\n"
    "if command -v rpm >/dev/null 2>&1 && [ -d /var/lib/rpm -o -d /usr/lib/sysimage/rpm ]; then known=1\n"
    "  echo '=== rpm'; rpm -qa --qf '%{NAME} %{VERSION}-%{RELEASE}\\n' 2>/dev/null; fi\n"
    "if command -v pacman >/dev/null 2>&1; then known=1; echo '=== pacman'; pacman -Q 2>/dev/null; fi\n"
    "if command -v apk >/dev/null 2>&1; then known=1; echo '=== apk'; apk info -v 2>/dev/null; fi\n"
    "if command -v flatpak >/dev/null 2>&1; then known=1; echo '=== flatpak'\n"
    "  flatpak list --columns=application,version,branch 2>/dev/null; fi\n"
    "if command -v snap >/dev/null 2>&1; then known=1; echo '=== snap'; snap list 2>/dev/null; fi\n"
    '[ -n "$known" ] || exit 127',
    seconds=20,
    most_bytes=4_000_000,
    needs="a package manager",
)
USERS = Question("users", "getent passwd 2>/dev/null || cat /etc/passwd", most_bytes=200_000)
NETWORKS = Question(
    "networks",
    "if command -v nmcli >/dev/null 2>&1; then nmcli -t -f NAME,TYPE,DEVICE connection show; exit; fi\n"
    "if command -v connmanctl >/dev/null 2>&1; then connmanctl services; exit; fi\n"
    "if [ -d /var/lib/iwd ]; then ls /var/lib/iwd; exit; fi\n"
    "exit 127",
    most_bytes=60_000,
    needs="a network manager that can be asked",
)
PRINTERS = Question(
    "printers",
    "command -v lpstat >/dev/null 2>&1 || exit 127\n"
    "lpstat -e 2>/dev/null || lpstat -a 2>/dev/null | cut -d' ' -f1; true",
    most_bytes=20_000,
    needs="lpstat",
)

STATE = (
    Question(
        "gsettings",
        f"command -v gsettings >/dev/null 2>&1 || exit 127\n{QUIETLY} gsettings list-recursively",
        seconds=20,
        most_bytes=4_000_000,
        needs="gsettings",
    ),
    Question(
        "dconf",
        f"command -v dconf >/dev/null 2>&1 || exit 127\n{QUIETLY} dconf dump /",
        most_bytes=4_000_000,
        needs="dconf",
    ),
    Question(
        "xfconf",
        "command -v xfconf-query >/dev/null 2>&1 || exit 127\n"
        # Asking would start what was not running; then the files are read instead.
        f"if {runs(XFCONF)} && names=$(xfconf-query -l 2>/dev/null | tail -n +2); then\n"
        '  for c in $names; do echo "=== $c"; xfconf-query -c "$c" -lv 2>/dev/null; done\n'
        'else echo "=== files"; cat "$HOME"/.config/xfce4/xfconf/xfce-perchannel-xml/*.xml 2>/dev/null; fi; true',
        seconds=20,
        most_bytes=4_000_000,
        needs="xfconf-query",
    ),
    Question(
        "ini",
        'cd "${XDG_CONFIG_HOME:-$HOME/.config}" 2>/dev/null || exit 0\n'
        "for f in kdeglobals kwinrc plasmarc kcminputrc kxkbrc ksmserverrc kscreenlockerrc powerdevilrc "
        "powermanagementprofilesrc "
        "plasma-localerc plasmanotifyrc dolphinrc krunnerrc kglobalshortcutsrc plasma-org.kde.plasma.desktop-appletsrc "
        "lxqt/lxqt.conf lxqt/session.conf lxqt/panel.conf pcmanfm-qt/lxqt/settings.conf; do\n"
        '  [ -f "$f" ] && echo "=== $f" && cat "$f" && echo\n'
        "done; true",
        most_bytes=2_000_000,
    ),
    DEFAULTS,
    Question(
        "autostart",
        'for d in "${XDG_CONFIG_HOME:-$HOME/.config}/autostart" /etc/xdg/autostart; do\n'
        '  [ -d "$d" ] && find "$d" -name "*.desktop" -exec cksum {} +\n'
        "done; true",
        most_bytes=200_000,
    ),
    Question(
        "panels",
        'cd "${XDG_CONFIG_HOME:-$HOME/.config}" 2>/dev/null || exit 0\n'
        "find . -type f \\( -path '*panel*' -o -path '*dock*' -o -path '*appletsrc*' \\) ! -path '*ache*' "
        "-exec cksum {} +; true",
        most_bytes=200_000,
    ),
    PROGRAMS,
    PACKAGES,
    SOURCES,
    NETWORKS,
    PRINTERS,
    USERS,
    Question(
        "home",
        'cd "$HOME" || exit 1\n'
        "if find . -maxdepth 0 -printf '' 2>/dev/null; then\n"
        "  find . -xdev -name .cache -prune -o -printf '%y\\t%s\\t%P\\n' 2>/dev/null; true\n"
        "else find . -xdev -name .cache -prune -o -exec ls -ldn {} + 2>/dev/null | sed 's/^/ls /'; fi; true",
        seconds=30,
        most_bytes=8_000_000,
    ),
)
