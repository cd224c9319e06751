"""Steps as data: the registry of tools and reshapes, the steps file, replay."""
