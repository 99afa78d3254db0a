"""A caliper that sends a reading down a serial line when its button is pressed, one to a line: `  31.42 mm`, `1.2370 in`,
`1 3/16 in`, `01A+00031.42` as many send it, between STX and ETX or not.
"""

import re
from dataclasses import dataclass
from typing import Literal

from ..core.errors import VowLineError
from ..core.quantity import INCH_MM
from ..core.texts import tell

_READING = re.compile(
    rb"""^\s*(?:\d\dA)?\s*([+-]?)\s*
    (?:(\d{1,6}[.,]?\d{0,6}|[.,]\d{1,6})(?:E([+-]?\d{1,2}))?   # 31.42, +000012.340, .4858, 12., 1.2340E+01
     |(?:(\d{1,3})[\s-]+)?(\d{1,3})/(\d{1,3}))                 # 1 3/16, 3/16
    \s*(mm|in|inch|inches|\")?\s*$""",
    re.IGNORECASE | re.VERBOSE,
)
_LOW = re.compile(rb"\bbatt?(?:ery)?\b|\b(?:lo|low)\b|low[-_]?bat", re.IGNORECASE)
_AROUND = b"\0\2\3"  # NUL, STX and ETX, between which many send it
Unit = Literal["sent", "mm", "in"]
"""What a reading without a unit is in; `sent`: one is refused."""
MOST_MM = 2000.0
LONGEST_LINE = 200


class LostCaliper(VowLineError):
    """The line to the caliper is gone."""


@dataclass(frozen=True, slots=True)
class Heard:
    """One line from the caliper: a reading in mm, or what was wrong with it."""

    mm: float | None
    says: str = ""


def heard(line: bytes, bare: Unit = "sent") -> Heard:
    """What a line says. A reading without a unit is refused, for the caliper may stand on inches, unless it was said what it
    is in, `bare`.
    """
    text = line.decode("ascii", "replace").strip()
    if _LOW.search(line):
        return Heard(None, tell("The caliper's battery is low: its readings drift. Change it, and read again."))
    found = _READING.match(line.translate(None, _AROUND))
    if not found:
        return Heard(
            None, tell("The caliper sent '{sent}', which is no reading. Press its button again.", sent=text[:24])
        )
    sign, decimal, power, whole, over, under, sent = found.groups()
    if decimal is None and int(under) == 0:
        return Heard(
            None, tell("The caliper sent '{sent}', which is no reading. Press its button again.", sent=text[:24])
        )
    number = _number(decimal, power) if decimal is not None else int(whole or 0) + int(over) / int(under)
    number, unit = -number if sign == b"-" else number, (sent or b"").lower()
    # nothing but inches is read in fractions
    unit = unit or (b"in" if decimal is None else {"sent": b"", "mm": b"mm", "in": b"in"}[bare])
    if not unit:
        return Heard(
            None,
            tell(
                "The caliper sent {sent} without a unit. Say at Caliper… in the Measure menu what it sends, and press again.",
                sent=text,
            ),
        )
    mm = number if unit == b"mm" else number * INCH_MM
    if not 0 <= mm <= MOST_MM:
        return Heard(None, tell("The caliper sent {sent}: no caliper reads that. Zero it, and read again.", sent=text))
    return Heard(mm)


def _number(decimal: bytes, power: bytes | None) -> float:
    return float(decimal.replace(b",", b".")) * 10.0 ** int(power or 0)


class Caliper:
    """An open line to a caliper; `heard` is asked when there is something to read on `fileno`."""

    def __init__(self, port: str, bare: Unit = "sent", speed: int = 9600) -> None:
        """Open the port, as `/dev/ttyUSB0`, at a speed in baud; readings without a unit are in `bare`. Raises LostCaliper."""
        import serial

        self.port, self.bare = port, bare
        self._waiting = b""
        try:
            self._line = serial.Serial(port, baudrate=speed, timeout=0)
        except (OSError, ValueError) as error:
            raise LostCaliper(
                tell("Nothing answers on {port}.", port=port),
                port,
                tell("Plug the caliper in, and see that you may read its port."),
            ) from error

    def fileno(self) -> int:
        """The file descriptor to wait on."""
        return int(self._line.fileno())

    def heard(self) -> list[Heard]:
        """What was sent since; half lines wait for their rest. Raises LostCaliper when the line is gone."""
        import serial

        try:
            sent = self._line.read(4096)
        except (OSError, serial.SerialException, TypeError) as error:
            self.close()
            raise LostCaliper(
                tell("The caliper is gone: its line was unplugged."), self.port, tell("Plug it in again.")
            ) from error
        *lines, self._waiting = (self._waiting + bytes(sent)).replace(b"\r", b"\n").split(b"\n")
        if len(self._waiting) > LONGEST_LINE:
            lines, self._waiting = [*lines, self._waiting], b""
        return [heard(line, self.bare) for line in lines if line.translate(None, _AROUND).strip()]

    def close(self) -> None:
        """Let go of the line."""
        self._line.close()


def ports() -> list[str]:
    """Serial ports that there are."""
    from serial.tools import list_ports

    return sorted(p.device for p in list_ports.comports())


class StandIn:
    """A caliper that is not there, on a pseudo-terminal: its button sends a reading as a real one's does."""

    def __init__(self) -> None:
        import os
        import tty

        self._ours, self._theirs = os.openpty()
        tty.setraw(self._theirs)
        self.port = os.ttyname(self._theirs)

    def press(self, value: float, unit: str = "mm", noise_mm: float = 0.0, seed: int = 0) -> None:
        """Press the button over a value in the unit it stands on, with as much noise as a hand makes."""
        import random

        noisy = value + random.Random(seed).uniform(-noise_mm, noise_mm)
        self.send(f"{noisy:9.2f} {unit}\r\n".encode() if unit == "mm" else f"{noisy:9.4f} {unit}\r\n".encode())

    def send(self, line: bytes) -> None:
        """Send anything at all."""
        import os

        os.write(self._ours, line)

    def unplug(self) -> None:
        """Pull the plug."""
        import os

        for end in (self._ours, self._theirs):
            os.close(end)
