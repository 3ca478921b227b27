#!/usr/bin/env python3
"""Makes the program's fonts from the Inter family (SIL Open Font License 1.1; Debian package fonts-inter).

Qt 6.4 cannot ask a font for tabular figures, so they are made the default here: the digits' entries in the
character map point to the glyphs of the 'tnum' feature. The set is cut down to the characters the program uses.
The family is renamed to "Palinform Text", as the licence wants of changed copies.
Run by hand with python3-fonttools; the results are in src/app/theme/fonts.
"""
import sys
from fontTools import subset
from fontTools.ttLib import TTFont

out = sys.argv[1] if len(sys.argv) > 1 else "src/app/theme/fonts"
ranges = [(0x20, 0x7E), (0xA0, 0x17F), (0x391, 0x3C9), (0x2010, 0x2027), (0x2030, 0x203A), (0x2070, 0x209C),
          (0x20AC, 0x20AC), (0x2190, 0x2199), (0x2202, 0x2265), (0x25A0, 0x25CF), (0x2713, 0x2717), (0x2300, 0x2300)]
for style in ("Regular", "SemiBold", "Bold"):
    font = TTFont(f"/usr/share/fonts/opentype/inter/Inter-{style}.otf")
    gsub = font["GSUB"].table
    tabular = {}
    for record in gsub.FeatureList.FeatureRecord:
        if record.FeatureTag == "tnum":
            for index in record.Feature.LookupListIndex:
                for table in gsub.LookupList.Lookup[index].SubTable:
                    tabular.update(getattr(table, "ExtSubTable", table).mapping)
    for table in font["cmap"].tables:
        for code, glyph in list(table.cmap.items()):
            if code in range(0x30, 0x3A) and glyph in tabular:
                table.cmap[code] = tabular[glyph]
    options = subset.Options(layout_features=["kern", "mark", "ccmp"], name_IDs=["*"], notdef_outline=True)
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=[c for a, b in ranges for c in range(a, b + 1)])
    cutter.subset(font)
    for name in font["name"].names:
        if name.nameID in (1, 16):
            name.string = "Palinform Text"
        elif name.nameID in (2, 17):
            name.string = style
        elif name.nameID == 4:
            name.string = f"Palinform Text {style}"
        elif name.nameID == 6:
            name.string = f"PalinformText-{style}"
    if "CFF " in font:
        cff = font["CFF "].cff
        cff.fontNames[0] = f"PalinformText-{style}"
        cff.topDictIndex[0].FamilyName = "Palinform Text"
        cff.topDictIndex[0].FullName = f"Palinform Text {style}"
    font.save(f"{out}/PalinformText-{style}.otf")
