"""Colours, K and S and predictions after docs/science.md, with other people's libraries: what the scripts beside it share.

Nothing of the program is in here: colour-science 0.4.7 for ASTM E308, CIELAB and CIEDE2000, numpy for the rest.
"""
import csv
import warnings

import colour
import numpy as np

warnings.filterwarnings("ignore")
NM = np.arange(380, 740, 10)
CMFS = colour.MSDS_CMFS["CIE 1964 10 Degree Standard Observer"]
WHITE = "Workshop Titanium"
K1, K2 = 0.04, 0.6


class Light:
    """ASTM E308 is linear in the reflectance: its weights are what single bands give."""

    def __init__(self, name):
        power = colour.SDS_ILLUMINANTS[name]
        spectrum = lambda r: colour.SpectralDistribution(dict(zip(NM, r)))
        xyz = lambda r: np.array(colour.sd_to_XYZ(spectrum(r), CMFS, power, method="ASTM E308"))
        self.weights = np.array([xyz(band) for band in np.eye(36)])
        self.white = np.ones(36) @ self.weights
        self.xy = colour.XYZ_to_xy(self.white)

    def lab(self, r):
        return np.array(colour.XYZ_to_Lab(r @ self.weights / self.white[1], self.xy))


D65 = Light("D65")
lab = D65.lab


def delta_e(one, other):
    return colour.delta_E(np.asarray(one), np.asarray(other), method="CIE 2000")


def internal(measured):
    y = (measured - K1) / ((1 - K1) * (1 - K2))
    return y / (1 + K2 * y)


def measured(r):
    return K1 + (1 - K1) * (1 - K2) * r / (1 - K2 * r)


def middle(values):
    """The median as the program has it: of an even number the higher one."""
    values = np.sort(values[np.isfinite(values) & (values > 0)])
    return values[len(values) // 2] if len(values) else None


def weight(r):
    return r ** (-2 / 3) * 2 * r * r / (1 - r * r)


def hiding(q):
    return 1 / (1 + q + np.sqrt(q * q + 2 * q))


class Readings:
    """A readings file: the mean of each swatch, and what follows for its tubes."""

    def __init__(self, path):
        groups = {}
        with open(path, newline="") as file:
            for row in csv.DictReader(line for line in file if not line.startswith("#")):
                if row.get("void"):
                    continue
                number = lambda cell: float(cell or 0)
                parts = (number(row["parts"]), number(row["with_parts"]), number(row["white_parts"]))
                key = (row["tube"], row["with"], parts, row["backing"])
                groups.setdefault(key, []).append([float(row[f"R{nm}"]) for nm in NM])
        self.mean = {key: np.mean(values, axis=0) for key, values in groups.items()}
        bare = lambda backing: internal(self.mean[("", "", (0, 0, 0), backing)])
        self.paper, self.black, self.card = bare("paper"), bare("black"), bare("white")
        self.q_white, sx_white = self.film(WHITE)
        self.constants = {WHITE: (self.q_white, np.ones(36), middle(sx_white))}

    def film(self, tube):
        """K/S of the neat film in each band, and its S times thickness where the backing shows (Kubelka 1948)."""
        r1, r2 = (internal(self.mean[(tube, "", (1, 0, 0), backing)]) for backing in ("black", "white"))
        q, sx = np.empty(36), np.full(36, np.nan)
        for i in range(36):
            if min(r1[i], r2[i]) < 0.002:  # all surface
                r = np.clip((r1[i] + r2[i]) / 2, 0.001, 0.9999)
                q[i] = (1 - r) ** 2 / (2 * r)
                continue
            lines = [[r1[i] + self.black[i], r1[i] - self.black[i]], [r2[i] + self.card[i], r2[i] - self.card[i]]]
            a, m = np.linalg.solve(lines, [1 + r1[i] * self.black[i], 1 + r2[i] * self.card[i]])
            q[i] = max(0.0, a - 1)  # no absorption is left by noise
            b = np.sqrt(max(0.0, a * a - 1))
            if a < 1:
                s = (r1[i] - self.black[i]) / ((1 - r1[i]) * (1 - self.black[i]))
            else:
                s = 1 / m if b < 1e-6 else np.arctanh(b / m) / b
            if abs(r1[i] - r2[i]) >= 0.01 and np.isfinite(s) and s > 0:
                sx[i] = s
        return q, sx

    def fit(self, tube):
        q_film, sx = self.film(tube)
        rows = []  # weight, c, q, target by band
        for (name, other, (own, _, whites), backing), r in self.mean.items():
            if name == tube and not other and whites > 0 and backing == "paper":
                c, r = own / (own + whites), np.clip(internal(r), 0.001, 0.9999)
                q = (1 - r) ** 2 / (2 * r)
                rows.append((weight(r), c, q, (1 - c) * (q - self.q_white)))
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
        # S falls with wavelength to a power, the same along the spectrum.
        x, w = np.log(NM), np.where(alone > 0.001, information * alone**2, 0)
        mean = lambda values: np.sum(w * values) / np.sum(w)
        ln_s = np.log(alone)
        slope = mean((x - mean(x)) * (ln_s - mean(ln_s))) / mean((x - mean(x)) ** 2)
        fall = np.clip(-slope, -1, 3) if np.isfinite(slope) else 0
        told = near @ (information * alone * NM**fall) / (near @ information) / NM**fall
        lean = (0.003 / (0.1 * np.maximum(told, 0.001))) ** 2
        s = np.maximum(0.001, (information * alone + lean * told) / (information + lean))
        return np.array([k_at(i, s[i]) for i in range(36)]), s, middle(sx / s)

    def know(self, tubes):
        for tube in tubes:
            self.constants[tube] = self.fit(tube)

    def seen(self, recipe):
        """What a film of tubes with parts reflects over the paper."""
        total = sum(parts for _, parts in recipe)
        k = sum(parts / total * self.constants[tube][0] for tube, parts in recipe)
        s = sum(parts / total * self.constants[tube][1] for tube, parts in recipe)
        thick = [(parts / total, self.constants[tube][2]) for tube, parts in recipe]
        thick = [(share, own) for share, own in thick if own]
        if not thick:
            return measured(hiding(k / s))
        x = sum(share * own for share, own in thick) / sum(share for share, _ in thick)
        a = 1 + k / s
        b = np.sqrt(a * a - 1)
        u = np.tanh(b * s * x) / b
        return measured(((1 - a * self.paper) * u + self.paper) / ((a - self.paper) * u + 1))

    def predicted(self, recipe):
        return lab(self.seen(recipe))
