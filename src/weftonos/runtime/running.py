"""One server a workshop: who has it open, and where it is to be reached."""

from __future__ import annotations

import errno
import json
import os
import socket
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path

from filelock import FileLock, Timeout

from weftonos.store.file_errors import ExitCode, WorkshopFileError, telling

LOCK, CARD = "workshop.lock", "workshop.running"
#: An address for documentation (RFC 5737): a datagram socket "connected" to it sends nothing and tells our own side.
_NOWHERE = ("192.0.2.1", 9)


class AlreadyRunning(Exception):
    """Another Weftonos has this workshop open, at ``url`` (empty where it did not say)."""

    def __init__(self, url: str) -> None:
        super().__init__(f"Weftonos has this workshop open already{f', at {url}' if url else ''}.")
        self.url = url


@contextmanager
def alone(data_dir: Path) -> Iterator[None]:
    """Have the workshop in ``data_dir`` to oneself; raises :class:`AlreadyRunning`.

    The system lets go of it when the process ends, however it ends.
    """
    with telling(data_dir):
        data_dir.mkdir(parents=True, exist_ok=True)
        lock = FileLock(data_dir / LOCK)
        try:
            lock.acquire(timeout=0)
        except Timeout:
            raise AlreadyRunning(url_of(data_dir)) from None
    try:
        yield
    finally:
        with suppress(OSError):
            (data_dir / CARD).unlink(missing_ok=True)
        lock.release()


def announce(data_dir: Path, url: str) -> None:
    """Write down where the running server is to be reached, for a second start."""
    with telling(data_dir):
        (data_dir / CARD).write_text(json.dumps({"pid": os.getpid(), "url": url}), encoding="utf-8")


def url_of(data_dir: Path) -> str:
    """Return where the workshop that is open in a folder is to be reached; empty where none is."""
    try:
        url = json.loads((data_dir / CARD).read_text(encoding="utf-8"))["url"]
    except (OSError, ValueError, KeyError, TypeError):
        return ""
    return url if isinstance(url, str) and url.partition(":")[0] == "http" else ""


#: So many ports after the usual one are tried where another program has it.
PORTS_TRIED = 20


def listen_near(host: str, port: int) -> socket.socket:
    """Return a socket that listens on a port, or on the next one that is free; raises as :func:`listen` does."""
    for near in range(port, min(port + PORTS_TRIED, 65535)):
        try:
            return listen(host, near)
        except WorkshopFileError as error:
            if getattr(error.__cause__, "errno", None) != errno.EADDRINUSE:
                raise
    return listen(host, 0)


def listen(host: str, port: int) -> socket.socket:
    """Return a socket that listens; raises WorkshopFileError with a sentence where that cannot be."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # The protocol is named: only then does asyncio send each part of an answer at once.
    listening = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    try:
        if os.name == "posix":
            listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listening.bind((host, port))
        # Who is told of the address may ask at once, and waits until somebody answers.
        listening.listen(128)
    except OSError as error:
        listening.close()
        raise WorkshopFileError(
            f"Nothing can listen on {host}, port {port} ({(error.strerror or 'in use').lower()}). "
            f"Another program may have it: choose another with --port {port + 1 if port < 65535 else 8741}.",
            ExitCode.IN_USE,
        ) from error
    return listening


def own_names() -> Sequence[str]:
    """Return the names of this machine by which others on the local network may call it."""
    name = socket.gethostname().lower()
    short = name.partition(".")[0]
    return tuple(dict.fromkeys((name, short, f"{short}.local")))


def own_addresses() -> Sequence[str]:
    """Return this machine's address on the local network, where it has one; nothing is sent."""
    for family, nowhere in ((socket.AF_INET, _NOWHERE), (socket.AF_INET6, ("2001:db8::1", 9))):
        with suppress(OSError), socket.socket(family, socket.SOCK_DGRAM) as asked:
            asked.connect(nowhere)
            address = str(asked.getsockname()[0])
            if not address.startswith(("127.", "::1")):
                return (address,)
    return ()


def urls(host: str, port: int) -> Sequence[str]:
    """Return the addresses to type in a browser, the handiest first."""

    def url(name: str) -> str:
        return f"http://{f'[{name}]' if ':' in name else name}:{port}/"

    if host not in ("0.0.0.0", "::"):
        return (url(host),)
    return (*(url(address) for address in own_addresses()), url(own_names()[-1]))
