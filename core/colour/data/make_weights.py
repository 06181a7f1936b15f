"""Makes weights.rs: ASTM E308 10 nm tristimulus weighting factors, 380-730 nm, ends folded.

Run: pip install colour-science==0.4.7 && python make_weights.py > weights.rs
"""
import colour
from colour.colorimetry import tristimulus_weighting_factors_ASTME2022

OBSERVERS = {"TWO": "CIE 1931 2 Degree Standard Observer", "TEN": "CIE 1964 10 Degree Standard Observer"}

print("// Made by make_weights.py (see SOURCES.md); never edited by hand.")
for name, observer in OBSERVERS.items():
    for illuminant in ("D50", "D65", "A"):
        fine = colour.SpectralShape(360, 780, 1)
        cmfs = colour.MSDS_CMFS[observer].copy().trim(fine)
        power = colour.SDS_ILLUMINANTS[illuminant].copy().align(fine)
        full = tristimulus_weighting_factors_ASTME2022(cmfs, power, colour.SpectralShape(360, 780, 10))
        folded = full[2:38].copy()          # 380 .. 730
        folded[0] += full[:2].sum(axis=0)   # 360, 370 into 380
        folded[-1] += full[38:].sum(axis=0)  # 740 .. 780 into 730
        print(f"\n/// CIE {illuminant}, {observer}.")
        print(f"pub(super) const {illuminant}_{name}: Weights = [")
        for row in folded:
            print("    [" + ", ".join(f"{value:.6f}" for value in row) + "],")
        print("];")
