"""Random drums from nothing: three families that share no code path for the tone.
usage: synth_drums.py FAMILY COUNT_A_ROLE OUT.npz      FAMILY = ana (oscillators and filtered noise) | mod (modes of skins, bars, plates) | dig (FM, low bits, grains)
Deterministic. Output as fonts.py."""
import sys
import numpy as np
from scipy import signal

SR = 44100


def U(r, a, b):
    return float(r.uniform(a, b))


def LU(r, a, b):
    return float(np.exp(r.uniform(np.log(a), np.log(b))))


def tt(s):
    return np.arange(int(s * SR)) / SR


def env(t, tau, rise=0.0):
    return np.exp(-t / tau) * (np.minimum(1, t / rise) if rise > 0 else 1)


def noise(r, n):
    return r.standard_normal(n)


def sos(kind, f, order=2):
    f = np.clip(np.atleast_1d(f), 20, SR * 0.48)
    return signal.butter(order, f if len(f) > 1 else f[0], kind, fs=SR, output="sos")


def lp(x, f, o=2):
    return signal.sosfilt(sos("low", f, o), x)


def hp(x, f, o=2):
    return signal.sosfilt(sos("high", f, o), x)


def bp(x, a, b, o=1):
    return signal.sosfilt(sos("band", [a, max(b, a * 1.05)], o), x)


def unit(x):
    return x / (np.abs(x).max() + 1e-9)


def db(x):
    return 10 ** (x / 20)


def sweep(t, f0, f1, tau, phase=0.0):  # from f1 down to f0
    return np.sin(phase + 2 * np.pi * (f0 * t + (f1 - f0) * tau * (1 - np.exp(-t / tau))))


def click(r, n, lo=800, hi=8000, tau=0.002):
    t = np.arange(n) / SR
    return unit(bp(noise(r, n), lo, hi) * np.exp(-t / tau))


def modes(r, t, freqs, amps, taus, glide=0.0, gt=0.03):
    y = np.zeros(len(t))
    w = t + glide * gt * (1 - np.exp(-t / gt))
    for f, a, u in zip(freqs, amps, taus):
        if f < SR * 0.47:
            y += a * np.exp(-t / u) * np.sin(2 * np.pi * f * w + (r.uniform(0, 6.28) if r.random() < 0.5 else 0))
    return y


def plate(r, t, lo, hi, count, tau, tilt, fall=0.6):
    """a dense cluster of inharmonic modes; high ones fade sooner; cheap: in a spectrum of short-lived noise-like partials"""
    f = np.exp(r.uniform(np.log(lo), np.log(hi), count))
    a = r.exponential(1, count) * (f / 3000) ** tilt
    u = tau * (3000 / f) ** fall * np.exp(r.normal(0, 0.4, count))
    n = len(t)
    y = np.zeros(n)
    ph = r.uniform(0, 6.28, count)
    for k in range(count):
        m = min(n, int(u[k] * 7 * SR) + 64)
        y[:m] += a[k] * np.exp(-t[:m] / u[k]) * np.sin(2 * np.pi * f[k] * t[:m] + ph[k])
    return y


def squares(r, t, base, count=6, duty=0.5):
    y = np.zeros(len(t))
    for k in range(count):
        y += signal.square(2 * np.pi * base * r.uniform(1, 3.2) * t + r.uniform(0, 6), duty)
    return y


MEMB = np.array([1, 1.594, 2.136, 2.296, 2.653, 2.918, 3.156, 3.501, 3.652, 4.06])


