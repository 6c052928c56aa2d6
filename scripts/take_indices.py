"""Write the shipped index catalogue from the open one that the package ``spyndex`` carries.

Run with the development requirements installed; a test compares the result with what is shipped.
Usage: python scripts/take_indices.py > src/kitesort/core/derive/indices/published.json
"""

import json
import re
from importlib import resources
from typing import Any

# The open catalogue's band codes and the roles that they mean, by its own common names. Constants
# without a default are wavelengths, which the scene's own bands tell; other indices without one,
# radar and kernels are not taken.
USES = {
    "vegetation": "vegetation", "water": "water", "soil": "soil", "burn": "burn",
    "urban": "built-up", "snow": "snow", "clouds": "cloud",
}  # fmt: skip
WAVELENGTH = re.compile(r"lambda([A-Z]\d?)")


def read_catalogue() -> tuple[dict[str, Any], dict[str, str], dict[str, float]]:
    folder = resources.files("spyndex") / "data"

    def load(name: str) -> Any:
        return json.loads((folder / name).read_text(encoding="utf-8"))

    indices = load("spectral-indices-dict.json")["SpectralIndices"]
    roles = {code: band["common_name"] for code, band in load("bands.json").items()}
    roles = {code: role for code, role in roles.items() if role not in ("", None)}
    constants = {c["short_name"]: c["default"] for c in load("constants.json").values()}
    return indices, roles, constants


def take(
    entry: dict[str, Any], roles: dict[str, str], constants: dict[str, float]
) -> dict[str, Any] | None:
    """An entry in our words; None when it needs what a scene's bands cannot give."""
    found_roles, found_constants, renamed = [], {}, {}
    for code in entry["bands"]:
        wavelength = WAVELENGTH.fullmatch(code)
        if wavelength and wavelength[1] in roles:
            renamed[code] = f"wavelength_{roles[wavelength[1]]}"
        elif code in roles:
            renamed[code] = roles[code]
            found_roles.append(roles[code])
        elif constants.get(code) is not None:
            renamed[code] = f"constant_{code.lower()}"
            found_constants[renamed[code]] = float(constants[code])
        else:
            return None
    if entry["application_domain"] not in USES or not found_roles:
        return None
    formula = re.sub(
        r"[A-Za-z]\w*", lambda m: renamed.get(m[0], m[0]), entry["formula"].replace("**", "^")
    )
    return {
        "id": entry["short_name"].lower(),
        "symbol": entry["short_name"],
        "title": entry["long_name"],
        "use": USES[entry["application_domain"]],
        "formula": formula,
        "roles": found_roles,
        "constants": found_constants,
        "reference": entry["reference"],
    }


def make_catalogue() -> list[dict[str, Any]]:
    indices, roles, constants = read_catalogue()
    taken = [take(entry, roles, constants) for entry in indices.values()]
    found = sorted((t for t in taken if t), key=lambda t: (t["id"], t["symbol"]))
    seen: set[str] = set()
    for entry in found:  # symbols that differ in their capitals only
        entry["id"] += "_2" if entry["id"] in seen else ""
        seen.add(entry["id"])
    return found


if __name__ == "__main__":
    print(json.dumps(make_catalogue(), indent=1, ensure_ascii=False))
