"""Engine, sessions, and what a database error means."""

import functools
import random
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, Final, ParamSpec, TypeVar

from sqlalchemy import Connection, create_engine, event, text
from sqlalchemy.exc import DBAPIError, InterfaceError, OperationalError, TimeoutError
from sqlalchemy.orm import Session, sessionmaker

from kunstflug.core.quantity.errors import StoreBusy, StoreUnavailable
from kunstflug.store.acting import BOUND, begin, bind
from kunstflug.store.cluster import NOT_READY, nodes_of, plain, spread
from kunstflug.store.marks import watch

POOL: Final = 24
"""Connections; as many as the web server has threads, so that none ever waits for one."""
CONNECT_S: Final = 1.5
ANSWER_S: Final = 3.0
"""How long a statement may take; with the time to connect anew, the racer has an answer within 5 s."""
LONG_S: Final = 600.0
"""What changes or copies whole tables takes as long as the disk needs."""
_PROBE_EVERY_S: Final = 0.5
_PROBE_S: Final = CONNECT_S + ANSWER_S + 1.0
_BUSY: Final = (1205, 1213, 1020)  # lock waited for in vain, deadlock, row changed: nothing was saved, try again
_GONE: Final = (NOT_READY, 2003, 2006, 2013)  # a node of several that is cut off, or was lost on the way
_FULL: Final = (1021, 1114, 3675)  # disk or table full
_TRIES: Final = 4

P = ParamSpec("P")
T = TypeVar("T")


class Store:
    """One database.

    Parameters
    ----------
    url : SQLAlchemy address; several hosts with commas between them are the nodes of a cluster.
    trouble : says in words why the database may be away; asked when it does not answer.
    accounts : whether each racer signs in; then nobody's rows are seen by whoever did not.
    room : bytes that the tracks, logs and pictures of one racer may take; None for as many as there are.
    """

    def __init__(
        self, url: str, trouble: Callable[[], str] | None = None, *, accounts: bool = False, room: int | None = None
    ) -> None:
        address, nodes = nodes_of(url)
        several = len(nodes) > 1
        settings = "innodb_lock_wait_timeout = 2" + (", wsrep_sync_wait = 1" if several else "")  # see cluster.py
        # pre_ping: a server that went away and came back costs one retry, not an error
        self.engine = create_engine(
            address,
            pool_pre_ping=True,
            pool_recycle=1800,
            pool_size=POOL,
            max_overflow=0,
            pool_timeout=2,
            isolation_level="READ COMMITTED",
            connect_args={
                "connect_timeout": CONNECT_S,
                "read_timeout": ANSWER_S,
                "write_timeout": ANSWER_S,
                "init_command": f"SET SESSION {settings}",
                **plain(host for host, _ in nodes),
            },
        )
        self.address = url
        self._several = several
        if several:
            spread(self.engine, nodes)
        self.trouble = trouble or (lambda: "the database does not answer")
        self.accounts, self.room = accounts, room
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)
        bind(self._sessions)
        watch(self._sessions)
        self._breaker = _Breaker()

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session that commits at the end, or rolls everything back.

        Raises
        ------
        StoreUnavailable : the server does not answer, or went away on the way. It says whether anything can have
            been saved.
        StoreBusy : others held what this needed; nothing was saved.
        """
        if not self._breaker.admits():
            raise StoreUnavailable(self._words())
        committing = False
        try:
            with self._sessions() as session:
                begin(session, accounts=self.accounts, room=self.room)
                session.begin()
                yield session
                session.flush()
                committing = True  # from here on nobody knows whether it arrived
                session.commit()
        except (OperationalError, InterfaceError, TimeoutError) as error:
            raise self._meaning(error, committing) from error
        except DBAPIError as error:
            if error.connection_invalidated:
                raise self._meaning(error, committing) from error
            raise
        else:
            self._breaker.worked()

    def _meaning(self, error: Exception, committing: bool) -> StoreUnavailable:
        code = _code(error)
        if code in _BUSY:
            return StoreBusy("others were writing the same; nothing was saved, your input is kept. Try again")
        if self._several and not committing and (code in _GONE or getattr(error, "connection_invalidated", False)):
            # Another node may be there: nothing was saved here, so it can be begun again.
            return StoreBusy(self._words())
        if code in _FULL:
            return StoreUnavailable("the disk is full; nothing was saved, your input is kept. Make room and try again")
        self._breaker.failed()
        return StoreUnavailable(self._words(committing))

    def _words(self, committing: bool = False) -> str:
        saved = "it may or may not have been saved, look before you repeat it" if committing else "nothing was saved"
        return f"{self.trouble()}; {saved}, your input is kept"

    def answers(self) -> bool:
        """Whether the server answers."""
        try:
            with self.transaction() as session:
                session.execute(text("select 1"), execution_options=BOUND)
            return True
        except StoreUnavailable:
            return False

    def close(self) -> None:
        """Closes all connections."""
        self.engine.dispose()

    @contextmanager
    def counted(self) -> Iterator[list[str]]:
        """The statements sent meanwhile; for the tests that hold their number constant."""
        sent: list[str] = []

        def note(*words: object) -> None:
            sent.append(str(words[2]))

        event.listen(self.engine, "before_cursor_execute", note)
        try:
            yield sent
        finally:
            event.remove(self.engine, "before_cursor_execute", note)


@contextmanager
def patient(connection: Connection) -> Iterator[None]:
    """Meanwhile a connection waits for as long as changing or copying whole tables takes, not for a racer's answer."""
    driver: Any = connection.connection.dbapi_connection
    usual = driver._read_timeout, driver._write_timeout  # the driver takes them only when it connects
    driver._read_timeout = driver._write_timeout = LONG_S
    try:
        yield
    finally:
        driver._read_timeout, driver._write_timeout = usual


class _Breaker:
    """While the database is away, one request at a time tries it; the others are told so at once."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._away = False
        self._next_probe = 0.0

    def admits(self) -> bool:
        with self._lock:
            if not self._away:
                return True
            now = time.monotonic()
            if now < self._next_probe:
                return False
            self._next_probe = now + _PROBE_S  # this one tries; it reports well before
            return True

    def failed(self) -> None:
        with self._lock:
            self._away = True
            self._next_probe = time.monotonic() + _PROBE_EVERY_S

    def worked(self) -> None:
        self._away = False


def _code(error: Exception) -> int:
    """MariaDB's number of an error; 0 for none."""
    original = getattr(error, "orig", None)
    first = original.args[0] if original is not None and original.args else 0
    return first if isinstance(first, int) else 0


def retried(work: Callable[P, T]) -> Callable[P, T]:
    """A use case that is done again when it lost a race for a lock; it must begin from the start each time."""

    @functools.wraps(work)
    def again(*args: P.args, **more: P.kwargs) -> T:
        for left in range(_TRIES - 1, 0, -1):
            try:
                return work(*args, **more)
            except StoreBusy:
                time.sleep(random.uniform(0.01, 0.05) * (_TRIES - left))
        return work(*args, **more)

    return again
