"""Bytes of a device as they arrive, cut into lines."""

from typing import Final

LONGEST: Final = 4096


class LineCutter:
    """Cuts bytes into lines; what has no end for too long is thrown away, and counted."""

    def __init__(self) -> None:
        self.lost = 0
        self._rest = b""
        self._skips = False

    def cut(self, data: bytes) -> list[bytes]:
        """The lines that are complete by now, each with its end; empty ones are left out."""
        *lines, self._rest = (self._rest + data).split(b"\n")
        if lines and self._skips:
            lines, self._skips = lines[1:], False
        if len(self._rest) > LONGEST:
            self.lost += not self._skips
            self._rest, self._skips = b"", True
        return [line + b"\n" for line in lines if line.strip()]
