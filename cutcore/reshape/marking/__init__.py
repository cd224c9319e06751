"""Operations that change what faces and edges carry, not where they are."""
