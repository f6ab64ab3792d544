/**
 * Version 3 took the cut, the zones and the channel out of the part, so that a part may hold several sources and a slice
 * may be played in several ways; settings became values that leave out what has its default; hands keep only what
 * differs. Everything goes on sounding as it did.
 */

type Json = Record<string, unknown>;
type Table<T> = Record<string, T>;

interface EventOf2 extends Json {
  id: string;
  sliceId: string;
  positionTicks: number;
  lengthTicks: number;
  velocity: number;
  reverse: boolean;
  repeats: number;
  held: boolean;
}
interface HandOf2 {
  id: string;
  seed: number;
  reachPercent: number;
  events: Table<EventOf2>;
}
interface PatternOf2 {
  id: string;
  partId: string;
  name: string;
  lengthTicks: number;
  events: Table<EventOf2>;
  hands: Table<HandOf2>;
  handOrder: string[];
  handId: string | null;
}
interface SliceOf2 extends Json {
  id: string;
  sound: Json & { play: string };
}
interface PartOf2 extends Json {
  id: string;
  name: string;
  sourceId: string;
  loop: Json;
  tempoReadings: unknown[];
  groove: unknown;
  patternOrder: string[];
  activePatternId: string;
}
interface DocumentOf2 extends Json {
  id: string;
  name: string;
  tempoBpm: number;
  beatsPerBar: number;
  swingPercent: number;
  rootNote: number | null;
  click: { enabled: boolean; gainDb: number; sound: string; countInBars: number };
  sources: Table<unknown>;
  parts: Table<PartOf2>;
  partOrder: string[];
  cuts: Table<Json & { slices: Table<SliceOf2>; method: string }>;
  patterns: Table<PatternOf2>;
}

/** The defaults of version 3 when it was new: what has them is left out. */
const SONG = {
  tempoBpm: 100,
  beatsPerBar: 4,
  swingPercent: 50,
  rootNote: -1,
  clickOn: false,
  clickGainDb: -12,
  clickSound: 'tick',
  countInBars: 0,
};
const PART = {
  startKey: 48,
  oneAtATime: true,
  stopFadeMs: 3,
  transposeCents: 0,
  transposeAt: 'now',
  startOffsetTicks: 0,
  feelPercent: 100,
  groovePercent: 100,
  ringOver: true,
};
const CUT = {
  follow: 'slices',
  tail: 'ring',
  material: 'mixes',
  method: 'hits',
  sensitivity: 0.5,
  minGapMs: 18,
  gridPullPercent: 0,
  stepTicks: 240,
  swingPercent: 50,
  count: 16,
  minLengthMs: 60,
  tapWindowMs: 60,
};
const CHANNEL = { gainDb: 0, pan: 0, muted: false, soloed: false };
const ZONE = {
  gainDb: 0,
  pan: 0,
  tuneCents: 0,
  answer: 'one-shot',
  reverse: false,
  attackMs: 0,
  decayMs: 0,
  sustain: 1,
  releaseMs: 5,
};
const EVENT = { velocity: 1, reverse: false, repeats: 1, hold: false };

/** Values of `from` that the defaults name and that differ from them. */
function sparse(from: Json, defaults: Json): Json {
  return Object.fromEntries(
    Object.keys(defaults)
      .filter((key) => from[key] !== undefined && from[key] !== defaults[key])
      .map((key) => [key, from[key]]),
  );
}

