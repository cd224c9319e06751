"""Operations that remove or move: each takes a mesh and its parameters and gives a Result, with
notes like a cut."""
