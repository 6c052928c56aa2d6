"""Scene catalogues that speak the open STAC API: search, look, fetch; allowed addresses only."""
