"""What stands between the sun and the collectors: horizon and obstacles."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.design.inputs.base import Inputs, Origin
from rowan.core.design.inputs.fields import choice, number


class HorizonPoint(Inputs):
    """A point of the far horizon, as compass and inclinometer give it from the collectors."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    bearing_deg: Annotated[
        float, number("bearing", "bearing", 0, 360, help="Clockwise from north, or a point such as SW", step=1)
    ]
    elevation_deg: Annotated[float, number("stands up to", "angle", 0, 85, help="Above the level", step=0.5)]
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class Obstacle(Inputs):
    """Something before the horizon. Its height is over the collectors; trees let a share of the sun through."""

    id: str = Field(pattern=r"^[a-z0-9]{1,12}$")
    kind: Annotated[
        Literal["tree", "chimney", "house"],
        choice("kind", ("tree", "tree"), ("chimney", "chimney"), ("house", "house")),
    ]
    bearing_deg: Annotated[
        float, number("bearing", "bearing", 0, 360, help="Of its middle, from north, or a point such as SW", step=1)
    ]
    distance_m: Annotated[float, number("away", "length", 0.3, 2000, help="From the collectors, level", step=0.5)]
    width_m: Annotated[float, number("wide", "length", 0.1, 500, step=0.1)]
    height_m: Annotated[float, number("over the collectors", "length", 0.1, 200, step=0.1)]
    grown_m: Annotated[
        float | None,
        number("grown, in year 25", "length", 0.1, 200, empty="as it is", help="Over the collectors", step=0.1),
    ] = None
    summer: Annotated[float, number("lets through in leaf", "share", 0, 1, step=0.05)] = 0.0
    winter: Annotated[float, number("lets through bare", "share", 0, 1, step=0.05)] = 0.0
    origin: Origin = "measured"
    note: str = Field(default="", max_length=400)


class SunInputs(Inputs):
    """What stands between the sun and the collectors."""

    horizon: list[HorizonPoint] = Field(default_factory=list, max_length=36)
    obstacles: list[Obstacle] = Field(default_factory=list, max_length=24)

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        for rows in (self.horizon, self.obstacles):
            ids = [row.id for row in rows]
            twice = next((key for key in ids if ids.count(key) > 1), None)
            if twice is not None:
                raise PydanticCustomError("leg_twice", "the entry “{key}” stands twice in one list", {"key": twice})
        return self
