"""Renders single drum hits, notes and chords from sound fonts (libfluidsynth through ctypes): no reverb, no chorus, trimmed
to the attack. usage: fonts.py FAMILY FONT.sf2 OUT.npz        FAMILY = fluid

Output: object arrays `audio` (mono float32, 44.1 kHz), `role`, `kind` (GM key or program), `kit`, `vel`.
"""
import ctypes as C, sys
import numpy as np
from ctypes.util import find_library

SR = 44100
DRUM = {
    35: "kick",
    36: "kick",
    37: "rim",
    38: "snare",
    39: "clap",
    40: "snare",
    41: "tom",
    42: "closed hat",
    43: "tom",
    44: "closed hat",
    45: "tom",
    46: "open hat",
    47: "tom",
    48: "tom",
    50: "tom",
    49: "cymbal",
    51: "cymbal",
    52: "cymbal",
    53: "cymbal",
    55: "cymbal",
    57: "cymbal",
    59: "cymbal",
}
for k in (
    26,
    27,
    28,
    29,
    30,
    31,
    32,
    33,
    54,
    56,
    58,
    60,
    61,
    62,
    63,
    64,
    65,
    66,
    67,
    68,
    69,
    70,
    73,
    74,
    75,
    76,
    77,
    78,
    79,
    80,
    81,
    82,
    83,
    85,
    86,
    87,
):
    DRUM[k] = "percussion"
# Its kits that differ.
KITS = {"fluid": [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 12, 16, 17, 18, 24, 25, 32, 33, 34, 36, 40, 41, 42]}
BASS = list(range(32, 40))
NOTE = [0, 2, 4, 5, 7, 8, 9, 11, 12, 13, 24, 25, 26, 27, 28, 45, 46, 80, 81, 87, 104, 107, 108, 114]
CHORD = [0, 2, 4, 5, 16, 18, 24, 25, 26, 27, 48, 50, 61, 62, 81, 88, 89, 90, 91, 94]
CHORDS = [(0, 4, 7), (0, 3, 7), (0, 4, 7, 11), (0, 3, 7, 10), (0, 4, 7, 10), (0, 3, 7, 10, 14), (0, 5, 7), (0, 7, 12)]


class Font:
    def __init__(self, path, gain=0.5):
        l = self.l = C.CDLL(find_library("fluidsynth") or "libfluidsynth.so.3")
        P, I, D, S = C.c_void_p, C.c_int, C.c_double, C.c_char_p
        l.new_fluid_settings.restype = l.new_fluid_synth.restype = P
        for n, a in dict(
            new_fluid_synth=[P],
            fluid_settings_setnum=[P, S, D],
            fluid_settings_setint=[P, S, I],
            fluid_synth_sfload=[P, S, I],
            fluid_synth_program_select=[P, I, C.c_uint, C.c_uint, C.c_uint],
            fluid_synth_noteon=[P, I, I, I],
            fluid_synth_noteoff=[P, I, I],
            fluid_synth_system_reset=[P],
            fluid_synth_all_sounds_off=[P, I],
            fluid_synth_get_active_voice_count=[P],
            fluid_synth_write_float=[P, I, P, I, I, P, I, I],
        ).items():
            getattr(l, n).argtypes = a
        s = l.new_fluid_settings()
        l.fluid_settings_setnum(s, b"synth.sample-rate", float(SR))
        l.fluid_settings_setnum(s, b"synth.gain", gain)
        for k in (b"synth.reverb.active", b"synth.chorus.active", b"synth.dynamic-sample-loading"):
            l.fluid_settings_setint(s, k, 0)
        self.s = l.new_fluid_synth(s)
        self.id = l.fluid_synth_sfload(self.s, path.encode(), 0)
        assert self.id >= 0, path

    def run(self, n):
        b = np.zeros(n * 2, np.float32)
        q = b.ctypes.data
        self.l.fluid_synth_write_float(self.s, n, q, 0, 2, q, 1, 2)
        return b.reshape(-1, 2).mean(1)

    def hit(self, bank, prog, keys, vel, hold=1.0, most=2.5):
        l, ch = self.l, 9 if bank == 128 else 0
        l.fluid_synth_all_sounds_off(self.s, -1)
        l.fluid_synth_system_reset(self.s)
        self.run(2048)
        if l.fluid_synth_program_select(self.s, ch, self.id, bank, prog) != 0:
            return None
        for k in keys:
            l.fluid_synth_noteon(self.s, ch, k, vel)
        parts = [self.run(int(hold * SR))]
        for k in keys:
            l.fluid_synth_noteoff(self.s, ch, k)
        left = most - hold
        while left > 0 and l.fluid_synth_get_active_voice_count(self.s) > 0:
            parts.append(self.run(int(0.25 * SR)))
            left -= 0.25
        return trim(np.concatenate(parts))