# ------------------------------------------------------------------ oscillators and filtered noise
def ana(r, role):
    if role == "kick":
        t = tt(U(r, 0.25, 1.2))
        f0 = LU(r, 34, 85)
        tau = LU(r, 0.05, 0.5)
        y = env(t, tau, LU(r, 0.0002, 0.004)) * sweep(t, f0, f0 + LU(r, 20, 1500), LU(r, 0.004, 0.06), U(r, 0, 1.5))
        if r.random() < 0.6:
            y += db(U(r, -28, -6)) * np.pad(
                click(r, int(0.02 * SR), LU(r, 300, 3000), LU(r, 3000, 14000), LU(r, 0.0005, 0.006)),
                (0, len(t) - int(0.02 * SR)),
            )
        if r.random() < 0.3:
            y += db(U(r, -30, -12)) * env(t, U(r, 0.01, 0.08)) * lp(noise(r, len(t)), LU(r, 300, 6000))
        if r.random() < 0.4:
            y = np.tanh(LU(r, 1, 8) * y)
    elif role == "snare":
        t = tt(U(r, 0.25, 0.8))
        f = LU(r, 130, 330)
        k = U(r, 1.3, 2.1)
        tau = LU(r, 0.025, 0.18)
        y = env(t, tau) * (
            sweep(t, f, f * U(r, 1, 2), LU(r, 0.005, 0.04))
            + U(r, 0.1, 1) * sweep(t, f * k, f * k * U(r, 1, 1.5), LU(r, 0.005, 0.03))
        )
        z = noise(r, len(t)) * env(t, LU(r, 0.03, 0.25), LU(r, 0.0003, 0.004))
        z = hp(z, LU(r, 400, 4000), int(r.integers(1, 3)))
        if r.random() < 0.5:
            z = lp(z, LU(r, 4500, 15000))
        y = unit(y) * db(U(r, -16, 0)) + unit(z) * db(U(r, -8, 2))
    elif role == "rim":
        t = tt(0.15)
        y = np.zeros(len(t))
        for _ in range(int(r.integers(1, 4))):
            y += U(r, 0.3, 1) * env(t, LU(r, 0.003, 0.018)) * np.sin(2 * np.pi * LU(r, 380, 2600) * t + U(r, 0, 6))
        y = hp(np.tanh(y * U(r, 1, 4)), LU(r, 150, 900))
        y += db(U(r, -26, -4)) * click(r, len(t), 800, 9000, LU(r, 0.0008, 0.005))
    elif role == "clap":
        t = tt(U(r, 0.15, 0.7))
        e = np.zeros(len(t))
        gap = U(r, 0.006, 0.016)
        p = 0.0
        n = int(r.integers(2, 6))
        for i in range(n):
            k = int(p * SR)
            u = LU(r, 0.003, 0.012) if i < n - 1 else LU(r, 0.02, 0.16)
            e[k:] = np.maximum(e[k:], U(r, 0.6, 1) * np.exp(-t[: len(t) - k] / u))
            p += gap * U(r, 0.75, 1.3)
        f = LU(r, 700, 2400)
        y = bp(noise(r, len(t)) * e, f / LU(r, 1.2, 2.5), f * LU(r, 1.3, 3.5), int(r.integers(1, 3)))
        if r.random() < 0.5:
            y = unit(y) + db(U(r, -22, -6)) * unit(hp(noise(r, len(t)) * e, LU(r, 2000, 6000)))
    elif role in ("closed hat", "open hat"):
        tau = LU(r, 0.008, 0.05) if role == "closed hat" else LU(r, 0.1, 0.45)
        t = tt(min(1.5, tau * 7 + 0.03))
        y = squares(r, t, LU(r, 200, 900)) if r.random() < 0.6 else noise(r, len(t))
        if r.random() < 0.4:
            y = unit(y) + U(r, 0.2, 1) * noise(r, len(t)) / 3
        y = hp(y, LU(r, 3500, 9500), int(r.integers(1, 4))) * env(t, tau, LU(r, 0.0002, 0.003))
        if r.random() < 0.3:
            y = lp(y, LU(r, 8000, 16000))
    elif role == "cymbal":
        t = tt(1.8)
        tau = LU(r, 0.3, 1.2)
        y = squares(r, t, LU(r, 150, 700), 8) if r.random() < 0.5 else noise(r, len(t))
        if r.random() < 0.5:
            y = unit(y) + U(r, 0.3, 1.5) * noise(r, len(t)) / 3
        a = hp(y, LU(r, 3000, 8000)) * env(t, tau * 0.6, LU(r, 0.0003, 0.012))
        b = bp(y, LU(r, 500, 2500), LU(r, 3000, 9000)) * env(t, tau, LU(r, 0.0003, 0.006))
        y = unit(a) * db(U(r, -6, 3)) + unit(b) * db(U(r, -18, 0))
        if r.random() < 0.5:
            y = unit(y) + db(U(r, -8, 4)) * np.pad(
                click(r, int(0.03 * SR), 1500, 12000, LU(r, 0.002, 0.012)), (0, len(t) - int(0.03 * SR))
            )
    elif role == "tom":
        t = tt(U(r, 0.3, 1.1))
        f = LU(r, 62, 270)
        y = env(t, LU(r, 0.07, 0.4), LU(r, 0.0003, 0.003)) * sweep(
            t, f, f * U(r, 1.02, 1.9), LU(r, 0.015, 0.1), U(r, 0, 1.5)
        )
        y = y + db(U(r, -30, -9)) * env(t, LU(r, 0.01, 0.12)) * unit(
            bp(noise(r, len(t)), LU(r, 150, 1500), LU(r, 2000, 8000))
        )
    elif role == "percussion":
        k = r.random()
        if k < 0.17:  # cowbell, agogo
            t = tt(0.5)
            f = LU(r, 380, 1300)
            y = bp(
                signal.square(2 * np.pi * f * t) + U(r, 0.5, 1) * signal.square(2 * np.pi * f * U(r, 1.3, 1.7) * t),
                f * 0.6,
                f * LU(r, 2, 6),
            ) * (env(t, LU(r, 0.01, 0.04)) + U(r, 0.1, 0.6) * env(t, LU(r, 0.06, 0.25)))
        elif k < 0.32:  # woodblock, clave
            t = tt(0.25)
            f = LU(r, 550, 3200)
            y = env(t, LU(r, 0.006, 0.04)) * (
                np.sin(2 * np.pi * f * t) + U(r, 0, 0.5) * np.sin(2 * np.pi * f * U(r, 1.4, 2.8) * t)
            )
        elif k < 0.55:  # shaker, maraca, cabasa
            t = tt(0.35)
            p = LU(r, 0.002, 0.06)
            y = bp(noise(r, len(t)), LU(r, 1800, 7000), LU(r, 8000, 18000)) * np.where(
                t < p, (t / p) ** U(r, 0.5, 3), np.exp(-(t - p) / LU(r, 0.006, 0.06))
            )
        elif k < 0.75:  # hand drum
            t = tt(0.5)
            f = LU(r, 150, 560)
            y = env(t, LU(r, 0.03, 0.2)) * sweep(t, f, f * U(r, 1, 1.35), LU(r, 0.005, 0.04), U(r, 0, 1.5)) + db(
                U(r, -26, -3)
            ) * env(t, LU(r, 0.002, 0.015)) * unit(bp(noise(r, len(t)), 500, LU(r, 2000, 7000)))
        elif k < 0.85:  # tambourine, jingles
            t = tt(0.5)
            e = sum(
                np.where(t >= d, np.exp(-(t - d) / LU(r, 0.008, 0.08)), 0) * U(r, 0.3, 1)
                for d in np.cumsum(r.uniform(0.004, 0.03, int(r.integers(2, 6)))) - 0.004
            )
            y = hp(squares(r, t, LU(r, 900, 2500)) / 3 + noise(r, len(t)), LU(r, 4000, 8500)) * e
        elif k < 0.93:  # zap, blip
            t = tt(0.3)
            f = LU(r, 200, 1500)
            y = env(t, LU(r, 0.01, 0.08)) * sweep(t, f, LU(r, 2000, 9000), LU(r, 0.004, 0.03))
        else:  # triangle
            t = tt(1.5)
            y = sum(
                U(r, 0.2, 1) * env(t, LU(r, 0.1, 0.9)) * np.sin(2 * np.pi * LU(r, 1200, 11000) * t)
                for _ in range(int(r.integers(2, 6)))
            )
    else:
        y = tonal(r, role, "ana")
    return y


