"""Where numbers come from, over the wire."""

from functools import cache

from pydantic import Field

from kunstflug.documents.base import Out
from kunstflug.wording.origins import LIMITS, POINT, SOURCES, Origin


class OriginOut(Out):
    """By what law a number is worked out, after whom, and how far that carries."""

    key: str
    of: str = Field(description="point, for a number of the operating point; limit, for a load against its limit")
    title: str
    dimension: str
    how: str
    sources: list[str] = Field(description="empty where racers do so and nobody has published it")
    weak: str


def _out(key: str, of: str, origin: Origin) -> OriginOut:
    return OriginOut(
        key=key, of=of, title=origin.title, dimension=origin.dimension, how=origin.how,
        sources=[SOURCES[source] for source in origin.sources], weak=origin.weak,
    )  # fmt: skip


@cache
def origins() -> list[OriginOut]:
    """All numbers of a forecast."""
    point = [_out(key, "point", one) for key, one in POINT.items()]
    return point + [_out(key.value, "limit", one) for key, one in LIMITS.items()]
