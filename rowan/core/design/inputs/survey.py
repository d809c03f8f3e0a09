"""Place and roof as found on site.

The climate is the town's; what was measured on the roof says so by its origin.
"""

from __future__ import annotations

from typing import Annotated

from rowan.core.design.inputs.base import Input, Inputs, InputSpec
from rowan.core.design.inputs.fields import Number, Text, Whole, choice, number, whole
from rowan.core.goods.fixings import Covering
from rowan.core.goods.items import Normals, WeatherItem

SOFT_MOL_M3, HARD_MOL_M3 = 1.2, 3.6  # mol/m³ of water that somebody calls soft or hard


class SurveyInputs(Inputs):
    """Place and roof as found on site."""

    place: Annotated[Text, InputSpec("place", "text", help="The town whose climate is used")]
    latitude_deg: Annotated[Number, number("latitude", "latitude", -65, 65, help="North is positive")]
    longitude_deg: Annotated[Number, number("longitude", "latitude", -180, 180)]
    altitude_m: Annotated[Number, number("height above sea", "length", -400, 5000, decimals=0)]
    normals: Annotated[Input[Normals], InputSpec("climate normals", "item")]
    weather: Annotated[
        Input[WeatherItem | None],
        InputSpec(
            "weather of the year",
            "item",
            help="Made from the normals, or an hourly file of the place",
            empty="made from the normals",
        ),
    ] = Input[WeatherItem | None](value=None)
    design_minimum_c: Annotated[
        Number, number("coldest night", "temperature", -45, 25, help="Design minimum of the place")
    ]
    hardness_mol_m3: Annotated[
        Number,
        number(
            "tap water's hardness",
            "hardness",
            0,
            15,
            help="mmol/L, °dH, ppm as calcium carbonate or grains a gallon; the waterworks say it",
            step=0.1,
        ),
    ] = Number(value=SOFT_MOL_M3)
    chloride_kg_m3: Annotated[
        Input[float | None],
        number(
            "chloride in it",
            "dissolved",
            0,
            1,
            help="It eats stainless steel; the waterworks say it",
            step=0.005,
            empty="not known",
        ),
    ] = Input[float | None](value=None)
    roof_azimuth_deg: Annotated[
        Number, number("roof faces", "bearing", 0, 360, help="Clockwise from north, or a point such as SW", step=1)
    ]
    roof_tilt_deg: Annotated[Number, number("roof pitch", "angle", 0, 90, step=1)]
    covering: Annotated[
        Input[Covering],
        choice(
            "covering",
            ("slate", "slate"),
            ("tile", "tile"),
            ("metal", "standing seam metal"),
            ("shingle", "shingle"),
            ("sheet", "trapezoid sheet"),
            ("membrane", "flat membrane"),
            ("cement", "old fibre-cement"),
        ),
    ]
    storeys: Annotated[Whole, whole("storeys", 1, 12)]
    gauge_to_top_m: Annotated[
        Number,
        number(
            "gauge to top", "length", 0.5, 60, help="From the gauge at the station up to the top of the loop", step=0.1
        ),
    ]
    roof_width_m: Annotated[Number, number("roof width", "length", 1, 100, step=0.1)]
    roof_slope_m: Annotated[Number, number("slope length", "length", 1, 40, step=0.1)]
    floor_limit_kg_m2: Annotated[
        Input[float | None],
        number(
            "floor bears",
            "floor_load",
            50,
            20000,
            help="What the floor under the store may carry. Leave empty if nobody knows yet",
            empty="not known",
        ),
    ] = Input[float | None](value=None)
    room_c: Annotated[Number, number("plant room", "temperature", 0, 35)] = Number(value=15.0)