# ------------------------------------------------------------------ modes of skins, bars and plates
def skin(r, t, f0, tau, count, bright, glide, gt, damp=0.8, spread=0.03):
    q = MEMB[:count] * np.exp(r.normal(0, spread, count))
    q[0] = 1
    a = np.exp(r.normal(0, 0.6, count)) * q**-bright
    a[0] = max(a[0], 0.7)
    return modes(r, t, f0 * q, a, tau * q**-damp, glide, gt)


def stick(r, n, level, lo, hi, tau):
    return db(level) * np.pad(click(r, int(0.03 * SR), lo, hi, tau), (0, max(0, n - int(0.03 * SR))))[:n]


def mod(r, role):
    if role == "kick":
        t = tt(U(r, 0.2, 0.7))
        f = LU(r, 40, 88)
        y = skin(
            r,
            t,
            f,
            LU(r, 0.04, 0.22),
            int(r.integers(2, 8)),
            U(r, 1, 3),
            U(r, 0, 1.2),
            LU(r, 0.008, 0.05),
            U(r, 0.6, 1.5),
        )
        y *= np.minimum(1, t / LU(r, 0.0005, 0.006))
        y = unit(y) + stick(r, len(t), U(r, -26, -2), LU(r, 500, 2500), LU(r, 3000, 9000), LU(r, 0.001, 0.008))
        if r.random() < 0.5:
            y = y + db(U(r, -32, -14)) * env(t, LU(r, 0.02, 0.15)) * unit(
                bp(noise(r, len(t)), LU(r, 100, 500), LU(r, 1000, 7000))
            )
    elif role == "snare":
        n = U(r, 0.25, 0.9)
        t = tt(n)
        f = LU(r, 130, 330)
        y = skin(r, t, f, LU(r, 0.02, 0.14), int(r.integers(2, 9)), U(r, 0.2, 1.5), U(r, 0, 0.25), LU(r, 0.01, 0.04))
        if r.random() < 0.3:
            y = unit(y) + db(U(r, -24, -8)) * unit(
                modes(r, t, [LU(r, 350, 1300) for _ in range(2)], [1, 0.6], [LU(r, 0.05, 0.3)] * 2)
            )  # ring
        z = noise(r, len(t))
        w = LU(r, 0.03, 0.2)
        e = env(t, w, LU(r, 0.0005, 0.006)) + U(r, 0, 0.3) * env(t, w * 2.5)
        z = unit(bp(z, LU(r, 250, 2500), LU(r, 5000, 15000)) * e)
        if r.random() < 0.5:
            z = z + U(r, 0.2, 0.8) * unit(
                bp(noise(r, len(t)), LU(r, 700, 3000), LU(r, 3000, 6000)) * env(t, w * U(r, 0.4, 1))
            )
        if r.random() < 0.15:  # brush
            z = bp(noise(r, len(t)), LU(r, 500, 2500), LU(r, 5000, 12000)) * env(t, w, LU(r, 0.004, 0.03))
            y = y * db(-U(r, 6, 22))
        y = (
            unit(y) * db(U(r, -18, 2))
            + unit(z) * db(U(r, -8, 1))
            + stick(r, len(t), U(r, -24, -4), 1500, 9000, LU(r, 0.0008, 0.005))
        )
    elif role == "rim":
        t = tt(0.25)
        c = int(r.integers(2, 7))
        y = modes(
            r,
            t,
            [LU(r, 350, 3800) for _ in range(c)],
            r.exponential(1, c) + 0.1,
            [LU(r, 0.004, 0.03) for _ in range(c)],
        )
        y = unit(y) + stick(r, len(t), U(r, -18, 0), 1000, 10000, LU(r, 0.0005, 0.004))
        if r.random() < 0.5:
            y += db(U(r, -20, -5)) * unit(skin(r, t, LU(r, 150, 330), LU(r, 0.01, 0.06), 3, 1, 0, 0.02))
        if r.random() < 0.4:
            y += db(U(r, -30, -12)) * unit(bp(noise(r, len(t)), 800, 8000) * env(t, LU(r, 0.02, 0.1)))
    elif role == "clap":
        t = tt(U(r, 0.12, 0.5))
        y = np.zeros(len(t))
        w = LU(r, 0.004, 0.03)
        for _ in range(int(r.integers(3, 13))):  # hands, each with its own hollow
            k = int(abs(r.normal(0, w)) * SR) if r.random() < 0.9 else 0
            f = LU(r, 600, 2800)
            m = len(t) - k
            if m > 200:
                y[k:] += U(r, 0.3, 1) * bp(
                    noise(r, m) * np.exp(-t[:m] / LU(r, 0.002, 0.02)), f * 0.6, f * LU(r, 1.4, 4)
                )
        y = unit(y) + db(U(r, -24, -6)) * unit(bp(noise(r, len(t)), 500, 6000) * env(t, LU(r, 0.03, 0.15), 0.004))
    elif role in ("closed hat", "open hat"):
        tau = LU(r, 0.01, 0.055) if role == "closed hat" else LU(r, 0.12, 0.55)
        t = tt(min(1.6, tau * 6 + 0.04))
        y = unit(plate(r, t, LU(r, 600, 4000), 17000, int(r.integers(60, 160)), tau, U(r, -0.3, 1.2), U(r, 0.1, 0.7)))
        y = y + U(r, 0.1, 1) * unit(hp(noise(r, len(t)), LU(r, 2500, 8000)) * env(t, tau * U(r, 0.3, 1)))
        if role == "closed hat" and r.random() < 0.3:  # foot
            y = lp(y * np.minimum(1, t / LU(r, 0.003, 0.015)), LU(r, 5000, 12000)) + db(U(r, -20, -6)) * unit(
                bp(noise(r, len(t)), 200, 1500) * env(t, 0.01)
            )
        y = unit(y) + stick(r, len(t), U(r, -18, 2), 2500, 13000, LU(r, 0.0005, 0.004))
    elif role == "cymbal":
        t = tt(1.7)
        kind = r.random()
        tau = LU(r, 0.25, 1.3)
        if kind < 0.5:  # crash, splash, china: blooms
            y = unit(plate(r, t, LU(r, 180, 700), 17000, 150, tau, U(r, -0.5, 0.5), U(r, 0.1, 0.6))) + U(
                r, 0.3, 1.2
            ) * unit(hp(noise(r, len(t)), LU(r, 1000, 5000)) * env(t, tau * U(r, 0.2, 0.6), LU(r, 0.001, 0.012)))
        elif kind < 0.85:  # ride
            y = (
                unit(plate(r, t, LU(r, 250, 900), 15000, 120, tau, U(r, -0.4, 0.6), U(r, 0, 0.5))) * db(U(r, -16, -3))
                + stick(r, len(t), 0, 2000, 13000, LU(r, 0.001, 0.01))
                + db(U(r, -14, 0)) * unit(plate(r, t, 2500, 9000, 14, tau * 0.4, 0, 0.2))
            )
        else:  # bell
            y = unit(plate(r, t, LU(r, 400, 1000), 6500, int(r.integers(5, 16)), tau, U(r, -1, 0.2), U(r, 0, 0.5))) + U(
                r, 0.05, 0.3
            ) * unit(plate(r, t, 2000, 15000, 60, tau * 0.6, 0.2))
    elif role == "tom":
        t = tt(U(r, 0.3, 1.1))
        f = LU(r, 60, 260)
        y = unit(
            skin(
                r,
                t,
                f,
                LU(r, 0.08, 0.4),
                int(r.integers(3, 10)),
                U(r, 0.8, 2.5),
                U(r, 0, 0.3),
                LU(r, 0.01, 0.08),
                U(r, 0.5, 1.3),
            )
        ) + stick(r, len(t), U(r, -28, -6), LU(r, 400, 2000), 8000, LU(r, 0.001, 0.008))
        if r.random() < 0.5:
            y = y + db(U(r, -36, -16)) * unit(
                bp(noise(r, len(t)), 300, 6000) * env(t, LU(r, 0.03, 0.2))
            )  # wires that buzz along
    elif role == "percussion":
        k = r.random()
        if k < 0.14:  # metal bell
            t = tt(0.7)
            f = LU(r, 350, 1500)
            c = int(r.integers(3, 8))
            y = modes(
                r,
                t,
                f * np.r_[1, r.uniform(1.3, 6, c - 1)],
                np.r_[1, r.exponential(0.5, c - 1)],
                [LU(r, 0.02, 0.25) for _ in range(c)],
            )
            y = unit(y) + stick(r, len(t), U(r, -20, -3), 1500, 9000, 0.002)
        elif k < 0.3:  # wood
            t = tt(0.3)
            f = LU(r, 450, 3000)
            c = int(r.integers(1, 4))
            y = modes(
                r,
                t,
                f * np.r_[1, r.uniform(1.5, 4, c)],
                np.r_[1, r.exponential(0.3, c)],
                [LU(r, 0.006, 0.045) for _ in range(c + 1)],
            )
            y = unit(y) + stick(r, len(t), U(r, -24, -4), 1000, 9000, 0.0015)
        elif k < 0.5:  # grains in a shell
            t = tt(0.4)
            n = len(t)
            e = np.where(t < 0.002, 1, 0.0)
            p = LU(r, 0.003, 0.05)
            rate = LU(r, 300, 4000)
            e = np.where(t < p, (t / p) ** U(r, 0.5, 2.5), np.exp(-(t - p) / LU(r, 0.008, 0.07)))
            g = (r.random(n) < rate / SR) * r.exponential(1, n) * e
            f = LU(r, 2500, 8500)
            y = bp(g, f / LU(r, 1.1, 1.8), min(18000, f * LU(r, 1.1, 2.2)))
        elif k < 0.74:  # hand drums
            t = tt(0.7)
            f = LU(r, 140, 560)
            y = unit(
                skin(
                    r, t, f, LU(r, 0.04, 0.22), int(r.integers(2, 8)), U(r, 0.6, 2), U(r, 0, 0.12), 0.02, U(r, 0.4, 1.4)
                )
            )
            if r.random() < 0.3:
                y = y * db(-U(r, 0, 14)) + unit(
                    bp(noise(r, len(t)), LU(r, 600, 1500), LU(r, 2500, 7000)) * env(t, LU(r, 0.006, 0.03))
                )  # slap
            y = unit(y) + stick(r, len(t), U(r, -26, -4), 500, LU(r, 2500, 8000), LU(r, 0.0015, 0.01))
        elif k < 0.84:  # jingles
            t = tt(0.6)
            y = np.zeros(len(t))
            for d in np.r_[0, np.cumsum(r.uniform(0.003, 0.03, int(r.integers(2, 9))))]:
                i = int(d * SR)
                m = len(t) - i
                y[i:] += U(r, 0.3, 1) * plate(r, t[:m], LU(r, 3500, 6000), 16000, 14, LU(r, 0.01, 0.12), 0.3, 0.2)
        elif k < 0.9:  # scrape, rattle: a train of clicks
            t = tt(0.6)
            y = np.zeros(len(t))
            p = 0.0
            step = LU(r, 0.006, 0.028)
            f = LU(r, 900, 5000)
            a = 1.0
            fall = U(r, 0.9, 1.0)
            while p < U(r, 0.08, 0.5) and len(t) - int(p * SR) > 300:
                i = int(p * SR)
                y[i : i + 300] += a * U(r, 0.5, 1) * click(r, 300, f * 0.6, f * 2, 0.0015)
                p += step * U(r, 0.8, 1.2)
                a *= fall
        elif k < 0.95:  # triangle
            t = tt(1.6)
            c = int(r.integers(3, 9))
            y = modes(
                r,
                t,
                [LU(r, 900, 13000) for _ in range(c)],
                r.exponential(1, c) + 0.1,
                [LU(r, 0.1, 1.2) for _ in range(c)],
            )
        else:  # snap
            t = tt(0.25)
            f = LU(r, 1200, 3500)
            y = bp(
                noise(r, len(t))
                * (
                    env(t, LU(r, 0.002, 0.008))
                    + 0.4 * np.where(t > 0.008, np.exp(-(t - 0.008) / LU(r, 0.005, 0.04)), 0)
                ),
                f * 0.75,
                f * 1.6,
                1,
            )
    else:
        y = tonal(r, role, "mod")
    return y


