/** Picking hits out of sounds: a range of any source becomes a sound of the part, on a key. */
import { freeKeys, oneKey } from '../../queries/free-keys.ts';
import { newChannel, newZone } from '../../document/defaults.ts';
import { homeId } from '../../document/home-id.ts';
import type { Cut, Part, ProjectDocument, Slice, SourceRef } from '../../document/schema.ts';
import { heardOf } from '../heard.ts';
import { done, find, refused, type Command, type CommandEnv } from './command.ts';
import type { FoundSlice } from './cut.ts';

const LAST_KEY = 127;
/** Where a kit begins: the bass drum of the keys that drums have by agreement. */
const FIRST_KIT_KEY = 36;

export interface PickedRange extends FoundSlice {
  endFrame: number;
  name: string;
}

export interface PickArgs {
  /** Null: into a new part of this name. */
  partId: string | null;
  partName: string;
  source: SourceRef;
  ranges: readonly PickedRange[];
  /** The first range's key, the others on the next free ones; null: from the first free key on. */
  key: number | null;
}

/** Of picked ranges each has its end, and none is in the way of another. */
function holdsPicks(cut: Cut): boolean {
  return cut.loop === null && Object.values(cut.slices).every(({ endFrame }) => endFrame !== null);
}

function sliceOf({ startFrame, endFrame, name, strength, ...facts }: PickedRange, id: string): Slice {
  const { brightnessHz, midi, cents } = facts;
  return {
    id,
    startFrame,
    endFrame,
    name,
    ...heardOf(facts),
    roleByHand: false,
    strength,
    origin: 'hand',
    locked: false,
    brightnessHz,
    midi,
    cents,
  };
}

function emptyPart(id: string, channelId: string, name: string, cutId: string): Part {
  return {
    id,
    name: name.slice(0, 200),
    cutOrder: [],
    zoneOrder: [],
    patternOrder: [],
    helperOrder: [],
    activePatternId: homeId(cutId),
    channelId,
    groove: null,
    // The hits of a kit sound together; what is to cut another off is told so.
    values: { oneAtATime: false, startKey: FIRST_KIT_KEY },
  };
}

/** Puts ranges of a source on keys of a part; a part may hold sounds of any number of sources. */
export const pickRanges: Command<PickArgs> = (document, args, env) => {
  const { source, ranges, key } = args;
  const known = find(document.parts, args.partId ?? undefined);
  if (args.partId !== null && !known) return refused('this part is gone');
  if (ranges.length === 0) return refused('mark a range first');
  for (const { startFrame, endFrame } of ranges) {
    if (!(startFrame >= 0 && endFrame <= source.frames && endFrame > startFrame)) {
      return refused('a range lies inside its sound and ends after its start');
    }
  }
  if (key !== null && !(Number.isInteger(key) && key >= 0 && key <= LAST_KEY)) return refused('keys go from 0 to 127');
  const later = freeKeys(document, known, key === null ? FIRST_KIT_KEY : key + 1, ranges.length);
  const keys = key === null ? later : [key, ...later];
  if (keys.length < ranges.length)
    return refused('all keys up to the last are taken: take something off its key first');
  return done(withPicks(document, known, args, keys, env));
};

function withPicks(
  document: ProjectDocument,
  known: Part | undefined,
  { partName, source, ranges }: PickArgs,
  keys: readonly number[],
  env: CommandEnv,
): ProjectDocument {
  const holding = known?.cutOrder
    .map((cutId) => document.cuts[cutId]!)
    .find((cut) => cut.sourceId === source.id && holdsPicks(cut));
  const cutId = holding?.id ?? env.newId();
  const channel = newChannel(env.newId());
  const part = known ?? emptyPart(env.newId(), channel.id, partName, cutId);
  const slices = ranges.map((range) => sliceOf(range, env.newId()));
  const cut: Cut = holding ?? {
    id: cutId,
    partId: part.id,
    sourceId: source.id,
    loop: null,
    tempoReadings: [],
    slices: {},
    // A hit is played as it is, whatever the song's tempo.
    values: { follow: 'none' },
  };
  const zones = slices.map((slice, i) => ({
    ...newZone(env.newId(), part.id, cutId, slice.id, document.song.zoneDefaults),
    laid: 'hand' as const,
    keys: oneKey(keys[i]!),
  }));
  const nextPart: Part = {
    ...part,
    cutOrder: holding ? part.cutOrder : [...part.cutOrder, cutId],
    zoneOrder: [...part.zoneOrder, ...zones.map(({ id }) => id)],
  };
  const added = Object.fromEntries(slices.map((slice) => [slice.id, slice]));
  return {
    ...document,
    sources: { ...document.sources, [source.id]: document.sources[source.id] ?? source },
    cuts: { ...document.cuts, [cutId]: { ...cut, slices: { ...cut.slices, ...added } } },
    zones: { ...document.zones, ...Object.fromEntries(zones.map((zone) => [zone.id, zone])) },
    parts: { ...document.parts, [part.id]: nextPart },
    partOrder: known ? document.partOrder : [...document.partOrder, part.id],
    channels: known ? document.channels : { ...document.channels, [channel.id]: channel },
  };
}
