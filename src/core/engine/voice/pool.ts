/** The voices of a renderer: made once, given to zones as they start, taken from the oldest when all are busy. */
import type { PartState } from '../part-state.ts';
import { PART } from '../part-state.ts';
import type { DoubleState } from '../double-state.ts';
import { MAX_SEGMENT_FRAMES } from '../mix/channel.ts';
import type { StereoBus } from '../mix/effects/effect.ts';
import type { SongClock } from '../sequence/song-clock.ts';
import type { ZoneState } from '../zone-state.ts';
import { ZONE } from '../zone-state.ts';
import { plainStart } from './start.ts';
import { Voice } from './voice.ts';

/** Voices that can sound at once while one plays; a further one takes the place of the oldest, which fades. */
export const MAX_VOICES = 64;
/** Where time does not press, as in a bounce. */
export const MAX_BOUNCED_VOICES = 256;
/** Further ones that are fading out, as a share of the others. */
const FADING_SHARE = 0.5;
/** What a key that sounds already does when it is pressed again: places of the choices. */
const RESTART = 1;
const IGNORE = 2;
/** What has played at least this share of its slice, and has a remainder to ring on, is not cut off by the next. */
const SPARED_SHARE = 0.9;
/** Crossfade from one rendering of a slice to another. */
const RETARGET_SECONDS = 0.012;
/** Fade of a voice whose place is taken. */
const STEAL_SECONDS = 0.003;

export class VoicePool {
  /** How the next voice is to start: filled in by who starts it, so that starting allocates nothing. */
  readonly next = plainStart();
  private readonly voices: Voice[];
  /** Those that sound, the latest last: for display. */
  private readonly bySerial: Voice[] = [];
  private readonly retargetFrames: number;
  private readonly stealFrames: number;
  private serial = 0;
  private isHeard: ((partId: string, zoneId: string) => boolean) | null = null;
  /** Where what is left out sounds. */
  private unheard: StereoBus | null = null;

  /** @param most voices at once */
  constructor(
    private readonly sampleRate: number,
    private readonly most = MAX_VOICES,
  ) {
    this.voices = Array.from({ length: Math.round(most * (1 + FADING_SHARE)) }, () => new Voice());
    this.retargetFrames = Math.round(RETARGET_SECONDS * sampleRate);
    this.stealFrames = Math.round(STEAL_SECONDS * sampleRate);
  }

  private stopFade(part: PartState): number {
    return Math.round((part.values[PART.stopFadeMs]! / 1000) * this.sampleRate);
  }

  /** Starts a zone as {@link next} says; null where there are no samples, or where it is not to sound once more. */
  start(zone: ZoneState, part: PartState): Voice | null {
    const { next } = this;
    const sound = zone.keySound(next.key) ?? zone.sound;
    const source = zone.sourceOf(sound);
    if (!source || Math.min(sound.endFrame, source.channels[0]?.length ?? 0) <= sound.startFrame) return null;
    const fade = this.stopFade(part);
    if (!this.makeWay(zone, part, fade)) return null;
    next.stopFadeFrames = fade;
    next.sampleRate = this.sampleRate;
    const { double } = zone;
    const { gain } = next;
    if (double) next.gain *= double.hitGain;
    const voice = this.free();
    voice.start(zone, part, next, ++this.serial);
    part.hit.begin(next);
    part.channel.hits.add(voice.birthFrame, zone.fragment.hitGroup, next.isPressed ? next.key : -1);
    if (double && next.origin !== 'preview') this.startDouble(double, zone, part, gain);
    return voice;
  }

