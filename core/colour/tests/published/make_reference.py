"""Makes the reference values that the tests in this folder compare with.

Run in this folder: pip install colour-science==0.4.7 scipy && python make_reference.py
"""
import csv
import warnings

import colour
import numpy as np

warnings.filterwarnings("ignore")
NM = list(range(380, 740, 10))
OBSERVERS = {2: "CIE 1931 2 Degree Standard Observer", 10: "CIE 1964 10 Degree Standard Observer"}

# N. Ohta, 1997: a measured 24-patch chart, 380-780 nm at 5 nm; every second value, four decimals as published.
chart = colour.SDS_COLOURCHECKERS["ColorChecker N Ohta"]
rows = [(name, [float(sd[nm]) for nm in NM]) for name, sd in chart.items()]
with open("chart.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["patch", *NM])
    for number, (_, values) in enumerate(rows, 1):
        writer.writerow([number, *(f"{v:.4f}" for v in values)])


def lab(values, observer, illuminant, method):
    cmfs = colour.MSDS_CMFS[OBSERVERS[observer]]
    power = colour.SDS_ILLUMINANTS[illuminant]
    sd = colour.SpectralDistribution(dict(zip(NM, [round(v, 4) for v in values])))
    white = colour.SpectralDistribution(dict(zip(NM, [1.0] * len(NM))))
    if method == "ASTM E308":
        xyz = [colour.sd_to_XYZ(s, cmfs, power, method="ASTM E308", mi_5nm_omission_method=False) for s in (sd, white)]
    else:  # CIE 15: Sprague interpolation to 1 nm, ends held, summed
        fine = colour.SpectralShape(360, 780, 1)
        hold = {"method": "Constant"}
        ones = [s.copy().align(fine, interpolator=colour.SpragueInterpolator, extrapolator_kwargs=hold) for s in (sd, white)]
        xyz = [colour.sd_to_XYZ(s, cmfs.copy().align(fine), power.copy().align(fine), method="Integration") for s in ones]
    f = lambda t: np.where(t > (6 / 29) ** 3, np.cbrt(t), t / (3 * (6 / 29) ** 2) + 4 / 29)
    x, y, z = f(np.array(xyz[0]) / np.array(xyz[1]))
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


with open("chart_lab.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["patch", "illuminant", "observer", "method", "L", "a", "b"])
    for number, (_, values) in enumerate(rows, 1):
        for observer in OBSERVERS:
            for illuminant in ("D50", "D65", "A"):
                for method in ("ASTM E308", "Integration"):
                    writer.writerow([number, illuminant, observer, method, *(f"{v:.6f}" for v in lab(values, observer, illuminant, method))])

with open("munsell_value.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["Y", "value"])
    for y in (0.5, 1.2, 3.1, 6.6, 12.0, 19.8, 30.1, 43.1, 59.1, 78.7, 95.0):
        writer.writerow([y, f"{float(colour.munsell_value(y, method='ASTM D1535')):.5f}"])

# The monotone cubic of equal-depth strength, checked in core/trial.
from scipy.interpolate import PchipInterpolator

curve = PchipInterpolator([0, 1, 3, 4, 7], [10, 8, 7.5, 3, 2.9])
with open("../../../trial/tests/published/pchip.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["x", "y"])
    for x in np.linspace(0, 7, 29):
        writer.writerow([x, repr(float(curve(x)))])
