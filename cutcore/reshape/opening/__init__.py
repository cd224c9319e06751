"""Operations that take away: faces, edges and vertices, and where the surface parts."""
