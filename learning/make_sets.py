"""Training sets: single hits and loops with truth, one file a family. usage: make_sets.py FAMILY SINGLES LOOPS OUT.npz [SEED]
FAMILY = a name in data/, or several with + between. Deterministic.

Single: an augmented sound with up to 30 ms of silence or noise or another's tail before it, marker within about 1 ms, cut short at random.
Loop: a kit of 4 to 9 sounds, random patterns, levels, swing, feel, room, compression, low-pass, drive and noise; role = the sound of the
highest own peak among those that begin within 5 ms (as the corpus' truth says it).
"""
import sys
import numpy as np
from scipy import signal
from features import Extractor, SIZE

from made_drums import SR, U, LU, db, unit, ROLES as SOUNDING

ROLES = SOUNDING + ["other"]
RI = {r: i for i, r in enumerate(ROLES)}


def rbj(kind, f, gain, q):
    A = 10 ** (gain / 40)
    w = 2 * np.pi * min(f, SR * 0.47) / SR
    c, al = np.cos(w), np.sin(w) / (2 * q)
    if kind == "peak":
        b, a = [1 + al * A, -2 * c, 1 - al * A], [1 + al / A, -2 * c, 1 - al / A]
    else:
        s = 2 * np.sqrt(A) * al
        k = 1 if kind == "low" else -1
        b = [
            A * ((A + 1) - k * (A - 1) * c + s),
            k * 2 * A * ((A - 1) - k * (A + 1) * c),
            A * ((A + 1) - k * (A - 1) * c - s),
        ]
        a = [(A + 1) + k * (A - 1) * c + s, k * -2 * ((A - 1) + k * (A + 1) * c), (A + 1) + k * (A - 1) * c - s]
    return np.array(b + a) / a[0]


def colour(x, r, amount=1.0):
    s = [
        rbj("low", LU(r, 80, 400), r.normal(0, 4) * amount, 0.7),
        rbj("peak", LU(r, 150, 8000), r.normal(0, 5) * amount, U(r, 0.5, 2)),
        rbj("high", LU(r, 2000, 9000), r.normal(0, 4.5) * amount, 0.7),
    ]
    return signal.sosfilt(np.array(s), x)


def vary(y, r, much=1.0):
    """another drum out of one: tuned, coloured, shorter, driven"""
    y = y.astype(np.float64)
    if r.random() < 0.8 * much:
        k = 2 ** (float(np.clip(r.normal(0, 2.4), -7, 7)) / 12)
        y = np.interp(np.arange(0, len(y) - 1, k), np.arange(len(y)), y)
    if r.random() < 0.8:
        y = colour(y, r, 0.9 * much)
    if r.random() < 0.3:
        f = LU(r, 900, 9000)
        y = signal.lfilter(*signal.butter(1, f / (SR / 2)), y)
    elif r.random() < 0.15:
        y = signal.lfilter(*signal.butter(1, LU(r, 200, 3000) / (SR / 2), "high"), y)
    if r.random() < 0.35:
        y = y * np.exp(-np.arange(len(y)) / SR / LU(r, 0.05, 1.0))
    if r.random() < 0.25:
        y = np.tanh(unit(y) * LU(r, 1.2, 6))
    if r.random() < 0.15:
        a = np.exp(-np.arange(len(y)) / SR / LU(r, 0.003, 0.02))
        y = y * (1 + a * U(r, -0.7, 1.5))
    return unit(y)


def room(x, r, rt=None, wet=None):
    rt = rt or LU(r, 0.12, 1.2)
    n = int(rt * SR)
    t = np.arange(n) / SR
    ir = r.standard_normal(n) * 10 ** (-3 * t / rt)
    ir = signal.lfilter(*signal.butter(1, LU(r, 2000, 9000) / (SR / 2)), ir)
    ir /= np.sqrt((ir**2).sum())
    p = int(U(r, 0, 0.018) * SR)
    w = signal.fftconvolve(x, ir)[: len(x)]
    y = x.copy()
    y[p:] += w[: len(x) - p] * db(U(r, -20, -5) if wet is None else wet)
    return y


