"""The base of everything that is written to a job file: goods and inputs."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Strict(BaseModel):
    """Base of all kept models: unknown keys, NaN and infinities are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
