"""GPX 1.1: reading with lxml, safe against hostile XML; writing with gpxpy."""

import io
from datetime import UTC, datetime
from typing import Final

import gpxpy.gpx
import numpy as np
from lxml import etree

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size

EXTENSION_NS: Final = "urn:kunstflug:gpx:1"


def read_gpx(data: bytes) -> ReadTrack:
    """Track of a GPX file: time, position and, from ``extensions`` (or a stray ``speed``), speed in m/s.

    A document type declaration is refused outright (entity expansion), nothing is ever fetched. A file that breaks
    off keeps the points before the break, with the line in ``damages``.

    Raises
    ------
    UnreadableFile : not GPX, hostile, or too little of it readable.
    """
    check_size(data)
    found = SampleCollector("GPX")
    events = etree.iterparse(
        io.BytesIO(data),
        events=("start", "end"),
        resolve_entities=False,
        load_dtd=False,
        no_network=True,
        huge_tree=False,
        remove_comments=True,
    )
    try:
        root_seen = False
        for event, element in events:
            if not root_seen:
                root_seen = True
                _check_root(element)
            if event == "end" and _local(element) == "trkpt":
                _point(element, found)
                element.clear()
    except etree.XMLSyntaxError as broken:
        line = broken.lineno or 1
        if not len(found):
            raise UnreadableFile(f"not well-formed XML: {_first_sentence(broken)}", line) from broken
        found.broke(line, f"not well-formed XML from here on: {_first_sentence(broken)}")
    return found.result()


def _check_root(element: "etree._Element") -> None:
    if element.getroottree().docinfo.doctype:
        raise UnreadableFile("has a document type declaration (DTD); a GPX file needs none, so it is refused", 1)
    if _local(element) != "gpx":
        raise UnreadableFile(f"the outermost element is '{_local(element)}', not 'gpx'", element.sourceline)


def _first_sentence(error: Exception) -> str:
    return str(error).split(", line")[0]


def _local(element: "etree._Element") -> str:
    return str(element.tag).rpartition("}")[2]


def _point(element: "etree._Element", found: SampleCollector) -> None:
    line = element.sourceline or 0
    try:
        latitude, longitude = float(element.get("lat", "")), float(element.get("lon", ""))
    except ValueError:
        found.broke(line, f"lat '{element.get('lat')}', lon '{element.get('lon')}' are not numbers")
        return
    when, speed = None, float("nan")
    for child in element.iter():
        name = _local(child)
        if name == "time" and child.getparent() is element:
            when = child.text or ""
        elif name == "speed":
            speed = _speed(child.text, line, found)
    if when is None:
        found.broke(line, "a point without a time")
        return
    try:
        stamp = datetime.fromisoformat(when.strip())
        unix_s = (stamp if stamp.tzinfo else stamp.replace(tzinfo=UTC)).timestamp()
    except (ValueError, OverflowError):  # a year 1 or 9999 with an offset is not on the calendar
        found.broke(line, f"time '{when[:40]}' is not ISO 8601")
        return
    found.add(unix_s, latitude, longitude, speed, line)


def _speed(text: str | None, line: int, found: SampleCollector) -> float:
    try:
        return float(text or "")
    except ValueError:
        found.broke(line, f"speed '{(text or '')[:40]}' is not a number")
        return float("nan")


def write_gpx(samples: TrackSamples, name: str) -> bytes:
    """GPX 1.1 of a track; speed goes into ``extensions``, where the schema allows it."""
    gpx = gpxpy.gpx.GPX()
    gpx.creator = "Kunstflug"
    gpx.nsmap["kf"] = EXTENSION_NS
    track = gpxpy.gpx.GPXTrack(name=name)
    segment = gpxpy.gpx.GPXTrackSegment()
    start = 0.0 if np.isnan(samples.start_unix_s) else samples.start_unix_s
    for t, latitude, longitude, speed in zip(
        samples.time_s.tolist(),
        samples.latitude_deg.tolist(),
        samples.longitude_deg.tolist(),
        samples.receiver_speed_mps.tolist(),
        strict=True,
    ):
        point = gpxpy.gpx.GPXTrackPoint(latitude, longitude, time=datetime.fromtimestamp(start + t, UTC))
        if np.isfinite(speed):
            extension = etree.Element(f"{{{EXTENSION_NS}}}speed")
            extension.text = f"{speed:.3f}"
            point.extensions.append(extension)
        segment.points.append(point)
    track.segments.append(segment)
    gpx.tracks.append(track)
    return gpx.to_xml(version="1.1").encode()
