"""The fluid of a sealed loop through its life: first mix, refractometer, litres to exchange, top-ups, age. Source: methods 9."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.fluid import exchange_litres, first_mix, share_after_water
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

CLOSE_ENOUGH = 0.01  # a refractometer is read to a hundredth
HUNDRED_H = 100 * 3600.0  # s
DAYS_A_YEAR = 365.25  # with leap days: dates of a log are real ones


@record
class Round:
    """One line of the log: strength before it as expected [-], as read, and after what was done."""

    entry: FluidEntry
    expected: float
    after: float


@record
class Tub:
    """First mix [-], whether the concentrate allows it, the log, the strength now [-] and what to exchange [m³].

    `residual` is the water that the first reading shows to have stayed in the loop [m³], None before one.
    """

    loop: float
    wanted: float
    fill: float
    possible: bool
    rounds: tuple[Round, ...]
    now: float
    exchange: float | None
    residual: float | None

    @property
    def read(self) -> bool:
        """Whether anybody has read a refractometer yet."""
        return any(found.entry.share is not None for found in self.rounds)

    @property
    def done(self) -> bool:
        """Whether the mix is what was wanted, or stronger."""
        return self.read and self.now >= self.wanted - CLOSE_ENOUGH

    @property
    def ph(self) -> float | None:
        """The pH read last."""
        return next((found.entry.ph for found in reversed(self.rounds) if found.entry.ph is not None), None)


def tub_of(design: Design, loop: float) -> Tub:
    """The fluid of a design whose loop holds `loop` [m³], its log played through. What cannot be reckoned is left out, never guessed."""
    charge, wanted = design.charge, design.glycol_share
    strong = charge.concentrate.value
    water = min(charge.residual_l.value * LITRE, 0.9 * loop)
    mix = first_mix(loop_volume=loop, residual_water=water, wanted=wanted, concentrate=strong)
    # cans mixed ready hold the strength wanted and no more
    filled = wanted if design.parts.fluid_sold.value == "premix" else min(mix.share, strong)
    strength = filled * (loop - water) / loop
    residual, rounds = None, []
    for entry in charge.log:
        expected = strength
        if entry.share is not None:
            strength = entry.share
            if residual is None and filled > 0:
                residual = max(loop * (1 - entry.share / filled), 0.0)
        exchanged = min(entry.exchanged_l * LITRE, loop)
        strength += exchanged / loop * (strong - strength)
        try:
            strength = share_after_water(loop_volume=loop, share=strength, water=entry.water_l * LITRE)
        except OutOfRangeError:
            strength = 0.0  # more water than the loop holds went in
        rounds.append(Round(entry, expected, strength))
    return Tub(
        loop,
        wanted,
        filled,
        mix.possible,
        tuple(rounds),
        strength,
        _to_exchange(loop, strength, wanted, strong),
        residual,
    )


def _to_exchange(loop: float, share: float, wanted: float, strong: float) -> float | None:
    """Litres to drain and replace by concentrate [m³]; None where the concentrate is too weak for it."""
    try:
        return exchange_litres(loop_volume=loop, share=share, wanted=wanted, concentrate=strong)
    except ImpossibleInputError:
        return None


@record
class Ageing:
    """How the fluid's pH should fall: new, least, a year, and what a hundred hours of standing hot add a year [-]."""

    new: float
    least: float
    a_year: float
    standing: float

    @property
    def falls(self) -> float:
        """Fall of the pH in a year [-]."""
        return self.a_year + self.standing

    @property
    def lasts(self) -> float | None:
        """Years until it has to be changed; None where it never falls."""
        return (self.new - self.least) / self.falls if self.falls > 0 else None

    def at(self, years: float) -> float:
        """The pH expected after so many years."""
        return self.new - self.falls * years


def ageing(design: Design, standing_hot: float) -> Ageing:
    """Ageing of a design's fluid; standing_hot [s a year] by the simulated year. Rules of thumb, all of them inputs."""
    charge = design.charge
    return Ageing(
        charge.ph_new.value,
        charge.ph_least.value,
        charge.ph_year.value,
        charge.ph_hot.value * standing_hot / HUNDRED_H,
    )


def years_of(entries: Sequence[FluidEntry]) -> list[tuple[float, FluidEntry]]:
    """Dated entries by the years since the first of them; those without a date are left out."""
    dated = []
    for entry in entries:
        try:
            dated.append((date.fromisoformat(entry.date), entry))
        except ValueError:
            continue
    dated.sort(key=lambda pair: pair[0])
    return [((day - dated[0][0]).days / DAYS_A_YEAR, entry) for day, entry in dated]
