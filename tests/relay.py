"""A network between a station and a server, which can be slow, cut, or silent."""

import contextlib
import selectors
import socket
import threading
import time
from dataclasses import dataclass, field


@dataclass(slots=True)
class _Pair:
    """Two ends of a connection, and what is still under way to each."""

    ends: tuple[socket.socket, socket.socket]
    under_way: list[tuple[float, int, bytes]] = field(default_factory=list)


class Relay:
    """Passes bytes on to a port of this machine, from a thread of its own.

    Args:
        port: Where they go.
    """

    def __init__(self, port: int) -> None:
        self.target = port
        self.delay_seconds = 0.0
        self._cut = False
        self._stalled = False
        self._pairs: list[_Pair] = []
        self._lock = threading.Lock()
        self._listener = socket.create_server(("127.0.0.1", 0))
        self._listener.settimeout(0.2)
        self.port = int(self._listener.getsockname()[1])
        self._leave = threading.Event()
        self._threads = [threading.Thread(target=each, daemon=True) for each in (self._accept, self._pass)]
        for thread in self._threads:
            thread.start()

    def cut(self) -> None:
        """Break every connection, and let none through."""
        self._cut = True
        self._break()

    def stall(self) -> None:
        """Pass nothing on any more, and tell nobody."""
        self._stalled = True

    def restore(self) -> None:
        """Let everything through again."""
        self._cut = self._stalled = False

    def break_once(self) -> None:
        """Break every connection; new ones go through."""
        self._break()

    def close(self) -> None:
        """Take the network down."""
        self._leave.set()
        for thread in self._threads:
            thread.join(2)
        self._break()
        self._listener.close()

    def _break(self) -> None:
        with self._lock:
            pairs, self._pairs = self._pairs, []
        for pair in pairs:
            for end in pair.ends:
                with contextlib.suppress(OSError):
                    end.shutdown(socket.SHUT_RDWR)
                end.close()

    def _accept(self) -> None:
        while not self._leave.is_set():
            try:
                near, _ = self._listener.accept()
            except (TimeoutError, OSError):
                continue
            try:
                if self._cut:
                    raise OSError
                far = socket.create_connection(("127.0.0.1", self.target), timeout=2)
            except OSError:
                near.close()
                continue
            for end in (near, far):
                end.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
                end.setblocking(True)
            with self._lock:
                self._pairs.append(_Pair((near, far)))

    def _pass(self) -> None:
        while not self._leave.is_set():
            with self._lock:
                pairs = list(self._pairs)
            if not pairs or self._stalled:
                time.sleep(0.005)
                continue
            with selectors.DefaultSelector() as selector:
                with contextlib.suppress(ValueError, OSError):
                    for pair in pairs:
                        for at, end in enumerate(pair.ends):
                            selector.register(end, selectors.EVENT_READ, (pair, at))
                waits = 0.001 if any(pair.under_way for pair in pairs) else 0.02
                for key, _ in selector.select(waits):
                    pair, at = key.data
                    self._take(pair, at)
            for pair in pairs:
                self._give(pair)

    def _take(self, pair: _Pair, at: int) -> None:
        try:
            data = pair.ends[at].recv(65536)
        except OSError:
            data = b""
        if data:
            pair.under_way.append((time.monotonic() + self.delay_seconds, 1 - at, data))
            return
        self._drop(pair)

    def _give(self, pair: _Pair) -> None:
        now = time.monotonic()
        while pair.under_way and pair.under_way[0][0] <= now:
            _, to, data = pair.under_way.pop(0)
            try:
                pair.ends[to].sendall(data)
            except OSError:
                self._drop(pair)
                return

    def _drop(self, pair: _Pair) -> None:
        with self._lock:
            if pair in self._pairs:
                self._pairs.remove(pair)
        for end in pair.ends:
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()
