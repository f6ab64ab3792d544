/** Parts: adding a source to the song, further cuts, names, order, copies. */
import { withValues } from '../../params/row.ts';
import { CUT_ROWS, PART_ROWS, SONG_ROWS } from '../../params/tables.ts';
import { loopTempoBpm } from '../../units/time.ts';
import { likeliestMaterial, newChannel, newZone } from '../../document/defaults.ts';
import { cutIdOfHome, homeId } from '../../document/home-id.ts';
import type { Cut, Groove, Loop, Part, ProjectDocument, SourceRef } from '../../document/schema.ts';
import { freeKeys, oneKey } from '../../queries/free-keys.ts';
import { partValues } from '../../queries/values.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { feelStepOfCut, feelStepTicks } from '../../strips/feel-step.ts';
import { withoutDangling } from '../../document/references.ts';
import { barFramesOf, evenLoop } from '../../units/loop-time.ts';
import { withoutSwitches } from './switches.ts';
import { done, find, refused, withCut, withPart, type Command, type CommandEnv } from './command.ts';
import { freshSlices, type FoundSlice } from './cut.ts';

export interface NewCut {
  source: SourceRef;
  /** Null: a single hit, or another sound that is no loop. */
  loop: Loop | null;
  tempoReadings: Cut['tempoReadings'];
  slices: readonly FoundSlice[];
}

export interface AddPartArgs extends NewCut {
  name: string;
  /** The song takes the loop's tempo when this is its first part. */
  adoptTempo: boolean;
}

/** Loops in this range give the song its tempo. */
const MIN_ADOPTED_BPM = 40;
const MAX_ADOPTED_BPM = 220;

/** Adds a source as a part with its cut, its zones and a channel; gives the first part's tempo to the song. */
export const addPart: Command<AddPartArgs> = (document, args, env) => {
  if (args.slices.length === 0) return refused('a part has at least one slice');
  const partId = env.newId();
  const channel = newChannel(env.newId());
  const cutId = env.newId();
  const part: Part = {
    id: partId,
    name: args.name.slice(0, 200),
    cutOrder: [],
    zoneOrder: [],
    patternOrder: [],
    helperOrder: [],
    activePatternId: homeId(cutId),
    channelId: channel.id,
    groove: null,
    values: {},
  };
  const withPartAdded: ProjectDocument = {
    ...document,
    song: songWithTempoOf(document, args),
    partOrder: [...document.partOrder, partId],
    parts: { ...document.parts, [partId]: part },
    channels: { ...document.channels, [channel.id]: channel },
  };
  const added = withCutAdded(withPartAdded, partId, cutId, args, env);
  return done(withFeelStepOf(document, added, cutId));
};

/**
 * A part's feel is measured on the grid that its first loop lies on, unless another was chosen by hand: one that the loop
 * as it was would not have got.
 */
export function withFeelStepOf(before: ProjectDocument, after: ProjectDocument, cutId: string): ProjectDocument {
  const cut = after.cuts[cutId]!;
  const part = after.parts[cut.partId]!;
  if (part.cutOrder[0] !== cutId) return after;
  const { feelStep } = partValues(part);
  const old = find(before.cuts, cutId);
  const found = feelStepOfCut(cut);
  if (found === feelStep || (old && feelStepOfCut(old) !== feelStep)) return after;
  const values = withValues(PART_ROWS, part.values, { feelStep: found });
  return { ...after, parts: { ...after.parts, [part.id]: { ...part, values } } };
}

function songWithTempoOf(
  document: ProjectDocument,
  { adoptTempo, loop, source }: AddPartArgs,
): ProjectDocument['song'] {
  const { song, partOrder } = document;
  if (!adoptTempo || partOrder.length > 0 || !loop) return song;
  const tempo = loopTempoBpm(loop.bars, loop.beatsPerBar, loop.endFrame - loop.startFrame, source.sampleRate);
  if (tempo < MIN_ADOPTED_BPM || tempo > MAX_ADOPTED_BPM) return song;
  // As it follows from its frames, and not as it is shown: rounded, the second round of many loops would be a frame off.
  return { ...song, values: withValues(SONG_ROWS, song.values, { tempoBpm: tempo, beatsPerBar: loop.beatsPerBar }) };
}

