"""Shards: one part broken into many."""
