"""What becomes of strangers' files: read right without a question, after some, wrong without a word, or not at all."""

from collections import Counter
from enum import StrEnum

import numpy as np

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.documents.columns import LOG_COLUMNS, ColumnChoice, Role
from kunstflug.files.kinds import kind_in
from kunstflug.files.mapped_csv import Look, look, read_mapped_charge, read_mapped_log, read_mapped_track
from tests.strangers.files import START, Stranger


class Outcome(StrEnum):
    """How it went."""

    UNASKED = "right unasked"
    ONE = "right after one question"
    MORE = "right after more"
    MENDED = "right only where the racer changes what was sure"
    REFUSED = "refused"
    UNREADABLE = "no answer reads it"
    WRONG = "silently wrong"


ROLES = {
    "track": {Role.TIME, Role.DATE, Role.LATITUDE, Role.LONGITUDE, Role.PLACE, Role.SPEED, Role.ELEVATION},
    "log": {Role.TIME, Role.DATE, *LOG_COLUMNS},
    "charge": {Role.TIME, Role.DATE, Role.CHARGE, Role.CELL},
}


def true_choices(stranger: Stranger) -> list[ColumnChoice]:
    """The columns as they really are."""
    return [
        ColumnChoice(column=k, role=role, unit=unit)
        for role, (columns, unit) in stranger.truth.items()
        for k in columns
    ]


def judged(stranger: Stranger) -> tuple[Outcome, str]:
    """What becomes of a file, and what is wrong in it."""
    try:
        seen = look(stranger.data)
    except UnreadableFile as error:
        return Outcome.REFUSED, str(error)
    wrong = _wrong(stranger, true_choices(stranger))
    if wrong:
        return Outcome.UNREADABLE, wrong
    kind, plain = kind_in(seen.proposals, seen.columns)
    unsure = [k for k, p in enumerate(seen.proposals) if not p.sure and _matters(seen, k, stranger.kind)]
    if not unsure and plain and kind != stranger.kind:
        return Outcome.WRONG, f"taken for a {kind}"
    if not unsure and plain:
        wrong = _wrong(stranger, _choices(seen, {}))
        return (Outcome.WRONG, wrong) if wrong else (Outcome.UNASKED, "")
    truth = {c.column: c for c in true_choices(stranger)}
    answers = {}
    for k in unsure:
        real = truth.get(k)
        offered = {(o.role, o.unit) for o in seen.proposals[k].options}
        if ((real.role, real.unit) if real else (None, "")) in offered:
            answers[k] = real
    wrong = _wrong(stranger, _choices(seen, answers))
    if wrong:
        return Outcome.MENDED, wrong
    told = [f"{seen.headings[k]}: {seen.proposals[k].role} {seen.proposals[k].unit}" for k in unsure]
    asked = len(unsure) + (not plain)
    return (Outcome.ONE if asked <= 1 else Outcome.MORE), f"{len(unsure)} asked: {told}"


def _matters(seen: Look, column: int, kind: str) -> bool:
    """Whether what a column is counts for what is read of such a file."""
    proposal = seen.proposals[column]
    roles = {o.role for o in proposal.options} | {proposal.role}
    return bool(roles & ROLES[kind])


def _choices(seen: Look, answers: dict[int, ColumnChoice | None]) -> list[ColumnChoice]:
    found = []
    for k, p in enumerate(seen.proposals):
        if k in answers:
            found += [answers[k]] if answers[k] is not None else []
        elif p.role is not None:
            found.append(ColumnChoice(column=k, role=p.role, unit=p.unit))
    return found


def _wrong(stranger: Stranger, choices: list[ColumnChoice]) -> str:
    """The first thing that is not as it is in truth; nothing where all is."""
    try:
        got = _read(stranger, choices)
    except UnreadableFile as error:
        return f"refused: {error}"
    for role in sorted(ROLES[stranger.kind]):
        real, mine = _real(stranger, role), got.get(role)
        if real is None and mine is not None:
            return f"{role} is read and is none"
        if real is None:
            continue
        if mine is None:
            return f"{role} is not read"
        fault = _differs(role, real, np.asarray(mine, dtype=np.float64))
        if fault:
            return f"{role}: {fault}"
    return ""


def _real(stranger: Stranger, role: Role) -> np.ndarray | None:
    values = stranger.values.get(role)
    if role in (Role.LATITUDE, Role.LONGITUDE) and Role.PLACE in stranger.values:
        return stranger.both[role]
    if role in (Role.DATE, Role.PLACE, Role.CELL) or values is None:
        return None
    if role is Role.CHARGE:
        return np.array([values[0][-1]])
    if role is Role.TIME:
        return np.asarray(values[0] - values[0][0])
    return values[0]


def _differs(role: Role, real: np.ndarray, mine: np.ndarray) -> str:
    if len(mine) < 0.97 * len(real):
        return f"{len(mine)} of {len(real)} rows"
    real = real[: len(mine)]
    good = np.isfinite(mine)
    if good.mean() < 0.97:
        return "holes"
    slack = {Role.LATITUDE: 2e-6, Role.LONGITUDE: 3e-6, Role.TIME: 0.02}.get(role, 0.0)
    off = np.abs(mine[good] - real[good]) > 0.01 * np.abs(real[good]) * (slack == 0) + slack + 1e-3
    return f"{mine[good][off][0]:.5g} for {real[good][off][0]:.5g}" if off.mean() > 0.02 else ""


def _read(stranger: Stranger, choices: list[ColumnChoice]) -> dict[Role, object]:
    if stranger.kind == "charge":
        charge = read_mapped_charge(stranger.data, choices)
        return {Role.CHARGE: [charge.mah], Role.TIME: _real(stranger, Role.TIME)}
    if stranger.kind == "log":
        log = read_mapped_log(stranger.data, choices).log
        names = {name: role for role, name in LOG_COLUMNS.items()}
        return {Role.TIME: log.time_s, **{names[name]: values for name, values in log.columns.items()}}
    samples = read_mapped_track(stranger.data, choices).samples
    found = {Role.TIME: samples.time_s, Role.LATITUDE: samples.latitude_deg, Role.LONGITUDE: samples.longitude_deg}
    if np.isfinite(samples.receiver_speed_mps).any():
        found[Role.SPEED] = samples.receiver_speed_mps
    if np.isfinite(samples.elevation_m).any():
        found[Role.ELEVATION] = samples.elevation_m
    if not abs(samples.start_unix_s - START.timestamp()) < 1:
        raise UnreadableFile(f"it begins at {samples.start_unix_s}")
    return found


def counted(files: list[Stranger]) -> tuple[Counter, list[str]]:
    """How many went how, and what was not right of the others."""
    count: Counter = Counter()
    told = []
    for stranger in files:
        outcome, why = judged(stranger)
        count[outcome] += 1
        if outcome is not Outcome.UNASKED:
            told.append(f"{outcome}: {stranger.name}: {why}")
    return count, told
