"""The one family of errors a user can meet: a title, the state that was kept, a hint."""


class FreshChairError(Exception):
    """An error in one sentence, with a hint.

    Args:
        title: What happened and where, as a sentence.
        hint: What was kept, or what to do; may be empty.
    """

    def __init__(self, title: str, hint: str = "") -> None:
        super().__init__(f"{title} {hint}".strip())
        self.title = title
        self.hint = hint

    def __reduce__(self) -> tuple[type["FreshChairError"], tuple[str, str]]:
        """Go from one process to another whole."""
        return type(self), (self.title, self.hint)


class InputError(FreshChairError):
    """Something a person typed or handed over cannot be used as it is."""


class Refused(FreshChairError):
    """A move that the present state of a sitting does not allow."""


class JournalError(FreshChairError):
    """A journal that cannot be read as one: an unknown entry, a gap, an order that cannot have been."""


class OutsideError(FreshChairError):
    """The world outside failed: a disk, a file, a permission."""


class FileProblem(OutsideError):
    """A study file that cannot be opened, read or written."""


class NotSaved(OutsideError):
    """An entry that did not reach the disk, and is therefore not shown."""


class Overtaken(FreshChairError):
    """Another writer's entry came first; the ledger is to be read on before this one is tried again."""


class Superseded(FreshChairError):
    """Another station moderates the sitting now; these entries are to be kept beside it."""


class NotBegun(FreshChairError):
    """Entries that follow on a sitting's beginning, which is not there yet; they are to be offered again."""


class Unreachable(OutsideError):
    """A chair that cannot be asked, or that broke off."""


class HostKeyUnknown(Unreachable):
    """A chair's SSH host key that is not confirmed yet.

    Args:
        host, port: Where it listens.
        key: The key as OpenSSH writes it.
        fingerprint: What a person compares.
    """

    def __init__(self, title: str, hint: str, *, host: str, port: int, key: str, fingerprint: str) -> None:
        super().__init__(title, hint)
        self.host = host
        self.port = port
        self.key = key
        self.fingerprint = fingerprint


class HostKeyChanged(HostKeyUnknown):
    """A chair that shows another SSH host key than the one that was confirmed."""
