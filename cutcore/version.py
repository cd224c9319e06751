"""Which version of Wertome this is; CHANGELOG.md says what came with it."""

VERSION = "0.2.0"
