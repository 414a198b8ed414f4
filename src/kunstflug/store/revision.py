"""Which revision the tables of a database have, and which this program knows; without what migrates them."""

from functools import cache
from pathlib import Path
from typing import Final

from sqlalchemy import Engine, inspect, text

MIGRATIONS: Final = Path(__file__).parent / "migrations"


@cache
def known_revisions() -> tuple[str, ...]:
    """Every revision of this program's tables, the oldest first; their files begin with their numbers."""
    return tuple(sorted(file.stem.partition("_")[0] for file in (MIGRATIONS / "versions").glob("[0-9]*.py")))


def newest_revision() -> str:
    """The revision of this program's tables."""
    return known_revisions()[-1]


def revision_of(engine: Engine) -> str | None:
    """The revision of a database; None for an empty one."""
    with engine.connect() as connection:
        if not inspect(connection).has_table("alembic_version"):
            return None
        found = connection.scalar(text("SELECT version_num FROM alembic_version"))
        return None if found is None else str(found)


def is_known(revision: str) -> bool:
    """Whether this program knows a revision, or it is of a newer one."""
    return revision in known_revisions()
