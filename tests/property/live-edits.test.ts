/** Random edits while the song plays: from then on every event is heard just as in a song that was always so. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CommandResult } from '#core/project/commands/command.ts';
import { deal } from '#core/project/commands/deal.ts';
import { breedHands, takeHand } from '#core/project/commands/hands.ts';
import { moveEvents, placeEvent, removeEvents, resizeEvents } from '#core/project/commands/events.ts';
import { choosePattern, copyPattern, removePattern, setPatternLength } from '#core/project/commands/patterns.ts';
import { goHome, swapSounds, transformEvents } from '#core/project/commands/transform.ts';
import { setValue } from '#core/project/commands/values.ts';
import { TRANSFORM_IDS } from '#core/patterns/transforms.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { eventsOf, patternLengthTicks } from '#core/queries/patterns.ts';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { renderAll } from '#core/engine/plan/render-all.ts';
import { Renderer } from '#core/engine/renderer.ts';
import { unwrap } from '../support/documents.ts';
import { setSong } from '../support/edits.ts';
import { LiveSong, set, shortBursts } from '../support/playing.ts';

const RATE = 44_100;
const BAR = 2 * RATE;

const place = fc.nat(40);
const edit = fc.oneof(
  fc.record({ kind: fc.constant('move' as const), at: place, byTicks: fc.integer({ min: -2000, max: 2000 }) }),
  fc.record({ kind: fc.constant('remove' as const), at: place }),
  fc.record({ kind: fc.constant('resize' as const), at: place, lengthTicks: fc.integer({ min: 30, max: 2000 }) }),
  fc.record({ kind: fc.constant('place' as const), zone: place, positionTicks: fc.integer({ min: 0, max: 3839 }) }),
  fc.record({ kind: fc.constant('transform' as const), transform: fc.constantFrom(...TRANSFORM_IDS) }),
  fc.record({ kind: fc.constant('repeats' as const), at: place, count: fc.integer({ min: 1, max: 5 }) }),
  fc.record({ kind: fc.constant('swap' as const), at: place, other: place }),
  fc.record({ kind: fc.constant('home' as const) }),
  fc.record({ kind: fc.constant('copy' as const) }),
  fc.record({ kind: fc.constant('choose' as const), at: place }),
  fc.record({ kind: fc.constant('drop' as const) }),
  fc.record({ kind: fc.constant('length' as const), bars: fc.constantFrom(0.5, 1, 2) }),
  fc.record({ kind: fc.constant('deal' as const), unit: fc.constantFrom('strip' as const, 'beat' as const) }),
  fc.record({ kind: fc.constant('hand' as const), at: place }),
  fc.record({ kind: fc.constant('breed' as const), at: place }),
  fc.record({ kind: fc.constant('swing' as const), swingPercent: fc.integer({ min: 50, max: 70 }) }),
);
type Edit = typeof edit extends fc.Arbitrary<infer T> ? T : never;
const at = <T>(list: readonly T[], index: number): T | undefined => list[index % Math.max(1, list.length)];

function apply(document: ProjectDocument, made: ReturnType<typeof start>, change: Edit): CommandResult {
  const { partId, env, cutId } = made;
  const part = document.parts[partId]!;
  const patternId = part.activePatternId;
  const pattern = document.patterns[patternId];
  const events = eventsOf(document, patternId);
  const chosen = (index: number) => [at(events, index)?.id ?? 'none'];
  switch (change.kind) {
    case 'move':
      return moveEvents(document, { patternId, eventIds: chosen(change.at), byTicks: change.byTicks }, env);
    case 'remove':
      return removeEvents(document, { patternId, eventIds: chosen(change.at) }, env);
    case 'resize':
      return resizeEvents(document, { patternId, eventIds: chosen(change.at), lengthTicks: change.lengthTicks }, env);
    case 'place': {
      const zoneId = at(part.zoneOrder, change.zone)!;
      return placeEvent(document, { patternId, zoneId, positionTicks: change.positionTicks, lengthTicks: 240 }, env);
    }
    case 'transform': {
      const eventIds = events.map(({ id }) => id);
      return transformEvents(document, { patternId, eventIds, transform: change.transform, gridTicks: 240 }, env);
    }
    case 'repeats': {
      const owners = [{ kind: 'event' as const, patternId, id: chosen(change.at)[0]! }];
      return setValue(document, { owners, param: 'repeats', change: { to: change.count } }, env);
    }
    case 'swap': {
      const [zoneId, otherId] = [at(part.zoneOrder, change.at)!, at(part.zoneOrder, change.other)!];
      return swapSounds(document, { patternId, zoneId, otherId }, env);
    }
    case 'home':
      return goHome(document, { patternId, cutId, fromTicks: 0, toTicks: 1920 }, env);
    case 'copy':
      return copyPattern(document, { partId, patternId }, env);
    case 'choose': {
      const wanted = at([made.home, ...part.patternOrder], change.at)!;
      return choosePattern(document, { partId, patternId: wanted }, env);
    }
    case 'drop':
      return removePattern(document, { patternId }, env);
    case 'length':
      return setPatternLength(document, { patternId, lengthTicks: change.bars * 3840 }, env);
    case 'deal':
      return deal(document, { partId, reachPercent: 80, rules: { unit: change.unit } }, env);
    case 'hand': {
      const handId = at(pattern?.handOrder ?? [], change.at) ?? 'none';
      return takeHand(document, { patternId, handId }, env);
    }
    case 'breed': {
      const hands = pattern?.handOrder ?? [];
      const args = { patternId, handId: hands[0] ?? 'none', otherId: at(hands, change.at) ?? 'nobody' };
      return breedHands(document, args, env);
    }
    case 'swing':
      return setSong(document, { swingPercent: change.swingPercent });
  }
}

function start() {
  const made = set(shortBursts(), { oneAtATime: true });
  return { ...made, document: unwrap(setSong(made.document, { tempoBpm: 120 })) };
}

describe('edits while the song plays', () => {
  it('whatever they are, what is heard two rounds later is what a fresh render gives, to the sample', () => {
    let sounding = 0;
    fc.assert(
      fc.property(
        fc.constantFrom('now' as const, 'beat' as const, 'bar' as const, 'round' as const),
        fc.array(fc.tuple(edit, fc.integer({ min: 1, max: 60_000 })), { minLength: 1, maxLength: 14 }),
        (changesAt, edits) => {
          const made = start();
          let document = unwrap(setSong(made.document, { changesAt }));
          const song = new LiveSong(document, made.assets);
          song.renderer.play();
          let frames = 0;
          for (const [change, after] of edits) {
            song.next(after);
            frames += after;
            const result = apply(document, made, change);
            if (!result.ok) continue;
            document = result.document;
            song.edit(document);
          }
          // What waits has come by then, what rang on has ended; patterns of every length begin anew with these bars.
          const { activePatternId } = document.parts[made.partId]!;
          const round = Math.max(1, patternLengthTicks(document, activePatternId) / 3840);
          const from = Math.ceil(frames / BAR / 4 + 1) * 4 * BAR;
          song.next(from - frames);
          const heard = song.next(round * BAR);
          const fresh = new Renderer(RATE);
          fresh.setPlan(
            compilePlan(document, RATE, { assets: made.assets, renderings: renderAll(document, made.assets) }),
          );
          fresh.play();
          const wanted = new Float32Array(from + round * BAR);
          fresh.process(wanted, new Float32Array(wanted.length), wanted.length);
          let most = 0;
          for (let i = 0; i < heard.length; i++) most = Math.max(most, Math.abs(heard[i]! - wanted[from + i]!));
          expect(most).toBeLessThan(1e-6);
          if (heard.some((sample) => Math.abs(sample) > 0.1)) sounding++;
        },
      ),
      { numRuns: 30 },
    );
    expect(sounding).toBeGreaterThan(20);
  }, 120_000);
});
