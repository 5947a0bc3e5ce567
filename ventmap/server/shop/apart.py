"""Reading what somebody gave in a process of its own: no file can take memory or time from the bench.

The child knows neither Django nor the database. The parent watches its memory and its time, and ends it where
either runs out or a person stops it.
"""

from __future__ import annotations

import multiprocessing
import os
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any, TypeVar

from ventmap.core.basics import LogError, VentMapError

T = TypeVar("T")
GIGABYTE = 1 << 30
#: As many files are read at once; the others wait for their turn.
AT_ONCE = threading.BoundedSemaphore(2)
#: Of those, files that should take no time are never both, nor are a viewer's.
SMALL, LOOKED_AT = threading.BoundedSemaphore(1), threading.BoundedSemaphore(1)
SMALL_BYTES = 1_000_000
#: What any file may take [s]; a slow machine reads two megabytes of a log in a second.
SHORTEST_S, LONGEST_S, BYTES_A_SECOND = 20.0, 240.0, 2_000_000
STOPPED = "Reading was stopped; nothing is kept."

_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(
    ["ventmap.server.logs.reading", "ventmap.core.lists", "ventmap.core.forms", "openpyxl", "scipy.optimize"]
)


def memory_limit(size: int) -> int:
    """Bytes that reading a file of `size` bytes may take: four times the file and 1 GB, 6 GB at most."""
    return min(4 * size + GIGABYTE, 6 * GIGABYTE)


def time_limit(size: int) -> float:
    """Seconds that reading a file of `size` bytes may take."""
    return min(SHORTEST_S + size / BYTES_A_SECOND, LONGEST_S)


def read_apart(
    read: Callable[..., T],
    *given: Any,
    size: int,
    tell: Callable[[str], None] = lambda phase: None,
    stopped: Callable[[], bool] = lambda: False,
    longest_s: float | None = None,
    viewer: bool = False,
    told: bool = False,
) -> T:
    """What a function makes of a file, in a process of its own.

    Parameters
    ----------
    read : callable
        By its name in a module that knows no Django; what it is given and gives back is pickled.
    size : int
        Of the file [bytes]: its share of memory and time goes by it.
    tell, stopped : callable
        Told of each phase, the first being ``"waiting"``; asked ten times a second.
    longest_s : float, optional
        Of reading, without the wait for its turn [s].
    viewer : bool
        Brought by somebody who only looks.
    told : bool
        Whether `read` takes a callable of phases as its last argument.

    Raises
    ------
    VentMapError
        What `read` raises itself.
    LogError
        Where it takes too much memory or time, or was stopped.
    """
    tell("waiting")
    with _turn(size, viewer, stopped):
        mine, theirs = _context.Pipe(duplex=False)
        child = _context.Process(target=_child, args=(read, given, told, theirs), daemon=True)
        try:
            child.start()
            theirs.close()
            return _watch(child, mine, tell, stopped, memory_limit(size), longest_s or time_limit(size))  # type: ignore[no-any-return]
        finally:
            child.kill()
            child.join()
            mine.close()


@contextmanager
def _turn(size: int, viewer: bool, stopped: Callable[[], bool]) -> Iterator[None]:
    turns = [*([LOOKED_AT] if viewer else []), *([SMALL] if size < SMALL_BYTES else []), AT_ONCE]
    with ExitStack() as held:
        for turn in turns:
            while not turn.acquire(timeout=0.1):
                if stopped():
                    raise LogError(STOPPED, "file")
            held.callback(turn.release)
        yield


def _child(read: Callable[..., Any], given: tuple[Any, ...], told: bool, pipe: Any) -> None:
    try:
        pipe.send(("made", read(*given, *([lambda phase: pipe.send(("phase", phase))] if told else []))))
    except VentMapError as error:
        pipe.send(("refused", error))
    except MemoryError:
        pipe.send(("refused", LogError(_too_much(0), "file")))
    except RecursionError:
        pipe.send(("refused", LogError("This file is nested deeper than any that is read here.", "file")))
    finally:
        pipe.close()


def _too_much(limit: int) -> str:
    most = f"{limit / GIGABYTE:.1f} GB" if limit else "what there is"
    return f"Reading this file takes more memory than {most}. Export fewer columns, or split it."


def _resident(pid: int) -> int:
    """Memory that a process holds now [bytes]; 0 where it has ended."""
    try:
        pages = int(Path(f"/proc/{pid}/statm").read_text().split()[1])
    except (OSError, IndexError, ValueError):
        return 0
    return pages * os.sysconf("SC_PAGE_SIZE")


def _watch(
    child: Any,
    pipe: Any,
    tell: Callable[[str], None],
    stopped: Callable[[], bool],
    most: int,
    longest_s: float,
) -> Any:
    ends = time.monotonic() + longest_s
    kind: str
    said: Any
    while True:
        try:
            kind, said = pipe.recv() if pipe.poll(0.05) else ("", None)
        except EOFError:
            raise LogError("The file could not be read: its reader ended. Export it again.", "file") from None
        if kind == "made":
            return said
        if kind == "refused":
            raise said from None
        if kind == "phase":
            tell(said)
        if stopped():
            raise LogError(STOPPED, "file")
        if _resident(child.pid) > most:
            raise LogError(_too_much(most), "file")
        if time.monotonic() > ends:
            raise LogError(f"Reading took longer than {longest_s:.0f} s and was ended. Split it.", "file")
