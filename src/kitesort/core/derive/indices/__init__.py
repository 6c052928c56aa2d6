"""Index catalogues as data: every JSON file here is read."""
