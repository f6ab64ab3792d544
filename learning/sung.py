"""Sung and spoken syllables of which every sound's place is known: Debian's festival sings what is drawn from fixed seeds.

python3 sung.py FOLDER COUNT SEED VOICE...
Writes COUNT sung and COUNT spoken phrases a voice as WAV of 44.1 kHz, and truth.json: of each syllable where it begins, where its
vowel does and where it ends, in seconds. Voices: kal pc lj (learned from), lp mv (kept for judging); packages festvox-kallpc16k,
festvox-itapc16k, festvox-suopuhe-lj, festvox-italp16k, festvox-suopuhe-mv.
"""

import json
import math
import random
import subprocess
import sys
from pathlib import Path

import numpy as np
from scipy.io import wavfile
from scipy.signal import resample_poly

RATE = 44100
PEAK = 0.7
SECONDS = 9.0
REST = 0.25
FROM_ITALY = dict(
    rest="#",
    consonants="p t k b d g f s S v m n l r ts tS dZ".split(),
    vowels="i1 e1 E1 a1 o1 O1 u1".split(),
    clusters=[("s", "t"), ("t", "r"), ("p", "r")],
)
FROM_FINLAND = dict(
    rest="#", consonants="p t k d f s h v m n l r j".split(), vowels="a e i o u y & 7".split(), clusters=[]
)
VOICES = {
    "kal": dict(
        name="voice_kal_diphone",
        hz=(90, 200),
        rest="pau",
        consonants="p t k b d g f s sh ch jh m n l r w y v z hh".split(),
        vowels="aa ae ah ao ay eh er ey ih iy ow uh uw".split(),
        clusters=[("s", "t"), ("t", "r"), ("p", "l"), ("b", "r"), ("k", "l")],
    ),
    "lp": dict(name="voice_lp_diphone", hz=(150, 380), **FROM_ITALY),
    "pc": dict(name="voice_pc_diphone", hz=(90, 220), **FROM_ITALY),
    "mv": dict(name="voice_hy_fi_mv_diphone", hz=(90, 220), **FROM_FINLAND),
    "lj": dict(name="voice_suo_fi_lj_diphone", hz=(160, 400), **FROM_FINLAND),
}
SCALE = [0, 2, 3, 5, 7, 8, 10, 12]


def phrase(voice, style, seed):
    """Segments as (sound, seconds, [(seconds into it, Hz)]), and the syllables."""
    draw = random.Random(f"{voice}{style}{seed}")
    of = VOICES[voice]
    root = of["hz"][0] * 2 ** (draw.random() * 0.6)
    spoken = style == "spoken"
    beat = 60 / (draw.uniform(70, 100) if spoken else draw.uniform(80, 140))
    segments = [(of["rest"], REST, [(0.1, root)])]
    syllables = []
    at = REST
    while at < SECONDS:
        seconds = beat * draw.choice([0.25, 0.25, 0.25, 0.5, 0.5] if spoken else [0.5, 0.5, 1, 1, 1, 2, 1.5])
        semitones = draw.uniform(-3, 5) if spoken else draw.choice(SCALE)
        hz = min(root * 2 ** (semitones / 12), of["hz"][1] * 1.3)
        chance = draw.random()
        consonants = []
        if chance < (0.92 if spoken else 0.8):
            consonants = [draw.choice(of["consonants"])]
        elif of["clusters"] and chance < 0.93:
            consonants = list(draw.choice(of["clusters"]))
        pause = seconds * draw.choice([0.3, 0.5, 1.0]) if draw.random() < 0.15 else 0
        start = at
        for consonant in consonants:
            length = draw.uniform(0.05, 0.095)
            segments.append((consonant, length, [(length / 2, hz)]))
            at += length
        length = max(0.07, seconds - (at - start))
        syllables.append(dict(startSeconds=start, vowelSeconds=at, endSeconds=at + length))
        wavers = 0 if spoken else draw.choice([0, 0, 0.3, 0.6])
        points = []
        count = max(2, int(length / 0.05))
        for n in range(count):
            into = n * length / count
            moved = -1.5 * n / count if spoken else wavers * math.sin(2 * math.pi * 5.5 * into) * (into > 0.2)
            points.append((into + 0.01, hz * 2 ** (moved / 12)))
        segments.append((draw.choice(of["vowels"]), length, points))
        at += length
        if pause > 0:
            segments.append((of["rest"], pause, [(pause / 2, hz)]))
            at += pause
    segments.append((of["rest"], REST, [(0.1, root)]))
    return segments, syllables


def sing(voice, segments, file):
    spoken = " ".join(
        f"({sound} {seconds:.4f} {' '.join(f'({into:.4f} {hz:.2f})' for into, hz in points)})"
        for sound, seconds, points in segments
    )
    forms = [
        f"({VOICES[voice]['name']})",
        f"(set! u (Utterance Segments ({spoken})))",
        "(utt.synth u)",
        f"(utt.save.wave u \"{file}\" 'riff)",
    ]
    subprocess.run(["festival", "--batch", *forms], check=True, capture_output=True)
    rate, samples = wavfile.read(file)
    samples = resample_poly(samples.astype(np.float64), RATE, rate)
    wavfile.write(file, RATE, np.int16(samples / np.abs(samples).max() * PEAK * 32767))


folder, count, seed, *voices = sys.argv[1:]
Path(folder).mkdir(parents=True, exist_ok=True)
truth = {}
for voice in voices:
    for style in ("sung", "spoken"):
        for n in range(int(count)):
            name = f"{voice}-{style}-{int(seed) + n}.wav"
            segments, truth[name] = phrase(voice, style, int(seed) + n)
            sing(voice, segments, Path(folder) / name)
(Path(folder) / "truth.json").write_text(json.dumps(truth))
