"""One file for each clustering method."""
