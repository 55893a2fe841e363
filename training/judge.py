"""Learns how sure one may be of what was decided about an area: boosted trees on what `node scripts/tool.mjs areas` writes.

    /usr/bin/python3 training/judge.py OUT.json AREAS.jsonl...

Pictures, not areas, are dealt to training and to the rest, which says at what probability 99 of 100 are right. Writes the trees as
flat lists: for each node its feature (-1: a leaf), its threshold or value, and the places of both branches.
"""

import hashlib
import json
import sys

import numpy as np
from sklearn.ensemble import GradientBoostingClassifier

ROUNDS, DEPTH, RATE, LEAST = 90, 3, 0.1, 12


def read(files):
    names, rows = None, []
    for file in files:
        for line in open(file):
            if not line.startswith("{"):
                continue
            one = json.loads(line)
            if "names" in one:
                names = one["names"]
            else:
                rows.append(one)
    return names, rows


def arrays(rows):
    x = np.array([row["features"] for row in rows], dtype=np.float64)
    y = np.array([row["right"] for row in rows])
    # A picture counts as much whether it has three areas or three hundred, and a large area more than a small one.
    many = {}
    for row in rows:
        many[row["name"]] = many.get(row["name"], 0) + 1
    weight = np.array([1 / many[row["name"]] ** 0.5 * min(1.0, 0.3 + 4 * row["share"]) for row in rows])
    return x, y, weight


def held_out(row):
    return int(hashlib.sha256(row["name"].encode()).hexdigest(), 16) % 4 == 0


def told(label, p, y):
    print(f"{label}: {len(y)} areas, {y.mean():.3f} right")
    for limit in (0.9, 0.95, 0.97, 0.98, 0.99):
        sure = p >= limit
        if sure.any():
            print(f"  surer than {limit}: {sure.mean():.3f} of them, {y[sure].mean():.4f} right")


def main(out, files):
    names, rows = read(files)
    train, rest = [r for r in rows if not held_out(r)], [r for r in rows if held_out(r)]
    x, y, weight = arrays(train)
    model = GradientBoostingClassifier(
        n_estimators=ROUNDS, max_depth=DEPTH, learning_rate=RATE, min_samples_leaf=LEAST, subsample=0.7, random_state=1
    ).fit(x, y, sample_weight=weight)
    told("learned from", model.predict_proba(x)[:, 1], y)
    xr, yr, _ = arrays(rest)
    told("held out", model.predict_proba(xr)[:, 1], yr)
    for why in sorted({r["why"] for r in rest}):
        own = [r for r in rest if r["why"] == why]
        xo, yo, _ = arrays(own)
        p = model.predict_proba(xo)[:, 1]
        sure = p >= 0.97
        print(f"  {why}: {len(own)}, {yo.mean():.3f} right; surer than 0.97: {sure.mean():.2f}, {yo[sure].mean() if sure.any() else float('nan'):.3f} right; were sure {np.mean([r['sure'] for r in own]):.2f}")
    order = np.argsort(-model.feature_importances_)[:14]
    print(", ".join(f"{names[k]} {model.feature_importances_[k]:.3f}" for k in order))
    prior = float(np.log(np.average(y, weights=weight) / (1 - np.average(y, weights=weight))))
    trees = []
    for (tree,) in model.estimators_:
        t = tree.tree_
        trees.append(
            [
                [-1, round(float(t.value[k, 0, 0]) * RATE, 5)]
                if t.children_left[k] < 0
                else [int(t.feature[k]), float(np.format_float_positional(t.threshold[k], 6, fractional=False)), int(t.children_left[k]), int(t.children_right[k])]
                for k in range(t.node_count)
            ]
        )
    json.dump({"features": names, "prior": round(prior, 5), "trees": trees}, open(out, "w"), separators=(",", ":"))
    # What was written must say the same.
    def score(row):
        total = prior
        for tree in trees:
            k = 0
            while tree[k][0] >= 0:
                k = tree[k][2] if np.float32(row[tree[k][0]]) <= tree[k][1] else tree[k][3]
            total += tree[k][1]
        return 1 / (1 + np.exp(-total))
    worst = max(abs(score(row) - p) for row, p in zip(xr[:200], model.predict_proba(xr[:200])[:, 1]))
    print(f"written trees differ by at most {worst:.4f}")


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
