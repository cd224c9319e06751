"""Questions about a mesh that change nothing."""
