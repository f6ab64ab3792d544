"""Learns what slices are, in two looks, and writes the weights as TypeScript.

    usage: learn.py OUT.ts [EPOCHS]

The first look is the mean of two networks of one hidden layer: one learned from all families of drums, one from the real
ones alone. The second look is told what the first says of a slice and of the others of its loop; it learns from answers of
first looks that never heard the slice's family. Confidence is set on families left out. Everything that is printed is of
families left out, too. Needs sets/FAMILY.npz (see make.sh).
"""

import base64
import json
import sys

import numpy as np
import torch
import torch.nn as nn
import torch.nn.functional as F

from features import GROUPS, NB

torch.set_num_threads(1)
ROLES = 12
HIDDEN, HIDDEN_AGAIN = 48, 32
PARTS = ("", ".b", ".c")
FAMILIES = {
    "fluid": ["fluid"],
    "ana": ["ana"],
    "mod": ["mod"],
    "dig": ["dig"],
    "recorded": ["res", "rec"],
}


def sets_of(family):
    for name in FAMILIES[family]:
        for part in PARTS:
            d = np.load("sets/%s%s.npz" % (name, part))
            yield {k: clean(d[k]) if k in ("sx", "lX") else d[k] for k in d.files}


def clean(x):
    return np.nan_to_num(x.astype(np.float32), nan=-3, posinf=0, neginf=-3)


def gather(families):
    x, y, second = [], [], []
    for family in families:
        for d in sets_of(family):
            x += [d["sx"], d["lX"]]
            y += [d["sy"], d["ly"]]
            second += [np.full(len(d["sy"]), -1), d["lsecond"]]
    return np.concatenate(x), np.concatenate(y), np.concatenate(second)


class Net(nn.Module):
    def __init__(self, inputs, hidden, drop, drop_in=0.1):
        super().__init__()
        self.a, self.b = nn.Linear(inputs, hidden), nn.Linear(hidden, ROLES)
        self.drop, self.drop_in = drop, drop_in

    def forward(self, x):
        x = F.relu(self.a(F.dropout(x, self.drop_in, self.training)))
        return self.b(F.dropout(x, self.drop, self.training))


class Model:
    def __init__(self, net, mean, spread):
        self.net, self.mean, self.spread = net, mean, spread

    def logits(self, x):
        z = torch.from_numpy(((x - self.mean) / self.spread).astype(np.float32))
        with torch.no_grad():
            return F.log_softmax(self.net(z), 1).numpy()


class Both:
    """The mean of two opinions."""

    def __init__(self, one, other):
        self.one, self.other = one, other

    def logits(self, x):
        mean = 0.5 * (self.one.logits(x) + self.other.logits(x))
        return mean - np.log(np.exp(mean).sum(1, keepdims=True))


