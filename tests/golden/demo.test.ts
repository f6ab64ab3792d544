/** The demo's sounds and projects are what they say they are. */
import { beforeAll, describe, expect, it } from 'vitest';
import { analyseSource } from '#core/analysis/analyse-source.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { peakLevel } from '#core/dsp/audio.ts';
import { groove, type Groove } from '#core/document/schema.ts';
import { KIT_KIND } from '#core/shelf/kit.ts';
import { openRecord } from '#core/shelf/record-kind.ts';
import { openDocument } from '#core/document/validate.ts';
import { loadHits } from '../../demo/hits.ts';
import { DEMO_LOOPS } from '../../demo/loops.ts';
import { tempoOf } from '../support/edits.ts';
import { demoGrooves, demoKits, demoProjects } from '../../demo/projects.ts';

const sounds = new Map<string, AudioData>();
beforeAll(async () => {
  const hits = await loadHits();
  for (const { name, make } of DEMO_LOOPS) sounds.set(name, make(hits));
});

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
    const again = DEMO_LOOPS[0]!.make(await loadHits());
    expect(again.channels[0]!.every((sample, i) => sample === sounds.get('Deckhand break')!.channels[0]![i])).toBe(
      true,
    );
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