# ------------------------------------------------------------------ FM, low bits, grains
def fm(r, t, f, ratio, index, it, tau, glide=0, gt=0.02):
    w = 2 * np.pi * f * (t + glide * gt * (1 - np.exp(-t / gt)))
    return env(t, tau) * np.sin(w + index * np.exp(-t / it) * np.sin(w * ratio + r.uniform(0, 6)))


def dig(r, role):
    if role == "kick":
        t = tt(U(r, 0.2, 0.8))
        y = fm(
            r,
            t,
            LU(r, 36, 80),
            U(r, 0.5, 3),
            LU(r, 0.05, 4),
            LU(r, 0.005, 0.04),
            LU(r, 0.05, 0.35),
            U(r, 0.3, 6),
            LU(r, 0.005, 0.05),
        )
        y = unit(y) + db(U(r, -34, -10)) * noise(r, len(t)) * env(t, LU(r, 0.002, 0.02)) / 3
    elif role == "snare":
        t = tt(U(r, 0.2, 0.7))
        y = unit(
            fm(r, t, LU(r, 130, 340), U(r, 1.2, 3.7), LU(r, 0.3, 6), LU(r, 0.01, 0.1), LU(r, 0.03, 0.15), U(r, 0, 0.8))
        ) * db(U(r, -14, 0))
        z = np.repeat(noise(r, len(t)), 1)
        h = int(r.integers(1, 5))
        z = np.repeat(z[::h], h)[: len(t)]
        y = y + unit(hp(z, LU(r, 300, 2500)) * env(t, LU(r, 0.04, 0.2))) * db(U(r, -8, 2))
    elif role == "rim":
        t = tt(0.2)
        y = fm(r, t, LU(r, 400, 2000), U(r, 1.2, 4.5), LU(r, 0.5, 5), LU(r, 0.002, 0.02), LU(r, 0.004, 0.025))
        y = unit(y) + db(U(r, -24, -6)) * click(r, len(t), 1500, 12000, 0.001)
    elif role == "clap":
        t = tt(U(r, 0.15, 0.5))
        h = int(r.integers(1, 4))
        z = np.repeat(noise(r, len(t))[::h], h)[: len(t)]
        n = int(r.integers(2, 5))
        g = U(r, 0.007, 0.014)
        e = sum(np.where((t >= i * g), np.exp(-(t - i * g) / LU(r, 0.003, 0.008)), 0) for i in range(n))
        q = (n - 1) * g
        e = np.maximum(e, np.where(t >= q, U(r, 0.5, 1) * np.exp(-(t - q) / LU(r, 0.025, 0.14)), 0))
        f = LU(r, 800, 2200)
        y = bp(z * e, f * 0.6, f * LU(r, 1.5, 4))
    elif role in ("closed hat", "open hat"):
        tau = LU(r, 0.008, 0.05) if role == "closed hat" else LU(r, 0.1, 0.5)
        t = tt(min(1.5, tau * 6 + 0.03))
        y = np.zeros(len(t))
        for _ in range(int(r.integers(2, 5))):
            y += fm(r, t, LU(r, 1500, 9000), U(r, 1.2, 4.7), LU(r, 1.5, 12), tau * 2, tau * U(r, 0.5, 1.2))
        y = hp(unit(y) + U(r, 0, 0.7) * noise(r, len(t)) * env(t, tau) / 3, LU(r, 3000, 8000))
    elif role == "cymbal":
        t = tt(1.7)
        tau = LU(r, 0.3, 1.2)
        y = np.zeros(len(t))
        for _ in range(int(r.integers(3, 7))):
            y += fm(r, t, LU(r, 400, 6000), U(r, 1.2, 4.7), LU(r, 1.5, 10), tau, tau * U(r, 0.4, 1.2))
        y = hp(unit(y) + U(r, 0, 0.8) * noise(r, len(t)) * env(t, tau * 0.5) / 3, LU(r, 300, 4000), 1)
        y = unit(y) + stick(r, len(t), U(r, -24, 0), 2000, 12000, 0.004)
    elif role == "tom":
        t = tt(U(r, 0.3, 0.9))
        y = fm(
            r,
            t,
            LU(r, 65, 270),
            U(r, 0.5, 2.5),
            LU(r, 0.05, 2.5),
            LU(r, 0.01, 0.1),
            LU(r, 0.08, 0.35),
            U(r, 0, 0.8),
            LU(r, 0.01, 0.08),
        )
        y = unit(y) + db(U(r, -34, -12)) * noise(r, len(t)) * env(t, LU(r, 0.005, 0.05)) / 3
    elif role == "percussion":
        k = r.random()
        if k < 0.35:
            t = tt(0.6)
            y = fm(r, t, LU(r, 300, 2500), U(r, 1.1, 5), LU(r, 0.3, 6), LU(r, 0.005, 0.1), LU(r, 0.008, 0.18))
        elif k < 0.55:
            t = tt(0.5)
            y = fm(
                r,
                t,
                LU(r, 150, 520),
                U(r, 0.5, 2.5),
                LU(r, 0.1, 3),
                LU(r, 0.004, 0.03),
                LU(r, 0.03, 0.16),
                U(r, 0, 0.4),
            )
        elif k < 0.8:
            t = tt(0.35)
            p = LU(r, 0.002, 0.05)
            h = int(r.integers(1, 4))
            z = np.repeat(noise(r, len(t))[::h], h)[: len(t)]
            f = LU(r, 2200, 8000)
            y = bp(z, f, min(19000, f * LU(r, 1.5, 4))) * np.where(t < p, t / p, np.exp(-(t - p) / LU(r, 0.006, 0.07)))
        elif k < 0.9:
            t = tt(0.5)
            y = np.zeros(len(t))
            step = int(LU(r, 0.006, 0.03) * SR)
            for i in range(0, int(U(r, 0.05, 0.4) * SR), step):
                y[i : i + 200] += U(r, 0.4, 1) * click(r, 200, LU(r, 700, 3000), 9000, 0.001)
        else:
            t = tt(1.2)
            y = sum(fm(r, t, LU(r, 1500, 9000), U(r, 1.1, 3), LU(r, 0.1, 1.5), 0.3, LU(r, 0.1, 0.7)) for _ in range(2))
    else:
        y = tonal(r, role, "dig")
    if r.random() < 0.4:
        b = 2 ** int(r.integers(5, 10))
        y = np.round(unit(y) * b) / b
    if r.random() < 0.4:
        h = int(r.integers(2, 4))
        y = np.repeat(y[::h], h)[: len(y)]
    return y


