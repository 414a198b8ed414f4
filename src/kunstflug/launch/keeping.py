"""Backup and restore of the data in a folder, whether the program runs or not."""

import shutil
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from datetime import datetime
from pathlib import Path
from typing import Final

from kunstflug.core.quantity.errors import RestoreProblem, RunsAlready, StartupProblem
from kunstflug.launch.external import DATABASE, external_store
from kunstflug.launch.folder import only_one
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.store.backup import Backup, check_backup, restore_backup, write_backup
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate
from kunstflug.store.revision import revision_of

PENDING: Final = "restore-pending.zip"
"""Copy of a backup that is being restored; where a start finds it, the restore goes on."""


def usual_name() -> str:
    """Name of a backup that is written now."""
    return f"kunstflug-{datetime.now():%Y%m%d-%H%M%S}.zip"


def back_up(folder: Path, path: Path) -> Backup:
    """Writes a backup of the data in a folder, of the running program's as well.

    Raises
    ------
    StartupProblem : there is no data, or the file cannot be written.
    RestoreProblem : there is no data yet.
    """
    with opened(folder) as store:
        try:
            return write_backup(store.engine, path)
        except OSError as error:
            raise StartupProblem(f"{path} cannot be written: {error.strerror}") from error


def restore(folder: Path, path: Path) -> tuple[Backup, Path | None]:
    """Puts a backup in place of the data in a folder; what was there is backed up first.

    Returns
    -------
    What was restored, and the backup of what was there before (None where there was nothing).

    Raises
    ------
    RestoreProblem : the file is no backup; nothing was touched.
    StartupProblem : the program runs with this folder.
    """
    check_backup(path)
    external = external_store()
    if external:
        with external as store:
            before = _before(store, Path.cwd())
            return restore_backup(store.engine, path), before
    with only_one(folder), PrivateMariaDB(folder) as server:
        store = Store(server.url(DATABASE))
        try:
            before = _before(store, folder)
            pending = folder / PENDING
            shutil.copyfile(path, pending.with_suffix(".copying"))
            pending.with_suffix(".copying").rename(pending)
            return go_on(store, folder) or check_backup(path), before
        finally:
            store.close()


def _before(store: Store, folder: Path) -> Path | None:
    if revision_of(store.engine) is None:
        return None
    path = folder / f"before-restore-{datetime.now():%Y%m%d-%H%M%S}.zip"
    write_backup(store.engine, path)
    return path


def go_on(store: Store, folder: Path) -> Backup | None:
    """Carries a restore through that was begun; None where there is none."""
    pending = folder / PENDING
    if not pending.exists():
        return None
    try:
        backup = restore_backup(store.engine, pending)
    except RestoreProblem:
        pending.rename(folder / "restore-refused.zip")
        raise
    pending.unlink()
    return backup


@contextmanager
def opened(folder: Path, *, new: bool = False) -> Iterator[Store]:
    """The database of a folder: that of the running program, or one that is started for now.

    Parameters
    ----------
    new : where there is no data yet, an empty database is made.
    """
    external = external_store()
    if external:
        with external as store:
            yield store
        return
    server = PrivateMariaDB(folder)
    url = server.socket_url(DATABASE)
    if url is not None:
        store = Store(url)
        try:
            yield store
        finally:
            store.close()
        return
    if not server.data.is_dir() and not new:
        raise StartupProblem(f"there is no data in {folder.name}; set KUNSTFLUG_RUN to the folder that has it")
    with ExitStack() as held:
        try:
            held.enter_context(only_one(folder))
        except RunsAlready as running:  # its database is what did not answer
            raise StartupProblem(f"Kunstflug runs with this folder, but {server.trouble()}") from running
        held.enter_context(server)
        store = Store(server.url(DATABASE))
        held.callback(store.close)
        if new:
            migrate(store.engine)
        yield store
