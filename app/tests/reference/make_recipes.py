"""Finds ten recipes a second time, after docs/science.md and with other people's libraries, and writes them to
recipes.json for decide.rs to check against.

recipes.csv is a palette read alone by the simulated meter (`cargo test decide -- --ignored make_the_palette`).
Every choice of so many tubes, with white, is searched by SLSQP from several starts.
Run in this folder: pip install colour-science==0.4.7 scipy && python make_recipes.py
"""
import itertools
import json

import numpy as np
from kubelka import D65, WHITE, Light, Readings, delta_e
from scipy.optimize import minimize

READ = Readings("recipes.csv")
TUBES = [
    "Lantern Yellow", "Organ Orange", "Saddle Red", "Plume Magenta",
    "Canopy Ultramarine", "Awning Blue", "Roasted Earth", "Leaf Green",
]
READ.know(TUBES)
LAMP = Light("A")
STARTS = np.random.default_rng(3)
# A tube by its readings, alone and 1 : 4; three numbers are the L*, a* and b* of a mass tone. Most colours besides the
# white: with three a typed colour inside the reach has more than one exact recipe.
TARGETS = {
    "Leaf Green": 3, "Organ Orange": 3, "Roasted Earth": 3, "Saddle Red": 3,
    "45,30,20": 2, "60,-25,25": 2, "70,15,45": 2, "35,10,-25": 2, "50,0,0": 2, "30,5,8": 3,
}


def looks_of(target):
    """Parts of white, the colour by day and, of what was read as a spectrum, by lamplight."""
    if target not in TUBES:
        return [(0.0, np.array([float(it) for it in target.split(",")]), None)]
    alone = READ.mean[(target, "", (1, 0, 0), "paper")]
    tint = READ.mean[(target, "", (1, 0, 4), "paper")]
    return [(white, D65.lab(r), LAMP.lab(r)) for white, r in ((0.0, alone), (4.0, tint))]


def off(tubes, parts, looks):
    """ΔE00 of each look, by day and by lamplight."""
    recipe = list(zip([*tubes, WHITE], parts))
    total = sum(parts)
    found = []
    for white, day, lamp in looks:
        r = READ.seen([*recipe, (WHITE, white * total)])
        found.append((delta_e(D65.lab(r), day), 0.0 if lamp is None else delta_e(LAMP.lab(r), lamp)))
    return np.array(found)


def best_of(tubes, looks):
    def squared(parts):
        by = off(tubes, np.abs(parts) / np.abs(parts).sum(), looks)
        return np.mean(by[:, 0] ** 2 + by[:, 1] ** 2 / 16)

    found = None
    # Weak tubes need much, strong ones little: one start by strength, others by chance.
    strong = [READ.constants[tube][0].sum() for tube in tubes]
    starts = [[*(1 / np.array(strong)), 1 / 60], [*(1 / np.array(strong)), 1e-4]]
    starts += [[*(STARTS.exponential(size=len(tubes)) / np.array(strong)), STARTS.exponential() / 60] for _ in range(2)]
    for start in starts:
        start = np.array(start) / sum(start)
        one = minimize(
            squared, start, method="SLSQP", bounds=[(0, 1)] * len(start),
            constraints={"type": "eq", "fun": lambda x: x.sum() - 1},
            options={"maxiter": 200, "ftol": 1e-12},
        )
        if found is None or one.fun < found.fun:
            found = one
    parts = np.abs(found.x) / np.abs(found.x).sum()
    return np.sqrt(found.fun), parts


def recipe(target, most):
    looks = looks_of(target)
    others = [tube for tube in TUBES if tube != target]
    choices = [it for count in range(1, most + 1) for it in itertools.combinations(others, count)]
    score, parts, tubes = min(((*best_of(it, looks), it) for it in choices), key=lambda it: it[0])
    by = off(tubes, parts, looks)
    rounded = lambda value: round(float(value), 4)
    shares = {tube: rounded(share) for tube, share in zip(tubes, parts) if share > 1e-4}
    return {
        "target": target, "from": others, "most": most, "score": rounded(score),
        "delta_e": rounded(np.sqrt(np.mean(by[:, 0] ** 2))), "tubes": shares,
        "white_share": rounded(parts[-1]),
    }


with open("recipes.json", "w") as file:
    json.dump([recipe(target, most) for target, most in TARGETS.items()], file, indent=1)
    file.write("\n")
