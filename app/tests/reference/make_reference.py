"""Works out the figures of trial.csv a second time, after docs/science.md and with other people's
libraries, and writes them to figures.json for reference.rs to compare with.

trial.csv is the export of the demo trial "Three ultramarines for the rounding boards".
Run in this folder: pip install colour-science==0.4.7 scipy && python make_reference.py
"""
import json
import math

import numpy as np
from kubelka import D65, NM, WHITE, Readings, delta_e, internal, lab
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

XYZ_WHITE = D65.white


def xyz(r):
    return r @ D65.weights


def chroma(v):
    return math.hypot(v[1], v[2])


def hue(v):
    return math.degrees(math.atan2(v[2], v[1])) % 360 if chroma(v) >= 2 else None


def shift(start, end):
    if start is None or end is None:
        return None
    turn = (end - start) % 360
    return turn - 360 if turn > 180 else turn


def ks(measured):
    r = internal(measured)
    return np.where(r >= 0.002, (1 - r) ** 2 / (2 * r), np.nan)


mean = Readings("trial.csv").mean
bare_black = mean[("", "", (0, 0, 0), "black")]
white = mean[(WHITE, "", (1, 0, 0), "paper")]
white_lab = lab(white)
tubes = ["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue", "Lantern Yellow"]

ladders = {}  # tube -> {white parts per part: reflectance}
for (tube, other, (own, _, whites), backing), r in mean.items():
    if tube in tubes and not other and backing == "paper":
        ladders.setdefault(tube, {})[whites / own] = r
ladders = {tube: dict(sorted(steps.items())) for tube, steps in ladders.items()}


def tube_figures(tube):
    steps = {white_parts: lab(r) for white_parts, r in ladders[tube].items()}
    truest = max(steps, key=lambda w: chroma(steps[w]))
    palest = max(w for w in steps if w > 0 and chroma(steps[w]) >= 5)
    over_black, over_white = (mean[(tube, "", (1, 0, 0), b)] for b in ("black", "white"))
    return {
        "tube": tube,
        "truest": truest,
        "tint_shift": shift(hue(steps[0]), hue(steps[palest])),
        "tints": [
            {
                "white_parts": w,
                "lab": list(v),
                "hue_shift": shift(hue(steps[truest]), hue(v)),
                "chroma_loss": 1 - chroma(v) / chroma(steps[truest]),
            }
            for w, v in steps.items()
        ],
        "contrast_ratio": 100 * xyz(over_black)[1] / xyz(over_white)[1],
        "veil": delta_e(lab(over_black), lab(bare_black)),
    }


def strength(sample, standard):
    same_ratio = []
    band_range = (NM >= 400) & (NM <= 700)
    for w, r in ladders[sample].items():
        if w == 0:
            continue
        q_standard = ks(ladders[standard][w]) - ks(white)
        band = int(np.nanargmax(np.where(band_range, q_standard, np.nan)))
        percent = 100 * (ks(r) - ks(white))[band] / q_standard[band]
        same_ratio.append({"white_parts": w, "percent": float(percent), "wavelength": int(NM[band])})

    def curves(tube):
        tints = [(w, lab(r)) for w, r in ladders[tube].items() if w > 0]
        x = np.log([w for w, _ in tints])
        labs = np.array([v for _, v in tints])
        depth = np.linalg.norm(labs - white_lab, axis=1)
        return x, depth, PchipInterpolator(x, depth), PchipInterpolator(x, labs)

    (xs, ds, depth_s, lab_s), (xt, dt, depth_t, lab_t) = curves(sample), curves(standard)
    level = (max(ds.min(), dt.min()) + min(ds.max(), dt.max())) / 2
    at_s = brentq(lambda x: depth_s(x) - level, xs[0], xs[-1], xtol=1e-12)
    at_t = brentq(lambda x: depth_t(x) - level, xt[0], xt[-1], xtol=1e-12)
    vs, vt = lab_s(at_s), lab_t(at_t)
    delta_h = math.copysign(
        math.sqrt(max(0, np.sum((vs - vt) ** 2) - (vs[0] - vt[0]) ** 2 - (chroma(vs) - chroma(vt)) ** 2)),
        shift(hue(vt), hue(vs)),
    )
    return {
        "sample": sample,
        "same_ratio": same_ratio,
        "depth": level,
        "lightness": vt[0],
        "percent": 100 * math.exp(at_s - at_t),
        "delta_e": delta_e(vs, vt),
        "delta_L": vs[0] - vt[0],
        "delta_C": chroma(vs) - chroma(vt),
        "delta_H": delta_h,
    }