def tonal(r, role, family):
    dur = LU(r, 0.12, 1.4)
    t = tt(dur + 0.15)
    if role == "bass":
        notes = [LU(r, 38, 165)]
    elif role == "note":
        notes = [LU(r, 110, 1300)]
    else:
        base = LU(r, 130, 420)
        notes = [
            base * 2 ** (k / 12)
            for k in [(0, 4, 7), (0, 3, 7), (0, 4, 7, 11), (0, 3, 7, 10), (0, 5, 7), (0, 3, 7, 10, 14)][
                int(r.integers(6))
            ]
        ]
    y = np.zeros(len(t))
    kind = r.random()
    rise = LU(r, 0.0005, 0.015) if r.random() < 0.75 else LU(r, 0.02, 0.2)
    tau = LU(r, 0.1, 3)
    bright = LU(r, 300, 9000)
    soft = U(r, 0.6, 2)
    ft = LU(r, 0.03, 0.6)
    ratio, index, it = [1, 2, 3, 0.5, 1.41][int(r.integers(5))], LU(r, 0.2, 5), LU(r, 0.03, 0.6)
    det = U(r, 0, 0.006)
    for f in notes:
        if family == "ana":
            w = (
                signal.sawtooth(2 * np.pi * f * t, 0.5 if kind < 0.2 else 1)
                if kind < 0.6
                else signal.square(2 * np.pi * f * t)
            )
            if r.random() < 0.4:
                w = w + signal.sawtooth(2 * np.pi * f * (1 + det) * t)
            y += w * env(t, tau, rise)
        elif family == "mod":
            h = np.arange(1, 25)
            b = LU(r, 1e-6, 4e-4)
            ff = f * h * np.sqrt(1 + b * h * h)
            k = ff < 15000
            if kind < 0.2:
                ff = f * np.array([1, 3.98, 9.2, 10.3])
                k = ff < 15000
                h = np.arange(1, 5)  # bars
            a = h[k].astype(float) ** -soft * np.abs(np.sin(np.pi * h[k] * U(r, 0.08, 0.4)) + 0.05)
            y += modes(r, t, ff[k], a, tau * h[k].astype(float) ** -U(r, 0.2, 1)) * np.minimum(1, t / rise)
        else:
            y += fm(r, t, f, ratio, index, it, tau) * np.minimum(1, t / rise)
    if family == "ana":
        y = lp(y, bright) if r.random() < 0.5 else lp(y, bright * 0.4) + lp(y, min(18000, bright * 2)) * env(t, ft)
    y = unit(y) + stick(r, len(t), U(r, -40, -12), 400, 6000, 0.004)
    k = int(dur * SR)
    y[k:] *= np.linspace(1, 0, len(y) - k) ** 2
    return y


