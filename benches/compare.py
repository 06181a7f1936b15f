"""The same two colour jobs in a general-purpose Python library, where it is installed.

Run: pip install colour-science==0.4.7 && python3 compare.py
"""
import sys
import time
import warnings

try:
    import numpy as np
    warnings.filterwarnings("ignore")
    import colour
except ImportError:
    sys.exit("colour-science is not installed: nothing to compare with")


def timed(name, job):
    job()
    best = min(_run(job) for _ in range(3))
    print(f"{name}: {best * 1000:.1f} ms")


def _run(job):
    start = time.perf_counter()
    job()
    return time.perf_counter() - start


turn = np.arange(1_000_001) * 0.618
lab = np.stack([50 + 40 * np.sin(turn), 60 * np.cos(turn * 1.7), 60 * np.sin(turn * 2.3)], axis=-1)
timed("a million CIEDE2000 pairs", lambda: colour.delta_E(lab[:-1], lab[1:], method="CIE 2000").sum())

cmfs = colour.MSDS_CMFS["CIE 1964 10 Degree Standard Observer"]
power = colour.SDS_ILLUMINANTS["D65"]
shape = colour.SpectralShape(380, 730, 10)
values = 0.5 + 0.4 * np.sin(np.arange(10_000)[:, None] + np.arange(36)[None, :] / 5)
spectra = colour.MultiSpectralDistributions(values.T, shape.wavelengths)
white = colour.CCS_ILLUMINANTS["CIE 1964 10 Degree Standard Observer"]["D65"]


def to_lab():
    xyz = colour.msds_to_XYZ(spectra, cmfs, power, method="ASTM E308") / 100
    return colour.XYZ_to_Lab(xyz, white).sum()


timed("ten thousand spectra to CIELAB", to_lab)
