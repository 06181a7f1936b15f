"""A made-up trial with wet and lifted readings, a second white and mixtures of three and four tubes
(changes.csv), and its figures worked out after docs/science.md (changes.json), as make_reference.py does for
trial.csv. Run in this folder after it: python make_changes.py
"""
import csv
import json

from make_reference import K1, K2, NM, chroma, delta_e, hue, ks, lab, np, shift

# K and S by part, made up: bells and edges as invented pigments have them.
bell = lambda centre, width, height: height * np.exp(-(((NM - centre) / width) ** 2) / 2)
edge = lambda at, soft, height: height / (1 + np.exp((NM - at) / soft))
PAINTS = {
    "Canopy Ultramarine": (bell(598, 58, 1.6) + 0.03, 0.06 * (NM / 550) ** -0.8),
    "Lantern Yellow": (edge(480, 8, 1.4) + 0.002, 0.11 * (NM / 550) ** -0.8),
    "Saddle Red": (edge(576, 9, 1.6) + 0.004, 0.15 * (NM / 550) ** -0.7),
    "Roasted Earth": (edge(560, 30, 1.2) + 0.1, 0.2 * (NM / 550) ** -0.6),
    "Workshop Titanium": (edge(402, 7, 0.4) + 0.0004, 1.0 * (NM / 550) ** -0.9),
    "Fairground White": (edge(398, 9, 0.2) + 0.0006, 0.55 * (NM / 550) ** -0.9),
}
CODES = {"Canopy Ultramarine": "PB29", "Lantern Yellow": "PY74", "Saddle Red": "PR254",
         "Roasted Earth": "PBr7", "Workshop Titanium": "PW6", "Fairground White": "PW4"}
PAPER = 0.88 - 0.22 * np.exp(-(NM - 380) / 40)


def measured(parts, thickness=None):
    """A hiding film, or one of so many units over the paper; gloss included."""
    k = sum(p * PAINTS[tube][0] for tube, p in parts) / sum(p for _, p in parts)
    s = sum(p * PAINTS[tube][1] for tube, p in parts) / sum(p for _, p in parts)
    q = k / s
    r = 1 / (1 + q + np.sqrt(q * q + 2 * q))
    if thickness is not None:
        a, b = 1 + q, np.sqrt(q * q + 2 * q)
        inner = (PAPER - K1) / ((1 - K1) * (1 - K2))
        ground = inner / (1 + K2 * inner)
        u = np.tanh(b * s * thickness) / b
        r = ((1 - a * ground) * u + ground) / ((a - ground) * u + 1)
    return K1 + (1 - K1) * (1 - K2) * r / (1 - K2 * r)


# (parts of the tubes, state, film's thickness): `None` hides.
COLOURS = ["Canopy Ultramarine", "Lantern Yellow", "Saddle Red", "Roasted Earth"]
B, Y, R, E = COLOURS
W, F = "Workshop Titanium", "Fairground White"
rows = [([], "dry", PAPER)]
rows += [([(tube, 1)], "dry", measured([(tube, 1)])) for tube in [*COLOURS, W, F]]
rows += [([(tube, 1), (W, w)], "dry", measured([(tube, 1), (W, w)])) for tube in COLOURS for w in (1, 4, 16)]
rows += [([(tube, 1), (F, w)], "dry", measured([(tube, 1), (F, w)])) for tube in (B, R) for w in (1, 4, 16)]
for tube, wet, left in ((B, 0.12, 0.6), (Y, 0.05, 2.5), (R, 0.2, 8.0), (E, 0.02, 0.05)):
    rows.append(([(tube, 1)], "wet", measured([(tube, 1)]) * (1 + wet) - 0.003))
    rows.append(([(tube, 1)], "lifted", measured([(tube, 1)], left)))
