/** Lays out what was played on keys as strips, where it sounded. */
import type { PatternEvent } from '../document/schema.ts';

/** A press of a key that sounded. */
export interface PlayedPress {
  zoneId: string;
  key: number;
  /** Song position of the press, in ticks; while the song stands, from any beginning. */
  onTicks: number;
  /** Of letting go; null while it is held. */
  offTicks: number | null;
  /** 0..1 */
  velocity: number;
  /** Of a helper: how much higher than its key, and how long until it is cut, 0 where it is not. */
  cents?: number;
  lengthTicks?: number;
}

/** What a sound is to a key. */
export interface PressedSound {
  /** How long it lasts when it is played whole whatever the key does; null when it ends with its key. */
  wholeTicks: number | null;
  /** How much higher the key lets it sound than a strip would. */
  tuneCents: number;
}

export interface PlayedPhrase {
  strips: Pick<PatternEvent, 'zoneId' | 'positionTicks' | 'lengthTicks' | 'values'>[];
  lengthTicks: number;
}

/** A press so little before a round begins was meant for it: a 1/32 note. */
const EARLY_TICKS = 120;
/** Rounds that are looked back over, at most. */
const MAX_ROUNDS = 16;
const SHORTEST_TICKS = 30;

/**
 * The last rounds in which something was played without a round's rest between, as a pattern of as many rounds.
 * @param presses in the order in which they were played
 * @param roundTicks length of a round
 * @param offsetTicks song position at which a round begins
 * @param soundOf what the sound of a zone is to a key
 * @returns null when nothing was played
 */
export function playedPhrase(
  presses: readonly PlayedPress[],
  roundTicks: number,
  offsetTicks: number,
  soundOf: (zoneId: string, key: number) => PressedSound,
): PlayedPhrase | null {
  const roundOf = ({ onTicks }: PlayedPress) => Math.floor((onTicks - offsetTicks + EARLY_TICKS) / roundTicks);
  const last = presses.at(-1);
  if (!last) return null;
  const lastRound = roundOf(last);
  let firstRound = lastRound;
  let from = presses.length - 1;
  while (from > 0) {
    const before = presses[from - 1]!;
    const round = roundOf(before);
    // What lies later in the song was played before it was started anew.
    if (before.onTicks > presses[from]!.onTicks || round < firstRound - 1 || lastRound - round >= MAX_ROUNDS) break;
    firstRound = round;
    from--;
  }
  const lengthTicks = (lastRound - firstRound + 1) * roundTicks;
  const startTicks = offsetTicks + firstRound * roundTicks;
  return { strips: stripsOf(presses.slice(from), startTicks, lengthTicks, soundOf), lengthTicks };
}

function stripsOf(
  presses: readonly PlayedPress[],
  startTicks: number,
  lengthTicks: number,
  soundOf: (zoneId: string, key: number) => PressedSound,
): PlayedPhrase['strips'] {
  return presses.map(({ zoneId, key, onTicks, offTicks, velocity, cents = 0, lengthTicks: untilCut = 0 }) => {
    const sound = soundOf(zoneId, key);
    const positionTicks = Math.max(0, onTicks - startTicks);
    const held = offTicks === null ? lengthTicks : offTicks - onTicks;
    const tuneCents = sound.tuneCents + cents;
    const values = tuneCents === 0 ? { velocity, onKey: true } : { velocity, onKey: true, tuneCents };
    const wanted = Math.max(SHORTEST_TICKS, untilCut || (sound.wholeTicks ?? held));
    return { zoneId, positionTicks, lengthTicks: Math.min(wanted, lengthTicks - positionTicks), values };
  });
}

/**
 * What helpers have played in the last bars, as a pattern of so many: bars that are over, or that of the last press where it
 * is the only one; of fewer, where they had not begun before. Its strips press their keys past the helpers, which would play
 * them once more.
 * @param presses of helpers, in their order @param nowTicks where the song is; null while it stands
 * @returns null when nothing was played
 */
export function writtenDown(
  presses: readonly PlayedPress[],
  bars: number,
  { barTicks, offsetTicks, nowTicks }: { barTicks: number; offsetTicks: number; nowTicks: number | null },
  soundOf: (zoneId: string, key: number) => PressedSound,
): PlayedPhrase | null {
  const last = presses.at(-1);
  if (!last) return null;
  // What lies later in the song was played before it was started anew.
  const anew = presses.findLastIndex(({ onTicks }, at) => onTicks > (presses[at + 1]?.onTicks ?? Infinity) + 1e-6);
  const own = presses.slice(anew + 1);
  const barOf = (ticks: number) => Math.floor((ticks - offsetTicks) / barTicks + 1e-6);
  const running = nowTicks === null ? null : barOf(nowTicks);
  const firstBar = barOf(own[0]!.onTicks);
  const isOnlyOne = firstBar === barOf(last.onTicks);
  const endBar = barOf(last.onTicks) + (barOf(last.onTicks) === running && !isOnlyOne ? 0 : 1);
  const startBar = Math.max(firstBar, endBar - bars);
  const startTicks = offsetTicks + startBar * barTicks;
  const lengthTicks = (endBar - startBar) * barTicks;
  const endTicks = startTicks + lengthTicks;
  const within = own.filter(({ onTicks }) => onTicks >= startTicks - 1e-6 && onTicks < endTicks - 1e-6);
  const strips = stripsOf(within, startTicks, lengthTicks, soundOf).map((strip) => ({
    ...strip,
    values: { ...strip.values, pastHelpers: true },
  }));
  return { strips, lengthTicks };
}
