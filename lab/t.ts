import { burstLoop } from '../tests/support/signals.ts';
import { analyseOnsets } from '../src/core/analysis/detect-onsets.ts';
import { mixToMono } from '../src/core/dsp/audio.ts';
for (const st of [[0, 10_000, 11_500, 30_000],[0, 11_025, 22_050, 40_000]]) console.log(analyseOnsets(mixToMono(burstLoop(60_000,st)),44100).onsets);
