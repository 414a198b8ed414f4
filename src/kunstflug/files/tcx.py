"""TCX, the training XML of sports watches: every activity a track, every lap a piece of it."""

from kunstflug.files.reading import ReadTrack, SampleCollector, check_size
from kunstflug.files.xml import NAN, Element, local, number, read_xml, unix_s


def read_tcx(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of a TCX file: time, position, height, and speed [m/s] where a point has it among its extensions.

    Raises
    ------
    SeveralTracks : more than one, and nobody said which.
    UnreadableFile : not TCX, hostile, or too little of it readable.
    """
    check_size(data)
    found = SampleCollector("TCX", choice)

    def opened(name: str, element: Element) -> None:
        if name in ("Activity", "Course"):
            found.begin(element.get("Sport", ""))
        elif name in ("Lap", "Track"):
            found.segment()

    def closed(name: str, element: Element) -> bool:
        if name == "Trackpoint":
            _point(element, found)
            return True
        parent = element.getparent()
        if name in ("Id", "Name") and parent is not None and local(parent) in ("Activity", "Course"):
            found.name((element.text or "").strip())
        return False

    read_xml(data, found, ("TrainingCenterDatabase",), opened, closed)
    return found.result()


def _point(element: Element, found: SampleCollector) -> None:
    line = element.sourceline or 0
    told: dict[str, str] = {}
    for child in element.iter():
        told.setdefault(local(child), child.text or "")
    if "LatitudeDegrees" not in told:
        return  # heart and cadence without a place
    when = unix_s(told.get("Time", ""))
    if when != when:
        found.broke(line, f"time '{told.get('Time', '')[:40]}' is not ISO 8601")
        return
    latitude, longitude = number(told["LatitudeDegrees"]), number(told.get("LongitudeDegrees"))
    if latitude != latitude or longitude != longitude:
        found.broke(line, "a place that is no number")
        return
    speed = number(told["Speed"]) if "Speed" in told else NAN
    found.add(when, latitude, longitude, speed, line, number(told.get("AltitudeMeters")))
