"""Temperature sensors by their ohms: platinum by IEC 60751, thermistors by their B value or by points; what a reading means."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from rowan.core.terms.constants import KELVIN
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, Span, takes, within
from rowan.core.terms.record import record

# IEC 60751: R = R0·(1 + A·t + B·t² + C·(t − 100)·t³), C only below 0 °C
A, B, C = 3.9083e-3, -5.775e-7, -4.183e-12  # of a platinum sensor, IEC 60751
LEAST_C, MOST_C = -200.0, 850.0  # °C, range of IEC 60751
OHMS, B_VALUES = Span(0.0, 1e7, above=True), Span(500.0, 10_000.0)  # Ω at 25 °C and K of any thermistor
REFERENCE_C = 25.0  # of a thermistor
NTC_LEAST_C, NTC_MOST_C = -60.0, 300.0  # °C in which a thermistor's B value serves
SIDE_BY_SIDE_K = 1.0  # two good sensors at one place read alike within this
DRIFT_K = 1.0  # K, beyond which a sensor is changed
OPEN_OHM, SHORT_OHM = 1e6, 5.0  # Ω, a broken wire and a short
LIKELY_C = (-30.0, 200.0)  # what a sensor of a solar loop may be at
HALVINGS = 80  # enough for a float's last digit


def platinum_ohm(*, temperature: float, zero: float = 1000.0) -> float:
    """Resistance [Ω] of a platinum sensor of `zero` ohms at 0 °C.

    Raises OutOfRangeError outside −200 to 850 °C. Source: IEC 60751.
    """
    temperature = within("temperature", temperature, LEAST_C, MOST_C, "°C")
    t = temperature
    below = C * (t - 100) * t**3 if t < 0 else 0.0
    return zero * (1 + A * t + B * t**2 + below)


def platinum_c(*, ohm: float, zero: float = 1000.0) -> float:
    """Temperature [°C] of a platinum sensor by its resistance [Ω]; by halving, within a thousandth of a millikelvin.

    Raises OutOfRangeError outside what −200 to 850 °C give. Source: IEC 60751.
    """
    least, most = platinum_ohm(temperature=LEAST_C, zero=zero), platinum_ohm(temperature=MOST_C, zero=zero)
    ohm = within("resistance", ohm, least, most, "Ω")
    low, high = LEAST_C, MOST_C
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        if platinum_ohm(temperature=middle, zero=zero) < ohm:
            low = middle
        else:
            high = middle
    return (low + high) / 2


@takes(temperature=FINITE, at_25=OHMS, beta=B_VALUES)
def thermistor_ohm(*, temperature: float, at_25: float, beta: float) -> float:
    """Resistance [Ω] of a thermistor of `at_25` ohms at 25 °C and a B value [K].

    Raises OutOfRangeError outside −60 to 300 °C.
    """
    if not NTC_LEAST_C <= temperature <= NTC_MOST_C:
        raise OutOfRangeError("temperature", temperature, NTC_LEAST_C, NTC_MOST_C, "°C")
    return at_25 * math.exp(beta * (1 / (temperature + KELVIN) - 1 / (REFERENCE_C + KELVIN)))


@takes(ohm=FINITE, at_25=OHMS, beta=B_VALUES)
def thermistor_c(*, ohm: float, at_25: float, beta: float) -> float:
    """Temperature [°C] of a thermistor by its resistance [Ω]. Raises OutOfRangeError outside what −60 to 300 °C give."""
    least = thermistor_ohm(temperature=NTC_MOST_C, at_25=at_25, beta=beta)
    most = thermistor_ohm(temperature=NTC_LEAST_C, at_25=at_25, beta=beta)
    ohm = within("resistance", ohm, least, most, "Ω")
    return 1 / (1 / (REFERENCE_C + KELVIN) + math.log(ohm / at_25) / beta) - KELVIN


@record
class PointCurve:
    """A sensor by its data sheet's points (°C, Ω), ohms rising or falling all the way; straight in log ohms between them.

    Raises ImpossibleInputError for fewer than two points or a curve that turns back.
    """

    points: tuple[tuple[float, float], ...]

    def __post_init__(self) -> None:
        if len(self.points) < 2:
            raise ImpossibleInputError("a curve needs two points at least")
        ordered = tuple(sorted(self.points))
        object.__setattr__(self, "points", ordered)
        ohms = [ohm for _, ohm in ordered]
        if min(ohms) <= 0:
            raise ImpossibleInputError("ohms must be above zero")
        rises = [after > before for before, after in pairwise(ohms)]
        turns = any(rise != rises[0] for rise in rises) or len(set(ohms)) < len(ohms)
        if turns or len({t for t, _ in ordered}) < len(ordered):
            raise ImpossibleInputError("the ohms must rise or fall all the way, one value for each temperature")

    def temperature(self, ohm: float) -> float:
        """Temperature [°C] of a resistance [Ω]. Raises OutOfRangeError outside the points."""
        ohms = [value for _, value in self.points]
        if not min(ohms) <= ohm <= max(ohms):
            raise OutOfRangeError("resistance", ohm, min(ohms), max(ohms), "Ω")
        for (t1, r1), (t2, r2) in pairwise(self.points):
            if min(r1, r2) <= ohm <= max(r1, r2):
                return t1 + (t2 - t1) * math.log(ohm / r1) / math.log(r2 / r1)
        raise AssertionError("a resistance between the ends lies between two points")

    def ohm(self, temperature: float) -> float:
        """Resistance [Ω] at a temperature [°C]. Raises OutOfRangeError outside the points."""
        least, most = self.points[0][0], self.points[-1][0]
        if not least <= temperature <= most:
            raise OutOfRangeError("temperature", temperature, least, most, "°C")
        for (t1, r1), (t2, r2) in pairwise(self.points):
            if t1 <= temperature <= t2:
                return float(r1 * (r2 / r1) ** ((temperature - t1) / (t2 - t1)))
        raise AssertionError("a temperature between the ends lies between two points")


@record
class SensorKind:
    """A kind of sensor: its key, its name, and either a platinum zero [Ω], or ohms at 25 °C with a B value [K]."""

    key: str
    name: str
    zero: float = 0.0
    at_25: float = 0.0
    beta: float = 0.0

    def temperature(self, ohm: float) -> float:
        """Temperature [°C] of a resistance [Ω]. Raises OutOfRangeError."""
        if self.zero:
            return platinum_c(ohm=ohm, zero=self.zero)
        return thermistor_c(ohm=ohm, at_25=self.at_25, beta=self.beta)

    def ohm(self, temperature: float) -> float:
        """Resistance [Ω] at a temperature [°C]. Raises OutOfRangeError."""
        if self.zero:
            return platinum_ohm(temperature=temperature, zero=self.zero)
        return thermistor_ohm(temperature=temperature, at_25=self.at_25, beta=self.beta)


SENSOR_KINDS = (
    SensorKind("platinum-1000", "platinum, 1,000 ohms at 0 °C", zero=1000.0),
    SensorKind("platinum-100", "platinum, 100 ohms at 0 °C", zero=100.0),
    SensorKind("ntc-10k", "thermistor, 10 kilohms at 25 °C, B 3977", at_25=10_000.0, beta=3977.0),
    SensorKind("ntc-5k", "thermistor, 5 kilohms at 25 °C, B 3480", at_25=5_000.0, beta=3480.0),
)


@record
class Candidate:
    """A kind that a resistance may belong to: what it would be at [°C], and how far that is from where it was held [K]."""

    kind: SensorKind
    temperature: float
    apart: float | None = None


@takes(ohm=NOT_NEGATIVE, held_at=FINITE)
def candidates(*, ohm: float, held_at: float | None = None) -> tuple[Candidate, ...]:
    """Kinds a resistance [Ω] may belong to, likeliest first; `held_at` is the temperature it was held at [°C], if known."""
    found = []
    for kind in SENSOR_KINDS:
        try:
            temperature = kind.temperature(ohm)
        except OutOfRangeError:
            continue
        if LIKELY_C[0] <= temperature <= LIKELY_C[1]:
            found.append(Candidate(kind, temperature, None if held_at is None else abs(temperature - held_at)))
    return tuple(sorted(found, key=lambda c: abs(c.temperature - 20.0) if c.apart is None else c.apart))


@takes(ohm=NOT_NEGATIVE)
def broken(*, ohm: float) -> str:
    """“open” or “short” for ohms that no sensor has at any temperature; empty for a reading [Ω]."""
    if ohm >= OPEN_OHM:
        return "open"
    return "short" if ohm <= SHORT_OHM else ""


@record
class Fault:
    """What a broken sensor reads and does: in words, and whether the loop is safe with it."""

    place: str
    state: str
    reads: str
    does: Statement
    safe: bool


def faults(kind: SensorKind) -> tuple[Fault, ...]:
    """What an open and a shorted sensor of a kind do at the collector and at the store.

    A platinum sensor rises with heat, so open reads hot; a thermistor falls, so open reads cold.
    """
    rows = []
    for state in ("open", "short"):
        hot = (state == "open") == bool(kind.zero)
        reads = "far too hot" if hot else "far too cold"
        rows += [
            Fault(
                "collector",
                state,
                reads,
                say(
                    "the pump runs day and night and cools the store"
                    if hot
                    else "the pump never starts: the field stands hot, nothing else is hurt"
                ),
                not hot,
            ),
            Fault(
                "store",
                state,
                reads,
                say(
                    "the pump never starts: the field stands hot, nothing else is hurt"
                    if hot
                    else "the pump runs on and the store limit never comes: only the independent cut-out protects the tap"
                ),
                hot,
            ),
        ]
    return tuple(rows)


@record
class BenchReading:
    """Both probes side by side: what the controller shows for collector and store sensor [°C], and what a thermometer says."""

    field: float
    store: float
    true: float | None = None


@record
class Told:
    """A line of what a bench test says; `level` of a finding, empty where all is well."""

    level: str
    what: Statement


def side_by_side(readings: Sequence[BenchReading]) -> tuple[float, tuple[Told, ...]]:
    """Offset of the collector sensor over the store sensor [K] (mean of the readings), and what the readings say.

    Raises ImpossibleInputError without a reading.
    """
    if not readings:
        raise ImpossibleInputError("a bench test needs one reading at least")
    offsets = [reading.field - reading.store for reading in readings]
    mean = sum(offsets) / len(offsets)
    told = []
    if abs(mean) <= SIDE_BY_SIDE_K:
        told.append(Told("", say("Side by side they read alike within {k}.", k=Quantity(SIDE_BY_SIDE_K, "difference"))))
    else:
        which = "collector" if mean > 0 else "store"
        told.append(
            Told(
                "fix" if abs(mean) > 3 * SIDE_BY_SIDE_K else "mind",
                say(
                    "The {which} sensor reads {k} higher at the same place. Correct it in the controller, or add it to both differences.",
                    which=which,
                    k=Quantity(abs(mean), "difference", 1),
                ),
            )
        )
    if len(offsets) > 1 and max(offsets) - min(offsets) > DRIFT_K:
        told.append(
            Told(
                "fix",
                say(
                    "The offset moves by {k} between the readings: a wrong curve, a poor joint or the wrong kind of sensor, not a plain offset.",
                    k=Quantity(max(offsets) - min(offsets), "difference", 1),
                ),
            )
        )
    for reading in readings:
        if reading.true is None:
            continue
        for name, value in (("collector", reading.field), ("store", reading.store)):
            if abs(value - reading.true) > 2 * SIDE_BY_SIDE_K:
                told.append(
                    Told(
                        "mind",
                        say(
                            "At {t} the {name} sensor shows {r}.",
                            name=name,
                            t=Quantity(reading.true, "temperature"),
                            r=Quantity(value, "temperature"),
                        ),
                    )
                )
    return mean, tuple(told)


def moved(before: BenchReading, after: BenchReading) -> tuple[Told, ...]:
    """Whether both sensors moved when both were put from one cup into another."""
    rises = {"collector": abs(after.field - before.field), "store": abs(after.store - before.store)}
    if not min(rises.values()) < SIDE_BY_SIDE_K < max(rises.values()):
        return ()
    still = min(rises, key=lambda name: rises[name])
    return (
        Told("fix", say("The {still} sensor hardly moved from cup to cup: it is not the one in the cup.", still=still)),
    )


@takes(on=FINITE, off=FINITE, start=FINITE, stop=FINITE)
def switch_told(*, on: float, off: float, start: float, stop: float) -> tuple[Told, ...]:
    """Whether a pump that was seen to start and stop at two differences [K] does what was set."""
    told = []
    for name, seen, wanted in (("starts", on, start), ("stops", off, stop)):
        level = "" if abs(seen - wanted) <= SIDE_BY_SIDE_K else "fix"
        told.append(
            Told(
                level,
                say(
                    "It {name} at {s}; {w} is set.",
                    name=name,
                    s=Quantity(seen, "difference", 1),
                    w=Quantity(wanted, "difference", 1),
                ),
            )
        )
    if off >= on:
        told.append(Told("stop", say("It stops at or above where it starts: it will chatter.")))
    return tuple(told)


def swapped(*, collector_read: float, store_read: float, warmed: str) -> bool:
    """Whether two sensors are swapped: the one named `warmed` (“collector” or “store”) was held in a hand and the other rose.

    Readings are the rises [K] since before it was warmed.
    """
    rose = collector_read if warmed == "collector" else store_read
    other = store_read if warmed == "collector" else collector_read
    return other > rose
