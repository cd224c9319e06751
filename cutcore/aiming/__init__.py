"""From a pointer in a view to what is meant."""
