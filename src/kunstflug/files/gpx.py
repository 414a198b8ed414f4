"""GPX 1.0 and 1.1: reading with lxml, safe against hostile XML; writing with gpxpy."""

from datetime import UTC, datetime
from typing import Final

import gpxpy.gpx
import numpy as np
from lxml import etree

from kunstflug.core.tracks import TrackSamples
from kunstflug.files.reading import DILUTED_M, ReadTrack, SampleCollector, check_size
from kunstflug.files.xml import NAN, Element, local, number, read_xml, unix_s

EXTENSION_NS: Final = "urn:kunstflug:gpx:1"


def read_gpx(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of a GPX file: time, position, height and speed in m/s (GPX 1.0, ``extensions``, or a stray ``speed``).

    Raises
    ------
    SeveralTracks : more than one, and nobody said which.
    UnreadableFile : not GPX, hostile, or too little of it readable.
    """
    check_size(data)
    found = SampleCollector("GPX", choice)

    def opened(name: str, element: Element) -> None:
        if name == "trk":
            found.begin()
        elif name == "trkseg":
            found.segment()

    def closed(name: str, element: Element) -> bool:
        if name == "trkpt":
            _point(element, found)
            return True
        if name == "name" and (parent := element.getparent()) is not None and local(parent) == "trk":
            found.name((element.text or "").strip())
        return name in ("wpt", "rtept")

    read_xml(data, found, ("gpx",), opened, closed)
    return found.result()


def _point(element: Element, found: SampleCollector) -> None:
    line = element.sourceline or 0
    try:
        latitude, longitude = float(element.get("lat", "")), float(element.get("lon", ""))
    except ValueError:
        found.broke(line, f"lat '{element.get('lat')}', lon '{element.get('lon')}' are not numbers")
        return
    told = {local(child): child.text or "" for child in element}
    if "extensions" in told:
        told |= {name: child.text or "" for child in element.iter() if (name := local(child)) in ("speed", "accuracy")}
    if "time" not in told:
        found.broke(line, "a point without a time")
        return
    when, elevation = told["time"], number(told.get("ele"))
    speed = _speed(told["speed"], line, found) if "speed" in told else NAN
    at = unix_s(when)
    if at != at:
        found.broke(line, f"time '{when[:40]}' is not ISO 8601")
        return
    diluted = number(told.get("hdop"))
    accuracy = number(told["accuracy"]) if "accuracy" in told else diluted * DILUTED_M
    found.add(at, latitude, longitude, speed, line, elevation, accuracy)


def _speed(text: str, line: int, found: SampleCollector) -> float:
    try:
        return float(text)
    except ValueError:
        found.broke(line, f"speed '{text[:40]}' is not a number")
        return NAN


def write_gpx(samples: TrackSamples, name: str, *, exact: bool = False) -> bytes:
    """GPX 1.1 of a track in its pieces; speed goes into ``extensions``, where the schema allows it.

    Parameters
    ----------
    exact : speeds to the last digit, so that what is read back is the same to the bit.
    """
    gpx = gpxpy.gpx.GPX()
    gpx.creator = "Kunstflug"
    gpx.nsmap["kf"] = EXTENSION_NS
    track = gpxpy.gpx.GPXTrack(name=name)
    start = 0.0 if np.isnan(samples.start_unix_s) else samples.start_unix_s
    piece = None
    for t, latitude, longitude, speed, elevation, segment, accuracy in zip(
        samples.time_s.tolist(),
        samples.latitude_deg.tolist(),
        samples.longitude_deg.tolist(),
        samples.receiver_speed_mps.tolist(),
        samples.elevation_m.tolist(),
        samples.segment.tolist(),
        samples.accuracy_m.tolist(),
        strict=True,
    ):
        if segment != piece:
            piece = segment
            track.segments.append(gpxpy.gpx.GPXTrackSegment())
        height = elevation if np.isfinite(elevation) else None
        point = gpxpy.gpx.GPXTrackPoint(latitude, longitude, height, datetime.fromtimestamp(start + t, UTC))
        for name, value in (("speed", speed), ("accuracy", accuracy)):
            if np.isfinite(value):
                extension = etree.Element(f"{{{EXTENSION_NS}}}{name}")
                extension.text = repr(value) if exact else f"{value:.3f}"
                point.extensions.append(extension)
        track.segments[-1].points.append(point)
    gpx.tracks.append(track)
    return gpx.to_xml(version="1.1").encode()
