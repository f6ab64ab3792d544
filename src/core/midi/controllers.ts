/** What a controller means for what it moves: its place, finely or not, turned by how much, met or not. */
import { bent, unbent } from '../dsp/bend.ts';
import { midiBytes } from './messages.ts';

/**
 * The places of the controllers of a device. Controllers 0 to 31 may have a finer half 32 above them: the coarse half alone
 * puts the finer one to 0 (MIDI 1.0, "Control Change", controllers 0 to 63).
 */
export class ControllerPairs {
  private readonly coarse = new Map<number, number>();
  private readonly fine = new Map<number, number>();

  /** @returns the number of the pair that has moved */
  take(channel: number, control: number, value: number): number {
    const name = (number: number) => channel * 128 + number;
    if (control >= 32 && control < 64) {
      this.fine.set(name(control - 32), value);
      return control - 32;
    }
    this.coarse.set(name(control), value);
    this.fine.delete(name(control));
    return control;
  }

  /** Where a pair stands, 0..1. */
  fineShare(channel: number, control: number): number {
    const name = channel * 128 + control;
    return ((this.coarse.get(name) ?? 0) * 128 + (this.fine.get(name) ?? 0)) / 16_383;
  }
}

/** By how many steps a dial was turned that tells turns as signed numbers of seven bits: 1..63 up, 127..64 down. */
export function signedTurn(value: number): number {
  return value < 64 ? value : value - 128;
}

/** The same of one that tells them around 64. */
export function centredTurn(value: number): number {
  return value - 64;
}

/** How the place of a controller becomes that of what it moves. */
export interface MappingRange {
  from: number;
  to: number;
  /** -1..1, see dsp/bend.ts. */
  bend: number;
}

/** The share of its way at which a setting is to stand. */
export function mappedShare({ from, to, bend }: MappingRange, share: number): number {
  return from + (to - from) * bent(share, bend);
}

/** The share of its way at which a controller means that of a setting, the nearest it has; null for one that moves nothing. */
export function meantShare({ from, to, bend }: MappingRange, standing: number): number | null {
  if (from === to) return null;
  const way = Math.max(0, Math.min(1, (standing - from) / (to - from)));
  return Math.max(0, Math.min(1, unbent(way, bend)));
}

const MOST_COARSE = 127;
const MOST_FINE = 16_383;

/** Where a device is told that its controller stands: in 128 steps, or as a pair in 16,384. */
export function placeTold(share: number, isPair: boolean): number {
  return Math.round(share * (isPair ? MOST_FINE : MOST_COARSE));
}

/** The share that was told so. */
export function shareTold(place: number, isPair: boolean): number {
  return place / (isPair ? MOST_FINE : MOST_COARSE);
}

/**
 * What tells a device so. Of a pair the coarse half goes first, as it puts the finer one to 0; it is left out where it
 * stays (MIDI 1.0, "Control Change", from memory).
 * @param before what it was told last @param channel 0..15
 */
export function tellPlace(
  channel: number,
  control: number,
  place: number,
  isPair: boolean,
  before: number | undefined,
): number[][] {
  const bytes = (number: number, value: number) => midiBytes({ kind: 'control', channel, control: number, value });
  if (!isPair) return [bytes(control, place)];
  const [coarse, fine] = [place >> 7, place & 127];
  const isSameCoarse = before !== undefined && before >> 7 === coarse;
  return [...(isSameCoarse ? [] : [bytes(control, coarse)]), bytes(control + 32, fine)];
}

/** Nearer than this they have met: a step of seven bits and a half. */
const MET = 1.5 / 127;
/** A first step of a quick hand is no longer than this. */
const FROM_THERE = 0.12;

/** Whether a controller has come to where its setting is, so that nothing jumps when it takes over. */
export class PickUp {
  private isMet = false;
  private before: number | null = null;
  /** Where the device has turned it by itself since. */
  private turned: number | null = null;
  /** Where it has put the setting. */
  private put = 0;

  /**
   * @param wanted the share that the controller means now @param standing the share at which the setting stands
   * @returns whether the setting is to follow
   */
  follows(wanted: number, standing: number): boolean {
    // Somebody else has moved it.
    if (this.isMet && Math.abs(standing - this.put) > MET) this.isMet = false;
    const passed = this.before !== null && (this.before - standing) * (wanted - standing) <= 0;
    const isNear = Math.abs(wanted - standing) <= MET;
    // A hand that was on it already may come from elsewhere.
    const fromThere = this.turned !== null && Math.abs(wanted - this.turned) <= FROM_THERE;
    this.turned = null;
    if (!this.isMet) this.isMet = passed || isNear || fromThere;
    this.before = wanted;
    if (this.isMet) this.put = wanted;
    return this.isMet;
  }

  /** The device has turned its controller to where the setting is. @param wanted the share that it means now */
  turnedTo(wanted: number): void {
    this.turned = wanted;
  }
}
