"""Parts together: joined, copied, dropped onto the ground."""
