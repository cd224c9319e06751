"""Random requests drawn from the schema of the API: mostly as it says, here and there as nobody
should."""

from __future__ import annotations

import json
import logging
import os
import random
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

# What a number, a text or anything else may be instead.
HOSTILE_NUMBERS = [
    0,
    -1,
    1,
    2**31,
    2**31 - 1,
    2**63,
    -(2**63) - 1,
    10**30,
    1e308,
    -1e308,
    5e-324,
    1e-12,
    0.1,
    1e60,
    1e61,
]
HOSTILE_TEXTS = [
    "",
    " ",
    "x" * 300,
    "\u0000",
    "a\r\nb",
    'quote"',
    "../../x",
    "ünï ✂",
    "\ud800",
    "%s",
    "1e999",
    "𝔘" * 50,
]
HOSTILE_ANYTHING: list[Any] = [None, True, [], {}, [[[]]], "text", 1, -1.5]
HOSTILE_SEGMENTS = [
    "0",
    "-1",
    "99999999999999999999",
    "1e3",
    "nan",
    "x",
    "%00",
    "..",
    "a%0d%0ab",
    "%22",
    "é",
    " ",
]
FILES = [
    b"",
    b"nothing",
    b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n",
    b"v nan 0 0\nv 1e308 0 0\nv 0 1e308 0\nf 1 2 3\n",
    b'<svg xmlns="http://www.w3.org/2000/svg"><circle r="5"/></svg>',
    b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0 L1e308 -1e308 1e-320 0 Z"/></svg>',
    b"ply\nformat ascii 1.0\nelement vertex 3\n",
    b"solid x\nfacet\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\n",
    b"glTF\x02\x00\x00\x00" + bytes(40),
    b"\x89PNG\r\n\x1a\n" + bytes(30),
]
NAMES = [
    "a.obj",
    "a.svg",
    "a.ply",
    "a.stl",
    "a.glb",
    "a",
    "",
    ".obj",
    'q".obj',
    "x" * 300 + ".obj",
    "ü.obj",
    "a.png",
]
DEEPEST = 7
# What there is beside parts is looked up so often: numbers that are gone are sent as well.
LOOK_EVERY = 8


@dataclass
class Asked:
    """One request: `body` is JSON, or a file's name and bytes."""

    method: str
    path: str
    body: Any = None
    file: tuple[str, bytes] | None = None
    # A body as it is sent, where it is no JSON.
    raw: bytes | None = None


@dataclass
class Known:
    """What is there, for requests that mean it: numbers by the name of the parameter, revisions by
    part."""

    numbers: dict[str, list[int]] = field(default_factory=dict)
    revisions: dict[int, int] = field(default_factory=dict)


