"""Ways of making one scene of several: one file each, with its ``SPEC``."""
