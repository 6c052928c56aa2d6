"""Training sites: from drawn shapes to pixels and class statistics."""
