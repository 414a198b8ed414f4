"""A boat that is being driven, in words that are read from an arm's length."""

from typing import Final

from kunstflug.core.live.sensors import Fault
from kunstflug.core.live.watch import Because, Call, LiveState
from kunstflug.wording.heat import NODES

BECAUSE: Final = {
    Because.NOTHING: "",
    Because.CHARGE: "the charge is used",
    Because.CELL: "a cell is low under load",
    Because.NO_WATER: "it looks as if no cooling water comes through",
}

IF_HOT: Final = {
    "controller": "Read it again. If it stays: did water come out of the controller's outlet all the time?",
    "motor front": "Read it again. If it stays: did water come out all the time? Is the shaft free by hand?",
    "motor back": "Read it again. If it stays: does a bearing grind? Is the coupling pushed against the motor?",
    "pack": "Read it again. If it stays: measure each cell's resistance before the next charge.",
    "connector": "Read it again. If it stays: is the plug loose or worn, or a joint badly soldered?",
}
"""Of a place of the gun's order that reads more than it should."""
IF_COLD: Final = "Read it again, close up, on a matt spot: bare metal reads low. Was it wetted?"


FAULTS: Final = {
    Fault.STUCK: "does not move while the boat warms up: not believed. Come in and look at its wire",
    Fault.IMPOSSIBLE: "reads what cannot be: not believed. Come in and look at its wire",
    Fault.JUMPS: "jumped and stayed: not believed. Come in and look at its wire",
    Fault.TOO_COLD: "reads colder than any motor here could be: not believed. Has it come off?",
    Fault.OTHER_UNIT: "counts in degrees Fahrenheit: put right",
}
"""What is said of a sensor, behind its place."""


def doubt_words(state: LiveState) -> list[str]:
    """Sensors that are set aside or put right, a sentence each."""
    return [f"The {NODES[node].lower()}'s sensor {FAULTS[fault]}." for node, fault in state.doubted]


def advice_words(state: LiveState) -> str:
    """What to do and why, short."""
    place = NODES[state.place].lower() if state.place else "something"
    if state.advice is Call.COME_IN:
        return f"Come in now: {BECAUSE.get(state.because) or f'{place} too hot for another pass'}"
    why = BECAUSE.get(state.because) or f"{place} at its ceiling"
    if state.advice is Call.LIFT:
        return f"Lift: {why}"
    if state.advice is Call.COOL_DOWN:
        return f"Cool down {state.seconds:.0f} s: {why}"
    return "In a pass" if state.in_pass else "Good for another pass"
