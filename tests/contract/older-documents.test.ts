/** Documents that older versions wrote are opened, and go on sounding as they did. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import type { AudioData } from '#core/dsp/audio.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { readWav } from '#core/formats/wav-read.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { cutIdOfHome } from '#core/document/home-id.ts';
import { SCHEMA_VERSION } from '#core/document/limits.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { openDocument } from '#core/document/validate.ts';
import { eventsOf, eventsOfHand } from '#core/queries/patterns.ts';
import { channelValues, cutValues, eventValues, partValues, songValues, zoneValues } from '#core/queries/values.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { loadHits } from '../../demo/hits.ts';
import { DEMO_LOOPS } from '../../demo/loops.ts';
import { rounded16 } from '../../demo/rounded.ts';

const RATE = 44100;
const HUNDREDTH = RATE / 100;

interface EventOf2 {
  id: string;
  sliceId: string;
  positionTicks: number;
  lengthTicks: number;
  velocity: number;
  reverse: boolean;
  repeats: number;
  held: boolean;
}
interface DocumentOf2 {
  tempoBpm: number;
  beatsPerBar: number;
  swingPercent: number;
  click: { enabled: boolean; gainDb: number };
  partOrder: string[];
  parts: Record<string, Record<string, never>>;
  cuts: Record<string, { slices: Record<string, { startFrame: number; sound: Record<string, never> }> }>;
  patterns: Record<
    string,
    { events: Record<string, EventOf2>; hands: Record<string, { events: Record<string, EventOf2> }> }
  >;
}

function fixture<T>(name: string): T {
  return JSON.parse(readFileSync(new URL(`../fixtures/documents/${name}`, import.meta.url), 'utf8')) as T;
}

let old: DocumentOf2;
let now: ProjectDocument;
beforeAll(() => {
  old = fixture('version-2.json');
  now = openDocument(fixture('version-2.json'));
});

/** An event of either version in the words of version 2. */
function inOldWords(document: ProjectDocument, events: Record<string, { zoneId: string }>) {
  return Object.fromEntries(
    Object.values(events as ProjectDocument['patterns'][string]['events']).map((event) => {
      const { velocity, reverse, repeats, hold } = eventValues(event);
      const { id, positionTicks, lengthTicks } = event;
      const { sliceId } = document.zones[event.zoneId]!.plays;
      return [id, { id, sliceId, positionTicks, lengthTicks, velocity, reverse, repeats, held: hold }];
    }),
  );
}