function withCutAdded(
  document: ProjectDocument,
  partId: string,
  cutId: string,
  { source, loop, tempoReadings, slices: found }: NewCut,
  env: CommandEnv,
): ProjectDocument {
  const slices = freshSlices(found, env);
  const material = likeliestMaterial(found.map(({ role }) => role));
  const stepTicks = feelStepTicks(feelStepOfCut({ loop, slices }));
  const values = withValues(CUT_ROWS, {}, { material, stepTicks });
  const cut: Cut = { id: cutId, partId, sourceId: source.id, loop, tempoReadings: [...tempoReadings], slices, values };
  const zones = Object.keys(slices).map((sliceId) =>
    newZone(env.newId(), partId, cutId, sliceId, document.song.zoneDefaults),
  );
  const part = document.parts[partId]!;
  return {
    ...document,
    sources: { ...document.sources, [source.id]: source },
    cuts: { ...document.cuts, [cutId]: cut },
    zones: { ...document.zones, ...Object.fromEntries(zones.map((zone) => [zone.id, zone])) },
    parts: {
      ...document.parts,
      [partId]: {
        ...part,
        cutOrder: [...part.cutOrder, cutId],
        zoneOrder: [...part.zoneOrder, ...zones.map(({ id }) => id)],
      },
    },
  };
}

/** Adds another source to a part, with its own reading and cut: its slices stand on the keys after those that are there. */
export const addCut: Command<NewCut & { partId: string }> = (document, args, env) => {
  if (!find(document.parts, args.partId)) return refused('this part is gone');
  if (args.slices.length === 0) return refused('a cut has at least one slice');
  const part = find(document.parts, args.partId)!;
  // Sounds of several sources are to sound together; one loop by itself cuts itself off.
  const values = part.cutOrder.length === 1 ? withValues(PART_ROWS, part.values, { oneAtATime: false }) : part.values;
  const together = { ...document, parts: { ...document.parts, [part.id]: { ...part, values } } };
  const added = withCutAdded(together, part.id, env.newId(), args, env);
  return done(withKeysOfTheirOwn(document, added, part));
};

/** Where sounds were laid by hand, further ones do not lay themselves between them, but on the free keys above. */
function withKeysOfTheirOwn(before: ProjectDocument, added: ProjectDocument, part: Part): ProjectDocument {
  if (part.zoneOrder.every((id) => before.zones[id]!.laid === 'itself')) return added;
  const highest = Math.max(-1, ...zonesOfPart(before, part).map(({ keys }) => keys?.high ?? -1));
  const fresh = added.parts[part.id]!.zoneOrder.slice(part.zoneOrder.length);
  const above = freeKeys(before, part, highest + 1, fresh.length);
  const free = above.length < fresh.length ? freeKeys(before, part, 0, fresh.length) : above;
  const zones = { ...added.zones };
  fresh.forEach((id, place) => {
    const key = free[place];
    zones[id] = { ...zones[id]!, laid: 'hand', keys: key === undefined ? null : oneKey(key) };
  });
  return { ...added, zones };
}

/** Takes a source out of a part, with its zones and the events that play them. The last one stays. */
export const removeCut: Command<{ cutId: string }> = (document, { cutId }) => {
  const cut = find(document.cuts, cutId);
  const part = cut && document.parts[cut.partId];
  if (!cut || !part) return refused('this cut is gone already');
  if (part.cutOrder.length === 1) return refused('a part keeps at least one sound: remove the part instead');
  const gone = new Set(part.zoneOrder.filter((zoneId) => document.zones[zoneId]!.plays.cutId === cutId));
  const keep = <T extends { zoneId: string } | null>(events: Record<string, T>) =>
    Object.fromEntries(Object.entries(events).filter(([, event]) => !event || !gone.has(event.zoneId))) as Record<
      string,
      T
    >;
  const patterns = { ...document.patterns };
  for (const patternId of part.patternOrder) {
    const pattern = patterns[patternId]!;
    const ground = pattern.ground && keep(pattern.ground);
    // Where a hand played what goes, it plays nothing: without that it would play what the ground has there.
    const differing = (differs: typeof pattern.events | Record<string, null>) =>
      Object.fromEntries(
        Object.entries(differs).flatMap(([id, event]) => {
          if (!event || !gone.has(event.zoneId)) return [[id, event]];
          return ground && Object.hasOwn(ground, id) ? [[id, null]] : [];
        }),
      );
    const hands = Object.fromEntries(
      Object.entries(pattern.hands).map(([id, hand]) => [id, { ...hand, differs: differing(hand.differs as never) }]),
    );
    patterns[patternId] = { ...pattern, events: keep(pattern.events), ground, hands };
  }
  const cutOrder = part.cutOrder.filter((other) => other !== cutId);
  const activePatternId = cutIdOfHome(part.activePatternId) === cutId ? homeId(cutOrder[0]!) : part.activePatternId;
  const zoneOrder = part.zoneOrder.filter((zoneId) => !gone.has(zoneId));
  return done(
    withoutDangling({
      ...document,
      parts: {
        ...document.parts,
        [part.id]: withoutSwitches(
          { ...part, cutOrder, zoneOrder, activePatternId },
          (one) => one.patternId === homeId(cutId),
        ),
      },
      cuts: without(document.cuts, new Set([cutId])),
      zones: without(document.zones, gone),
      patterns,
    }),
  );
};

