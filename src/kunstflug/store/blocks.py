"""Series of numbers as one compressed block (numpy's npz), see docs/decisions/."""

import io
from collections.abc import Mapping

import numpy as np

from kunstflug.core.tracks import TrackSamples
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.core.tracks.samples import Array, nothing


def pack_arrays(arrays: Mapping[str, Array]) -> bytes:
    """Arrays by name as one block."""
    out = io.BytesIO()
    np.savez_compressed(out, **arrays)  # type: ignore[arg-type]  # the stubs mix up allow_pickle and the arrays
    return out.getvalue()


def unpack_arrays(block: bytes) -> dict[str, Array]:
    """Arrays of a block; nothing in it is ever unpickled."""
    with np.load(io.BytesIO(block), allow_pickle=False) as arrays:
        return {name: arrays[name] for name in arrays.files}


def track_block(samples: TrackSamples) -> bytes:
    """Block of a track."""
    return pack_arrays(
        {
            "time_s": samples.time_s,
            "latitude_deg": samples.latitude_deg,
            "longitude_deg": samples.longitude_deg,
            "receiver_speed_mps": samples.receiver_speed_mps,
            "start_unix_s": np.array([samples.start_unix_s]),
            "elevation_m": samples.elevation_m,
            "segment": samples.segment,
            "accuracy_m": samples.accuracy_m,
            "name": np.array([samples.name[:200]]),
        }
    )


def track_of(block: bytes) -> TrackSamples:
    """Track of a block; one that was kept before heights and segments were has none."""
    arrays = unpack_arrays(block)
    named = arrays.get("name")
    return TrackSamples(
        time_s=arrays["time_s"],
        latitude_deg=arrays["latitude_deg"],
        longitude_deg=arrays["longitude_deg"],
        receiver_speed_mps=arrays["receiver_speed_mps"],
        start_unix_s=float(arrays["start_unix_s"][0]),
        elevation_m=arrays.get("elevation_m", nothing()),
        segment=arrays.get("segment", nothing()),
        accuracy_m=arrays.get("accuracy_m", nothing()),
        name="" if named is None else str(named[0]),
    )


def log_block(log: ControllerLog) -> bytes:
    """Block of a controller log."""
    return pack_arrays({"time_s": log.time_s, **log.columns})


def log_of(block: bytes) -> ControllerLog:
    """Controller log of a block."""
    arrays = unpack_arrays(block)
    return ControllerLog(time_s=arrays.pop("time_s"), columns=arrays)
