"""What a tool draws: lines on the surface, before anything is cut."""
