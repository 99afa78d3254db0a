"""The base of everything a maker says: frozen, closed, finite."""

from pydantic import BaseModel, ConfigDict


class Frozen(BaseModel):
    """A record that cannot change, refuses unknown fields and refuses numbers that are not finite."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, ser_json_inf_nan="strings")
