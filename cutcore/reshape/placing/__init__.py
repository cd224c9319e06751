"""Operations that move vertices and leave what they join."""