for parts in ([(B, 1), (Y, 1)], [(B, 1), (Y, 1), (R, 0.5)], [(B, 1), (Y, 1), (W, 8)],
              [(B, 1), (Y, 1), (R, 0.5), (W, 10)], [(Y, 3), (R, 1)], [(Y, 3), (R, 1), (B, 0.2), (E, 0.4)],
              [(Y, 2), (E, 1), (B, 0.5)]):
    rows.append((parts, "dry", measured(parts)))

with open("changes.csv", "w", newline="") as out:
    out.write("# upright-swatch readings 1\n# illuminant: D65\n# observer: 10\n# white: Workshop Titanium\n"
              "# basis: weight\n# geometry: d:8 included\n# sheen: gloss\n# scale_g: 0.01\n# pile_g: 4\n"
              "# repeatability: 0.03\n")
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["tube", "maker", "code", "with", "parts", "with_parts", "white_parts", "with2", "with2_parts",
                    "with3", "with3_parts", "state", "backing", "repeat", *(f"R{nm}" for nm in NM)])
    for parts, state, r in rows:
        white = sum(p for tube, p in parts if tube == W and len(parts) > 1)
        others = [part for part in parts if part[0] != W or len(parts) == 1]
        others += [("", "")] * (4 - len(others))
        (tube, own), (w1, p1), (w2, p2), (w3, p3) = others
        table.writerow([tube, "Tidewell" if tube else "", CODES.get(tube, ""), w1, own, p1, white or "", w2, p2,
                        w3, p3, state, "paper", 1, *(round(x, 6) for x in r)])

read = {(tuple(sorted(parts)), state): np.round(r, 6) for parts, state, r in rows}
at = lambda parts, state="dry": read[(tuple(sorted(parts)), state)]
paper = lab(at([]))


def tube(name):
    wet, dry, lifted = (lab(at([(name, 1)], state)) for state in ("wet", "dry", "lifted"))
    return {
        "tube": name,
        "drying": {"delta_L": dry[0] - wet[0], "delta_C": chroma(dry) - chroma(wet),
                   "delta_h": shift(hue(wet), hue(dry)), "delta_e": delta_e(wet, dry)},
        "staining": 100 * delta_e(lifted, paper) / delta_e(dry, paper) if delta_e(dry, paper) >= 5 else None,
    }


def lightening(colour):
    """At the parts where the standard's corrected reflectance at λ* is nearest 0.41."""
    best = None
    for w in (1, 4, 16):
        q = ks(at([(colour, 1), (W, w)])) - ks(at([(W, 1)]))
        other = ks(at([(colour, 1), (F, w)])) - ks(at([(F, 1)]))
        band = int(np.nanargmax(np.where((NM >= 400) & (NM <= 700), q, np.nan)))
        y = (at([(colour, 1), (W, w)])[band] - K1) / ((1 - K1) * (1 - K2))
        off = abs(y / (1 + K2 * y) - 0.41)
        if best is None or off < best[0]:
            best = (off, {"colour": colour, "white_parts": w, "percent": 100 * q[band] / other[band]})
    return best[1]


def mixture(parts, base):
    v, pair = lab(at(parts)), lab(at(base)) if base else None
    return {"parts": [[name, p] for name, p in parts if name != W], "lab": list(v),
            "hue_shift": shift(hue(pair), hue(v)) if base else None,
            "chroma_loss": 1 - chroma(v) / chroma(pair) if base else None}


with open("changes.json", "w") as out:
    json.dump({
        "tubes": [tube(name) for name in COLOURS],
        "lightening": [lightening(colour) for colour in (B, R)],
        "mixtures": [
            mixture([(B, 1), (Y, 1), (R, 0.5)], [(B, 1), (Y, 1)]),
            mixture([(B, 1), (Y, 1), (R, 0.5), (W, 10)], [(B, 1), (Y, 1), (W, 8)]),
            mixture([(Y, 3), (R, 1), (B, 0.2), (E, 0.4)], [(Y, 3), (R, 1)]),
            mixture([(Y, 2), (E, 1), (B, 0.5)], None),
        ],
    }, out, indent=1, default=float)
    out.write("\n")
