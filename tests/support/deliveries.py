"""Deliveries as the public land sensors make them, small and made up, to be recognised."""

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
from affine import Affine

CRS = "EPSG:32632"
LEFT, TOP = 500_000.0, 5_500_000.0
SIDE_10M = 60

LANDSAT_2 = """GROUP = LANDSAT_METADATA_FILE
  GROUP = PRODUCT_CONTENTS
    LANDSAT_PRODUCT_ID = "LC09_L2SP_000000_20230601_20230603_02_T1"
    COLLECTION_NUMBER = 02
{files}
    FILE_NAME_QUALITY_L1_PIXEL = "{stem}_QA_PIXEL.TIF"
  END_GROUP = PRODUCT_CONTENTS
  GROUP = IMAGE_ATTRIBUTES
    SPACECRAFT_ID = "LANDSAT_9"
    SENSOR_ID = "OLI_TIRS"
    DATE_ACQUIRED = 2023-06-01
    SUN_ELEVATION = 60.0
  END_GROUP = IMAGE_ATTRIBUTES
  GROUP = LEVEL2_SURFACE_REFLECTANCE_PARAMETERS
{factors}
  END_GROUP = LEVEL2_SURFACE_REFLECTANCE_PARAMETERS
  GROUP = LEVEL2_SURFACE_TEMPERATURE_PARAMETERS
    TEMPERATURE_MULT_BAND_ST_B10 = 0.00341802
    TEMPERATURE_ADD_BAND_ST_B10 = 149.0
  END_GROUP = LEVEL2_SURFACE_TEMPERATURE_PARAMETERS
  GROUP = LEVEL1_RADIOMETRIC_RESCALING
    REFLECTANCE_MULT_BAND_4 = 2.0000E-05
    REFLECTANCE_ADD_BAND_4 = -0.100000
    RADIANCE_MULT_BAND_4 = 9.6653E-03
    RADIANCE_ADD_BAND_4 = -48.32638
  END_GROUP = LEVEL1_RADIOMETRIC_RESCALING
END_GROUP = LANDSAT_METADATA_FILE
END
"""
LANDSAT_STEM = "LC09_L2SP_000000_20230601_20230603_02_T1"


def write_raster(
    path: Path, data: npt.NDArray[Any], pixel: float, driver: str = "GTiff", **options: Any
) -> Path:
    """(bands, rows, columns) or (rows, columns) with its upper left corner at LEFT, TOP."""
    path.parent.mkdir(parents=True, exist_ok=True)
    bands = data[None] if data.ndim == 2 else data
    profile: dict[str, Any] = {
        "driver": driver, "count": bands.shape[0], "height": bands.shape[1],
        "width": bands.shape[2], "dtype": bands.dtype, "crs": CRS,
        "transform": Affine(pixel, 0, LEFT, 0, -pixel, TOP),
    }  # fmt: skip
    with rasterio.open(path, "w", **profile | options) as dataset:
        dataset.write(bands)
    return path


def numbers(value: int, side: int) -> npt.NDArray[np.uint16]:
    """All one value, but fill in the first row."""
    data = np.full((side, side), value, np.uint16)
    data[0] = 0
    return data


def write_landsat_level_2(folder: Path) -> Path:
    """Bands 2 to 7 and the surface temperature; band b holds 10000 + 100 b."""
    keys = [*map(str, range(2, 8)), "ST_B10"]
    names = {k: f"{LANDSAT_STEM}_{'SR_B' + k if k.isdigit() else k}.TIF" for k in keys}
    for i, name in enumerate(names.values(), start=2):
        write_raster(folder / name, numbers(10_000 + 100 * i, 20), 30)
    flags = np.full((20, 20), 1 << 6, np.uint16)
    flags[0] = 1
    flags[5, 5], flags[6, 6] = 1 << 3, 1 << 4
    write_raster(folder / f"{LANDSAT_STEM}_QA_PIXEL.TIF", flags, 30)
    write_raster(folder / f"{LANDSAT_STEM}_VZA.TIF", numbers(1, 20), 30)
    files = "\n".join(f'    FILE_NAME_BAND_{k} = "{n}"' for k, n in names.items())
    factors = "\n".join(
        f"    REFLECTANCE_MULT_BAND_{k} = 2.75e-05\n    REFLECTANCE_ADD_BAND_{k} = -0.2"
        for k in keys
        if k.isdigit()
    )
    path = folder / f"{LANDSAT_STEM}_MTL.txt"
    path.write_text(LANDSAT_2.format(files=files, factors=factors, stem=LANDSAT_STEM))
    return path


