"""Operations that put new faces beside those there: walls, strips, skins."""
