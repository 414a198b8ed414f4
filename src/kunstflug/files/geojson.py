"""GeoJSON [rfc7946] with times beside its coordinates, as track programs write them; and writing it."""

import json
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any, Final

import numpy as np

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size
from kunstflug.files.xml import NAN, unix_s

_TIMES: Final = ("coordTimes", "times", "timestamps", "time", "timestamp", "when")
_SPEEDS: Final = ("speeds_mps", "speeds", "speed")
_MILLISECONDS_FROM: Final = 1e11  # a Unix time above is in milliseconds: in seconds it were the year 5138


def read_geojson(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of a GeoJSON file: lines with as many times as places, or points with a time each.

    ``line`` of a damage is the number of the place.

    Raises
    ------
    SeveralTracks : more than one line, and nobody said which.
    UnreadableFile : not GeoJSON, without times, or too little of it readable.
    """
    check_size(data)
    try:
        document = json.loads(data)
    except (ValueError, RecursionError) as broken:
        raise UnreadableFile(f"not JSON: {str(broken)[:80]}", getattr(broken, "lineno", None)) from broken
    found = SampleCollector("GeoJSON", choice)
    lines = 0
    for feature in _features(document):
        geometry, properties = _part(feature, "geometry"), _part(feature, "properties")
        lines += str(geometry.get("type")) in ("LineString", "MultiLineString")
        _take(geometry, properties, found)
    if not len(found) and not found.damages.count:
        raise UnreadableFile("its lines have no times: a route on a map, not a run" if lines else "no track in it")
    return found.result()


def _part(whole: Any, name: str) -> dict[str, Any]:
    part = whole.get(name) if isinstance(whole, dict) else None
    return part if isinstance(part, dict) else {}


def _features(document: Any) -> Iterator[dict[str, Any]]:
    if not isinstance(document, dict):
        return
    if document.get("type") == "FeatureCollection":
        features = document.get("features")
        yield from (f for f in features if isinstance(f, dict)) if isinstance(features, list) else ()
    elif document.get("type") == "Feature":
        yield document
    else:
        yield {"geometry": document, "properties": document}


def _take(geometry: dict[str, Any], properties: dict[str, Any], found: SampleCollector) -> None:
    kind, places = geometry.get("type"), geometry.get("coordinates")
    if not isinstance(places, list):
        return
    times = _beside(properties, _TIMES)
    speeds = _beside(properties, _SPEEDS)
    name = properties.get("name")
    if kind == "Point" and times is not None:
        _sample(places, times, speeds, found)
    elif kind == "LineString" and isinstance(times, list):
        found.begin(name if isinstance(name, str) else "")
        _line(places, times, speeds, found)
    elif kind == "MultiLineString" and isinstance(times, list):
        found.begin(name if isinstance(name, str) else "")
        for k, (line, stamps) in enumerate(zip(places, times, strict=False)):
            if isinstance(line, list) and isinstance(stamps, list):
                of = speeds[k] if isinstance(speeds, list) and k < len(speeds) else None
                _line(line, stamps, of, found)
                found.segment()


def _beside(properties: dict[str, Any], names: tuple[str, ...]) -> Any:
    """What stands beside the coordinates, there or among ``coordinateProperties``."""
    for holder in (properties, _part(properties, "coordinateProperties")):
        for name in names:
            if holder.get(name) is not None:
                return holder[name]
    return None


def _line(places: list[Any], times: list[Any], speeds: Any, found: SampleCollector) -> None:
    if len(places) != len(times):
        found.broke(0, f"{len(places)} places and {len(times)} times; the first of each are taken together")
    told = speeds if isinstance(speeds, list) else []
    for k, (place, when) in enumerate(zip(places, times, strict=False)):
        _sample(place, when, told[k] if k < len(told) else None, found)


def _sample(place: Any, when: Any, speed: Any, found: SampleCollector) -> None:
    line = len(found) + 1
    at = unix_s(when) if isinstance(when, str) else _number(when)
    at = at / 1000 if at > _MILLISECONDS_FROM else at
    if at != at:
        found.broke(line, f"time '{str(when)[:40]}' is none")
        return
    numbers = [_number(part) for part in place[:3]] if isinstance(place, list) else []
    if len(numbers) < 2 or numbers[0] != numbers[0] or numbers[1] != numbers[1]:
        found.broke(line, f"place '{str(place)[:40]}' is not longitude and latitude")
        return
    found.add(at, numbers[1], numbers[0], _number(speed), line, numbers[2] if len(numbers) > 2 else NAN)


def _number(value: Any) -> float:
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return NAN
    try:
        return float(value)
    except OverflowError:
        return NAN


def write_geojson(samples: TrackSamples, name: str) -> bytes:
    """GeoJSON of a track: a line for each piece, times and speeds [m/s] beside the coordinates."""
    start = 0.0 if np.isnan(samples.start_unix_s) else samples.start_unix_s
    lines, times, speeds = [], [], []
    for piece in np.unique(samples.segment).tolist():
        at = np.flatnonzero(samples.segment == piece)
        rows = np.column_stack([samples.longitude_deg[at], samples.latitude_deg[at], samples.elevation_m[at]])
        lines.append([[v for v in row if v == v] for row in np.round(rows, 8).tolist()])
        stamps = (datetime.fromtimestamp(start + t, UTC) for t in samples.time_s[at].tolist())
        times.append([stamp.isoformat(timespec="milliseconds").replace("+00:00", "Z") for stamp in stamps])
        speeds.append([v if v == v else None for v in np.round(samples.receiver_speed_mps[at], 3).tolist()])
    feature = {
        "type": "Feature",
        "properties": {"name": name, "coordinateProperties": {"times": times, "speeds_mps": speeds}},
        "geometry": {"type": "MultiLineString", "coordinates": lines},
    }
    return json.dumps({"type": "FeatureCollection", "features": [feature]}).encode()