ROLES = [
    "kick",
    "snare",
    "rim",
    "clap",
    "closed hat",
    "open hat",
    "tom",
    "cymbal",
    "percussion",
    "bass",
    "note",
    "chord",
]


def keep(out, family, sounds, roles):
    """As fonts.py does"""
    audio = np.empty(len(sounds), dtype=object)
    for i, y in enumerate(sounds):
        audio[i] = y
    kit = np.array(["%s-%d" % (family, i) for i in range(len(sounds))])
    loud = np.full(len(sounds), 100)
    np.savez(out, audio=audio, role=np.array(roles), kind=np.zeros(len(sounds), int), kit=kit, vel=loud)
    print(family, len(sounds))


def main():
    from fonts import trim

    family, n, out = sys.argv[1], int(sys.argv[2]), sys.argv[3]
    make = {"ana": ana, "mod": mod, "dig": dig}[family]
    r = np.random.default_rng({"ana": 1, "mod": 2, "dig": 3}[family])
    A, R = [], []
    for role in ROLES:
        m = int(n * {"percussion": 3, "snare": 1.5, "bass": 0.5, "note": 0.6, "chord": 0.6, "cymbal": 1}.get(role, 1))
        for _ in range(m):
            y = trim(unit(np.nan_to_num(make(r, role))))
            if y is not None and len(y) > 200:
                A.append(y[: int(2 * SR)])
                R.append(role)
    keep(out, family, A, R)


if __name__ == "__main__":
    main()