  /** The sound under a hit, from the same frame on: it rings to its own end, whatever comes next. */
  private startDouble(double: DoubleState<ZoneState>, hit: ZoneState, part: PartState, gain: number): void {
    const { next } = this;
    const { sound, soundGain } = double;
    const source = sound?.sourceOf(sound.sound);
    if (!sound || !source || soundGain === 0 || !part.isHeard(sound)) return;
    const strength = double.strengthOf(hit.fragment.id);
    const { values } = sound;
    const { joinsNext, noteId } = next;
    for (const voice of this.voices) {
      if (voice.active && voice.double && voice.zone === sound && !voice.stopping && voice.startFrame < next.frame)
        voice.stop(next.stopFadeFrames);
    }
    next.gain = gain * soundGain * strength;
    next.velocity *= strength;
    next.key = sound.fragment.rootKey;
    next.reverse = values[ZONE.reverse] !== 0;
    next.joinsPrevious = next.joinsNext = false;
    next.joinFrames = 0;
    next.glideCents = next.glideFrames = 0;
    next.stopAtTicks = next.stopAtFrame = Infinity;
    next.playsRemainder = true;
    // What is held is held by its hit.
    if (values[ZONE.answer] === 0 && !sound.goesRound) next.noteId = -1;
    const voice = this.free();
    voice.start(sound, part, next, ++this.serial);
    voice.double = double;
    // Who started the hit goes on with what it was started as.
    next.joinsNext = joinsNext;
    next.noteId = noteId;
  }

  /** Stops what has to end for a zone: what it chokes, what sounds on the same key, the oldest of too many. */
  private makeWay(zone: ZoneState, part: PartState, fade: number): boolean {
    const { values } = zone;
    const again = values[ZONE.sameKey]!;
    const group = values[ZONE.chokeGroup]!;
    if (again === IGNORE && this.soundsOn(zone, this.next.key)) return false;
    for (const voice of this.voices) {
      if (!voice.active || voice.part !== part || voice.stopping || this.isSamePress(voice)) continue;
      const isChoked = group !== 0 && voice.zone!.values[ZONE.chokeGroup] === group;
      const isAgain = again === RESTART && voice.zone === zone && voice.key === this.next.key;
      if (isChoked || isAgain) voice.stop(fade);
    }
    if (part.isOneAtATime) this.choke(part, fade);
    else this.leaveRoom(part.mostVoices, null, part);
    if (values[ZONE.voices]! > 0) this.leaveRoom(values[ZONE.voices]!, zone, part);
    return true;
  }

  private soundsOn(zone: ZoneState, key: number): boolean {
    return this.voices.some((voice) => voice.active && !voice.stopping && voice.zone === zone && voice.key === key);
  }

  /** Several sounds on one key, and the notes of a chord, do not cut each other off. */
  private isSamePress({ pressId }: Voice): boolean {
    return pressId !== -1 && pressId === this.next.pressId;
  }

  /** Stops the oldest of a zone, or of a whole part, until one more may sound. */
  private leaveRoom(most: number, zone: ZoneState | null, part: PartState): void {
    if (most >= this.most) return;
    for (;;) {
      let count = 0;
      let oldest: Voice | null = null;
      for (const voice of this.voices) {
        if (!voice.active || voice.stopping || voice.part !== part || (zone && voice.zone !== zone)) continue;
        count++;
        if (!oldest || voice.serial < oldest.serial) oldest = voice;
      }
      if (count < most) return;
      oldest!.stop(this.stealFrames);
    }
  }

  /** Lets what a zone plays on a key go, as its second press does. @returns false when nothing sounds there */
  toggleOff(zone: ZoneState, key: number): boolean {
    let isAny = false;
    for (const voice of this.voices) {
      if (!voice.active || voice.stopping || voice.zone !== zone || voice.key !== key) continue;
      voice.release();
      isAny = true;
    }
    return isAny;
  }

