"""The four facts as a form."""

from __future__ import annotations

from typing import Any

from django import forms

from rowan.core.design.inputs.base import Inputs, InputSpec, spec_of
from rowan.core.design.inputs.duty import DutyInputs
from rowan.core.design.inputs.survey import SurveyInputs
from rowan.core.studies.propose import Facts
from rowan.core.terms.compass import compass_point
from rowan.core.terms.language import Message, spoken, tr
from rowan.web.accounts.models import Firm
from rowan.web.plans.weather import places_of
from rowan.web.ui.languages import tr_later


def _spec(model: type[Inputs], name: str) -> InputSpec:
    """The one definition of an input: its limits and choices are the form's."""
    found = spec_of(model, name)
    if found is None:
        raise KeyError(name)
    return found


AZIMUTH, TILT = _spec(SurveyInputs, "roof_azimuth_deg"), _spec(SurveyInputs, "roof_tilt_deg")
COVERING, STOREYS = _spec(SurveyInputs, "covering"), _spec(SurveyInputs, "storeys")
PERSONS, HEATER = _spec(DutyInputs, "persons"), _spec(DutyInputs, "heater")


def _degrees(value: float) -> str:
    """Degrees as they were typed, with the reader's decimal mark."""
    return f"{value:g}".replace(".", spoken().decimal)


def _whole(spec: InputSpec, label: str, refusal: str) -> forms.IntegerField:
    """A whole number within the input's own limits."""
    least, most = int(spec.low or 0), int(spec.high or 0)
    words = tr_later(refusal, least=least, most=most)
    wrong = {
        "min_value": words,
        "max_value": words,
        "invalid": tr_later("Type a whole number, {least} to {most}.", least=least, most=most),
    }
    return forms.IntegerField(min_value=least, max_value=most, label=label, error_messages=wrong)


class BearingField(forms.CharField):
    """A bearing typed as degrees or as a compass point."""

    def to_python(self, value: Any) -> Any:
        if not (value or "").strip():
            raise forms.ValidationError(tr("Fill this in."), code="required")
        text = (super().to_python(value) or "").strip().lower().removesuffix("°").replace(",", ".")
        point = compass_point(text)
        if point is not None:
            return point
        try:
            return float(text)
        except ValueError as error:
            raise forms.ValidationError(tr("Type degrees from north (0 to 360) or a point such as SSE.")) from error

    def run_validators(self, value: Any) -> None:
        """A bearing is a number here; the text validators of the base class do not apply."""

    def validate(self, value: Any) -> None:
        if AZIMUTH.refuse(value):
            raise forms.ValidationError(
                tr(
                    "A roof faces {low} to {high} degrees from north, not {typed}.",
                    low=f"{AZIMUTH.low:g}",
                    high=f"{AZIMUTH.high:g}",
                    typed=f"{value:g}",
                )
            )


class FactsForm(forms.Form):
    """Place, roof, people, heater."""

    title = forms.CharField(max_length=120, required=False, label="name of the job")
    place = forms.ChoiceField()
    azimuth = BearingField(label="bearing of the roof")
    tilt = forms.FloatField(
        min_value=TILT.low,
        max_value=TILT.high,
        label="pitch of the roof",
        error_messages={
            "min_value": tr_later(
                "A roof is pitched {low} to {high} degrees.", low=f"{TILT.low:g}", high=f"{TILT.high:g}"
            ),
            "max_value": tr_later(
                "A roof is pitched {low} to {high} degrees.", low=f"{TILT.low:g}", high=f"{TILT.high:g}"
            ),
            "invalid": tr_later("Type degrees, {low} to {high}.", low=f"{TILT.low:g}", high=f"{TILT.high:g}"),
        },
    )
    covering = forms.ChoiceField(choices=COVERING.choices)
    storeys = _whole(STOREYS, "storeys", Message("A house has {least} to {most} storeys here."))
    persons = _whole(PERSONS, "people", Message("{least} to {most} people."))
    heater = forms.ChoiceField(
        choices=[(key, Message(f"{'an' if words[0] in 'aeiou' else 'a'} {words}")) for key, words in HEATER.choices]
    )

    START = {
        "place": "Aldersund",
        "azimuth": "157",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "4",
        "heater": "oil",
    }

    def __init__(self, *args: Any, firm: Firm | None = None, **more: Any) -> None:
        super().__init__(*args, **more)
        self.places = places_of(firm)
        place: Any = self.fields["place"]
        place.choices = [
            (name, f"{name}, {_degrees(abs(p.latitude_deg))}° {'N' if p.latitude_deg >= 0 else 'S'}")
            for name, p in self.places.items()
        ]

    def facts(self) -> Facts:
        """The facts of a valid form."""
        data = self.cleaned_data
        return Facts(
            self.places[data["place"]],
            data["azimuth"],
            data["tilt"],
            data["covering"],
            data["persons"],
            data["heater"],
            data["storeys"],
        )

    def job_title(self) -> str:
        """The job's name, made from the facts if none was typed."""
        return self.cleaned_data["title"].strip() or tr(
            "House in {place}, {persons} people",
            place=self.cleaned_data["place"],
            persons=self.cleaned_data["persons"],
        )
