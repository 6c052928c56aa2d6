"""How providers describe what they deliver: one file per way, each with its ``SPEC``."""
