"""What all parameters have in common: unknown names are refused, numbers are of a size that can be
reckoned with."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

# Coordinates and lengths beyond this, or below its inverse, are refused: their fourth powers still
# are numbers.
LARGEST = 1e60

# The number of an element: what fits into the arrays of a mesh. Whether it is there is asked of the
# mesh.
Index = Annotated[int, Field(ge=0, lt=2**31)]
Real = Annotated[float, Field(ge=-LARGEST, le=LARGEST)]
Length = Annotated[float, Field(ge=1 / LARGEST, le=LARGEST)]


class Params(BaseModel):
    """Parameters as a steps file or a request gives them."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)
