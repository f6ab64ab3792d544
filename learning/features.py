"""What a slice is told by: levels in 20 bands over 12 windows, what is new in them, the course of the attack, and how tonal it is.

All levels are against the slice's own loudest band, so the slice's level does not matter. One rule for slices that end early:
windows that are not reached repeat the one before, 3 dB lower, and a mask says so.
"""
import numpy as np
from scipy.fft import rfft

CENTRES = np.array([-14, 6, 14, 24, 38, 56, 80, 112, 155, 210, 280, 370.0])  # ms; the first is what sounded before
SHORT = np.array([1.5, 4.5, 7.5, 10.5, 13.5, 18, 24, 30, 38])  # ms, windows of 5.8 ms
LONG = np.array([49.0, 116.0])  # ms, windows of 93 ms
EDGES = np.array(
    [
        20,
        64,
        107,
        150,
        193,
        280,
        366,
        452,
        600,
        800,
        1050,
        1400,
        1900,
        2600,
        3600,
        4900,
        6600,
        8800,
        11500,
        14500,
        20000.0,
    ]
)
SEDGES = np.array([20, 600, 2000, 6000, 20000.0])
LEDGES = np.array([22, 38, 54, 70, 86, 102, 124, 151, 183, 226, 280, 350, 440, 560, 720, 950.0])
TEDGES = np.array([60, 250, 500, 1000, 2000, 4000, 8000, 16000.0])
NB, NF = len(EDGES) - 1, len(CENTRES)
FLOOR = -60.0


def bands(n, rate, edges):
    f = np.arange(n // 2 + 1) * rate / n
    step = rate / n
    m = np.zeros((len(edges) - 1, len(f)), np.float32)
    for b in range(len(edges) - 1):  # bins share themselves out over the edges
        m[b] = np.clip((np.minimum(f + step / 2, edges[b + 1]) - np.maximum(f - step / 2, edges[b])) / step, 0, 1)
    return m


class Extractor:
    def __init__(self, rate=44100):
        k = 1 if rate < 64000 else 2
        self.rate = rate
        self.n, self.s, self.l = 1024 * k, 256 * k, 4096 * k
        self.w = {n: np.hanning(n + 1)[:n].astype(np.float32) for n in (self.n, self.s, self.l)}
        self.mb, self.sb, self.lb, self.tb = (
            bands(self.n, rate, EDGES),
            bands(self.s, rate, SEDGES),
            bands(self.l, rate, LEDGES),
            bands(self.l, rate, TEDGES),
        )

    def frames(self, y, s, lens, centres, n):
        """y: rows, the slice's start at `s`; samples from a row's `lens` on are silence; a window that is cut is made up for its loss"""
        w = self.w[n]
        W2 = np.r_[0, np.cumsum(w.astype(float) ** 2)]
        N = len(y)
        out = np.empty((N, len(centres), n), np.float32)
        reached = np.ones((N, len(centres)), bool)
        ar = np.arange(n)
        for i, c in enumerate(centres):
            a = s + int(round(c * self.rate / 1000)) - n // 2
            end = np.full(N, s - int(0.001 * self.rate)) if c < 0 else s + lens
            if c >= 0 and i > 0:
                reached[:, i] = s + (c + 3) * self.rate / 1000 <= s + lens
            k = np.clip(end - a, 0, n)
            share = W2[k] / W2[n]
            out[:, i] = y[:, a : a + n] * w * (ar[None] < k[:, None]) / np.sqrt(np.maximum(share, 0.15))[:, None]
        return out, reached

    def rows(self, x, starts, ends):
        """rows of samples round each start, and how long each slice is"""
        pad, post = self.l, int(0.45 * self.rate) + self.l
        y = np.zeros((len(starts), pad + post), np.float32)
        for r, st in enumerate(starts):
            lo, hi = max(0, st - pad), min(len(x), st + post)
            if hi > lo:
                y[r, lo - st + pad : hi - st + pad] = x[lo:hi]
        return y, np.maximum(int(0.008 * self.rate), np.asarray(ends) - np.asarray(starts))

    def __call__(self, x, starts, ends):
        y, lens = self.rows(x, starts, ends)
        return self.batch(y, lens)

    def batch(self, y, lens):
        if len(y) > 256:
            return np.concatenate([self.batch(y[i : i + 256], lens[i : i + 256]) for i in range(0, len(y), 256)])
        N, s = len(y), self.l
        f, reached = self.frames(y, s, lens, CENTRES, self.n)
        reached[:, 1] = True
        P = power(f) / self.n @ self.mb.T
        for i in range(2, NF):
            P[:, i] = np.where(reached[:, i, None], P[:, i], P[:, i - 1] * 0.5)
        top = np.maximum(P[:, 1:].max((1, 2)), 1e-11)[:, None, None]
        pre, post = P[:, :1], P[:, 1:]
        new = np.maximum(post - pre * STILL[None, :, None], 0)
        ntop = np.maximum(new.max((1, 2)), 1e-11)[:, None, None]
        rise = np.clip(10 * np.log10((post[:, :4] + top * 1e-6) / (pre + top * 1e-6)), -10, 40)
        g, _ = self.frames(y, s, lens, SHORT, self.s)
        Q = power(g) @ self.sb.T
        Q = dB(Q, np.maximum(Q.max((1, 2)), 1e-11)[:, None, None], -50)
        h, lr = self.frames(y, s, lens, LONG, self.l)
        h[:, 1] = np.where(lr[:, 1, None], h[:, 1], h[:, 0])
        S = power(h)
        L = S @ self.lb.T
        low = dB(L.sum(2), S.sum(2) + 1e-12, -40)
        L = dB(L, np.maximum(L.max((1, 2)), 1e-11)[:, None, None], -40)
        T = []
        for b in range(len(TEDGES) - 1):
            v = S[:, :, self.tb[b] > 0.5] + 1e-12
            m = 10 * np.log10(v.mean(2))
            T += [10 * np.log10(v.max(2)) - m, m - (10 * np.log10(v)).mean(2)]
        whole = post.sum(2)
        wt = whole.max(1)[:, None]
        r = lambda a: a.reshape(N, -1) / 10
        return np.concatenate(
            [
                r(dB(post, top)),
                r(dB(new, ntop, -50)),
                r(dB(pre, top)),
                r(rise),
                r(Q),
                r(L),
                r(np.stack(T, 2)),
                reached[:, 2:],
                np.minimum(1, lens / (0.37 * self.rate))[:, None],
                r(dB(whole, wt)),
                r(dB(pre.sum(2), wt)),
                r(low),
            ],
            1,
        ).astype(np.float32)


STILL = np.array([1, 1, 1, 0.8, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2], np.float32)


def power(f):
    F = rfft(f, axis=2)
    return (F.real**2 + F.imag**2).astype(np.float32)


def dB(p, t, floor=FLOOR):
    return np.maximum(floor, 10 * np.log10(p / t + 1e-12))


GROUPS = {}


def _layout():
    at = 0
    for n, k in (
        ("post", 11 * NB),
        ("new", 11 * NB),
        ("pre", NB),
        ("rise", 4 * NB),
        ("attack", len(SHORT) * 4),
        ("low", 2 * (len(LEDGES) - 1)),
        ("tonal", 2 * 14),
        ("extra", 10 + 1 + 11 + 1 + 2),
    ):
        GROUPS[n] = (at, at + k)
        at += k
    return at


SIZE = _layout()
