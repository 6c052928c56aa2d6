"""The rules of the job: arrays and rasters in, arrays and rasters out."""
