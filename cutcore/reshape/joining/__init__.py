"""Operations that make fewer elements of more: what is joined, welded, bridged, cleaned."""
