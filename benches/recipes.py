"""The same search for a recipe of three colours and white with scipy, where it is installed.

`cargo bench -p benches --bench decide` writes the paints and the target to target/decide.json first.
Run: pip install colour-science==0.4.7 scipy && python3 recipes.py
"""
import itertools
import json
import pathlib
import sys
import time
import warnings

try:
    import numpy as np
    from scipy.optimize import minimize
    warnings.filterwarnings("ignore")
    import colour
except ImportError:
    sys.exit("scipy and colour-science are not installed: nothing to compare with")

try:
    told = json.loads((pathlib.Path(__file__).parent.parent / "target/decide.json").read_text())
except FileNotFoundError:
    sys.exit("target/decide.json is not there: run cargo bench -p benches --bench decide first")

NM = np.arange(380, 740, 10)
CMFS = colour.MSDS_CMFS["CIE 1964 10 Degree Standard Observer"]
K1, K2 = 0.04, 0.6


def weights(light):
    power = colour.SDS_ILLUMINANTS[light]
    one = lambda r: colour.sd_to_XYZ(colour.SpectralDistribution(dict(zip(NM, r))), CMFS, power, method="ASTM E308")
    return np.array([one(band) for band in np.eye(36)])


LIGHTS = [weights("D65"), weights("A")]
WHITES = [np.ones(36) @ it for it in LIGHTS]
K, S = np.array(told["k"]), np.array(told["s"])  # the white last
TARGET = [np.array(it) for it in told["target"]]  # reflectance alone, and with white 1 : 4


def measured(shares):
    q = (shares @ K_now) / (shares @ S_now)
    r = 1 / (1 + q + np.sqrt(q * q + 2 * q))
    return K1 + (1 - K1) * (1 - K2) * r / (1 - K2 * r)


def lab(r, light):
    return colour.XYZ_to_Lab(r @ LIGHTS[light] / WHITES[light][1], colour.XYZ_to_xy(WHITES[light]))


WANTED = [[lab(r, light) for light in (0, 1)] for r in TARGET]


def score(shares):
    shares = np.maximum(shares, 0)
    shares = shares / max(shares.sum(), 1e-9)
    tint = shares / 5
    tint[-1] += 0.8
    total = 0.0
    for mix, wanted in zip((shares, tint), WANTED):
        r = measured(mix)
        day, lamp = (colour.delta_E(lab(r, light), wanted[light], method="CIE 2000") for light in (0, 1))
        total += day**2 + lamp**2 / 16
    return np.sqrt(total / 2)


best, start, tried = (np.inf, None), time.perf_counter(), 0
triples = list(itertools.combinations(range(len(K) - 1), 3))
# Some of them tell how long all take.
step = 1 if "--all" in sys.argv else 38
for triple in triples[::step]:
    chosen = [*triple, len(K) - 1]
    K_now, S_now = K[chosen], S[chosen]
    found = minimize(
        score,
        np.full(4, 0.25),
        method="SLSQP",
        bounds=[(0, 1)] * 4,
        constraints={"type": "eq", "fun": lambda x: x.sum() - 1},
        options={"maxiter": 60},
    )
    tried += 1
    best = min(best, (found.fun, triple))
took = time.perf_counter() - start
print(f"{tried} triples with SLSQP: {took:.1f} s, {took / tried * len(triples):.0f} s for all {len(triples)}; best {best}")
print(f"here: best {told['best']}")
