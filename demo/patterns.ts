/** Patterns of the crossing: dealt by two sets of rules, played in, and out of a MIDI file. */
import { readMidiFile, writeMidiFile } from '#core/formats/midi-file.ts';
import { deal } from '#core/project/commands/deal.ts';
import { nameHand, starHand } from '#core/project/commands/hands.ts';
import { spreadZone } from '#core/project/commands/lay.ts';
import {
  choosePattern,
  colourPattern,
  copyPattern,
  layPattern,
  renamePattern,
} from '#core/project/commands/patterns.ts';
import { laySwitch } from '#core/project/commands/switches.ts';
import type { SparseDealValues } from '#core/params/deal-rows.ts';
import { homeId } from '#core/document/home-id.ts';
import { notesToStrips } from '#core/queries/pattern-notes.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { BAR_TICKS, playIn } from './play-in.ts';
import type { ProjectMaker } from './project-maker.ts';

/** Keys below the sounds. */
const SHOAL_KEY = 45;
const REST_KEY = 46;

/** Dealt by whole beats, a little busier, turned round and repeated by chance; the first beats stay. */
const SHOAL_RULES: SparseDealValues = {
  unit: 'beat',
  busyPercent: 15,
  keepsFirstBeats: true,
  repeatsPercent: 15,
  backwardsPercent: 10,
};

/** A second dealt pattern of the break, on a key of its own as long as that is pressed. */
export function shoalWater(maker: ProjectMaker, partId: string): void {
  maker.run(copyPattern, { partId, patternId: homeId(maker.cutOf(partId).id) });
  const patternId = maker.document.parts[partId]!.activePatternId;
  maker.run(renamePattern, { patternId, name: 'shoal water' });
  maker.run(colourPattern, { patternId, colour: 4 });
  for (let hand = 0; hand < 4; hand++) maker.run(deal, { partId, reachPercent: 70, rules: SHOAL_RULES });
  const { handOrder } = maker.document.patterns[patternId]!;
  maker.run(nameHand, { patternId, handId: handOrder[2]!, name: 'low tide' });
  maker.run(starHand, { patternId, handId: handOrder[2]!, starred: true });
  maker.run(laySwitch, { partId, key: SHOAL_KEY, does: 'pattern', patternId, whileHeld: true });
  maker.run(laySwitch, { partId, key: REST_KEY, does: 'rest', patternId: null, whileHeld: false });
}

/** Above the keys of the slices. */
const BASS_ROOT_KEY = 84;

/** Beat, semitones above the sound's own note, beats held, strength: a line as a hand plays it, not quite on the beat. */
const WATCH_LINE: readonly [beat: number, semitones: number, beats: number, velocity: number][] = [
  [0.01, 0, 0.7, 1],
  [0.98, 0, 0.3, 0.7],
  [1.52, 7, 0.4, 0.8],
  [2.02, 5, 0.8, 0.9],
  [3.49, 3, 0.4, 0.75],
  [4.02, 0, 0.7, 1],
  [5.01, -2, 0.4, 0.7],
  [5.53, 0, 0.3, 0.75],
  [6.0, 3, 0.8, 0.9],
  [7.02, 5, 0.3, 0.7],
  [7.51, 7, 0.4, 0.8],
];

/** Played in on one note of the bass, spread over the keys; the home pattern stays on. */
export function nightWatch(maker: ProjectMaker, partId: string): void {
  const first = zonesOfPart(maker.document, maker.document.parts[partId]!)[0]!;
  const root = BASS_ROOT_KEY;
  maker.run(spreadZone, { zoneId: first.zone.id, keys: { low: root - 12, high: root + 12, root } });
  const presses = WATCH_LINE.map(([beat, semitones, beats, velocity]) => {
    const onTicks = beat * TICKS_PER_BEAT;
    const offTicks = onTicks + beats * TICKS_PER_BEAT;
    return { zoneId: first.zone.id, key: root + semitones, onTicks, offTicks, velocity, tuneCents: semitones * 100 };
  });
  playIn(maker, partId, { name: 'night watch, played in', colour: 6, pull: 0.5 }, presses);
  maker.run(choosePattern, { partId, patternId: homeId(maker.cutOf(partId).id) });
}

/** Sixteenths of two bars, by the place of the sound among those of the part. */
const LADLES: readonly (readonly number[])[] = [
  [0, 6, 8, 14, 16, 22, 24, 30],
  [3, 11, 19, 27],
  [4, 12, 20, 28, 31],
];

/** Out of a MIDI file made for it; the home pattern stays on. */
export function ladles(maker: ProjectMaker, partId: string): void {
  const part = maker.document.parts[partId]!;
  const placed = zonesOfPart(maker.document, part);
  const step = TICKS_PER_BEAT / 4;
  const notes = LADLES.flatMap((steps, place) =>
    steps.map((at) => ({
      key: placed[place % placed.length]!.keys!.root,
      velocity: at % 8 === 0 ? 1 : 0.7,
      positionTicks: at * step,
      lengthTicks: step,
    })),
  ).sort((a, b) => a.positionTicks - b.positionTicks);
  const song = { tempoBpm: 101, beatsPerBar: 4, tracks: [{ name: 'ladles', notes }], markers: [] };
  const [track] = readMidiFile(writeMidiFile(song, { format: 0, ticksPerBeat: 480 })).tracks;
  const { strips } = notesToStrips(maker.document, part, track!.notes, 'key');
  maker.run(layPattern, { partId, name: 'ladles.mid', lengthTicks: 2 * BAR_TICKS, strips });
  maker.run(choosePattern, { partId, patternId: homeId(part.cutOrder[0]!) });
}