describe('a document of version 2', () => {
  it('is of the newest version when it is opened, and opening it again changes nothing', () => {
    expect(now.schemaVersion).toBe(SCHEMA_VERSION);
    expect(openDocument(JSON.parse(JSON.stringify(now)))).toEqual(now);
  });

  it('keeps its song, parts, cuts and levels', () => {
    const song = songValues(now);
    expect([song.tempoBpm, song.beatsPerBar, song.swingPercent]).toEqual([
      old.tempoBpm,
      old.beatsPerBar,
      old.swingPercent,
    ]);
    expect([song.clickOn, song.clickGainDb]).toEqual([old.click.enabled, old.click.gainDb]);
    expect(now.partOrder).toEqual(old.partOrder);
    for (const id of old.partOrder) {
      const was = old.parts[id] as unknown as Record<string, unknown>;
      const part = now.parts[id]!;
      const cut = now.cuts[part.cutOrder[0]!]!;
      const is: Record<string, unknown> = {
        ...partValues(part),
        ...channelValues(now.channels[part.channelId]!),
        ...cutValues(cut),
        ...{ name: part.name, sourceId: cut.sourceId, loop: cut.loop, groove: part.groove },
      };
      const renamed: Record<string, string> = { mute: 'muted', solo: 'soloed' };
      const compared = Object.keys(was).filter((key) => (renamed[key] ?? key) in is);
      expect(compared.length).toBeGreaterThan(16);
      for (const key of compared) expect([key, is[renamed[key] ?? key]]).toEqual([key, was[key]]);
    }
  });

  it('plays each slice by a zone that sounds as the slice did, on the same key', () => {
    for (const id of old.partOrder) {
      const zones = zonesOfPart(now, now.parts[id]!);
      const slices = Object.entries(old.cuts[id]!.slices).sort(([, a], [, b]) => a.startFrame - b.startFrame);
      expect(zones).toHaveLength(slices.length);
      for (const [place, [sliceId, slice]] of slices.entries()) {
        const { zone, keys } = zones[place]!;
        expect(zone.plays.sliceId).toBe(sliceId);
        expect(keys?.low).toBe(partValues(now.parts[id]!).startKey + place);
        const { play, ...sound } = slice.sound as unknown as Record<string, unknown>;
        expect(zoneValues(zone)).toMatchObject({ ...sound, answer: play === 'held' ? 'gate' : 'one-shot' });
      }
    }
  });

  it('keeps every event and every hand', () => {
    for (const [id, was] of Object.entries(old.patterns)) {
      const pattern = now.patterns[id]!;
      expect(inOldWords(now, pattern.events)).toEqual(was.events);
      for (const [handId, hand] of Object.entries(was.hands)) {
        expect(inOldWords(now, eventsOfHand(pattern, handId))).toEqual(hand.events);
      }
    }
    for (const part of Object.values(now.parts)) {
      expect(eventsOf(now, part.activePatternId).length).toBeGreaterThan(4);
      const home = now.cuts[cutIdOfHome(part.activePatternId) ?? ''];
      expect(home !== undefined || part.patternOrder.includes(part.activePatternId)).toBe(true);
    }
  });

  it('is heard as it was, hundredth of a second by hundredth', async () => {
    // Version 2 took the very first slice for joined to the one before it, and left out its fade.
    expect(Math.max(...(await differences(now, 'version-2.levels.json', 1)))).toBeLessThan(1e-4);
  });
});

describe('a document of version 3', () => {
  it('is opened, with every zone on all strengths, and one key of a range as high as another', () => {
    const document = openDocument(fixture('version-3.json'));
    expect(document.schemaVersion).toBe(SCHEMA_VERSION);
    expect(openDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
    const zones = Object.values(document.zones);
    expect(zones.every(({ velocities, loop }) => velocities.low === 1 && velocities.high === 127 && !loop)).toBe(true);
    const ranges = zones.filter(({ keys }) => keys && keys.low < keys.high);
    expect(ranges.map((zone) => zoneValues(zone).followsKey)).toEqual([false]);
    expect(Object.values(document.modulators)).toHaveLength(3);
  });

  it('is heard as it was, hundredth of a second by hundredth, with what moves in it', async () => {
    const document = openDocument(fixture('version-3.json'));
    const off = (await differences(document, 'version-3.levels.json')).sort((a, b) => a - b);
    // Since version 4 the treble of what plays faster than its source folds back less: one slice of a break does.
    expect(off.at(-1)).toBeLessThan(0.006);
    expect(off[Math.floor(0.8 * off.length)]).toBeLessThan(1e-4);
  });
});

/** How far a document is from how loud an older version played it, in each hundredth of a second. */
async function differences(document: ProjectDocument, levelsFile: string, from = 0): Promise<number[]> {
  const hits = await loadHits();
  const assets = new Map<string, AudioData>();
  for (const { make } of DEMO_LOOPS) {
    const wav = writeWav(rounded16(make(hits)), { encoding: 'pcm16' });
    assets.set(createHash('sha256').update(wav).digest('hex'), readWav(wav).audio);
  }
  const levels = fixture<{ left: number[]; right: number[] }>(levelsFile);
  expect(Math.max(...levels.left)).toBeGreaterThan(0.1);
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(document, RATE, { assets, renderings: renderAll(document, assets) }));
  renderer.play();
  const left = new Float32Array(HUNDREDTH);
  const right = new Float32Array(HUNDREDTH);
  const level = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / HUNDREDTH);
  const off: number[] = [];
  for (const [place, expected] of levels.left.entries()) {
    renderer.process(left, right, HUNDREDTH);
    if (place < from) continue;
    off.push(Math.max(Math.abs(level(left) - expected), Math.abs(level(right) - levels.right[place]!)));
  }
  return off;
}
