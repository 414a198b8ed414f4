"""Tracks in words: why one cannot be a boat's."""

from kunstflug.core.tracks import plausible
from kunstflug.wording.say import says
from kunstflug.wording.tongue import Tongue, trimmed


@says(plausible.TooManyJumps)
def _jumps(f: plausible.TooManyJumps, t: Tongue) -> str:
    return f"{trimmed(f.jumps, 7)} impossible jumps of position"


@says(plausible.TooFastRate)
def _rate(f: plausible.TooFastRate, t: Tongue) -> str:
    return f"{trimmed(f.rate_hz)} samples a second"


@says(plausible.TooManyPieces)
def _pieces(f: plausible.TooManyPieces, t: Tongue) -> str:
    return f"{trimmed(f.pieces, 7)} pieces with gaps between them"
