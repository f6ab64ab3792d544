"""A fifth synthetic family: drums as a microphone hears them. Hats with a body and a long close, dark snares with a strong skin, bright rim
clicks in a room, crashes that bloom. usage: rec.py COUNT OUT.npz"""
import sys
import numpy as np
from made_drums import keep, U, LU, tt, env, unit, db, bp, hp, lp, click, SR, noise, skin
from made_resonators import bank, burst, tilt
from make_sets import room


def metal(r, n, lo, hi, k, tau, slope, fall):
    f = np.exp(r.uniform(np.log(lo), np.log(hi), k))
    x = burst(r, n, LU(r, 0.002, 0.012), LU(r, 0.0002, 0.002))
    return unit(
        bank(
            r, x, f, tau * np.exp(r.normal(0, 0.45, k)) * (3000 / f) ** fall, r.exponential(1, k) * (f / 4000) ** slope
        )
    )


def hiss(r, n, tau, lo, hi, rise=0.0005):
    t = np.arange(n) / SR
    return unit(bp(noise(r, n) * env(t, tau, rise), lo, hi))


def make(r, role):
    if role in ("closed hat", "open hat"):
        foot = role == "closed hat" and r.random() < 0.3
        tau = LU(r, 0.012, 0.06) if role == "closed hat" else LU(r, 0.13, 0.9)
        n = int(min(1.8, tau * 6 + 0.1) * SR)
        t = np.arange(n) / SR
        y = metal(r, n, LU(r, 250, 3000), 15500, int(r.integers(16, 34)), tau, U(r, -0.2, 1.2), U(r, 0, 0.5)) * U(
            r, 0.3, 1
        ) + U(r, 0.4, 1.6) * hiss(r, n, tau * U(r, 0.5, 1.1), LU(r, 1500, 7000), LU(r, 10000, 18000))
        y = unit(y) + db(U(r, -26, -7) + (8 if foot else 0)) * metal(
            r,
            n,
            160,
            1400,
            int(r.integers(3, 9)),
            LU(r, 0.015, 0.07) if role == "closed hat" else LU(r, 0.03, 0.3),
            U(r, -0.6, 0.4),
            0.2,
        )
        if foot:
            y = y * np.minimum(1, t / LU(r, 0.002, 0.012))
        else:
            y = (
                unit(y)
                + db(U(r, -16, 2))
                * np.pad(
                    click(r, int(0.03 * SR), LU(r, 900, 4000), LU(r, 7000, 15000), LU(r, 0.0006, 0.005)),
                    (0, max(0, n - int(0.03 * SR))),
                )[:n]
            )
        if role == "closed hat" and r.random() < 0.5:
            y = unit(y) + db(U(r, -30, -16)) * hiss(r, n, LU(r, 0.06, 0.2), 2000, 14000)  # does not close all the way
    elif role == "snare":
        t = tt(0.7)
        n = len(t)
        f = LU(r, 150, 300)
        b = unit(
            skin(r, t, f, LU(r, 0.02, 0.11), int(r.integers(3, 9)), U(r, 0.1, 1.3), U(r, 0, 0.2), LU(r, 0.01, 0.04))
        )
        k = int(r.integers(5, 14))
        w = burst(r, n, LU(r, 0.03, 0.15), LU(r, 0.0005, 0.006))
        z = unit(
            bank(
                r,
                w,
                [LU(r, 400, 7500) for _ in range(k)],
                [LU(r, 0.0004, 0.003) for _ in range(k)],
                r.exponential(1, k),
            )
        )
        z = lp(z, LU(r, 2500, 9000), int(r.integers(1, 3))) if r.random() < 0.7 else z
        y = (
            b * db(U(r, -6, 4))
            + unit(z) * db(U(r, -14, 2))
            + db(U(r, -24, -6))
            * np.pad(click(r, int(0.02 * SR), 1200, 9000, LU(r, 0.0008, 0.004)), (0, n - int(0.02 * SR)))
        )
        if r.random() < 0.25:
            y = unit(y) + db(U(r, -24, -8)) * metal(r, n, 350, 1300, 2, LU(r, 0.05, 0.25), 0, 0)
    elif role == "rim":
        t = tt(0.35)
        n = len(t)
        k = int(r.integers(4, 10))
        y = unit(
            bank(
                r,
                burst(r, n, LU(r, 0.0005, 0.003)),
                [LU(r, 400, 7500) for _ in range(k)],
                [LU(r, 0.0015, 0.018) for _ in range(k)],
                r.exponential(1, k) + 0.1,
            )
        ) + db(U(r, -18, 2)) * hiss(r, n, LU(r, 0.002, 0.02), LU(r, 700, 2500), LU(r, 5000, 13000))
        if r.random() < 0.6:
            y = unit(y) + db(U(r, -22, -5)) * unit(skin(r, t, LU(r, 150, 320), LU(r, 0.015, 0.07), 4, 1, 0, 0.02))
        if r.random() < 0.5:
            y = room(unit(y), r, LU(r, 0.1, 0.5), U(r, -20, -6))
    elif role == "clap":
        n = int(0.5 * SR)
        y = np.zeros(n)
        for _ in range(int(r.integers(2, 12))):
            i = int(abs(r.normal(0, LU(r, 0.004, 0.022))) * SR)
            f = LU(r, 500, 2600)
            y[i:] += U(r, 0.3, 1) * bp(burst(r, n - i, LU(r, 0.0015, 0.012)), f * 0.7, f * LU(r, 1.3, 4))
        y = room(unit(y), r, LU(r, 0.12, 0.6), U(r, -14, -2))
        y = lp(y, LU(r, 3000, 12000), 1)
    elif role == "cymbal":
        n = int(1.8 * SR)
        t = np.arange(n) / SR
        tau = LU(r, 0.3, 1.4)
        if r.random() < 0.5:
            y = metal(r, n, LU(r, 150, 600), 15000, 34, tau, U(r, -0.5, 0.5), U(r, 0.1, 0.5)) * U(r, 0.3, 1) + U(
                r, 0.5, 1.5
            ) * hiss(r, n, tau * U(r, 0.3, 0.9), LU(r, 700, 4000), 16000, LU(r, 0.001, 0.012))
            y = unit(y) + db(U(r, -14, 0)) * hiss(r, n, LU(r, 0.02, 0.1), 300, LU(r, 3000, 9000))
        else:
            y = (
                metal(r, n, LU(r, 250, 1500), 14000, int(r.integers(12, 32)), tau, U(r, -0.6, 0.8), U(r, 0, 0.5))
                * db(U(r, -14, 0))
                + np.pad(
                    click(r, int(0.04 * SR), LU(r, 1200, 4000), LU(r, 7000, 15000), LU(r, 0.001, 0.009)),
                    (0, n - int(0.04 * SR)),
                )
                + db(U(r, -22, -6)) * hiss(r, n, tau * 0.5, 2500, 14000)
            )
    return tilt(r, unit(y), -5, 3)


if __name__ == "__main__":
    from fonts import trim

    n, out = int(sys.argv[1]), sys.argv[2]
    r = np.random.default_rng(6)
    A, R = [], []
    for role, k in (("closed hat", 2), ("open hat", 1), ("snare", 2), ("rim", 1), ("clap", 1), ("cymbal", 1.2)):
        for _ in range(int(n * k)):
            y = trim(unit(np.nan_to_num(make(r, role))))
            if y is not None and len(y) > 200:
                A.append(y)
                R.append(role)
    d = np.load("data/res.npz", allow_pickle=True)  # kicks, toms and percussion as there
    for a, role in zip(d["audio"], d["role"]):
        if role in ("kick", "tom", "percussion"):
            A.append(a)
            R.append(str(role))
    keep(out, "rec", A, R)
