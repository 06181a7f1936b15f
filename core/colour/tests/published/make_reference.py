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

# The monotone cubic of equal-depth strength, checked in core/figures.
from scipy.interpolate import PchipInterpolator

curve = PchipInterpolator([0, 1, 3, 4, 7], [10, 8, 7.5, 3, 2.9])
with open("../../../figures/tests/published/pchip.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["x", "y"])
    for x in np.linspace(0, 7, 29):
        writer.writerow([x, repr(float(curve(x)))])

# Linear Bradford adaptation of a CIELAB reading to another illuminant, same observer.
def lab_of(xyz, white):
    f = lambda t: np.where(t > (6 / 29) ** 3, np.cbrt(t), t / (3 * (6 / 29) ** 2) + 4 / 29)
    x, y, z = f(np.array(xyz) / np.array(white))
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


def xyz_of(lab, white):
    y = (lab[0] + 16) / 116
    f = np.array([y + lab[1] / 500, y, y - lab[2] / 200])
    return np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29)) * np.array(white)


def white_of(observer, illuminant):
    flat = colour.SpectralDistribution(dict(zip(NM, [1.0] * len(NM))))
    cmfs, power = colour.MSDS_CMFS[OBSERVERS[observer]], colour.SDS_ILLUMINANTS[illuminant]
    return np.array(colour.sd_to_XYZ(flat, cmfs, power, method="ASTM E308"))


with open("bradford.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["observer", "from", "to", "L1", "a1", "b1", "L2", "a2", "b2"])
    for observer in OBSERVERS:
        for start, end in (("D65", "D50"), ("D65", "A"), ("D50", "D65"), ("A", "D50")):
            for given in ((52.0, 8.0, -44.0), (84.0, 4.0, 88.0), (41.0, 46.0, 24.0), (62.0, -40.0, 8.0)):
                white_in, white_out = white_of(observer, start), white_of(observer, end)
                seen = colour.adaptation.chromatic_adaptation_VonKries(
                    xyz_of(given, white_in) / 100, white_in / 100, white_out / 100, transform="Bradford")
                adapted = lab_of(seen * 100, white_out)
                writer.writerow([observer, start, end, *given, *(f"{float(v):.5f}" for v in adapted)])

# sRGB (IEC 61966-2-1) of the chart's patches under D65/2, -1 where one lies outside.
with open("srgb.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["patch", "r", "g", "b"])
    cmfs, power = colour.MSDS_CMFS[OBSERVERS[2]], colour.SDS_ILLUMINANTS["D65"]
    for number, (_, values) in enumerate(rows, 1):
        sd = colour.SpectralDistribution(dict(zip(NM, [round(v, 4) for v in values])))
        xyz = np.array(colour.sd_to_XYZ(sd, cmfs, power, method="ASTM E308")) / 100
        linear = colour.models.RGB_COLOURSPACE_sRGB.matrix_XYZ_to_RGB @ xyz
        inside = (linear > -0.002).all() and (linear < 1.002).all()
        encoded = colour.models.eotf_inverse_sRGB(np.clip(linear, 0, 1)) * 255
        writer.writerow([number, *(f"{v:.2f}" if inside else -1 for v in encoded)])

# OKLCh hue of the chart's patches under D65/2.
with open("oklch.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["patch", "chroma", "hue"])
    for number, (_, values) in enumerate(rows, 1):
        sd = colour.SpectralDistribution(dict(zip(NM, [round(v, 4) for v in values])))
        xyz = np.array(colour.sd_to_XYZ(sd, cmfs, power, method="ASTM E308")) / 100
        _, a, b = colour.XYZ_to_Oklab(xyz)
        writer.writerow([number, f"{np.hypot(a, b):.5f}", f"{np.degrees(np.arctan2(b, a)) % 360:.4f}"])

# Student's t, 97.5 % point, checked in core/study.
from scipy.stats import t as student

with open("../../../study/tests/published/student_t.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["repeats", "t"])
    for repeats in (2, 3, 4, 5, 6, 8, 10, 15, 20, 30, 31, 32, 40, 60, 120, 1000):
        writer.writerow([repeats, f"{student.ppf(0.975, repeats - 1):.4f}"])

# CIEDE2000 of pairs far apart, near each other, and about a hue of 0°, where its mean hue has three cases.
random = np.random.default_rng(2000)
one = random.uniform([0, -100, -100], [100, 100, 100], (300, 3))
other = random.uniform([0, -100, -100], [100, 100, 100], (300, 3))
other[100:200] = one[100:200] + random.uniform(-1, 1, (100, 3))
one[200:], other[200:] = (random.uniform([20, 20, -40], [80, 90, 40], (100, 3)) for _ in range(2))
one, other = np.round(one, 4), np.round(other, 4)
with open("ciede2000.csv", "w", newline="") as out:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["L1", "a1", "b1", "L2", "a2", "b2", "delta_e_00"])
    for row in zip(one, other, colour.delta_E(one, other, method="CIE 2000")):
        writer.writerow([*(f"{v:.4f}" for v in (*row[0], *row[1])), f"{row[2]:.9f}"])
