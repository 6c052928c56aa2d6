"""One file per classifier, found by its SPEC."""