def trim(x):
    """from the first sample above -40 dB of the hit's own peak (backed up by up to 0.5 ms) to where it is silent"""
    a = np.abs(x)
    pk = a.max()
    if pk < 1e-4:
        return None
    f = int(np.argmax(a > pk * 0.01))
    pk = a[f : f + int(0.4 * SR)].max()
    i = int(np.argmax(a > pk * 0.01))
    j = i
    while j > max(0, i - 22) and a[j - 1] > pk * 0.001:
        j -= 1
    y = x[max(0, j - 1) :]
    nz = np.nonzero(np.abs(y) > pk * 3e-4)[0]
    y = y[: nz[-1] + 1].copy()
    n = min(len(y), int(0.005 * SR))
    y[len(y) - n :] *= np.linspace(1, 0, n)
    return y.astype(np.float32)


def fingerprint(y):
    m = np.pad(y[:8192], (0, max(0, 8192 - len(y))))
    X = np.fft.rfft(m, 16384)
    return X / (np.sqrt((np.abs(X) ** 2).sum()) + 1e-12)


def alike(f, g):
    return float(np.abs(np.fft.irfft(f * np.conj(g), 16384)).max()) * 16384 / 2


def main():
    family, path, out = sys.argv[1:4]
    F = Font(path)
    rng = np.random.default_rng(5)
    kits = KITS[family]
    items, seen = [], {}

    def add(y, role, kind, kit, vel):
        if y is None or len(y) < 200:
            return
        f = fingerprint(y)
        s = seen.setdefault((role, kind), [])
        if any(alike(f, g) > 0.995 for g in s):
            return
        s.append(f)
        items.append((y, role, kind, kit, vel))

    for p in kits:
        for key, role in DRUM.items():
            if p == 127 and key > 75:
                continue
            for v in (120, 84, 44):
                y = F.hit(128, p, (key,), v)
                if y is None:
                    break
                add(y, role, key, "%s-%d" % (family, p), v)
    drums = len(items)
    for role, progs, n in (("bass", BASS, 14), ("note", NOTE, 7), ("chord", CHORD, 8)):
        for p in progs:
            for _ in range(n):
                lo, hi = (28, 55) if role == "bass" else (48, 88) if role == "note" else (50, 68)
                root = int(rng.integers(lo, hi))
                keys = (root,) if role != "chord" else tuple(root + k for k in CHORDS[int(rng.integers(len(CHORDS)))])
                dur = float(rng.choice([0.15, 0.3, 0.6, 1.2]))
                y = F.hit(0, p, keys, int(rng.choice([60, 90, 115])), hold=dur, most=dur + 0.6)
                if y is not None and len(y) > 2000:
                    items.append((y[: 2 * SR], role, p, "%s-m%d" % (family, p), 90))
    o = lambda i: np.array([t[i] for t in items], dtype=object if i == 0 else None)
    a = np.empty(len(items), dtype=object)
    for i, t in enumerate(items):
        a[i] = t[0]
    np.savez(out, audio=a, role=o(1), kind=o(2), kit=o(3), vel=o(4))
    print(family, "drums", drums, "all", len(items), {r: int((o(1) == r).sum()) for r in set(o(1))})


if __name__ == "__main__":
    main()
