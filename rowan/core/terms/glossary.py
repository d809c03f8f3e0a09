"""The trade's words as this program uses them, each in a sentence or two, with the page of the methods that reckons with it.

Source: practice and methods of the trade; the numbers are pages of `docs/methods`.
"""

from __future__ import annotations

from rowan.core.terms.record import record


@record
class Term:
    """A word, what it means, and the page of the methods where it is reckoned; None where none does."""

    word: str
    words: str
    method: int | None = None


GLOSSARY: tuple[Term, ...] = (
    Term("absorber", "The dark plate or tube in a collector that takes the sun in and gives it to the liquid.", 3),
    Term("air trap", "A chamber in the station in which bubbles rise out of the flow. It catches what comes by; it lifts nothing down from the roof.", 17),
    Term("anode", "A rod in an enamelled store that is eaten instead of the steel. It is looked at every year or two.", 19),
    Term("aperture", "The area of a collector through which sun comes to the absorber. All yields here count it, not the outer frame.", 3),
    Term("assumed", "A number nobody has measured or read off yet. It is marked until somebody has.", 0),
    Term("backflow device", "What keeps the loop's mix out of drinking water when the main fails. A filling hose is never on without one.", None),
    Term("backup", "The boiler, element or second tank that heats what the sun has not.", 7),
    Term("bleeding", "Letting air out at the highest place: cold, the pump off, a cap or key at the vent.", 17),
    Term("burp", "While purging: the drain is shut until the gauge has leapt, then opened at once, so that air in corners is shaken loose.", 17),
    Term("charge", "The pressure of the gas in an empty vessel, set before the loop is filled.", 10),
    Term("check valve", "Lets the mix go one way alone. Without it a warm store gives its heat to the cold roof by night.", 8),
    Term("circulator", "A pump with a wet rotor, as heating has it. Its shaft lies level, or air gathers under the rotor.", 8),
    Term("coil", "The pipe inside a store through which the loop gives its heat to the water.", 5),
    Term("cold fill", "What the gauge reads when the loop has been filled, cold, the pump off.", 10),
    Term("cut-out", "The warmth of the field over which the pump rests, so that it is not filled with steam.", 7),
    Term("differential", "How many degrees the field has to be over the store's foot: start and stop, with a band between.", 7),
    Term("drainback", "A loop whose water runs into a reservoir by itself as soon as the pump stops: it cannot freeze or boil.", 11),
    Term("expansion vessel", "A tank with a membrane: gas on one side, the loop's liquid on the other. It takes what warmth and steam push out of the field.", 10),
    Term("field", "All collectors of a loop together.", 3),
    Term("frost point", "Where a mix begins to form ice. It bursts pipes only some degrees lower.", 9),
    Term("hand test pump", "Raises a loop by strokes, with a gauge of its own: for testing.", 13),
    Term("head", "What a pump has to overcome, as metres of the liquid it moves.", 8),
    Term("high limit", "Switches a heater off for good when a store is far too hot; somebody has to press it back by hand.", None),
    Term("hunting", "A pump that starts, cools the field, stops and starts again: there is sun enough to start and too little to hold.", 7),
    Term("hygiene", "Heating the whole store through now and then, against what grows in lukewarm water.", 7),
    Term("layered", "A store with warm water lying on cold. What stirs it wastes the warm.", 5),
    Term("legs", "The straight pieces of a line, from corner to corner.", 8),
    Term("loss floor", "The stop difference under which the lines lose more than the field brings.", 7),
    Term("membrane", "The rubber between gas and liquid in a vessel. Liquid at its gas valve says that it has burst.", 10),
    Term("precharge", "The same as the charge: the gas before anything is filled.", 10),
    Term("probe", "A temperature sensor with its cable, in a pocket, with paste, held so that it cannot slide out.", 7),
    Term("propylene glycol", "What keeps the mix from freezing, and is no poison beside drinking water. Ethylene glycol is one, and has no place here.", 9),
    Term("purging", "Driving the mix round with a strong pump until no bubble comes back.", 17),
    Term("refractometer", "Shows the strength of a mix by a drop of it. It is zeroed in water first and has a scale for each glycol.", 9),
    Term("relief valve", "Opens before anything bursts, into a can. Nothing that can be shut stands between it and the field.", 10),
    Term("reserve", "Liquid that a vessel holds cold, so that nothing draws air in the coldest night.", 10),
    Term("school", "One of the ways in which installers set charge and fill. Each is reckoned on the same loop, none is hidden.", 10),
    Term("stagnation", "A field that stands in the sun without flow. It becomes as hot as it can, and its liquid boils out.", 3),
    Term("static", "The pressure of the liquid's own column, from the gauge up to the highest place.", 10),
    Term("station", "Pump, check valve, gauge, relief, ports and thermometers in one box.", 8),
    Term("store", "The tank in which the sun's heat waits for the taps.", 5),
    Term("strainer", "A sieve before the pump. What stops it looks like a weak pump.", 8),
    Term("tempering valve", "Mixes cold water in, so that nobody is scalded by a hot store.", 5),
    Term("thermosiphon", "A loop without a pump: warm liquid rises to a store that stands higher than the field.", 8),
    Term("trap", "A low place in a line that should drain, or a high one in which air gathers.", 8),
    Term("vent", "The highest place's outlet for air. Open while filling, shut before the first sun: steam leaves by it.", 17),
    Term("zone valve", "Opens the way to a coil or a circuit when heat is called for; its end switch then calls the boiler.", 7),
)  # fmt: skip
