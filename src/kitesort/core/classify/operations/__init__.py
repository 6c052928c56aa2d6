"""Operations that make class maps, one file each."""
