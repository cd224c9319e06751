"""What can go wrong, as one tree.

CutError                 every refusal of the engine; carries a code, words and the places it is
                         about
├── MeshError            arrays that are no mesh
├── FormatError          a file that can't be read or written
├── StepError            a step that names something that is not there, or can't be carried out
│   └── PathError        two points of a line that no stretch of surface joins
└── ImprintError         a face that can't hold the lines laid into it
"""

from __future__ import annotations

from cutcore.notes import Element

# A refusal is one line that can be read at a glance, whatever was in the file or the step that it
# is about.
MOST_WORDS = 300


def shortened(words: str) -> str:
    """Words on one line, cut off in the middle where they are too long."""
    line = " ".join(words.split())
    if len(line) <= MOST_WORDS:
        return line
    half = (MOST_WORDS - 3) // 2
    return f"{line[:half]} … {line[-half:]}"


class CutError(Exception):
    """A refusal: `code` for programs, `words` for people, `elements` for the places it is about."""

    code = "refused"

    def __init__(self, words: str, *, elements: tuple[Element, ...] = (), where: str = "") -> None:
        super().__init__(shortened(f"{where}: {words}" if where else words))
        self.words = words
        self.elements = elements
        self.where = where

    def at(self, where: str) -> CutError:
        """The same refusal, with the path of the offending value put before its own path."""
        joined = (
            f"{where}.{self.where}"
            if self.where and not self.where.startswith("[")
            else where + self.where
        )
        return type(self)(self.words, elements=self.elements, where=joined)


class MeshError(CutError):
    code = "bad-mesh"


class FormatError(CutError):
    code = "bad-file"


class StepError(CutError):
    code = "bad-step"


class PathError(StepError):
    code = "no-surface-between"


class ImprintError(CutError):
    code = "face-too-tangled"
