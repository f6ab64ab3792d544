/**
 * How often the first reading of a loop's tempo is right, on loops made of drums and notes that nothing was learned from:
 * trimmed, and with silence, noise, pickups and tails around them. Right: within 0.5%, as many bars of the same metre, and
 * where the loop begins in its file.
 */
import { analyseSource } from '#core/analysis/analyse-source.ts';
import type { TempoReading } from '#core/analysis/tempo.ts';
import type { TempoPlace } from '#core/analysis/tempo-places.ts';
import { drawnKits, madeKit } from './tempo-kits.ts';
import { makeLoop, ODD_STYLES, RATE, STYLES, type Kit, type MadeLoop } from './tempo-material.ts';

const LOOPS_A_STYLE = 6;
const SAME_TEMPO = 0.005;
const SAME_PLACE_SECONDS = 0.03;

export const isRightTempo = ({ bpm, beatsPerBar }: TempoReading | TempoPlace, loop: MadeLoop) =>
  Math.abs(bpm / loop.bpm - 1) <= SAME_TEMPO && beatsPerBar === loop.beatsPerBar;

export function isRight(reading: TempoReading | TempoPlace | undefined, loop: MadeLoop): boolean {
  if (!reading || !isRightTempo(reading, loop)) return false;
  return reading.bars === loop.bars && Math.abs(reading.startFrame - loop.startFrame) < SAME_PLACE_SECONDS * RATE;
}

export function madeLoops(kitOf: (seed: number) => Kit, seed: number, each = LOOPS_A_STYLE): MadeLoop[] {
  return STYLES.flatMap((style, place) =>
    Array.from({ length: each }, (_, n) => {
      const own = seed + place * 100 + n;
      return [false, true].map((untrimmed) => makeLoop(style, kitOf(own), own, untrimmed));
    }).flat(),
  ).filter(({ samples }) => samples.length > RATE && samples.some((one) => Math.abs(one) > 0.1));
}

/** Whole bars of five and seven, trimmed: how many first readings have tempo, bars and metre right. */
function oddLoops(kitOf: (seed: number) => Kit): string {
  const loops = ODD_STYLES.flatMap((style, place) =>
    Array.from({ length: 2 * LOOPS_A_STYLE }, (_, n) => {
      const seed = 40_000 + place * 100 + n;
      return makeLoop(style, kitOf(seed), seed, false);
    }),
  );
  const right = loops.filter((loop) => {
    const { tempoReadings } = analyseSource({ sampleRate: RATE, channels: [loop.samples] });
    // As many beats: two bars of 7/8 are one of 7/4, too.
    const [best] = tempoReadings;
    const isSameTempo = best && Math.abs(best.bpm / loop.bpm - 1) <= SAME_TEMPO;
    return isSameTempo && best.bars * best.beatsPerBar === loop.bars * loop.beatsPerBar;
  });
  return `${((100 * right.length) / loops.length).toFixed(0)}% of ${loops.length}`;
}

export async function benchTempo(folder: string): Promise<void> {
  const kits = { made: madeKit, drawn: await drawnKits(folder, () => true) };
  process.stdout.write(
    '\nTempo of loops made for the purpose: tempo of the first reading right; bars and place, too; among the first three\n',
  );
  for (const [words, kitOf] of Object.entries(kits)) {
    process.stdout.write(`  ${words}, in five and seven, trimmed: ${oddLoops(kitOf)}\n`);
    for (const isTrimmed of [true, false]) {
      const loops = madeLoops(kitOf, 1000).filter((loop) => loop.isTrimmed === isTrimmed);
      const wrong = new Map<string, number>();
      let [tempo, first, three] = [0, 0, 0];
      for (const loop of loops) {
        const { tempoReadings } = analyseSource({ sampleRate: RATE, channels: [loop.samples] });
        if (tempoReadings[0] && isRightTempo(tempoReadings[0], loop)) tempo++;
        if (isRight(tempoReadings[0], loop)) first++;
        else wrong.set(loop.style, (wrong.get(loop.style) ?? 0) + 1);
        if (tempoReadings.slice(0, 3).some((reading) => isRight(reading, loop))) three++;
      }
      const share = (count: number) => `${((100 * count) / loops.length).toFixed(0)}%`;
      const most = [...wrong].sort((a, b) => b[1] - a[1]).slice(0, 8);
      process.stdout.write(
        `  ${words} ${isTrimmed ? 'trimmed' : 'untrimmed'} (${loops.length}): ${share(tempo)}; ${share(first)}; ${share(three)}` +
          `   wrong: ${most.map(([style, count]) => `${style} ${count}`).join(', ')}\n`,
      );
    }
  }
}
