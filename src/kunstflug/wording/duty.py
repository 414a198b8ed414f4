"""A duty in words."""

from kunstflug.core.thermal.duty import Kind
from kunstflug.wording.tongue import trimmed


def say_duty(kind: Kind, passes: int, pass_s: float, minutes: float) -> str:
    """What a boat is to do, as it stands behind "through"."""
    if kind is Kind.PASSES:
        return f"one pass of {trimmed(pass_s)} s" if passes == 1 else f"{passes} passes of {trimmed(pass_s)} s"
    return f"{'a lap race' if kind is Kind.LAP_RACE else 'a tub test'} of {trimmed(minutes)} min"
