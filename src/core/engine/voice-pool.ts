/** The voices of a renderer: made once, given to slices as they start, taken from the oldest when all are busy. */
import type { PartState, Sound } from './part-state.ts';
import { plainStart, Voice } from './voice.ts';

/** Voices that can sound at once; a further one takes the place of the oldest. */
export const MAX_VOICES = 64;
/** What has played at least this share of its slice, and has a rest that is to ring on, is not cut off by the next. */
const SPARED_SHARE = 0.9;
/** Crossfade from one rendering of a slice to another. */
const CARRY_SECONDS = 0.012;

export class VoicePool {
  /** How the next voice is to start: filled in by who starts it, so that starting allocates nothing. */
  readonly how = plainStart();
  private readonly voices = Array.from({ length: MAX_VOICES }, () => new Voice());
  private readonly carryFrames: number;
  private serial = 0;

  constructor(sampleRate: number) {
    this.carryFrames = Math.round(CARRY_SECONDS * sampleRate);
  }

  /** Starts a slice of a part as {@link how} says, at the part's transposition. Slices without samples are silent. */
  start(state: PartState, partIndex: number, sliceIndex: number): void {
    const sound = state.sounds[sliceIndex];
    if (!sound?.source || sound.slice.endFrame <= sound.slice.startFrame) return;
    const { part } = state;
    if (part.oneAtATime) this.choke(partIndex, part.stopFadeFrames);
    this.how.tune = state.tune;
    this.how.stopFadeFrames = part.stopFadeFrames;
    this.free().start(sound.source, sound.slice, partIndex, sliceIndex, this.how, ++this.serial);
  }

  /** Stops what a part plays because something else of it starts; what is over but for its rest rings on. */
  private choke(partIndex: number, fadeFrames: number): void {
    for (const voice of this.voices) {
      if (voice.active && voice.partIndex === partIndex && !voice.hasOnlyRest(SPARED_SHARE)) voice.stop(fadeFrames);
    }
  }

  /** Stops what a part plays: its pattern, or what is held by keys, too. */
  stopPart(partIndex: number, fadeFrames: number, keysToo: boolean): void {
    for (const voice of this.voices) {
      if (voice.active && voice.partIndex === partIndex && (keysToo || voice.key < 0)) voice.stop(fadeFrames);
    }
  }

  /** Stops what patterns play; held keys go on. */
  stopPatterns(fadeFrames: number): void {
    for (const voice of this.voices) if (voice.active && voice.key < 0) voice.stop(fadeFrames);
  }

  /** A key of a part was let go. */
  letGo(partIndex: number, key: number): void {
    for (const voice of this.voices) {
      if (voice.active && voice.partIndex === partIndex && voice.key === key) voice.letGo();
    }
  }

  /** Gives the parts new places; voices of parts that are gone fall silent. */
  renumber(placeOf: (partIndex: number) => number): void {
    for (const voice of this.voices) {
      if (!voice.active) continue;
      voice.partIndex = placeOf(voice.partIndex);
      if (voice.partIndex < 0) voice.active = false;
    }
  }

  /** After a change of tempo what was to be joined is not. */
  dropJoins(): void {
    for (const voice of this.voices) if (voice.active) voice.dropJoin();
  }

  /** Lets what a part plays follow its new sounds: another speed at once, another rendering from the same place on. */
  carry(state: PartState, partIndex: number, before: readonly Sound[]): void {
    const newest = this.serial;
    for (const voice of this.voices) {
      // Those that are started here have arrived already.
      if (!voice.active || voice.partIndex !== partIndex || voice.stopping || voice.serial > newest) continue;
      if (voice.hasOnlyRest(1)) continue;
      const sound = state.sounds[voice.sliceIndex];
      const old = before[voice.sliceIndex];
      if (!sound || !old || sound.slice.id !== old.slice.id) continue;
      if (sound.source?.id === old.source?.id) voice.retune(sound.slice.increment * state.tune);
      else if (sound.source && !voice.isReversed) this.carryOver(voice, state, sound);
    }
  }

  /** Crosses from a sounding slice to another rendering of it. */
  private carryOver(voice: Voice, state: PartState, sound: Sound): void {
    const other = this.free();
    if (other.active) return;
    const { how } = this;
    how.gain = voice.eventGain;
    how.reverse = false;
    how.joinsPrevious = how.joinsNext = false;
    how.key = voice.key;
    how.limitFrames = Infinity;
    how.stopFadeFrames = state.part.stopFadeFrames;
    how.tune = state.tune;
    how.rings = voice.rings;
    other.start(sound.source!, sound.slice, voice.partIndex, voice.sliceIndex, how, ++this.serial);
    other.skip(voice.goneIn(other, state.part.keepsPlace), this.carryFrames);
    other.takeLimit(voice);
    voice.stop(this.carryFrames);
  }

  /** A voice that does not sound, or the oldest. */
  private free(): Voice {
    let chosen = this.voices[0]!;
    for (const voice of this.voices) {
      if (!voice.active) return voice;
      if (voice.serial < chosen.serial) chosen = voice;
    }
    return chosen;
  }

  /** Adds the next frames of every voice to the bus of its part. */
  render(states: readonly PartState[], frameCount: number): void {
    for (const voice of this.voices) {
      if (!voice.active) continue;
      const { bus } = states[voice.partIndex]!;
      voice.render(bus.left, bus.right, 0, frameCount);
    }
  }

  /** Calls back for every voice that sounds and is not fading out. */
  eachSounding(visit: (partIndex: number, sliceIndex: number, frame: number) => void): void {
    for (const voice of this.voices) {
      if (voice.active && !voice.stopping) visit(voice.partIndex, voice.sliceIndex, voice.sourceFrame);
    }
  }
}