class Fuzz:
    """Draws requests from a schema; `evil` is how often something in one is not what the schema
    says."""

    def __init__(
        self, schema: dict[str, Any], source: random.Random, known: Known, *, evil: float = 0.04
    ) -> None:
        self.schema, self.source, self.known, self.evil = schema, source, known, evil
        self.operations = [
            (method, path, operation)
            for path, methods in schema["paths"].items()
            for method, operation in methods.items()
            # A project that is deleted takes all its parts out of reach: seldom is enough.
            for _ in range(1 if method == "delete" else 8)
        ]
        self.part = 0

    def draw(self) -> Asked:
        method, path, operation = self.source.choice(self.operations)
        query = []
        self.part = self._there("part_id")
        for parameter in operation.get("parameters", []):
            name = parameter["name"]
            value = self._parameter(name, parameter["schema"])
            if parameter["in"] == "path":
                path = path.replace("{" + name + "}", value)
            elif parameter.get("required") or self.source.random() < 0.5:
                query.append(f"{name}={value}")
        asked = Asked(method.upper(), path + ("?" + "&".join(query) if query else ""))
        content = operation.get("requestBody", {}).get("content", {})
        if "application/json" in content:
            asked.body = self._value(content["application/json"]["schema"], "", 0)
            if self._turns_evil():
                text = json.dumps(asked.body)
                asked.raw = self.source.choice(
                    [
                        b"",
                        b"{",
                        text[: len(text) // 2].encode(),
                        b"\xff\xfe",
                        b"[" * 3000,
                        b'{"step": NaN}',
                        text.encode("utf-16"),
                    ]
                )
        elif content:
            asked.file = (self.source.choice(NAMES), self.source.choice(FILES))
        return asked

    def _turns_evil(self) -> bool:
        return self.source.random() < self.evil

    def _there(self, name: str) -> int:
        return self.source.choice(self.known.numbers.get(name) or [1, 2])

    def _parameter(self, name: str, schema: dict[str, Any]) -> str:
        if self._turns_evil():
            return self.source.choice(HOSTILE_SEGMENTS)
        if name == "part_id":
            return str(self.part)
        if name == "revision":
            return str(self.known.revisions.get(self.part, 1))
        if name in self.known.numbers:
            return str(self._there(name))
        value = self._value(schema, name, 0)
        return "" if value is None else str(value)

    def _value(self, schema: dict[str, Any], name: str, depth: int) -> Any:
        if self._turns_evil():
            return self.source.choice(
                self.source.choice([HOSTILE_NUMBERS, HOSTILE_TEXTS, HOSTILE_ANYTHING])
            )
        if name == "revision" and self.source.random() < 0.95:
            return self.known.revisions.get(self.part, 1)
        if name in ("part", "outlines", "outline_id") and self.source.random() < 0.9:
            return (
                [self._there("outline_id")]
                if name == "outlines"
                else self._there("part_id" if name == "part" else name)
            )
        if "$ref" in schema:
            return self._value(
                self.schema["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]], name, depth
            )
        for several in ("anyOf", "oneOf"):
            if several in schema:
                choices = schema[several]
                if depth > DEEPEST:
                    choices = [c for c in choices if c.get("type") == "null"] or choices
                return self._value(self.source.choice(choices), name, depth)
        if "allOf" in schema:
            return self._value(schema["allOf"][0], name, depth)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return self.source.choice(schema["enum"])
        match schema.get("type"):
            case "object":
                return self._object(schema, depth)
            case "array":
                return self._array(schema, name, depth)
            case "integer":
                return self._integer(schema)
            case "number":
                return self._number(schema)
            case "boolean":
                return self.source.random() < 0.5
            case "string":
                return self.source.choice(["Part", "ab 12", *HOSTILE_TEXTS])
            case "null":
                return None
        return self.source.choice(HOSTILE_ANYTHING)

    def _object(self, schema: dict[str, Any], depth: int) -> dict[str, Any]:
        required = set(schema.get("required", []))
        chosen = {
            key: self._value(inner, key, depth + 1)
            for key, inner in schema.get("properties", {}).items()
            if key in required or "const" in inner or self.source.random() < 0.45
        }
        if self._turns_evil():
            chosen["nobody_knows"] = 1
        return chosen

    def _array(self, schema: dict[str, Any], name: str, depth: int) -> list[Any]:
        prefix = schema.get("prefixItems")
        if prefix:
            return [self._value(inner, name, depth + 1) for inner in prefix]
        low = schema.get("minItems", 0)
        count = min(low + self.source.choice([0, 0, 1, 1, 2, 3, 8]), schema.get("maxItems", 50))
        return [self._value(schema.get("items", {}), name, depth + 1) for _ in range(count)]

    def _integer(self, schema: dict[str, Any]) -> int:
        low = int(schema.get("minimum", schema.get("exclusiveMinimum", 0)))
        value = low + self.source.choice([0, 1, 2, 3, 5, 8, self.source.randrange(40)])
        return (
            value
            if self.source.random() < 0.97
            else self.source.choice([low - 1, int(schema.get("maximum", 2**31 - 1))])
        )

    def _number(self, schema: dict[str, Any]) -> float:
        if self.source.random() < 0.06:
            return self.source.choice(HOSTILE_NUMBERS)
        value = self.source.choice(
            [
                0.0,
                0.5,
                1.0,
                0.25,
                self.source.uniform(-2, 2),
                self.source.uniform(0, 1),
                self.source.uniform(0, 90),
            ]
        )
        low = float(schema.get("minimum", schema.get("exclusiveMinimum", -1e9)))
        high = float(schema.get("maximum", schema.get("exclusiveMaximum", 1e9)))
        return min(max(value, low), high)


class Tracebacks(logging.Handler):
    """Holds on to the last fault that was logged, for telling it beside the request."""

    last = ""

    def emit(self, record: logging.LogRecord) -> None:
        self.last = self.format(record)[-900:]


class Told:
    """What came of some requests."""

    def __init__(self) -> None:
        self.statuses: Counter[int] = Counter()
        self.faults: list[str] = []
        self.slowest = 0.0
        self.tracebacks = Tracebacks()

    @property
    def requests(self) -> int:
        return sum(self.statuses.values())

    def note(self, asked: Asked, status: int, data: bytes, kind: str, seconds: float) -> None:
        self.statuses[status] += 1
        self.slowest = max(self.slowest, seconds)
        wrong = status >= 500
        if status >= 400 and not wrong:
            try:
                said = json.loads(data)
                wrong = (
                    not (said["code"] and said["words"])
                    or len(said["words"]) > 310
                    or "\n" in said["words"]
                )
            except (ValueError, KeyError, TypeError):
                wrong = True
        if wrong:
            body = asked.raw if asked.raw is not None else json.dumps(asked.body)[:1500]
            told = f"{status} {kind} {asked.method} {asked.path} {body!r} → {data[:200]!r}"
            self.faults.append(f"{told}\n{self.tracebacks.last}")


def assault(count: int, seed: int) -> Told:
    """Send so many requests to a workshop with two small parts, an outline, a drawing and a list,
    and say what came of them."""
    from django.core.files.uploadedfile import SimpleUploadedFile
    from django.test import Client

    from workshop.api import api
    from workshop.models import Drawing, GaugeList, Outline, Part, Project, Snapshot

    source, known, told = random.Random(seed), Known(), Told()
    client = Client(raise_request_exception=False, SERVER_NAME="localhost")
    fuzz = Fuzz(json.loads(json.dumps(api.get_openapi_schema())), source, known)

    def look() -> None:
        if not Part.objects.filter(deleted=None, project__deleted=None).exists():
            furnish()
            known.numbers = {}
        parts = Part.objects.filter(deleted=None, project__deleted=None).order_by("-pk")
        known.revisions = dict(parts.values_list("pk", "revision")[:6])
        if known.numbers and told.requests % LOOK_EVERY:
            known.numbers["part_id"] = list(known.revisions)
            return
        known.numbers = {
            "part_id": list(known.revisions),
            "project_id": list(
                Project.objects.filter(deleted=None).values_list("pk", flat=True)[:4]
            ),
            "outline_id": list(Outline.objects.values_list("pk", flat=True)[:5]),
            "drawing_id": list(Drawing.objects.values_list("pk", flat=True)[:5]),
            "list_id": list(GaugeList.objects.values_list("pk", flat=True)[:5]),
            "snapshot": list(Snapshot.objects.order_by("-pk").values_list("pk", flat=True)[:5]),
            "since": list(Snapshot.objects.order_by("-pk").values_list("pk", flat=True)[:5]),
        }

    log = logging.getLogger("workshop.faults")
    log.addHandler(told.tracebacks)
    log.propagate = False
    look()
    for _ in range(count):
        asked = fuzz.draw()
        begun = time.monotonic()
        path = "".join(
            c if c.isascii() and c != " " else f"%{ord(c) % 256:02x}" for c in asked.path
        )
        if asked.file is not None:
            sent: Any = {"file": SimpleUploadedFile(asked.file[0] or "x", asked.file[1])}
            answer = (
                client.generic("GET", path) if asked.method == "GET" else client.post(path, sent)
            )
        else:
            data = (
                asked.raw
                if asked.raw is not None
                else json.dumps(asked.body).encode()
                if asked.body is not None
                else b""
            )
            answer = client.generic(asked.method, path, data, content_type="application/json")
        if asked.method != "GET" and answer.status_code < 300:
            look()
        told.note(
            asked,
            answer.status_code,
            b"".join(answer.streaming_content) if answer.streaming else answer.content,
            answer.headers.get("Content-Type", ""),
            time.monotonic() - begun,
        )
    log.removeHandler(told.tracebacks)
    log.propagate = True
    return told


def furnish() -> None:
    """Something of everything, for requests to be about."""
    from cutcore.outlines.makers import KINDS, make_outline
    from cutcore.shapes.box import box
    from cutcore.shapes.torus import torus
    from tests.pictures import picture
    from workshop.services.drawings import add_drawing
    from workshop.services.outlines import add_outline
    from workshop.services.parts import add_part
    from workshop.services.projects import add_project

    project = add_project("Assaulted")
    add_part(project, "Box", box(2, 1, 1, (3, 2, 2)))
    add_part(project, "Ring", torus(1.0, 0.3, 12, 8))
    for kind in list(KINDS.values())[:2]:
        add_outline(project, "Shape", make_outline(kind()))
    placement = {
        "view": "front",
        "x": 0,
        "y": 0,
        "height": 100,
        "before": False,
        "strength": 0.7,
        "locked": False,
    }
    add_drawing(project, "Drawn", picture(), placement, {"heights": [], "widths": []})


def fresh_workshop(folder: str) -> None:
    """Set Django up on a folder of its own, with an empty database."""
    os.environ["WERTOME_DATA"] = folder
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wertome.settings")
    import django
    from django.core.management import call_command

    django.setup()
    call_command("migrate", verbosity=0)


def lines(told: Told) -> Iterator[str]:
    yield f"{told.requests} requests, slowest {told.slowest:.1f} s: {dict(sorted(told.statuses.items()))}"
    yield from told.faults[:20]
