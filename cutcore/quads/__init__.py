"""All quads: what a cut leaves of odd faces and n-gons, mended; planned and made like any cut."""