def compress(x, r):
    B = 32
    n = len(x) // B + 1
    a = np.zeros(n * B)
    a[: len(x)] = np.abs(x)
    pk = a.reshape(n, B).max(1)
    thr, ratio = U(r, -30, -14), U(r, 2, 8)
    ca, cr = np.exp(-B / SR / LU(r, 0.0015, 0.012)), np.exp(-B / SR / LU(r, 0.04, 0.2))
    e = 0.0
    env = np.zeros(n)
    for i in range(n):
        c = ca if pk[i] > e else cr
        e = c * e + (1 - c) * pk[i]
        env[i] = e
    g = -np.maximum(0, 20 * np.log10(np.maximum(env, 1e-6)) - thr) * (1 - 1 / ratio)
    g = np.r_[g[0], g[:-1]]
    return x * db(np.interp(np.arange(len(x)), np.arange(n) * B, g))


def bus(x, r, heavy=1.0):
    x = unit(x)
    if r.random() < 0.35 * heavy:
        x = room(x, r)
    if r.random() < 0.3 * heavy:
        x = compress(unit(x), r)
    if r.random() < 0.25 * heavy:
        x = np.tanh(unit(x) * LU(r, 1.2, 4))
    if r.random() < 0.25 * heavy:
        x = signal.sosfilt(signal.butter(int(r.integers(1, 5)), LU(r, 3500, 15000), fs=SR, output="sos"), x)
    if r.random() < 0.3:
        x = colour(x, r, 0.5)
    x = unit(x)
    if r.random() < 0.35 * heavy:
        n = r.standard_normal(len(x))
        n = signal.sosfilt(signal.butter(1, LU(r, 300, 12000), fs=SR, output="sos"), n) if r.random() < 0.7 else n
        if r.random() < 0.3:
            n = n / n.std() + 2 * np.sin(2 * np.pi * (50 if r.random() < 0.5 else 60) * np.arange(len(x)) / SR)
        x = x + n / n.std() * db(U(r, -75, -42))
    if r.random() < 0.1:
        x = np.round(x * 127) / 127
    return x


class Pool:
    def __init__(self, names, leave=()):
        self.by = {}
        for nm in names:
            d = np.load("data/%s.npz" % nm, allow_pickle=True)
            for a, role, kind in zip(d["audio"], d["role"], d["kind"]):
                self.by.setdefault(str(role), {}).setdefault(
                    (nm, int(kind)) if nm in ("fluid", "opl3") else (nm, len(self.by.get(str(role), {})) % 40), []
                ).append(a)

    def pick(self, r, role):
        if role not in self.by:
            return None
        k = list(self.by[role])
        g = self.by[role][k[int(r.integers(len(k)))]]
        return g[int(r.integers(len(g)))]

    def has(self, role):
        return role in self.by


SINGLE_W = dict(zip(ROLES[:12], [1, 1.4, 0.9, 0.9, 1, 0.9, 1.2, 1.2, 2.2, 0.6, 0.6, 0.6]))


def singles(pool, n, r, ex):
    roles = [q for q in ROLES[:12] if pool.has(q)]
    w = np.array([SINGLE_W[q] for q in roles])
    w /= w.sum()
    X, Y = [], []
    rows, lens = [], []
    for _ in range(n):
        role = roles[int(r.choice(len(roles), p=w))]
        y = vary(pool.pick(r, role), r)[: int(1.2 * SR)]
        lead = int(0.1 * SR)
        x = np.zeros(lead + int(0.6 * SR))
        m = min(len(y), len(x) - lead)
        x[lead : lead + m] = y[:m]
        if r.random() < 0.25:  # rings on underneath
            o = pool.pick(r, roles[int(r.integers(len(roles)))])
            k = int(LU(r, 0.05, 0.4) * SR)
            o = unit(o)
            o = np.pad(o, (0, max(0, k + len(x) - len(o))))[max(0, k - lead) :][: len(x)]
            x[: len(o)] += o * db(U(r, -26, -4))
        x = bus(x, r, 0.8) if r.random() < 0.7 else unit(x)
        st = lead + int(round(np.clip(r.normal(-0.3, 0.5), -2, 1.5) * SR / 1000))
        full = m + lead - st
        ln = full if r.random() < 0.6 else min(full, int(LU(r, 0.04, 0.5) * SR))
        a, b = ex.rows(x.astype(np.float32), [st], [st + max(ln, 300)])
        rows.append(a[0])
        lens.append(b[0])
        Y.append(RI[role])
        if len(rows) == 256:
            X.append(ex.batch(np.array(rows), np.array(lens)))
            rows, lens = [], []
    if rows:
        X.append(ex.batch(np.array(rows), np.array(lens)))
    return np.concatenate(X), np.array(Y)


