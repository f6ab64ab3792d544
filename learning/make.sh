#!/bin/sh
# Makes the weights of src/core/analysis/ears anew: some 40 minutes on two processors. Needs Debian's python3-numpy, python3-scipy,
# python3-torch, libfluidsynth3 and fluid-soundfont-gm (Fluid R3, MIT licence). Everything is drawn from fixed seeds.
# How loud each role is over time and bands (src/core/unmix) is made by itself, of a folder of single hits with their roles:
# npx tsx learning/drum-shapes.ts FOLDER
# So are the trees of attacks, of loops that drum_loops.py makes when data/ is there: python3 drum_loops.py 480 FONT 99 fluid;
# python3 drum_loops.py 60 MADE 99 ana mod dig res rec fluid+ana fluid+rec; npx tsx learn-attacks.ts FOLDER FONT MADE
# So are the trees of hits (learn-onsets.ts) and the weights of tempi (learn-tempo.ts), some four minutes each, and the trees of
# voices: python3 sung.py LEARN 26 500 kal pc lj; python3 sung.py JUDGE 10 900 lp mv; npx tsx learning/learn-voices.ts LEARN JUDGE
set -e
cd "$(dirname "$0")"
python=${PYTHON:-/usr/bin/python3}
mkdir -p data sets
export OMP_NUM_THREADS=1
$python fonts.py fluid /usr/share/sounds/sf2/FluidR3_GM.sf2 data/fluid.npz
for family in ana mod dig; do $python made_drums.py $family 160 data/$family.npz; done
$python made_resonators.py 160 data/res.npz
$python made_recorded.py 160 data/rec.npz
for family in fluid ana mod dig res rec; do
  $python make_sets.py $family 9000 320 sets/$family.npz
  $python make_sets.py $family 9000 320 sets/$family.b.npz 77
  $python make_sets.py $family 6000 700 sets/$family.c.npz 171
done
$python learn.py ../src/core/analysis/ears/ear-weights.ts
