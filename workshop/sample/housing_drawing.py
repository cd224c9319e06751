"""The made-up dimensioned drawing of the lantern housing: an SVG worked out from its profile, so
that both agree."""

from __future__ import annotations

from workshop.sample.skerry_light import HOUSING_PROFILE

# Room round the outline for the dimensions, in millimetres.
LEFT, RIGHT, ABOVE, BELOW = 40.0, 60.0, 24.0, 20.0
WIDE = 2 * max(radius for radius, _ in HOUSING_PROFILE)
TALL = HOUSING_PROFILE[-1][1]


def housing_drawing() -> bytes:
    """The drawing in millimetres; its outline is `WIDE` by `TALL`."""
    width, height = LEFT + WIDE + RIGHT, ABOVE + TALL + BELOW
    middle, foot = LEFT + WIDE / 2, ABOVE + TALL

    def y(level: float) -> float:
        return foot - level

    outline = [(middle + r, y(h)) for r, h in HOUSING_PROFILE] + [
        (middle - r, y(h)) for r, h in reversed(HOUSING_PROFILE)
    ]
    lines = [_path(outline)]
    lines.append(
        f'<path d="M{middle:g} {y(TALL + 6):g}V{foot + 6:g}" stroke-dasharray="6 1.5 1 1.5"/>'
    )
    texts = []
    for radius, level in HOUSING_PROFILE[1:-1]:
        lines.append(
            f'<path d="M{middle - radius:g} {y(level):g}H{middle + radius:g}" stroke-width=".12"/>'
        )
    for level in sorted({h for _, h in HOUSING_PROFILE}):
        lines.append(f'<path d="M{middle + WIDE / 2 + 4:g} {y(level):g}h9" stroke-width=".15"/>')
        texts.append((middle + WIDE / 2 + 15, y(level) + 0.9, f"{level:g}"))
    for k, (radius, level) in enumerate(HOUSING_PROFILE[1:-1]):
        texts.append((3 + 16 * (k % 2), y(level) + 0.9, f"⌀{2 * radius:g}"))
    texts.append((4, 9, "Skerry Light · lantern housing · all in mm"))
    words = "".join(f'<text x="{x:g}" y="{v:g}">{text}</text>' for x, v, text in texts)
    drawn = "".join(lines)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:g} {height:g}" width="{4 * width:g}" height="{4 * height:g}">'
        f'<g fill="none" stroke="#22313a" stroke-width=".4">{drawn}</g>'
        f'<g fill="#22313a" font-family="sans-serif" font-size="2.9">{words}</g></svg>'
    ).encode()


def placement() -> dict[str, object]:
    """Where it stands so that its outline lies on the housing."""
    height = ABOVE + TALL + BELOW
    place = {"x": -(LEFT + WIDE / 2), "y": -BELOW, "height": height}
    return {"view": "front", **place, "before": False, "strength": 0.7, "locked": True}


def _path(places: list[tuple[float, float]]) -> str:
    return '<path d="M' + "L".join(f"{x:g} {y:g}" for x, y in places) + 'Z"/>'
