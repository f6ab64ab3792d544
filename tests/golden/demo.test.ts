/** The demo's sounds and projects are what they say they are. */
import { beforeAll, describe, expect, it } from 'vitest';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import { DEFAULT_BREAK_WISH, findBreaks } from '#core/analysis/breaks/find-breaks.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { peakLevel } from '#core/dsp/audio.ts';
import { groove, type Groove } from '#core/document/schema.ts';
import { KIT_KIND } from '#core/shelf/kit.ts';
import { openRecord } from '#core/shelf/record-kind.ts';
import { openDocument } from '#core/document/validate.ts';
import { loadHits } from '../../demo/hits.ts';
import { DEMO_LOOPS } from '../../demo/loops.ts';
import { setValue } from '#core/project/commands/values.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { macrosOf } from '#core/queries/macros.ts';
import { runToEnd } from '#core/units/steps.ts';
import { countingEnv, unwrap } from '../support/documents.ts';
import { tempoOf } from '../support/edits.ts';
import { firstDifference } from '../support/signals.ts';
import { demoGrooves, demoKits, demoProjects } from '../../demo/projects.ts';

const sounds = new Map<string, AudioData>();
beforeAll(async () => {
  const hits = await loadHits();
  for (const { name, make } of DEMO_LOOPS) sounds.set(name, make(hits));
});

const RATE = 44_100;
function played(document: ProjectDocument, assets: ReadonlyMap<string, AudioData>, frames: number) {
  const renderer = new Renderer(RATE);
  renderer.setPlan(compilePlan(document, RATE, { assets, renderings: renderAll(document, assets) }));
  renderer.play();
  const out: [Float32Array, Float32Array] = [new Float32Array(frames), new Float32Array(frames)];
  renderer.process(...out, frames);
  return out;
}

