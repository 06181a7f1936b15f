"""Compares the tubes of trial.csv a second time, by the definitions and with other people's libraries, and writes
the pairs to compare.json for compare.rs to check against.

trial.csv is the export of the demo trial "Three ultramarines for the rounding boards".
Run in this folder: pip install colour-science==0.4.7 scipy && python make_compare.py
"""
import csv
import itertools
import json
import warnings

import colour
import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq, minimize_scalar

warnings.filterwarnings("ignore")
NM = np.arange(380, 740, 10)
CMFS = colour.MSDS_CMFS["CIE 1964 10 Degree Standard Observer"]
POWER = colour.SDS_ILLUMINANTS["D65"]
WHITE = "Workshop Titanium"
K1, K2 = 0.04, 0.6
RANDOM = np.random.default_rng(7)


def xyz_of(r):
    sd = colour.SpectralDistribution(dict(zip(NM, r)))
    return np.array(colour.sd_to_XYZ(sd, CMFS, POWER, method="ASTM E308"))


# ASTM E308 is linear in the reflectance: its weights are what single bands give.
WEIGHTS = np.array([xyz_of(band) for band in np.eye(36)])
XYZ_WHITE = np.ones(36) @ WEIGHTS
XY_WHITE = colour.XYZ_to_xy(XYZ_WHITE)


def lab(r):
    return np.array(colour.XYZ_to_Lab(r @ WEIGHTS / XYZ_WHITE[1], XY_WHITE))


def delta_e(one, other):
    return colour.delta_E(np.asarray(one), np.asarray(other), method="CIE 2000")


def internal(measured):
    y = (measured - K1) / ((1 - K1) * (1 - K2))
    return y / (1 + K2 * y)


def measured(r):
    return K1 + (1 - K1) * (1 - K2) * r / (1 - K2 * r)


groups = {}
with open("trial.csv", newline="") as file:
    for row in csv.DictReader(line for line in file if not line.startswith("#")):
        if row.get("void"):
            continue
        number = lambda cell: float(cell or 0)
        parts = (number(row["parts"]), number(row["with_parts"]), number(row["white_parts"]))
        key = (row["tube"], row["with"], parts, row["backing"])
        groups.setdefault(key, []).append([float(row[f"R{nm}"]) for nm in NM])
mean = {key: np.mean(values, axis=0) for key, values in groups.items()}
paper = internal(mean[("", "", (0, 0, 0), "paper")])
black, card = (internal(mean[("", "", (0, 0, 0), backing)]) for backing in ("black", "white"))


def film(tube):
    """K/S of the neat film in each band, and its S times thickness where the backing shows (Kubelka 1948)."""
    r1, r2 = (internal(mean[(tube, "", (1, 0, 0), backing)]) for backing in ("black", "white"))
    q, sx = np.empty(36), np.full(36, np.nan)
    for i in range(36):
        if abs(r1[i] - r2[i]) < 0.01:
            r = np.clip((r1[i] + r2[i]) / 2, 0.001, 0.9999)
            q[i] = (1 - r) ** 2 / (2 * r)
            continue
        lines = [[r1[i] + black[i], r1[i] - black[i]], [r2[i] + card[i], r2[i] - card[i]]]
        a, m = np.linalg.solve(lines, [1 + r1[i] * black[i], 1 + r2[i] * card[i]])
        b = np.sqrt(a * a - 1)
        q[i], sx[i] = a - 1, np.arctanh(b / m) / b
    return q, sx


