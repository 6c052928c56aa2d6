"""The Raster protocol and its sources; everything on the map is one of these."""
