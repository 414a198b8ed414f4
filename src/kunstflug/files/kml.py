"""KML with times: tracks (``when`` beside ``coord``) and placemarks with a time and a point."""

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size
from kunstflug.files.xml import NAN, Element, local, number, read_xml, text_of, unix_s

_NO_TIMES = "its lines have no times: a route on a map, not a run"


def read_kml(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of a KML file: time, position and height; KML has no speed.

    Raises
    ------
    SeveralTracks : more than one, and nobody said which.
    UnreadableFile : not KML, hostile, without times, or too little of it readable.
    """
    check_size(data)
    found = SampleCollector("KML", choice)
    whens: list[tuple[str, int]] = []
    coordinates: list[str] = []
    lines = 0

    def opened(name: str, element: Element) -> None:
        if name == "Track":
            found.begin()

    def closed(name: str, element: Element) -> bool:
        nonlocal lines
        parent = element.getparent()
        around = "" if parent is None else local(parent)
        if around == "Track" and name == "when":
            whens.append((element.text or "", element.sourceline or 0))
            return True
        if around == "Track" and name == "coord":
            coordinates.append(element.text or "")
            return True
        if name == "Track":
            _track(whens, coordinates, found)
            whens.clear()
            coordinates.clear()
        elif name == "Placemark":
            lines += text_of(element, "LineString") is not None
            _placemark(element, found)
            return True
        return False

    read_xml(data, found, ("kml",), opened, closed)
    if not len(found) and lines and not found.damages.count:
        raise UnreadableFile(_NO_TIMES)
    return found.result()


def _track(whens: list[tuple[str, int]], coordinates: list[str], found: SampleCollector) -> None:
    if len(whens) != len(coordinates):
        line = whens[0][1] if whens else 0
        found.broke(line, f"{len(whens)} times and {len(coordinates)} places; the first of each are taken together")
    for (when, line), place in zip(whens, coordinates, strict=False):
        _sample(when, place.split(), line, found)
    found.segment()


def _placemark(element: Element, found: SampleCollector) -> None:
    """A single point with its time, or the name of a track that stands in it."""
    if text_of(element, "Track") is not None:
        name = next((child.text or "" for child in element if local(child) == "name"), "")
        found.name(name.strip())
        return
    when = text_of(element, "when") or text_of(element, "begin")
    point = next((child for child in element.iter() if local(child) == "Point"), None)
    if when and point is not None:
        _sample(when, (text_of(point, "coordinates") or "").split(","), element.sourceline or 0, found)


def _sample(when: str, place: list[str], line: int, found: SampleCollector) -> None:
    at = unix_s(when)
    if at != at:
        found.broke(line, f"time '{when[:40]}' is not ISO 8601")
        return
    longitude, latitude, height = (number(part) for part in [*place, "", "", ""][:3])
    if latitude != latitude or longitude != longitude:
        found.broke(line, f"place '{' '.join(place)[:40]}' is not longitude and latitude")
        return
    found.add(at, latitude, longitude, NAN, line, height)
