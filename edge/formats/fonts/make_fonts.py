"""Cuts the static condensed faces for PDF out of the vendored variable font.

    pip install fonttools brotli
    python make_fonts.py ../../../web/assets/vendor/archivo/archivo-latin-wdth-normal.woff2

Archivo is under the SIL Open Font License (LICENSE beside this file).
"""

import sys

from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

WIDTH = 75

for name, weight in (("Regular", 400), ("Bold", 700)):
    font = instancer.instantiateVariableFont(TTFont(sys.argv[1]), {"wght": weight, "wdth": WIDTH})
    font.flavor = None
    names = {1: "Archivo Sheet", 2: name, 4: f"Archivo Sheet {name}", 6: f"ArchivoSheet-{name}"}
    for record in list(font["name"].names):
        if record.nameID in names:
            font["name"].setName(
                names[record.nameID],
                record.nameID,
                record.platformID,
                record.platEncID,
                record.langID,
            )
    font.save(f"archivo-sheet-{name.lower()}.ttf")