def train(x, y, second, hidden, drop, epochs, noise, balance, smooth, lr=2e-3, decay=2e-2):
    torch.manual_seed(0)
    rng = np.random.default_rng(0)
    mean, spread = x.mean(0), x.std(0) + 0.05
    z = torch.from_numpy(((x - mean) / spread).astype(np.float32))
    counts = np.bincount(y, minlength=ROLES)[:ROLES]
    weight = torch.from_numpy(((counts.mean() / np.maximum(counts, 1)) ** balance)[y].astype(np.float32))
    truth = F.one_hot(torch.from_numpy(y), ROLES).float()
    # Another role in the same onset takes a share of the truth.
    also = torch.from_numpy(second.astype(int))
    both = also >= 0
    truth[both] = 0.8 * truth[both] + 0.2 * F.one_hot(also[both], ROLES).float()
    truth = truth * (1 - smooth) + smooth / ROLES
    net = Net(x.shape[1], hidden, drop)
    optimizer = torch.optim.AdamW(net.parameters(), lr=lr, weight_decay=decay)
    batch = 256
    steps = epochs * (len(z) // batch)
    schedule = torch.optim.lr_scheduler.OneCycleLR(optimizer, lr, total_steps=steps + 1)
    for _ in range(epochs):
        net.train()
        order = torch.from_numpy(rng.permutation(len(z)))
        for i in range(0, len(z) - batch + 1, batch):
            k = order[i : i + batch]
            told = z[k] + noise * torch.randn(batch, x.shape[1])
            loss = (-(truth[k] * F.log_softmax(net(told), 1)).sum(1) * weight[k]).sum() / weight[k].sum()
            optimizer.zero_grad()
            loss.backward()
            optimizer.step()
            schedule.step()
    net.eval()
    return Model(net, mean, spread)


def first_look(families, epochs):
    x, y, second = gather(families)
    return train(x, y, second, HIDDEN, 0.25, epochs, noise=0.15, balance=0.5, smooth=0.02)


LEVELS, NEWS, WHOLE = GROUPS["post"][0], GROUPS["new"][0], GROUPS["extra"][0] + 11
LIKE = np.array([g + i * NB + k for g in (LEVELS, NEWS) for i in (0, 1, 2, 4, 6) for k in range(NB)])
BRIGHT = (0, 1, 2, 4)
LENGTH = (4, 6, 8, 10)


def loop_features(logits, x, beats, beats_per_bar, seconds):
    """What the second look is told: see src/core/analysis/ears/second-look.ts, which says the same."""
    n = len(logits)
    odds = np.exp(logits)
    e = x[:, LIKE]
    alike = np.exp(-((e[:, None] - e[None]) ** 2).mean(2) / 0.55**2)
    total = alike.sum(1)
    of_like = (alike @ logits) / total[:, None]
    levels = 10 ** x[:, LEVELS : LEVELS + 5 * NB].reshape(n, 5, NB)[:, BRIGHT].mean(1)
    bright = (levels * np.linspace(-1, 1, NB)).sum(1) / levels.sum(1)
    length = x[:, [WHOLE + i for i in LENGTH]].mean(1)
    rank = lambda v: np.argsort(np.argsort(v, kind="stable"), kind="stable") / max(1, n - 1)
    same, phase, back = np.zeros((n, ROLES)), np.zeros((n, 8)), np.zeros((n, 2))
    if beats is not None:
        u = np.asarray(beats)
        turn = lambda period: np.stack([np.cos(2 * np.pi * u / period), np.sin(2 * np.pi * u / period)], 1)
        phase = np.concatenate([turn(p) for p in (beats_per_bar, 2 if beats_per_bar == 4 else 1.5, 1, 0.5)], 1)
        apart = (u[:, None] - u[None] + beats_per_bar / 2) % beats_per_bar - beats_per_bar / 2
        near = np.exp(-((apart / 0.06) ** 2)) * (1 - np.eye(n))
        same = (near @ odds) / np.maximum(near.sum(1, keepdims=True), 0.5)
        if beats_per_bar == 4:
            b = u % 4
            on = lambda *places: np.any([np.abs(b - p) < 0.1 for p in places], 0).astype(float)
            back = np.stack([(alike @ on(1, 3)) / total, (alike @ on(0, 4)) / total], 1)
    every = lambda v: np.repeat(v[None], n, 0)
    column = lambda v: np.asarray(v)[:, None]
    parts = [logits, of_like, every(np.log(odds.mean(0) + 1e-3)), every(np.log(np.exp(of_like).max(0) + 1e-3)), same]
    parts += [np.roll(odds, 1, 0), np.roll(odds, -1, 0), phase, back, column(total / n), column((alike > 0.5).mean(1))]
    parts += [column(rank(bright)), column(rank(length)), column(bright), np.full((n, 1), min(1, n / 32))]
    return np.concatenate(parts + [column(np.minimum(1, seconds / 0.4))], 1).astype(np.float32)


def loops_of(d, look, rng=None):
    """@param rng: tempi that are read wrong, or not at all, are learned from, too"""
    logits, out = look.logits(d["lX"]), []
    for k in np.unique(d["lloop"]):
        i = np.nonzero(d["lloop"] == k)[0]
        beats = d["lpos"][i].astype(float)
        u = rng.random() if rng else 1
        if u < 0.15:
            beats = None
        elif u < 0.25:
            beats = beats * (2 if rng.random() < 0.5 else 0.5)
        elif u < 0.3:
            beats = beats + rng.random() * 4
        seconds = d["lend"][i] - d["ltime"][i]
        out.append(loop_features(logits[i], d["lX"][i], beats, int(d["lbpb"][i[0]]), seconds))
    return np.concatenate(out)


def second_look(told):
    x, y, second = (np.concatenate(parts) for parts in zip(*told))
    return train(x, y, second, HIDDEN_AGAIN, 0.3, 10, noise=0.1, balance=0.25, smooth=0.05)


def softmax(logits):
    e = np.exp(logits - logits.max(1, keepdims=True))
    return e / e.sum(1, keepdims=True)


def is_right(odds, y, second):
    said = odds.argmax(1)
    return (said == y) | (said == second)


def calibration_error(odds, y, second):
    right, said, error = is_right(odds, y, second), odds.max(1), 0
    for step in range(10):
        k = (said > step / 10) & (said <= (step + 1) / 10)
        if k.any():
            error += k.mean() * abs(said[k].mean() - right[k].mean())
    return error


def temperature(logits, y, second):
    """The divisor of the logits with which confidence is as good as it says."""
    return float(min(np.arange(0.4, 2.5, 0.02), key=lambda t: calibration_error(softmax(logits / t), y, second)))


def packed(layers, mean, spread, divisor):
    weights, floats = [], [mean, spread]
    for w, bias in layers:
        scale = np.abs(w).max(1) / 127 + 1e-12
        weights.append(np.round(w / scale[:, None]).astype(np.int8).ravel())
        floats += [scale, bias]
    text = lambda a: base64.b64encode(a.tobytes()).decode()
    return {
        "inputs": layers[0][0].shape[1],
        "hidden": layers[0][0].shape[0],
        "outputs": layers[1][0].shape[0],
        "weights": text(np.concatenate(weights)),
        "floats": text(np.concatenate(floats).astype("<f4")),
        "temperature": round(divisor, 2),
    }


def layers_of(model):
    return [(m.weight.detach().numpy(), m.bias.detach().numpy()) for m in (model.net.a, model.net.b)]


def as_one(one, other):
    """Two opinions as one network: the second is told what the first is."""
    (w1, b1), (w2, b2) = layers_of(one)
    (v1, c1), (v2, c2) = layers_of(other)
    bias = c1 + v1 @ ((one.mean - other.mean) / other.spread)
    first = (np.concatenate([w1, v1 * (one.spread / other.spread)]), np.concatenate([b1, bias]))
    return [first, (np.concatenate([w2, v2], 1) / 2, (b2 + c2) / 2)]


def written(name, net):
    lines = ["  %s: %s," % (k, "'%s'" % v if isinstance(v, str) else json.dumps(v)) for k, v in net.items()]
    return "export const %s: PackedNet = {\n%s\n};\n" % (name, "\n".join(lines))


def main():
    out, epochs = sys.argv[1], int(sys.argv[2]) if len(sys.argv) > 2 else 4
    rng = np.random.default_rng(0)
    real = first_look(["fluid"], 10)
    told, singles = {}, []
    for family in FAMILIES:
        without = first_look([f for f in FAMILIES if f != family], epochs)
        look = without if family == "fluid" else Both(without, real)
        rows = []
        for d in sets_of(family):
            rows.append((loops_of(d, look, rng), d["ly"], d["lsecond"]))
            singles.append((look.logits(d["sx"]), d["sy"]))
            right = (singles[-1][0].argmax(1) == d["sy"]).mean()
            print("left out", family, "single hits %.3f" % right, flush=True)
        told[family] = tuple(np.concatenate(parts) for parts in zip(*rows))
    again = []
    for family in FAMILIES:
        look = second_look([told[f] for f in FAMILIES if f != family])
        x, y, second = told[family]
        again.append((look.logits(x), y, second))
        print(
            "left out", family, "slices of loops %.3f" % is_right(softmax(again[-1][0]), y, second).mean(), flush=True
        )
    logits, y = (np.concatenate(parts) for parts in zip(*singles))
    # Made families left out are harder than what people have: 1.34 by them, so that single hits would be told too timidly.
    print("single hits left out would ask for", temperature(logits, y, np.full(len(y), -1)))
    once = 1.0
    logits, y, second = (np.concatenate(parts) for parts in zip(*again))
    twice = temperature(logits, y, second)
    every = first_look(list(FAMILIES), epochs + 2)
    last = second_look(list(told.values()))
    first = packed(as_one(every, real), every.mean, every.spread, once)
    text = "/** Written by learning/learn.py: do not change it by hand. */\nimport type { PackedNet } from './ear-net.ts';\n\n"
    text += written("FIRST_LOOK", first) + "\n"
    text += written("SECOND_LOOK", packed(layers_of(last), last.mean, last.spread, twice))
    open(out, "w").write(text)


if __name__ == "__main__":
    main()
