"""Who may have stopped a boat, and what to try next."""

from pydantic import Field

from kunstflug.core.bench.stopped import Sign, Suspect, next_swap, suspects
from kunstflug.documents.base import Out
from kunstflug.documents.run import StoppedIn
from kunstflug.wording.stopped import CAUTION, NEXT, SIGNS, SUSPECTS


class SuspectOut(Out):
    """One suspect."""

    part: Suspect
    words: str
    chance: float = Field(description="how likely it is [1]")
    swapped: bool


class SignOut(Out):
    """Something that may have been seen."""

    sign: Sign
    words: str


class StoppedOut(Out):
    """Suspects, likeliest first, and what to try next."""

    suspects: list[SuspectOut]
    next: Suspect | None = Field(description="the part to swap next; null once one is as good as found")
    words: str
    caution: str
    signs: list[SignOut]


def stopped_out(given: StoppedIn) -> StoppedOut:
    """Answer to what was seen and swapped so far."""
    found = suspects(given.signs, {s.part: s.runs for s in given.swaps})
    part = next_swap(found)
    first = found[0].suspect
    return StoppedOut(
        suspects=[
            SuspectOut(part=c.suspect, words=SUSPECTS[c.suspect], chance=round(c.chance, 3), swapped=c.swapped)
            for c in found
        ],
        next=part,
        words=NEXT[part] if part is not None else f"It is as good as sure: {SUSPECTS[first]}.",
        caution=CAUTION,
        signs=[SignOut(sign=sign, words=words) for sign, words in SIGNS.items()],
    )
