"""Compares the tubes of trial.csv a second time, after docs/science.md and with other people's libraries, and writes
the pairs to compare.json for compare.rs to check against.

trial.csv is the export of the demo trial "Three ultramarines for the rounding boards".
Run in this folder: pip install colour-science==0.4.7 scipy && python make_compare.py
"""
import itertools
import json

import numpy as np
from kubelka import WHITE, Readings, delta_e, lab
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq, minimize_scalar

RANDOM = np.random.default_rng(7)
READ = Readings("trial.csv")
mean, predicted = READ.mean, READ.predicted
TUBES = ["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue"]
READ.know([*TUBES, "Lantern Yellow"])


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
