"""The four facts as a form."""

from __future__ import annotations

from typing import Any

from django import forms

from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts
from rowan.core.terms.units import compass_point

COVERINGS = (("slate", "slate"), ("tile", "tile"), ("metal", "metal"), ("shingle", "shingle"))
HEATERS = (("oil", "an oil boiler"), ("gas", "a gas boiler"), ("electric", "an electric element"))


class BearingField(forms.CharField):
    """A bearing typed as degrees or as a compass point."""

    def to_python(self, value: Any) -> Any:
        if not (value or "").strip():
            raise forms.ValidationError(FactsForm.EMPTY)
        text = (super().to_python(value) or "").strip().lower().removesuffix("°").replace(",", ".")
        point = compass_point(text)
        if point is not None:
            return point
        try:
            return float(text)
        except ValueError as error:
            raise forms.ValidationError("Type degrees from north (0 to 360) or a point such as SSE.") from error

    def run_validators(self, value: Any) -> None:
        """A bearing is a number here; the text validators of the base class do not apply."""

    def validate(self, value: Any) -> None:
        if not 0 <= value <= 360:
            raise forms.ValidationError(f"A roof faces 0 to 360 degrees from north, not {value:g}.")


class FactsForm(forms.Form):
    """Place, roof, people, heater."""

    title = forms.CharField(max_length=120, required=False, label="name of the job")
    place = forms.ChoiceField(
        choices=[
            (name, f"{name}, {abs(p.latitude_deg):g}° {'N' if p.latitude_deg >= 0 else 'S'}")
            for name, p in PLACES.items()
        ]
    )
    azimuth = BearingField(label="bearing of the roof")
    tilt = forms.FloatField(
        min_value=0,
        max_value=90,
        label="pitch of the roof",
        error_messages={
            "min_value": "A roof is pitched 0 to 90 degrees.",
            "max_value": "A roof is pitched 0 to 90 degrees.",
            "invalid": "Type degrees, 0 to 90.",
        },
    )
    covering = forms.ChoiceField(choices=COVERINGS)
    storeys = forms.IntegerField(
        min_value=1,
        max_value=8,
        label="storeys",
        error_messages={
            "min_value": "A house has 1 to 8 storeys here.",
            "max_value": "A house has 1 to 8 storeys here.",
            "invalid": "Type a whole number, 1 to 8.",
        },
    )
    persons = forms.IntegerField(
        min_value=1,
        max_value=40,
        label="people",
        error_messages={
            "min_value": "1 to 40 people; a larger house is a designer's job.",
            "max_value": "1 to 40 people; a larger house is a designer's job.",
            "invalid": "Type a whole number, 1 to 40.",
        },
    )
    heater = forms.ChoiceField(choices=HEATERS)

    EMPTY = "This field is required."
    START = {
        "place": "Aldersund",
        "azimuth": "157",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "4",
        "heater": "oil",
    }

    def facts(self) -> Facts:
        """The facts of a valid form."""
        data = self.cleaned_data
        return Facts(
            PLACES[data["place"]],
            data["azimuth"],
            data["tilt"],
            data["covering"],
            data["persons"],
            data["heater"],
            data["storeys"],
        )

    def job_title(self) -> str:
        """The job's name, made from the facts if none was typed."""
        return (
            self.cleaned_data["title"].strip()
            or f"House in {self.cleaned_data['place']}, {self.cleaned_data['persons']} people"
        )
