"""Older documents, read as they would be written today. A step may be repeated: it leaves newer ones as they are."""

import copy
from typing import Any, Final

SETUP_VERSION: Final = 3
CIRCUIT_VERSION: Final = 2

# Version 1 carried the words of choices as they stood on the screen.
_CHOICES: Final[dict[str, dict[str, dict[str, str]]]] = {
    "motor": {
        "magnets": {
            "not known": "unknown",
            "no letter, 80 degC": "n",
            "M, 100 degC": "m",
            "H, 120 degC": "h",
            "SH, 150 degC": "sh",
            "UH, 180 degC": "uh",
            "EH, 200 degC": "eh",
        },
        "insulation": {
            "not known": "unknown",
            "A, 105 degC": "a",
            "E, 120 degC": "e",
            "B, 130 degC": "b",
            "F, 155 degC": "f",
            "H, 180 degC": "h",
        },
    },
    "controller": {
        "hot_action": {"half power": "half"},
        "supply": {"switching BEC": "switching", "linear BEC": "linear", "own receiver pack": "separate"},
    },
    "propeller": {
        "condition": {
            "sharpened and balanced": "prepared",
            "as it came": "as_cast",
            "out of balance": "unbalanced",
        }
    },
    "shaft": {"collar": {"not said": "unknown", "a collar": "collar"}},
}
_KINDS: Final = {"receiver pack": "receiver-pack"}
_PIECES: Final = {"motor jacket": "motor", "controller block": "controller", "Y piece": "y"}
_INTAKES: Final = {"propeller wash": "wash"}
_DUTIES: Final = {"lap race": "lap_race", "tub test": "tub_test"}


def kind_today(kind: str) -> str:
    """What a kind of part is called today."""
    return _KINDS.get(kind, kind)


def choice_today(kind: str, key: str, word: str) -> str:
    """What a word of a choice is called today."""
    return _CHOICES.get(kind, {}).get(key, {}).get(word, word)


def part_today(kind: str, raw: Any) -> Any:
    """A part's document as it would be written today."""
    if not isinstance(raw, dict) or kind not in _CHOICES:
        return raw
    return {key: choice_today(kind, key, value) if isinstance(value, str) else value for key, value in raw.items()}


def setup_today(raw: Any) -> Any:
    """A setup's document as it would be written today.

    Raises
    ------
    ValueError : a newer program wrote it.
    """
    if isinstance(raw, dict) and isinstance(raw.get("version"), int) and raw["version"] > SETUP_VERSION:
        known = f"this program reads versions 1 to {SETUP_VERSION}"
        raise ValueError(f"this setup has version {raw['version']}, and {known}: a newer one wrote it")
    if not isinstance(raw, dict) or raw.get("version", 1) not in (1, 2):
        return raw
    changed = {key: part_today(key, value) for key, value in raw.items()} if raw.get("version", 1) == 1 else dict(raw)
    if isinstance(changed.get("learnt"), dict):
        changed["learnt"] = _learnt_today(changed["learnt"])
    return {**changed, "version": SETUP_VERSION}


def _learnt_today(raw: dict[str, Any]) -> dict[str, Any]:
    """What a tub test taught; before version 3 its current was kept over that of solid water, which is about the same
    number as the water fraction that stands there today.
    """
    return {"water_at_rest" if key == "held_current" else key: value for key, value in raw.items()}


def circuit_today(raw: Any) -> Any:
    """A water circuit's document as it would be written today."""
    if not isinstance(raw, dict) or raw.get("version", 1) != 1:
        return raw
    changed = copy.deepcopy(raw)
    for line in changed.get("lines", []):
        _pieces_today(line)
    return {**changed, "version": CIRCUIT_VERSION}


def _pieces_today(row: Any) -> None:
    for piece in row if isinstance(row, list) else []:
        if isinstance(piece, dict):
            for key, today in (("kind", _PIECES), ("source", _INTAKES)):
                if key in piece:
                    piece[key] = today.get(str(piece[key]), piece[key])
            for branch in piece.get("branches", []):
                _pieces_today(branch)


def aim_today(raw: dict[str, Any]) -> dict[str, Any]:
    """What a boat is for, as it would be written today."""
    duty = raw.get("duty")
    if not isinstance(duty, dict) or duty.get("kind") not in _DUTIES:
        return raw
    return {**raw, "duty": {**duty, "kind": _DUTIES[duty["kind"]]}}
