"""Operations that make more faces of what is there, or close what is open."""