  /** Stops what a part plays because something else of it starts; what is over but for its remainder rings on. */
  private choke(part: PartState, fadeFrames: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.part !== part || voice.double || this.isSamePress(voice)) continue;
      if (!voice.hasOnlyRemainder(SPARED_SHARE)) voice.stop(fadeFrames);
    }
  }

  /** Stops what a part's pattern plays; what keys have started goes on. */
  stopPattern(part: PartState): void {
    const fade = this.stopFade(part);
    for (const voice of this.voices) {
      if (voice.active && voice.part === part && voice.origin === 'pattern') voice.stop(fade);
    }
  }

  /** Stops all that patterns play. */
  stopPatterns(fadeFrames: number): void {
    for (const voice of this.voices) if (voice.active && voice.origin === 'pattern') voice.stop(fadeFrames);
  }

  /** Stops all that a part plays: it is gone. */
  stopPart(part: PartState): void {
    for (const voice of this.voices) if (voice.active && voice.part === part) voice.stop(this.stealFrames);
  }

  /** Stops what a zone plays: it is gone. */
  stopZone(zone: ZoneState): void {
    for (const voice of this.voices) if (voice.active && voice.zone === zone) voice.stop(this.stealFrames);
  }

  /** What of a zone a pattern sounds since a frame, with nothing that ends it now. */
  inPattern(zone: ZoneState, startFrame: number): Voice | null {
    for (const voice of this.voices) {
      if (!voice.active || voice.stopping || voice.zone !== zone || voice.origin !== 'pattern') continue;
      if (voice.startFrame === startFrame) return voice;
    }
    return null;
  }

  /** Does a part sound? */
  isSounding(part: PartState): boolean {
    return this.voices.some((voice) => voice.active && voice.part === part);
  }

  /** What the voice of a start was to be joined with has changed. */
  dropJoin(serial: number): void {
    if (serial === 0) return;
    for (const voice of this.voices) if (voice.active && voice.serial === serial) voice.dropJoin();
  }

  /** Has the voice of a start played up to now, or to its end, so that the next may go on from it? */
  hasPlayedOn(serial: number): boolean {
    return this.voices.some((voice) => voice.serial === serial && !voice.stopping);
  }

  /** A key's press has ended; while the pedal is down it is held on. */
  letGo(noteId: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.noteId !== noteId) continue;
      if (voice.part?.controls.isPedalDown) voice.isSustained = true;
      else voice.letGo();
    }
  }

  /** The pedal of a part has come up. */
  letSustainedGo(part: PartState): void {
    for (const voice of this.voices) if (voice.active && voice.part === part && voice.isSustained) voice.letGo();
  }

  /** All keys at once. */
  letAllGo(): void {
    for (const voice of this.voices) if (voice.active && voice.noteId !== -1) voice.letGo();
  }

  /** Everything falls silent, whatever holds it. */
  stopAll(): void {
    for (const voice of this.voices) if (voice.active && voice.origin !== 'preview') voice.stop(this.stealFrames);
  }

  /** Stops what a press has started, with a fade of its own. */
  stopNote(noteId: number, fadeFrames: number): void {
    for (const voice of this.voices) if (voice.active && voice.noteId === noteId) voice.stop(fadeFrames);
  }

  /** What a press has started begins further on; see {@link Voice.skip}. */
  skipNote(noteId: number, gone: number, fadeFrames: number): void {
    for (const voice of this.voices) if (voice.active && voice.noteId === noteId) voice.skip(gone, fadeFrames);
  }

  /** After a change of tempo: what was to be joined is not, ends lie elsewhere, and what follows by speed follows. */
  setTempo(songTempoBpm: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.origin === 'preview') continue;
      voice.setTempo(songTempoBpm);
      voice.dropJoin();
      if (!voice.stopping && voice.zone!.fragment.follow === 'speed') voice.follow();
    }
  }

  /** Works out anew when voices are to stop that a clock tells. */
  retime(part: PartState, clock: SongClock): void {
    for (const voice of this.voices) {
      if (voice.active && voice.part === part && voice.stopAtTicks !== Infinity) {
        voice.stopAt(clock.frameAt(voice.stopAtTicks));
      }
    }
  }

  /** The song is put elsewhere: what sounds ends when it would have. */
  forgetTicks(): void {
    for (const voice of this.voices) voice.forgetTicks();
  }

  /** Lets what a zone plays follow its settings. */
  followValues(zone: ZoneState): void {
    for (const voice of this.voices) if (voice.active && voice.zone === zone && !voice.stopping) voice.followValues();
  }

  /** Wheel or controllers of a part have moved: what stood still up to now is looked at again. */
  followControls(part: PartState): void {
    for (const voice of this.voices) if (voice.active && voice.part === part && !voice.stopping) voice.follow();
  }

  /** Lets what a zone plays follow its new sound: another speed at once, another rendering from the same place on. */
  retarget(zone: ZoneState, frame: number, songTempoBpm: number): void {
    const newest = this.serial;
    for (const voice of this.voices) {
      // Those that are started here have arrived already.
      if (!voice.active || voice.zone !== zone || voice.stopping || voice.serial > newest) continue;
      if (voice.hasOnlyRemainder(1)) continue;
      const sound = zone.keySound(voice.key) ?? zone.sound;
      const isSame = !sound.sourceId || (voice.plays(sound.sourceId) && voice.reader.goesRoundIn(sound.loop));
      if (isSame) voice.follow();
      else if (!voice.isReversed) this.crossOver(voice, zone, frame, songTempoBpm);
    }
  }

  /** Crosses from a sounding slice to another rendering of it. */
  private crossOver(voice: Voice, zone: ZoneState, frame: number, songTempoBpm: number): void {
    const other = this.voices.find((one) => !one.active);
    if (!other) return;
    const { next } = this;
    next.gain = voice.eventGain;
    next.pan = voice.eventPan;
    next.tuneCents = voice.startCents;
    next.velocity = voice.movement.view.velocity;
    next.key = voice.key;
    next.seed = voice.movement.view.seed;
    next.glideCents = next.glideFrames = 0;
    next.clock = voice.clock;
    next.reverse = false;
    next.joinsPrevious = next.joinsNext = false;
    next.joinFrames = 0;
    next.origin = voice.origin;
    next.noteId = voice.noteId;
    next.pressId = voice.pressId;
    next.stopAtTicks = next.stopAtFrame = Infinity;
    next.stopFadeFrames = voice.part ? this.stopFade(voice.part) : 1;
    next.playsRemainder = voice.playsRemainder;
    next.sampleRate = this.sampleRate;
    next.songTempoBpm = songTempoBpm;
    next.frame = frame;
    other.start(zone, voice.part, next, ++this.serial);
    other.skip(voice.framesTo(other, zone.fragment.follow === 'stretch'), this.retargetFrames);
    other.takeOver(voice);
    voice.stop(this.retargetFrames);
  }

  /** A voice that does not sound. When all places are taken the oldest makes room, and fades in one of the spare ones. */
  private free(): Voice {
    let unused: Voice | null = null;
    let oldest: Voice | null = null;
    let faintest = this.voices[0]!;
    let sounding = 0;
    for (const voice of this.voices) {
      if (!voice.active) {
        // Not one that has just ended, as long as there is another: what joins it at this very frame asks for it.
        if (!unused || voice.serial < unused.serial) unused = voice;
        continue;
      }
      if (voice.fadeLevel < faintest.fadeLevel) faintest = voice;
      if (voice.stopping) continue;
      sounding++;
      if (!oldest || voice.serial < oldest.serial) oldest = voice;
    }
    if (sounding >= this.most) oldest!.stop(this.stealFrames);
    return unused ?? faintest;
  }

  /** Adds the next frames of every voice to the bus of its part's channel. */
  render(frameCount: number, frame: number, gridFrame: number): void {
    for (const voice of this.voices) {
      if (!voice.active) continue;
      const { left, right } = this.isLeftOut(voice) ? this.unheard! : (voice.double?.bus ?? voice.part!.channel);
      voice.render(left, right, 0, frameCount, frame, gridFrame);
    }
  }

  /** Sounds are played, but heard only where this says so: by the ids of their part and of themselves. */
  hearOnly(isHeard: (partId: string, zoneId: string) => boolean): void {
    this.isHeard = isHeard;
    this.unheard = { left: new Float32Array(MAX_SEGMENT_FRAMES), right: new Float32Array(MAX_SEGMENT_FRAMES) };
  }

  private isLeftOut(voice: Voice): boolean {
    return this.isHeard !== null && !this.isHeard(voice.part!.fragment.id, voice.zone!.fragment.id);
  }

  /** Calls back for every voice that sounds and is not fading out, the latest last. */
  eachSounding(visit: (voice: Voice) => void): void {
    const { bySerial } = this;
    bySerial.length = 0;
    for (const voice of this.voices) if (voice.active && !voice.stopping) bySerial.push(voice);
    bySerial.sort((a, b) => a.serial - b.serial);
    for (const voice of bySerial) visit(voice);
  }
}
