"""Make the typefaces for cards anew, from the packages of the front end: `scripts/typefaces.py`.

They are kept with the code, so that an installation needs neither the packages nor this script; run
it when a package has a newer one. It needs fonttools, which nothing else does.
"""

from __future__ import annotations

import sys
from pathlib import Path

from fontTools.ttLib import TTFont

ROOT = Path(__file__).resolve().parent.parent
PACKAGES = ROOT / "frontend/node_modules/@fontsource"
OUT = ROOT / "src/nevefield/cards/typefaces"
# in the order in which they are asked for a letter
SUBSETS = {
    "atkinson-hyperlegible-next": ("latin", "latin-ext"),
    "noto-sans": ("vietnamese", "greek", "greek-ext", "cyrillic", "cyrillic-ext"),
}
WEIGHTS = (400, 700)
# Tables that say how letters stand to each other: letters are set one by one here.
LEFT = ("GPOS", "GSUB", "GDEF", "kern", "STAT", "DSIG", "meta")


def main() -> int:
    """Write them; say what was written."""
    OUT.mkdir(parents=True, exist_ok=True)
    licences = []
    for package, subsets in SUBSETS.items():
        licences.append((PACKAGES / package / "LICENSE").read_text())
        for subset in subsets:
            for weight in WEIGHTS:
                name = f"{package}-{subset}-{weight}-normal"
                font = TTFont(PACKAGES / package / "files" / f"{name}.woff", recalcTimestamp=False)
                font.flavor = None
                for table in LEFT:
                    if table in font:
                        del font[table]
                font.save(OUT / f"{name}.ttf")
                print(f"{name}.ttf: {len(font.getBestCmap())} letters")
    (OUT / "LICENSE").write_text("\n\n".join(licences))
    return 0


if __name__ == "__main__":
    sys.exit(main())
