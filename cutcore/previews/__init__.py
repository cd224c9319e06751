"""What a plan shows, without doing it."""
