"""The numbers of every model of the service as the page's fields need them: `python -m
scripts.limits` writes web/src/api/limits.ts out of the schema of the service.

A range or a first value that stands in a model stands nowhere else."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

SCHEMA = Path("api/openapi.json")
OUT = Path("web/src/api/limits.ts")
BOUNDS = {
    "minimum": "least",
    "maximum": "most",
    "exclusiveMinimum": "above",
    "exclusiveMaximum": "below",
}
# Beyond these a bound says no more than that a number is to be told from none.
TINIEST, LARGEST = 1e-50, 1e9
HEAD = """/** The ranges and first values of numbers, out of the models of the service by `make types`. */
export const LIMITS = """


def limits_of(field: dict[str, Any]) -> dict[str, float]:
    """The bounds and the first value of a field of a schema, as far as it has any."""
    kinds = field.get("anyOf", [field])
    number = next((kind for kind in kinds if kind.get("type") in ("integer", "number")), None)
    if number is None:
        return {}
    found = {
        name: number[bound]
        for bound, name in BOUNDS.items()
        if bound in number and (number[bound] == 0 or TINIEST < abs(number[bound]) < LARGEST)
    }
    if isinstance(field.get("default"), int | float):
        found["first"] = field["default"]
    return found


def listed(schema: dict[str, Any]) -> str:
    """The limits of every model that has some, as a constant of the front end."""
    every = {}
    for name, model in schema["components"]["schemas"].items():
        fields = {key: limits_of(field) for key, field in model.get("properties", {}).items()}
        if some := {key: limits for key, limits in fields.items() if limits}:
            every[name] = some
    return f"{HEAD}{json.dumps(every, indent=2)} as const;\n"


if __name__ == "__main__":
    out = Path(sys.argv[1]) if len(sys.argv) > 1 else OUT
    out.write_text(listed(json.loads(SCHEMA.read_text())))
