"""Lists whatever ships with Wertome that others made, under which licence: `python -m scripts.licences`
writes web/src/about/licences.json, which the page shows."""

from __future__ import annotations

import json
import re
import sys
from importlib import metadata
from pathlib import Path
from typing import Any

OUT = Path("web/src/about/licences.json")
LOCK = Path("web/package-lock.json")
# Fonts that lie among our own files.
FONTS = Path("cutcore/outlines/fonts")

# Of these nothing is left in what is built.
TYPES = re.compile(r"/@types/|/csstype$|-typescript-helpers$")


def in_the_page() -> list[dict[str, Any]]:
    """Scripts and fonts that the built page holds, with the texts that have to go with them."""
    found = []
    for place, package in json.loads(LOCK.read_text())["packages"].items():
        if not place or TYPES.search(place) or package.get("dev") or package.get("optional"):
            continue
        folder = LOCK.parent / place
        texts = sorted(
            path
            for path in folder.glob("*")
            if re.match(r"(?i)(licen[cs]e|ofl|copying)", path.name)
        )
        found.append(
            {
                "name": place.rpartition("node_modules/")[2],
                "version": package["version"],
                "licence": package.get("license", "see its text"),
                "in": "the page",
                "text": texts[0].read_text().strip() if texts else "",
            }
        )
    return found


def in_the_service() -> list[dict[str, Any]]:
    """Packages that the service runs on; each brings its own texts along."""
    found = []
    for line in Path("requirements/app.txt").read_text().splitlines():
        name, _, version = line.partition("==")
        told = metadata.metadata(name)
        licence = (
            told.get("License-Expression") or _of_classifiers(told) or told.get("License") or ""
        )
        short = licence.strip().partition("\n")[0]
        if not short or short.startswith("Copyright"):
            short = "see its text"
        found.append(
            {"name": name, "version": version, "licence": short, "in": "the service", "text": ""}
        )
    return found


def _of_classifiers(told: Any) -> str:
    kinds = [one for one in told.get_all("Classifier") or () if one.startswith("License ::")]
    return ", ".join(one.rpartition(":: ")[2] for one in kinds)


def listed() -> str:
    fonts = [
        {
            "name": "Source Sans 3, for letters that are cut",
            "version": "",
            "licence": "OFL-1.1",
            "in": "the service",
            "text": (FONTS / "OFL.txt").read_text().strip(),
        }
    ]
    every = sorted([*in_the_page(), *in_the_service(), *fonts], key=lambda one: one["name"].lower())
    return json.dumps(every, indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    out = Path(sys.argv[1]) if len(sys.argv) > 1 else OUT
    out.parent.mkdir(parents=True, exist_ok=True)
    out.write_text(listed())