def dulling(v, a, b):
    """Where the ray of v's hue meets the segment a-b, as a line intersection; None near grey."""
    matrix = np.array([[v[1], a[1] - b[1]], [v[2], a[2] - b[2]]])
    try:
        scale, place = np.linalg.solve(matrix, [a[1], a[2]])
    except np.linalg.LinAlgError:
        return None
    met = scale * chroma(v)
    least = max(2, min(chroma(a), chroma(b)) / 4)
    return 1 - chroma(v) / met if 0 <= place <= 1 and met >= least else None


def pair(a, b, white_parts):
    va, vb = lab(ladders[a][white_parts]), lab(ladders[b][white_parts])
    steps = []
    for (tube, other, (pa, pb, whites), backing), r in mean.items():
        if (tube, other, backing) != (a, b, "paper") or abs(whites / (pa + pb) - white_parts) > 1e-6:
            continue
        v = lab(r)
        da, db = (abs(shift(hue(v), hue(p))) if hue(v) is not None else 0 for p in (va, vb))
        t = da / (da + db) if da + db > 0 else 0.5
        held = (1 - t) * chroma(va) + t * chroma(vb)
        loss = 1 - chroma(v) / held
        steps.append({
            "a_parts": pa, "b_parts": pb, "lab": list(v),
            "hue_shift": shift(hue(va), hue(v)),
            "chroma_loss": max(0, loss),
            "dulling": dulling(v, va, vb) if hue(v) is not None else None,
            "grade": next(g for limit, g in ((0.15, "vivid"), (0.4, "softened"), (0.65, "muted"), (9, "neutralised")) if loss <= limit),
            "delta_e_a": delta_e(v, va), "delta_e_b": delta_e(v, vb),
        })
    steps.sort(key=lambda s: s["b_parts"] / s["a_parts"])
    x = [math.log(s["b_parts"] / s["a_parts"]) for s in steps]
    lead = [s["delta_e_a"] - s["delta_e_b"] for s in steps]
    holding, bound = math.exp(x[-1]), "above"
    if lead[0] > 0:
        holding, bound = math.exp(x[0]), "below"
    for at in range(len(steps) - 1):
        if lead[at] <= 0 < lead[at + 1]:
            holding = math.exp(np.interp(0, lead[at:at + 2], x[at:at + 2]))
            bound = None
    neutral = None
    lowest, duller = min(chroma(s["lab"]) for s in steps), min(chroma(va), chroma(vb))
    if lowest < 10 and lowest < duller / 3:
        fine = np.linspace(x[0], x[-1], 200_001)
        path = [np.interp(fine, x, [s["lab"][axis] for s in steps]) for axis in range(3)]
        at = int(np.argmin(np.hypot(path[1], path[2])))
        neutral = {"b_parts": math.exp(fine[at]), "lab": [float(p[at]) for p in path]}
    return {"a": a, "b": b, "white_parts": white_parts, "hue_gap": abs(shift(hue(va), hue(vb))),
            "steps": steps, "holding_ratio": holding, "holding_bound": bound, "neutral": neutral}


figures = {
    "tubes": [tube_figures(tube) for tube in tubes],
    "strengths": [strength(tube, tubes[0]) for tube in tubes[1:3]],
    "pairs": [pair(tube, tubes[3], w) for tube in tubes[:3] for w in (0, 1, 4)],
}
with open("figures.json", "w") as out:
    json.dump(figures, out, indent=1, default=float)
    out.write("\n")
