"""Loops with the place of every hit, for learn-attacks.ts. usage: drum_loops.py COUNT OUTFOLDER SEED FAMILY...

Random loops of make_sets.py (kits, patterns, swing, feel, rooms, compression, drive, noise) as WAV, and their truth.json in the
format "loops-1". FAMILY = a name in data/ (see make.sh), or several with + between. Deterministic.
"""
import json
import os
import sys
import wave

import numpy as np

import make_sets
from made_drums import SR

# Hits are compared with what else sounds over 40 ms, of these bands (bins of 4096).
SPAN = int(0.04 * SR)
BEFORE = int(0.02 * SR)
BANDS = [2, 14, 37, 93, 232, 557, 1200]
# A hit that stands out less than this, in the band where it does most, may be marked or not.
DROWNED_DB = 6


def powers(x):
    fall = np.hanning(2 * SPAN)[SPAN:]
    spectrum = np.abs(np.fft.rfft(np.pad(x, (0, SPAN - len(x))) * fall, 4096)) ** 2
    return np.add.reduceat(spectrum, BANDS) + 1e-9


def stands_out_db(group, mix):
    """How far hits that begin together stand out over all that sounds before and beside them, in their best band."""
    start = group[0][0]
    own = np.zeros(SPAN)
    for place, sound, *_ in group:
        sound = sound[: SPAN - (place - start)]
        own[place - start : place - start + len(sound)] += sound
    here = mix[start : start + SPAN]
    before = mix[max(0, start - BEFORE) : start][::-1]
    ours, rest = powers(own), powers(here - own[: len(here)])
    over = 10 * np.log10(ours / np.maximum(rest, 2 * powers(before)))
    return float(over[ours > ours.sum() * 1e-4].max())


def main():
    count, out, seed, families = int(sys.argv[1]), sys.argv[2], int(sys.argv[3]), sys.argv[4:]
    os.makedirs(out, exist_ok=True)
    files = {}
    for family in families:
        rng = np.random.default_rng(sum(map(ord, family)) + seed)
        pool = make_sets.Pool(family.split("+"))
        made = 0
        while made < count:
            if not make_sets.loop(pool, rng, None):
                continue
            x, mix, groups, frames = make_sets.loop.last
            name = "%s-%03d.wav" % (family.replace("+", "_"), made)
            with wave.open(os.path.join(out, name), "wb") as w:
                w.setnchannels(1)
                w.setsampwidth(2)
                w.setframerate(SR)
                w.writeframes((np.clip(x, -1, 1) * 32000).astype("<i2").tobytes())
            starts = [(g[0][0], stands_out_db(g, mix)) for g in groups if g[0][0] < frames - 200]
            onsets = [{"frame": int(frame), "masked": over < DROWNED_DB} for frame, over in starts]
            files[name] = {"sampleRate": SR, "onsets": onsets}
            made += 1
    with open(os.path.join(out, "truth.json"), "w") as f:
        json.dump({"format": "loops-1", "files": files}, f)
    print(len(files), "loops,", sum(len(f["onsets"]) for f in files.values()), "hits")


if __name__ == "__main__":
    main()
