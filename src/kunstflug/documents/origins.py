"""Where numbers come from, over the wire."""

from functools import cache

from pydantic import Field

from kunstflug.documents.base import Out
from kunstflug.wording.origins import LIMITS, OTHERS, POINT, SOURCES, Origin


class OriginOut(Out):
    """By what law a number is worked out, after whom, and how far that carries."""

    key: str
    of: str = Field(
        description="point, for a number of the operating point; limit, for a load against its limit; or a screen"
    )
    title: str
    dimension: str
    how: str
    sources: list[str] = Field(description="empty where racers do so and nobody has published it")
    weak: str
    narrow: str
    marks: list[str] = Field(description="the screens it stands on; none for a number of the forecast")


def _out(key: str, of: str, origin: Origin) -> OriginOut:
    return OriginOut(
        key=key, of=of, title=origin.title, dimension=origin.dimension, how=origin.how,
        sources=[SOURCES[source] for source in origin.sources], weak=origin.weak,
        narrow=origin.narrow, marks=list(origin.marks),
    )  # fmt: skip


@cache
def origins() -> list[OriginOut]:
    """All numbers of a forecast, and those beside it."""
    point = [_out(key, "point", one) for key, one in POINT.items()]
    limits = [_out(key.value, "limit", one) for key, one in LIMITS.items()]
    others = [_out(name.partition(".")[2], name.partition(".")[0], one) for name, one in OTHERS.items()]
    return point + limits + others
