"""A stand-in for a player on a private session bus: it stands where its standard input says, one line a state.

Run as `python -m tests.probe.standin_player`; a line is `Playing 12.5 1.0`: status, seconds, rate; it answers `ok`.
"""

import select
import sys

from jeepney import DBusAddress, HeaderFields, MessageType, new_error, new_method_return
from jeepney.bus_messages import DBus
from jeepney.io.blocking import open_dbus_connection

NAME = "org.mpris.MediaPlayer2.standin"


def main() -> None:
    connection = open_dbus_connection(bus="SESSION")
    reply = connection.send_and_get_reply(DBus().RequestName(NAME))
    assert reply.body[0] == 1, DBusAddress("/").object_path
    print("ready", flush=True)
    status, position, rate = "Stopped", 0, 1.0
    while True:
        ready, _, _ = select.select([sys.stdin, connection.sock], [], [])
        if sys.stdin in ready:
            line = sys.stdin.readline()
            if not line:
                return
            status, seconds, speed = line.split()
            position, rate = round(float(seconds) * 1_000_000), float(speed)
            print("ok", flush=True)
        if connection.sock not in ready:
            continue
        message = connection.receive()
        if message.header.message_type is not MessageType.method_call:
            continue
        if message.header.fields.get(HeaderFields.member) != "GetAll":
            connection.send(new_error(message, "org.freedesktop.DBus.Error.UnknownMethod"))
            continue
        values = {"PlaybackStatus": ("s", status), "Position": ("x", position), "Rate": ("d", rate)}
        connection.send(new_method_return(message, "a{sv}", (values,)))


if __name__ == "__main__":
    main()