function without<T>(table: Record<string, T>, gone: ReadonlySet<string>): Record<string, T> {
  return Object.fromEntries(Object.entries(table).filter(([id]) => !gone.has(id)));
}

/** Removes a part with all that belongs to it, and its sources when no other part plays them. */
export const removePart: Command<{ partId: string }> = (document, { partId }) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone already');
  return done(
    withoutDangling({
      ...document,
      partOrder: document.partOrder.filter((other) => other !== partId),
      parts: without(document.parts, new Set([partId])),
      channels: without(document.channels, new Set([part.channelId])),
    }),
  );
};

/** Moves a part up (below 0) or down in the rail, by so many places. */
export const movePart: Command<{ partId: string; by: number }> = (document, { partId, by }) => {
  const from = document.partOrder.indexOf(partId);
  const to = from + by;
  if (from < 0) return refused('this part is gone');
  if (to < 0 || to >= document.partOrder.length)
    return refused(`this is the ${by < 0 ? 'first' : 'last'} part already`);
  const partOrder = [...document.partOrder];
  partOrder.splice(from, 1);
  partOrder.splice(to, 0, partId);
  return done({ ...document, partOrder });
};

export const renamePart: Command<{ partId: string; name: string }> = (document, { partId, name }) => {
  const trimmed = name.trim().slice(0, 200);
  return trimmed ? withPart(document, partId, (part) => ({ ...part, name: trimmed })) : refused('a part needs a name');
};

/** Lays a groove over a part, or takes it off with null. */
export const setGroove: Command<{ partId: string; groove: Groove | null }> = (document, { partId, groove }) =>
  withPart(document, partId, (part) => ({ ...part, groove }));

/**
 * Reads the loop anew: other bars, another metre, another start or end, other bar lines; or with null as no loop. Its tempo
 * follows. Bars with lines of their own keep them where they still stand for bars.
 */
export const setLoop: Command<{ cutId: string; loop: Partial<Loop> | null }> = (document, { cutId, loop }) => {
  const cut = find(document.cuts, cutId);
  if (!cut) return refused('this cut is gone');
  const put = (next: Loop | null) => {
    const result = withCut(document, cutId, (current) => ({ ...current, loop: next }));
    return result.ok ? done(withFeelStepOf(document, result.document, cutId)) : result;
  };
  if (loop === null) return put(null);
  const { frames } = document.sources[cut.sourceId]!;
  const before: Loop = cut.loop ?? { startFrame: 0, endFrame: frames, bars: 1, beatsPerBar: 4 };
  const barFrames = 'barFrames' in loop ? loop.barFrames : barFramesOf(before, { ...before, ...loop });
  const read = evenLoop({ ...before, ...loop });
  const next = barFrames ? { ...read, barFrames: [...barFrames] } : read;
  if (!(next.startFrame >= 0 && next.endFrame <= frames)) return refused('a loop lies inside its source');
  if (!(next.endFrame > next.startFrame)) return refused('a loop ends after its start');
  if (!(next.bars >= 1 && next.bars <= 512)) return refused('a loop has 1 to 512 bars');
  return put(next);
};