# ------------------------------------------------------------------ loops
def pattern(r, steps, style):
    """{instrument: [(step, velocity)]} of one bar"""
    P = {}
    q = steps // 4 if style not in ("waltz", "six", "triplet") else 4 if style != "triplet" else 3
    put = lambda i, s, v: P.setdefault(i, []).append((s % steps, v))
    if style == "perc":
        for i in range(int(r.integers(2, 6))):
            d = U(r, 0.2, 0.7)
            if r.random() < 0.4:
                e = [1, 2, 2, 4][int(r.integers(4))]
                for s in range(0, steps, e):
                    put("perc%d" % i, s, 96 if s % 4 == 0 else 74)
            else:
                for s in range(steps):
                    if r.random() < d * (0.8 if s % 4 == 0 else 0.6 if s % 2 == 0 else 0.35):
                        put("perc%d" % i, s, 100 if r.random() < 0.6 else 70)
        return P
    back = (
        [steps // 2]
        if style == "half"
        else [q, 3 * q]
        if steps == 16 or style == "triplet"
        else [steps // 2]
        if style == "six"
        else [q, 2 * q]
    )
    if r.random() < 0.12:
        back = [b + int(r.choice([-1, 1, 0])) for b in back]
    main = "clap" if r.random() < 0.12 else "snare"
    for b in back:
        put(main, b, 118)
    if r.random() < 0.1:
        [put("clap", b, 105) for b in back]
    put("kick", 0, 118)
    if style == "four":
        for s in range(4, 16, 4):
            put("kick", s, 112)
    else:
        for s in range(1, steps):
            if s not in back and r.random() < (0.35 if s % 4 == 0 else 0.3 if s % 2 == 0 else 0.13):
                put("kick", s, 100 if r.random() < 0.7 else 80)
    g = U(r, 0, 0.45) if r.random() < 0.5 else 0
    for s in range(steps):
        if s not in back and s % q != 0 and r.random() < g:
            put("snare", s, 34 if r.random() < 0.6 else 60)
    hat = r.random()
    inst = "ride" if (style == "jazz" or hat < 0.15) else "hat"
    every = [1, 2, 2, 2, 4][int(r.integers(5))] if style != "triplet" else 1
    if hat < 0.93:
        for s in range(0, steps, every):
            if r.random() < 0.93:
                put(inst, s, 96 if s % (2 * every) == 0 else int(U(r, 60, 96)))
        if every == 2 and r.random() < 0.4:
            for s in range(1, steps, 2):
                if r.random() < 0.25:
                    put(inst, s, 66)
    if inst == "ride" and r.random() < 0.6:
        [put("pedal", s, 80) for s in (back if r.random() < 0.7 else [q // 2, q + q // 2])]
    if r.random() < 0.35:
        for s in range(2, steps, 4):
            if r.random() < 0.4:
                put("open", s, 96)
                P[inst] = [p for p in P.get(inst, []) if p[0] != s] if inst in P else []
    if r.random() < 0.1:
        [put("open", s, 96) for s in range(2, steps, 4)]
    if r.random() < 0.18:
        put("crash", 0, 112)
    if r.random() < 0.15:
        [put("rim", s, 84) for s in range(steps) if r.random() < 0.2]
    if r.random() < 0.25:
        d = U(r, 0.15, 0.5)
        [put("perc0", s, 84) for s in range(0, steps, 1 if r.random() < 0.4 else 2) if r.random() < d]
    if r.random() < 0.22:
        k = int(r.integers(2, 7))
        a = steps - k
        P = {i: [p for p in v if p[0] < a or i in ("hat", "ride")] for i, v in P.items()}
        for s in range(a, steps):
            put(["tom0", "tom1", "tom2", "snare"][min(3, int((s - a) / k * 3 + r.random()))], s, int(U(r, 84, 120)))
    if style == "jazz":
        for s in range(steps):
            if r.random() < 0.25 and s % 4:
                put("snare", s, int(U(r, 50, 80)))
    return {i: v for i, v in P.items() if v}


INST = dict(
    kick="kick",
    snare="snare",
    clap="clap",
    hat="closed hat",
    pedal="closed hat",
    open="open hat",
    ride="cymbal",
    crash="cymbal",
    rim="rim",
    tom0="tom",
    tom1="tom",
    tom2="tom",
    bass="bass",
    note="note",
    chord="chord",
)
LEVEL = dict(
    kick=(0, 2.5),
    snare=(-1, 3),
    clap=(-3, 3),
    hat=(-11, 5),
    pedal=(-14, 4),
    open=(-10, 4),
    ride=(-11, 4),
    crash=(-6, 3),
    rim=(-7, 4),
    tom0=(-3, 3),
    tom1=(-3, 3),
    tom2=(-3, 3),
    bass=(-4, 3),
    note=(-6, 4),
    chord=(-7, 4),
)


def loop(pool, r, ex):
    style = [
        "straight",
        "straight",
        "straight",
        "four",
        "half",
        "jazz",
        "waltz",
        "six",
        "triplet",
        "perc",
        "perc",
        "melodic",
    ][int(r.integers(12))]
    bpm = U(r, 68, 180) if style != "six" else U(r, 110, 170)
    beat = 60 / bpm * SR
    bars = int(r.choice([1, 2, 2, 4])) if bpm < 120 else int(r.choice([2, 4]))
    steps = {"waltz": 12, "six": 12, "triplet": 12}.get(style, 16)
    bpb = {"waltz": 3, "six": 3}.get(style, 4)
    swing = U(r, 54, 67) if style not in ("triplet", "six") and r.random() < 0.3 else 50
    feel = U(r, 0, 0.006) * SR if r.random() < 0.6 else 0
    st = "straight" if style == "melodic" else style
    base = [pattern(r, steps, st) for _ in range(1 if bars < 4 else 2)]
    ev = []
    for b in range(bars):
        p = base[b % len(base)]
        if bars > 1 and r.random() < 0.4:
            q = pattern(r, steps, st)
            p = {**p, **{k: v for k, v in q.items() if r.random() < 0.4}}
        for i, v in p.items():
            ev += [(b, s, i, vel) for s, vel in v]
    if style == "melodic":
        ev = [] if r.random() < 0.5 else ev
        inst = ["bass", "note", "chord"][int(r.integers(3))]
        every = {"bass": 2, "note": 1, "chord": 8}[inst]
        ev += [(b, s, inst, 96) for b in range(bars) for s in range(0, steps, every) if r.random() < 0.7]
    kit, gain = {}, {}
    for i in {e[2] for e in ev}:
        role = INST.get(i, "percussion")
        if not pool.has(role):
            return None
        if i in ("bass", "note", "chord"):
            kit[i] = [vary(pool.pick(r, role), r, 0.6) for _ in range(4)]
        else:
            y = pool.pick(r, role)
            if y is None:
                return None
            kit[i] = [vary(y, r, 0.7)]
        m, s = LEVEL.get(i, (-5, 5))
        gain[i] = db(r.normal(m, s))
    if "hat" in kit and "pedal" in kit and r.random() < 0.5:
        kit["pedal"] = kit["hat"]
    curve, dull = U(r, 1.0, 2.4), U(r, 0, 1.0)
    total = int(bars * bpb * beat)
    mix = np.zeros(total + 2 * SR)
    hits = []
    jit = {}
    for b, s, i, vel in ev:
        x = b * bpb + s * bpb / steps
        if swing != 50 and steps == 16 and s % 2 == 1:
            x += (swing / 100 - 0.5) * bpb * 2 / steps
        if (b, s) not in jit:
            jit[b, s] = r.normal(0, feel) if feel else 0
        pos = x * beat + jit[b, s] + (r.normal(0, 0.0008 * SR) if feel else 0)
        v = np.clip(vel + r.normal(0, 5), 12, 127) / 127
        y = kit[i][int(r.integers(len(kit[i])))] * gain[i] * v**curve
        if v < 0.8 and dull > 0.3:
            y = signal.lfilter([1 - (1 - v) * dull * 0.7], [1, -(1 - v) * dull * 0.7], y)
        hits.append([int(max(0, pos)), y, INST.get(i, "percussion"), i, x])
    hits.sort(key=lambda h: h[0])
    hat = [h for h in hits if h[3] in ("hat", "open", "pedal")]
    for a, c in zip(hat, hat[1:]):
        k = c[0] - a[0]
        if a[3] == "open" and 0 < k < len(a[1]) - 300:
            a[1] = a[1][: k + 300].copy()
            a[1][-300:] *= np.linspace(1, 0, 300)
    for h in hits:
        e = min(len(mix), h[0] + len(h[1]))
        mix[h[0] : e] += h[1][: e - h[0]]
    groups = []
    for h in hits:
        if groups and h[0] - groups[-1][0][0] < 0.005 * SR:
            groups[-1].append(h)
        else:
            groups.append([h])
    if r.random() < 0.4:
        t = mix[total : total + min(total, 2 * SR)].copy()
        mix[: len(t)] += t
    x = bus(mix[:total], r).astype(np.float32)
    loop.last = x, mix, groups, total
    if ex is None:
        return True
    # drop drowned ones as no detector would mark them, then mark
    marks, role, second, pos, nth = [], [], [], [], []
    for g in groups:
        f = g[0][0]
        own = np.zeros(2048)
        for h in g:
            k = h[1][:2048]
            own[: len(k)] += k
        a = mix[f : f + 2048]
        rest = a - own[: len(a)]
        w = 1024
        if (
            np.abs(np.diff(own)).max() < 0.12 * np.abs(np.diff(mix[max(0, f - w) : f + w])).max()
            and np.abs(own).max() < 0.15 * np.abs(rest).max()
        ):
            continue
        if r.random() < 0.015:
            continue
        o = sorted(g, key=lambda h: -np.abs(h[1]).max())
        m = int(f + np.clip(r.normal(-0.2, 0.7), -3, 3) * SR / 1000)
        if m > total - 400:
            continue
        marks.append(max(0, m))
        role.append(RI[o[0][2]])
        rs = list(dict.fromkeys(h[2] for h in o))
        second.append(RI[rs[1]] if len(rs) > 1 else -1)
        pos.append(g[0][4])
        nth.append(len(g))
    if len(marks) < 3:
        return None
    ends = np.r_[marks[1:], total]
    X = ex(x, np.array(marks), ends)
    return X, np.array(role), np.array(second), np.array(marks) / SR, ends / SR, np.array(pos), bpb, bars


def main():
    family, ns, nl, out = sys.argv[1], int(sys.argv[2]), int(sys.argv[3]), sys.argv[4]
    r = np.random.default_rng(sum(map(ord, family)) + int((sys.argv + ["0"])[5] if len(sys.argv) > 5 else 0))
    pool = Pool(family.split("+"))
    ex = Extractor()
    sx, sy = singles(pool, ns, r, ex)
    print(family, "singles", sx.shape, flush=True)
    L = dict(X=[], y=[], second=[], time=[], end=[], pos=[], loop=[], bpb=[], bars=[])
    k = 0
    while k < nl:
        o = loop(pool, r, ex)
        if o is None:
            continue
        X, y, s, t, e, p, bpb, bars = o
        n = len(y)
        for a, b in zip(
            ("X", "y", "second", "time", "end", "pos", "loop", "bpb", "bars"),
            (X, y, s, t, e, p, np.full(n, k), np.full(n, bpb), np.full(n, bars)),
        ):
            L[a].append(b)
        k += 1
    np.savez(
        out,
        sx=sx.astype(np.float16),
        sy=sy,
        **{("l" + a): (np.concatenate(b).astype(np.float16) if a == "X" else np.concatenate(b)) for a, b in L.items()}
    )
    print(family, "loops", k, "slices", sum(map(len, L["y"])), flush=True)


if __name__ == "__main__":
    main()
