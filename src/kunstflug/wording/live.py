"""A boat that is being driven, in words that are read from an arm's length."""

from typing import Final

from kunstflug.core.live.watch import Advice, Because, LiveState
from kunstflug.wording.heat import NODES

BECAUSE: Final = {
    Because.NOTHING: "",
    Because.CHARGE: "the charge is used",
    Because.CELL: "a cell is low under load",
    Because.NO_WATER: "it looks as if no cooling water comes through",
}


def advice_words(state: LiveState) -> str:
    """What to do and why, short."""
    why = BECAUSE.get(state.because) or (f"{NODES[state.place].lower()} at its ceiling" if state.place else "heat")
    if state.advice is Advice.COME_IN:
        return f"Come in now: {why}"
    if state.advice is Advice.LIFT:
        return f"Lift: {why}"
    if state.advice is Advice.COOL_DOWN:
        return f"Cool down {state.seconds:.0f} s: {why}"
    return "In a pass" if state.in_pass else "Good for another pass"
