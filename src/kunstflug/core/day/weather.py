"""Go, wait or no: wind against the speed at which a gust turns the boat over, water against heat, waves."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.drive.dangers import blow_over_mps
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.setup.setup import Setup

GUSTS: Final = 1.5
"""A gust over the mean wind (common practice, no source)."""
GO_PART: Final = 0.8
NO_PART: Final = 1.0
"""Of the speed at which a gust turns the boat over (our own grading of a rough law)."""


class Word(StrEnum):
    """What to do."""

    GO = "go"
    WAIT = "wait"
    NO = "no"


ORDER: Final = (Word.GO, Word.WAIT, Word.NO)


class Waves(StrEnum):
    """How the water lies."""

    GLASS = "glass"
    RIPPLES = "ripples"
    CHOP = "chop"
    WAVES = "waves"


@dataclass(frozen=True, slots=True, kw_only=True)
class AgainstWind(Fact):
    """Speed into a gust, and the speed at which that gust turns the boat over."""

    speed_mps: float
    gust_mps: float
    critical_mps: float
    part: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OnWaves(Fact):
    """How the water lies."""

    waves: Waves


@dataclass(frozen=True, slots=True, kw_only=True)
class InWater(Fact):
    """What the heat says in water of a temperature, and how many passes it leaves; -1 for more than twelve."""

    water_c: float
    verdict: Verdict
    passes: int


@dataclass(frozen=True, slots=True, kw_only=True)
class WordWithReason:
    """One word and its reason."""

    word: Word
    why: Fact


def worst_word(words: Sequence[Word]) -> Word:
    """The gravest of some words; go for none."""
    return max(words, key=ORDER.index, default=Word.GO)


def wind_word(setup: Setup, speed_mps: float, wind_mps: float) -> WordWithReason:
    """Wind against the margin of blowing over, boat into the wind at its top speed, gusts counted.

    Parameters
    ----------
    wind_mps : mean wind [m/s], whichever way it blows.
    """
    gust = GUSTS * wind_mps
    critical = blow_over_mps(setup, gust)
    part = speed_mps / critical if critical > 0 else float("inf")
    word = Word.GO if part < GO_PART else Word.WAIT if part < NO_PART else Word.NO
    return WordWithReason(
        word=word, why=AgainstWind(speed_mps=speed_mps, gust_mps=gust, critical_mps=critical, part=part)
    )


def water_word(water_c: float, verdict: Verdict, passes: int, planned: int) -> WordWithReason:
    """Water against heat: no where a part would give way, wait where not one pass is left."""
    word = Word.GO
    if passes == 0 or verdict is Verdict.STOP:
        word = Word.NO
    elif 0 < passes < planned:
        word = Word.WAIT
    return WordWithReason(word=word, why=InWater(water_c=water_c, verdict=verdict, passes=passes))


def waves_word(waves: Waves) -> WordWithReason:
    """Waves: chop is waited out, waves are not for speed (common practice, no source)."""
    word = {Waves.CHOP: Word.WAIT, Waves.WAVES: Word.NO}.get(waves, Word.GO)
    return WordWithReason(word=word, why=OnWaves(waves=waves))
