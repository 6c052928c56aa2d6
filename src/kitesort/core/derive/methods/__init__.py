"""One file per derivation; each has a ``SPEC``."""