def middle(values):
    """The median as the program has it: of an even number the higher one."""
    values = np.sort(values[np.isfinite(values) & (values > 0)])
    return values[len(values) // 2] if len(values) else None


q_white, sx_white = film(WHITE)


def weight(r):
    return 2 * r * r / (1 - r * r)


def hiding(q):
    return 1 / (1 + q + np.sqrt(q * q + 2 * q))


def fit(tube):
    q_film, sx = film(tube)
    rows = []  # weight, c, q, target by band
    for (name, other, (own, _, whites), backing), r in mean.items():
        if name == tube and not other and whites > 0 and backing == "paper":
            c, r = own / (own + whites), np.clip(internal(r), 0.001, 0.9999)
            q = (1 - r) ** 2 / (2 * r)
            rows.append((weight(r), c, q, (1 - c) * (q - q_white)))
    rows.append((weight(np.clip(hiding(q_film), 0.001, 0.9999)), 1.0, q_film, np.zeros(36)))

    def k_at(i, s):
        above = sum(w[i] ** 2 * c * (t[i] + q[i] * c * s) for w, c, q, t in rows)
        return max(0.0, above / sum((w[i] * c) ** 2 for w, c, _, _ in rows))

    alone, information = np.empty(36), np.empty(36)
    for i in range(36):
        a = np.array([[w[i] * c, -w[i] * q[i] * c] for w, c, q, _ in rows])
        t = np.array([w[i] * t[i] for w, _, _, t in rows])
        information[i] = np.linalg.det(a.T @ a) / (a.T @ a)[0, 0]
        k, s = np.linalg.lstsq(a, t, rcond=None)[0]
        if k < 0 or s < 0.001:
            at_no_k = max(0.001, (a.T @ t)[1] / (a.T @ a)[1, 1])
            cost = lambda k, s: np.sum((a @ [k, s] - t) ** 2)
            s = at_no_k if cost(0, at_no_k) < cost(k_at(i, 0.001), 0.001) else 0.001
        alone[i] = s
    near = np.exp(-np.abs(np.subtract.outer(np.arange(36), np.arange(36))) / 3)
    told = near @ (information * alone) / (near @ information)
    lean = (0.003 / (0.1 * np.maximum(told, 0.001))) ** 2
    s = np.maximum(0.001, (information * alone + lean * told) / (information + lean))
    return np.array([k_at(i, s[i]) for i in range(36)]), s, middle(sx / s)


TUBES = ["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue"]
constants = {tube: fit(tube) for tube in [*TUBES, "Lantern Yellow"]}
constants[WHITE] = (q_white, np.ones(36), middle(sx_white))


def predicted(recipe):
    total = sum(parts for _, parts in recipe)
    k = sum(parts / total * constants[tube][0] for tube, parts in recipe)
    s = sum(parts / total * constants[tube][1] for tube, parts in recipe)
    thick = [(parts / total, constants[tube][2]) for tube, parts in recipe if constants[tube][2]]
    if not thick:
        return lab(measured(hiding(k / s)))
    x = sum(share * own for share, own in thick) / sum(share for share, _ in thick)
    a = 1 + k / s
    b = np.sqrt(a * a - 1)
    u = np.tanh(b * s * x) / b
    return lab(measured(((1 - a * paper) * u + paper) / ((a - paper) * u + 1)))


def cells(tube):
    """Dry squares of a tube over paper: parts of the partner and of white to one part, and the colour."""
    found = {}
    for (name, other, (own, beside, whites), backing), r in mean.items():
        if backing != "paper" or tube not in (name, other):
            continue
        mine, theirs = (own, beside) if name == tube else (beside, own)
        partner = other if name == tube else name
        found[(partner, round(theirs / mine, 6), round(whites / mine, 6))] = lab(r)
    return found


def recipe(tube, key, times):
    partner, beside, whites = key
    return [(tube, times)] + [(partner, beside)] * (beside > 0) + [(WHITE, whites)] * (whites > 0)


def pair(one, other):
    ones, others = cells(one), cells(other)
    shared = sorted(key for key in ones if key in others)
    before = {key: predicted(recipe(other, key, 1.0)) for key in shared}
    moved = lambda key, f: others[key] + predicted(recipe(other, key, f)) - before[key]
    mixed = [key for key in shared if key[1] > 0 or key[2] > 0]
    off = lambda f: np.array([delta_e(ones[key], moved(key, f)) for key in mixed])
    ln = minimize_scalar(
        lambda ln: np.mean(off(np.exp(ln)) ** 2), bounds=(-2, 2), method="bounded", options={"xatol": 1e-7}
    ).x
    f = float(np.exp(ln))
    second = {key: moved(key, f) for key in shared}
    told = {key: predicted(recipe(one, key, 1.0)) - predicted(recipe(other, key, f)) for key in shared}
    unexplained = np.array([ones[key] - second[key] - told[key] for key in shared if key[2] > 0])
    higher = lambda values: np.sort(values)[len(values) // 2]
    spread = lambda axis: 1.48 * higher(np.abs(axis - higher(axis)))
    sigma = np.maximum(0.1, [spread(unexplained[:, axis]) for axis in range(3)])

    def draws(key, count=6000):
        scale = sigma * (1.0 if key[2] > 0 else 1.2)
        return delta_e(ones[key] + RANDOM.normal(size=(count, 3)) * scale, second[key])

    def corrected(observed, drawn, extra):
        low, median, high = np.percentile(drawn, [2.5, 50, 97.5])
        value = np.sqrt(max(0.0, 2 * observed**2 - median**2))
        return float(value), float(np.sqrt(((high - low) / 2) ** 2 + 0.2**2 + extra**2))

    shifts = [delta_e(others[key], second[key]) for key in shared]
    distance = corrected(
        np.percentile(off(f), 90),
        np.percentile([draws(key) for key in mixed], 90, axis=0),
        0.15 * np.percentile(shifts, 90),
    )
    neat = ("", 0.0, 0.0)
    mass_tone = corrected(delta_e(ones[neat], second[neat]), draws(neat), 0.0)
    by_partner = {}
    for key, value in zip(mixed, off(f)):
        by_partner.setdefault(key[0] or "white", []).append(value)
    worst = max(by_partner, key=lambda name: np.mean(np.square(by_partner[name])))
    return {
        "a": one, "b": other, "use": f,
        "distance": distance[0], "distance_half_width": distance[1],
        "mass_tone": mass_tone[0], "mass_tone_half_width": mass_tone[1],
        "worst": {"with": worst, "delta_e": float(max(by_partner[worst]))},
        "compared": len(shared),
    }


WHITE_LAB = lab(mean[(WHITE, "", (1, 0, 0), "paper")])


def at_depth(tubes, count=5):
    """Colours of the tints at the depths that all share, by a monotone cubic over ln(parts of white)."""
    ladders = {}
    for tube in tubes:
        steps = sorted((w, v) for (partner, beside, w), v in cells(tube).items() if not partner and w > 0)
        ln, labs = np.log([w for w, _ in steps]), np.array([v for _, v in steps])
        ladders[tube] = ln, labs, np.linalg.norm(labs - WHITE_LAB, axis=1)
    low = max(depth[-1] for _, _, depth in ladders.values())
    high = min(depth[0] for _, _, depth in ladders.values())
    found = {tube: [] for tube in tubes}
    for level in np.linspace(high, low, count)[1:-1]:
        for tube, (ln, labs, depth) in ladders.items():
            curve = PchipInterpolator(ln, depth)
            x = brentq(lambda x: curve(x) - level, ln[0], ln[-1])
            colours = [float(PchipInterpolator(ln, labs[:, axis])(x)) for axis in range(3)]
            found[tube].append({"depth": float(level), "white_parts": float(np.exp(x)), "lab": colours})
    return found


with open("compare.json", "w") as file:
    pairs = [pair(*two) for two in itertools.combinations(TUBES, 2)]
    json.dump({"pairs": pairs, "at_depth": at_depth(TUBES)}, file, indent=1)
    file.write("\n")
