"""A fourth synthetic family: bursts of noise through banks of resonators, with the steep and uneven spectra of recorded drums. usage: res.py COUNT OUT.npz"""
import sys
import numpy as np
from scipy import signal
from made_drums import keep, U, LU, tt, env, unit, db, bp, hp, lp, click, SR, ROLES, sweep, noise


def bank(r, x, freqs, taus, amps):
    y = np.zeros(len(x))
    for f, u, a in zip(freqs, taus, amps):
        if f > SR * 0.46:
            continue
        p = np.exp(-1 / (SR * u))
        y += (
            a
            * signal.lfilter([1 - p * p], [1, -2 * p * np.cos(2 * np.pi * f / SR), p * p], x)
            * np.sqrt(1 / max(1e-4, 1 - p))
            * 0.1
        )
    return y


def tilt(r, y, lo=-7, hi=4):
    s = U(r, lo, hi) / 6
    return lp(y, LU(r, 700, 6000), 1) if s < -0.6 else hp(y, LU(r, 500, 4000), 1) if s > 0.4 else y


def burst(r, n, u, rise=0.0):
    t = np.arange(n) / SR
    return noise(r, n) * env(t, u, rise)


def make(r, role):
    if role == "kick":
        t = tt(0.6)
        f = LU(r, 40, 90)
        x = burst(r, len(t), LU(r, 0.001, 0.006))
        y = (
            unit(bank(r, x, [f], [LU(r, 0.05, 0.2)], [1])) * 0.5
            + unit(env(t, LU(r, 0.05, 0.2), 0.001) * sweep(t, f, f * U(r, 1, 3), LU(r, 0.01, 0.05)))
            + db(U(r, -30, -5))
            * unit(
                bank(
                    r,
                    x,
                    [LU(r, 150, 4000) for _ in range(6)],
                    [LU(r, 0.003, 0.03) for _ in range(6)],
                    r.exponential(1, 6),
                )
            )
        )
        return tilt(r, y, -9, 0)
    if role == "snare":
        t = tt(0.6)
        n = len(t)
        w = burst(r, n, LU(r, 0.03, 0.18), LU(r, 0.0003, 0.004))
        k = int(r.integers(4, 16))
        z = unit(
            bank(
                r,
                w,
                [LU(r, 250, 9000) for _ in range(k)],
                [LU(r, 0.0006, 0.006) for _ in range(k)],
                r.exponential(1, k),
            )
        )
        c = burst(r, n, 0.002)
        m = int(r.integers(2, 6))
        f = LU(r, 140, 300)
        b = unit(
            bank(
                r,
                c,
                f * np.r_[1, r.uniform(1.4, 5, m)],
                [LU(r, 0.02, 0.12) for _ in range(m + 1)],
                np.r_[1, r.exponential(0.5, m)],
            )
        )
        return tilt(r, b * db(U(r, -14, 6)) + z * db(U(r, -6, 3)), -8, 3)
    if role == "rim":
        t = tt(0.2)
        n = len(t)
        k = int(r.integers(3, 9))
        y = unit(
            bank(
                r,
                burst(r, n, LU(r, 0.0005, 0.004)),
                [LU(r, 350, 6500) for _ in range(k)],
                [LU(r, 0.002, 0.022) for _ in range(k)],
                r.exponential(1, k) + 0.1,
            )
        ) + db(U(r, -22, 3)) * unit(bp(burst(r, n, LU(r, 0.002, 0.02)), LU(r, 600, 2500), LU(r, 4000, 13000)))
        return tilt(r, y, -6, 5)
    if role == "clap":
        t = tt(0.4)
        n = len(t)
        e = np.zeros(n)
        p = 0.0
        c = int(r.integers(2, 9))
        g = LU(r, 0.002, 0.014)
        for i in range(c):
            q = int(p * SR)
            e[q:] = np.maximum(e[q:], U(r, 0.3, 1) * np.exp(-t[: n - q] / LU(r, 0.002, 0.012)))
            p += g * U(r, 0.5, 1.6)
        q = int(p * SR)
        e[q:] = np.maximum(e[q:], U(r, 0.3, 1) * np.exp(-t[: n - q] / LU(r, 0.015, 0.09)))
        k = int(r.integers(3, 10))
        x = noise(r, n) * e
        return tilt(
            r,
            unit(
                bank(
                    r,
                    x,
                    [LU(r, 500, 6000) for _ in range(k)],
                    [LU(r, 0.0004, 0.003) for _ in range(k)],
                    r.exponential(1, k),
                )
            )
            + db(U(r, -20, 0)) * unit(bp(x, 700, LU(r, 3000, 12000))),
            -7,
            3,
        )
    if role in ("closed hat", "open hat", "cymbal"):
        tau = (
            LU(r, 0.007, 0.055)
            if role == "closed hat"
            else LU(r, 0.11, 0.55)
            if role == "open hat"
            else LU(r, 0.25, 1.3)
        )
        t = tt(min(1.6, tau * 6 + 0.05))
        n = len(t)
        k = int(r.integers(14, 34))
        lo = LU(r, 300, 3500)
        x = burst(r, n, LU(r, 0.002, 0.01), LU(r, 0.0002, 0.003 if role != "cymbal" else 0.01))
        f = np.exp(r.uniform(np.log(lo), np.log(15000), k))
        y = unit(
            bank(
                r,
                x,
                f,
                tau * np.exp(r.normal(0, 0.4, k)) * (3000 / f) ** U(r, -0.1, 0.6),
                r.exponential(1, k) * (f / 3000) ** U(r, -0.6, 1),
            )
        )
        y = y + U(r, 0.2, 1.8) * unit(
            bp(noise(r, n) * env(t, tau * U(r, 0.5, 1.1)), LU(r, 400, 7000), LU(r, 8000, 17000))
        )
        if role != "open hat" and r.random() < 0.6:
            y = (
                unit(y)
                + db(U(r, -20, 4))
                * np.pad(
                    click(r, int(0.03 * SR), LU(r, 400, 3000), LU(r, 4000, 14000), LU(r, 0.0007, 0.006)),
                    (0, max(0, n - int(0.03 * SR))),
                )[:n]
            )
        return tilt(r, unit(y), -8, 6)
    if role == "tom":
        t = tt(0.8)
        n = len(t)
        f = LU(r, 62, 270)
        c = burst(r, n, LU(r, 0.001, 0.006))
        m = int(r.integers(1, 6))
        y = unit(
            bank(
                r,
                c,
                f * np.r_[1, r.uniform(1.4, 4, m)],
                [LU(r, 0.06, 0.3)] + [LU(r, 0.02, 0.15) for _ in range(m)],
                np.r_[1.2, r.exponential(0.5, m)],
            )
        ) + unit(env(t, LU(r, 0.08, 0.35), 0.0015) * sweep(t, f, f * U(r, 1, 1.4), LU(r, 0.01, 0.06)))
        return tilt(r, y + db(U(r, -30, -8)) * unit(bp(burst(r, n, LU(r, 0.003, 0.06)), LU(r, 200, 1500), 7000)), -9, 1)
    if role == "percussion":
        t = tt(0.6)
        n = len(t)
        q = r.random()
        if q < 0.45:
            k = int(r.integers(1, 7))
            f = LU(r, 150, 3500)
            y = bank(
                r,
                burst(r, n, LU(r, 0.0006, 0.005)),
                f * np.r_[1, r.uniform(1.2, 5, k)],
                [LU(r, 0.006, 0.2) for _ in range(k + 1)],
                np.r_[1.2, r.exponential(0.6, k)],
            )
        elif q < 0.8:
            k = int(r.integers(3, 12))
            p = LU(r, 0.002, 0.05)
            e = np.where(t < p, t / p, np.exp(-(t - p) / LU(r, 0.006, 0.07)))
            y = bank(
                r,
                noise(r, n) * e,
                [LU(r, 2200, 13000) for _ in range(k)],
                [LU(r, 0.0005, 0.01) for _ in range(k)],
                r.exponential(1, k),
            )
        else:
            e = np.zeros(n)
            p = 0.0
            g = LU(r, 0.006, 0.04)
            for _ in range(int(r.integers(3, 12))):
                i = int(p * SR)
                e[i : i + 400] += U(r, 0.3, 1) * np.exp(-t[: len(e[i : i + 400])] / 0.002)
                p += g * U(r, 0.6, 1.4)
            k = int(r.integers(3, 10))
            y = bank(
                r,
                noise(r, n) * e,
                [LU(r, 800, 12000) for _ in range(k)],
                [LU(r, 0.001, 0.02) for _ in range(k)],
                r.exponential(1, k),
            )
        return tilt(r, y, -7, 5)


if __name__ == "__main__":
    from fonts import trim

    n, out = int(sys.argv[1]), sys.argv[2]
    r = np.random.default_rng(4)
    A, R = [], []
    for role in ROLES[:9]:
        for _ in range(int(n * {"percussion": 3, "snare": 1.5, "closed hat": 1.3}.get(role, 1))):
            y = trim(unit(np.nan_to_num(make(r, role))))
            if y is not None and len(y) > 200:
                A.append(y)
                R.append(role)
    keep(out, "res", A, R)