export function from2(json: unknown): unknown {
  const document = json as DocumentOf2;
  const { click } = document;
  const songValues = sparse(
    {
      ...document,
      rootNote: document.rootNote ?? -1,
      clickOn: click.enabled,
      clickGainDb: click.gainDb,
      clickSound: click.sound,
      countInBars: click.countInBars,
    },
    SONG,
  );
  const out = { parts: {}, cuts: {}, zones: {}, channels: {}, patterns: {} } as Record<string, Table<unknown>>;
  /** A cut that was copied with its part has slices of the same ids: its zones get ids of their own. */
  const taken = new Set<string>();
  for (const part of Object.values(document.parts)) {
    const { slices, ...find } = document.cuts[part.id]!;
    const zoneOfSlice = new Map<string, string>();
    const bare: Table<unknown> = {};
    for (const { sound, ...slice } of Object.values(slices)) {
      let zoneId = slice.id;
      for (let copy = 2; taken.has(zoneId); copy++) zoneId = `${slice.id.slice(0, 74)}-${copy}`;
      taken.add(zoneId);
      zoneOfSlice.set(slice.id, zoneId);
      bare[slice.id] = slice;
      const answer = sound.play === 'held' ? 'gate' : 'one-shot';
      out.zones![zoneId] = {
        id: zoneId,
        partId: part.id,
        plays: { kind: 'slice', cutId: part.id, sliceId: slice.id },
        laid: 'itself',
        keys: null,
        values: sparse({ ...sound, answer }, ZONE),
      };
    }
    const method = find.method === 'parts' ? 'equal' : find.method;
    out.cuts![part.id] = {
      id: part.id,
      partId: part.id,
      sourceId: part.sourceId,
      loop: part.loop,
      tempoReadings: part.tempoReadings,
      slices: bare,
      values: sparse({ ...part, ...find, method }, CUT),
    };
    out.channels![part.id] = { id: part.id, values: sparse(part, CHANNEL), effectOrder: [], sends: [] };
    out.parts![part.id] = {
      id: part.id,
      name: part.name,
      cutOrder: [part.id],
      zoneOrder: [...zoneOfSlice.values()],
      patternOrder: part.patternOrder,
      activePatternId: part.activePatternId === 'home' ? `home-${part.id}` : part.activePatternId,
      channelId: part.id,
      groove: part.groove,
      values: sparse(part, PART),
    };
    for (const patternId of part.patternOrder) {
      out.patterns![patternId] = patternFrom2(document.patterns[patternId]!, zoneOfSlice);
    }
  }
  const { id, name, partOrder, sources } = document;
  return {
    schemaVersion: 3,
    id,
    name,
    song: { values: songValues },
    partOrder,
    sources,
    modulators: {},
    routes: {},
    effects: {},
    ...out,
  };
}

function patternFrom2(pattern: PatternOf2, zoneOfSlice: ReadonlyMap<string, string>): unknown {
  const converted = (events: Table<EventOf2>): Table<Json> =>
    Object.fromEntries(
      Object.entries(events)
        // A hand that is not on the table may name a slice that is gone: nothing could be heard of it.
        .filter(([, event]) => zoneOfSlice.has(event.sliceId))
        .map(([key, event]) => {
          const { id, positionTicks, lengthTicks } = event;
          const values = sparse({ ...event, hold: event.held }, EVENT);
          return [key, { id, zoneId: zoneOfSlice.get(event.sliceId)!, positionTicks, lengthTicks, values }];
        }),
    );
  const { id, partId, name, lengthTicks, handOrder, handId } = pattern;
  const first = pattern.hands[handOrder[0] ?? ''];
  const ground = first ? converted(first.events) : null;
  const hands = Object.fromEntries(
    handOrder.map((key) => {
      const hand = pattern.hands[key]!;
      const isFirst = hand === first;
      const differs = differences(ground!, converted(hand.events));
      const { seed, reachPercent } = hand;
      const fromHandId = isFirst ? null : first!.id;
      return [key, { id: key, seed, reachPercent, dealer: 1, fromHandId, isEdited: false, differs }];
    }),
  );
  return { id, partId, name, lengthTicks, events: converted(pattern.events), ground, hands, handOrder, handId };
}

function differences(ground: Table<Json>, events: Table<Json>): Table<Json | null> {
  const out: Table<Json | null> = {};
  for (const [key, event] of Object.entries(events)) {
    if (JSON.stringify(ground[key]) !== JSON.stringify(event)) out[key] = event;
  }
  for (const key of Object.keys(ground)) if (!Object.hasOwn(events, key)) out[key] = null;
  return out;
}