SENTINEL_STEM = "T32UXX_20230615T103631"
SENTINEL_SIDES = {
    "R10m": (10, SIDE_10M, ("B02", "B03", "B04", "B08")),
    "R20m": (20, SIDE_10M // 2, ("B02", "B05", "B06", "B07", "B8A", "B11", "B12", "SCL")),
    "R60m": (60, SIDE_10M // 6, ("B01", "B02", "B09")),
}
SENTINEL_XML = """<?xml version="1.0" encoding="UTF-8"?>
<n1:Level-2A_User_Product xmlns:n1="https://example.invalid/PSD/User_Product_Level-2A.xsd">
  <n1:General_Info>
    <Product_Info>
      <PRODUCT_START_TIME>2023-06-15T10:36:31.024Z</PRODUCT_START_TIME>
      <PRODUCT_URI>S2A_MSIL2A_20230615T103631_N0509_R008_T32UXX_20230615T164500.SAFE</PRODUCT_URI>
      <Datatake><SPACECRAFT_NAME>Sentinel-2A</SPACECRAFT_NAME></Datatake>
    </Product_Info>
    <Product_Image_Characteristics>
      <QUANTIFICATION_VALUES_LIST>
        <BOA_QUANTIFICATION_VALUE unit="none">10000</BOA_QUANTIFICATION_VALUE>
      </QUANTIFICATION_VALUES_LIST>
      <BOA_ADD_OFFSET_VALUES_LIST>
        {offsets}
      </BOA_ADD_OFFSET_VALUES_LIST>
    </Product_Image_Characteristics>
  </n1:General_Info>
</n1:Level-2A_User_Product>
"""
TILE_XML = """<?xml version="1.0" encoding="UTF-8"?>
<n1:Level-2A_Tile_ID xmlns:n1="https://example.invalid/PSD/S2_PDI_Level-2A_Tile_Metadata.xsd">
  <n1:Geometric_Info><Tile_Angles><Mean_Sun_Angle>
    <ZENITH_ANGLE unit="deg">30.5</ZENITH_ANGLE><AZIMUTH_ANGLE unit="deg">150.0</AZIMUTH_ANGLE>
  </Mean_Sun_Angle></Tile_Angles></n1:Geometric_Info>
</n1:Level-2A_Tile_ID>
"""


def write_sentinel_2a(folder: Path) -> Path:
    """A level 2A product in its tree of folders; every band holds 3000, that is 0.2."""
    product = folder / "S2A_MSIL2A_20230615T103631.SAFE"
    granule = product / "GRANULE" / "L2A_T32UXX_A041673_20230615T104102"
    for name, (pixel, side, bands) in SENTINEL_SIDES.items():
        for band in bands:
            path = granule / "IMG_DATA" / name / f"{SENTINEL_STEM}_{band}_{pixel}m.jp2"
            data = scene_classes(side) if band == "SCL" else numbers(3000, side)
            write_raster(path, data, pixel, "JP2OpenJPEG", QUALITY=100, REVERSIBLE="YES")
    preview = granule / "IMG_DATA" / "R10m" / f"{SENTINEL_STEM}_TCI_10m.jp2"
    write_raster(preview, np.ones((3, 20, 20), np.uint8), 10, "JP2OpenJPEG")
    (granule / "MTD_TL.xml").write_text(TILE_XML)
    offsets = "".join(f'<BOA_ADD_OFFSET band_id="{i}">-1000</BOA_ADD_OFFSET>' for i in range(13))
    metadata = product / "MTD_MSIL2A.xml"
    metadata.write_text(SENTINEL_XML.format(offsets=offsets))
    return metadata


def scene_classes(side: int) -> npt.NDArray[np.uint8]:
    """Vegetation, with fill in the first row, a cloud and its shadow."""
    classes = np.full((side, side), 4, np.uint8)
    classes[0] = 0
    classes[5:8, 5:8] = 9
    classes[10:12, 10:12] = 3
    return classes