describe('the demo', () => {
  it.each([
    ['Deckhand break', 101, 2],
    ['Engine-room break', 172, 2],
    ['Gangway brushes', 88, 2],
    ['Saltlamp chords', 101, 4],
    ['Winch bass', 101, 2],
    ['Buoy bells', 101, 2],
    ['Galley clatter', 96, 2],
  ])('%s is read as %i bpm and %i bars', (name, bpm, bars) => {
    const audio = sounds.get(name)!;
    const [best] = analyseSource(audio).tempoReadings;
    expect({ bars: best!.bars, bpm: Math.round(best!.bpm) }).toEqual({ bars, bpm });
    expect(peakLevel(audio)).toBeCloseTo(0.89, 2);
  });

  it('is the same at every build', async () => {
    const hits = await loadHits();
    for (const { name, make } of DEMO_LOOPS) {
      expect(firstDifference(make(hits).channels[0]!, sounds.get(name)!.channels[0]!)).toBe(-1);
    }
  });

  it('has a rehearsal in which the drums play alone four times, in the tempi of what they play', () => {
    const { channels, sampleRate } = sounds.get('Boat-deck rehearsal')!;
    const found = runToEnd(findBreaks(channels[0]!, sampleRate, DEFAULT_BREAK_WISH));
    expect(found.map(({ bpm }) => Math.round(bpm)).sort((a, b) => a - b)).toEqual([88, 96, 101, 172]);
  });

  it('has one finished project, dealt and valid, and an empty one', () => {
    const sources = [...sounds].map(([name, audio], index) => ({ id: `s${index}`, name, audio }));
    const [empty, finished, keys] = demoProjects(sources).map((document) =>
      openDocument(JSON.parse(JSON.stringify(document))),
    );
    expect(empty!.partOrder).toEqual([]);
    const [kit, bell] = keys!.partOrder.map((id) => keys!.parts[id]!);
    expect([kit!.name, bell!.name]).toEqual(['Bollard kit', 'Buoy bell']);
    expect(kit!.cutOrder).toHaveLength(4);
    const [own] = demoKits([keys!]);
    expect(openRecord(KIT_KIND, JSON.parse(JSON.stringify(own))).zones).toHaveLength(8);
    expect(finished!.partOrder).toHaveLength(4);
    expect(tempoOf(finished!)).toBeCloseTo(101, 2);
    const dealt = Object.values(finished!.patterns).find((pattern) => pattern.name === 'harbour lights')!;
    expect(dealt.handOrder).toHaveLength(6);
    expect(Object.values(dealt.events).some((event) => event.values.hold)).toBe(true);
    const byName = new Map(Object.values(finished!.patterns).map((pattern) => [pattern.name, pattern]));
    const shoal = byName.get('shoal water')!;
    const rules = shoal.handOrder.map((id) => shoal.hands[id]!.rules?.unit);
    expect(rules).toEqual([undefined, 'beat', 'beat', 'beat', 'beat']);
    expect(shoal.handOrder.map((id) => shoal.hands[id]!.name).filter(Boolean)).toEqual(['low tide']);
    const watch = Object.values(byName.get('night watch, played in')!.events);
    expect(new Set(watch.map(({ values }) => values.tuneCents ?? 0))).toEqual(new Set([0, 700, 500, 300, -200]));
    expect(Object.values(byName.get('ladles.mid')!.events)).toHaveLength(17);
  });

  it('has a held note that runs a break while a dial shortens it, and a kit out of a drum box', () => {
    const sources = [...sounds].map(([name, audio], index) => ({ id: `s${index}`, name, audio }));
    const [, , , long] = demoProjects(sources).map((document) => openDocument(JSON.parse(JSON.stringify(document))));
    const assets = new Map(sources.map(({ id, audio }) => [id, audio]));
    const [runs, kit] = long!.partOrder.map((id) => long!.parts[id]!);
    expect(Object.keys(long!.patterns[runs!.activePatternId]!.events)).toHaveLength(3);
    const frames = Math.round((8 * 60 * RATE) / tempoOf(long!));
    const at = (position: number) => {
      const macro = macrosOf(long!).find(({ name }) => name === 'Shorter')!;
      const owners = [{ kind: 'modulator' as const, id: macro.id }];
      const moved = unwrap(setValue(long!, { owners, param: 'position', change: { to: position } }, countingEnv()));
      const channels = { ...moved.channels };
      const { channelId } = kit!;
      channels[channelId] = { ...channels[channelId]!, values: { muted: true } };
      return played({ ...moved, channels }, assets, frames)[0];
    };
    const [whole, short] = [at(0), at(1)];
    const energy = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
    expect(energy(short)).toBeLessThan(0.6 * energy(whole));
    expect(energy(short)).toBeGreaterThan(0.02 * energy(whole));
    // It runs on to the end of the note.
    expect(energy(whole.subarray(frames - RATE / 4))).toBeGreaterThan(0);
    const channels = played(long!, assets, frames);
    expect(peakLevel({ sampleRate: RATE, channels })).toBeLessThan(1);
    expect(kit!.zoneOrder).toHaveLength(9);
    expect(demoKits([long!])).toHaveLength(1);
    expect(Object.values(long!.mappings).map(({ source }) => source)).toEqual([
      { kind: 'control', number: 21 },
      { kind: 'control', number: 22 },
    ]);
  });

  it('has a straight groove and a shuffled one on its shelf', () => {
    const sources = [...sounds].map(([name, audio], index) => ({ id: `s${index}`, name, audio }));
    const [lean, shuffle] = demoGrooves(sources);
    const most = (one: Groove) => Math.max(...one.steps.map(({ shift }) => Math.abs(shift)));
    expect([lean!.name, shuffle!.name]).toEqual(['deckhand lean', 'gangway shuffle']);
    expect(most(lean!)).toBeLessThan(0.1);
    expect(most(shuffle!)).toBeGreaterThan(0.2);
    for (const one of [lean!, shuffle!]) expect(groove.parse(one)).toEqual(one);
  });
});
