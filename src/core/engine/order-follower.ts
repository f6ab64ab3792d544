/**
 * How parts follow the running order: what each plays now and how it sounds meanwhile, and the tempo that it has come to;
 * and the treatments that patterns put on.
 */
import type { Beside } from './control/beside.ts';
import type { PartState } from './part-state.ts';
import type { OrderFragment } from './plan/order-fragment.ts';
import type { LookPatch, PartLooks, PatternFragment } from './plan/fragments.ts';
import type { SongClock } from './sequence/song-clock.ts';
import type { SongState } from './song-state.ts';
import type { VoicePool } from './voice/pool.ts';

/** What it needs of the plan. */
interface Plan {
  readonly parts: ReadonlyMap<string, PartState>;
  readonly ordered: readonly PartState[];
  readonly modulators: { readonly beside: Beside };
  wantedPattern(part: PartState): PatternFragment | null;
  /** Does it stand in for a pattern while a part rests? */
  isRest(pattern: PatternFragment | null): boolean;
  lookAtLanes(part: PartState): void;
  /** Part of the plan as another way to sound has it. */
  takeLook(part: PartState, look: LookPatch): void;
}

/** In place of a part: whose lanes those over sections are. */
export const OVER_ORDER = '';

export class OrderFollower {
  /** Of the section that is played. */
  private section = 0;

  constructor(
    private readonly plan: Plan,
    private readonly song: SongState,
    private readonly voices: VoicePool,
  ) {}

  take(order: OrderFragment | null): void {
    const { song } = this;
    song.takeOrder(order);
    if (song.playing) this.follow(song.clock.ticksAt(song.frame));
    this.followTempo();
  }

  /** Each part finds its place in the running order that is played, or follows none. */
  follow(ticks: number): void {
    this.section = 0;
    for (const part of this.plan.ordered) this.findTurn(part, ticks);
  }

  /** It is played no longer: keys are heard in the tempo of the song, and as the parts sound by themselves. */
  leave(): void {
    if (!this.song.followsOrder) return;
    this.song.leaveOrder();
    this.follow(0);
    this.followTempo();
  }

  private findTurn(part: PartState, ticks: number): void {
    part.follow(this.song.playedOrder, ticks);
    this.wear(part);
    const { frame, clock } = this.song;
    part.cursor.anchorTicks = part.walk && !part.keepsOwnTempo ? part.walk.startTicks : 0;
    // What keeps its own tempo counts from where it begins.
    if (part.walk) part.locateAfter(frame, Math.max(0, frame - clock.frameAt(part.walk.startTicks)));
  }

  /** Looks where the lanes over the section are, before anything is started there. */
  lookAtLanes(): void {
    const { beside } = this.plan.modulators;
    const { playedOrder, clock, frame, playing } = this.song;
    if (!playedOrder) {
      beside.lookAtLanes(OVER_ORDER, '', NaN, 1);
      return;
    }
    const { sections } = playedOrder;
    const known = sections[this.section];
    if (!known || clock.frameAt(known.startTicks) > frame) this.section = 0;
    while (this.nextSectionFrame <= frame) this.section++;
    const { id, startTicks, roundTicks, repeats } = sections[this.section]!;
    const ticks = Math.max(0, clock.ticksAt(frame) - startTicks);
    beside.lookAtLanes(OVER_ORDER, id, playing ? ticks : NaN, roundTicks * repeats);
  }

  /** Frame at which the next section begins; Infinity in the last one, and where no order is played. */
  get nextSectionFrame(): number {
    const { playedOrder, clock } = this.song;
    const next = playedOrder?.sections[this.section + 1];
    return next ? clock.frameAt(next.startTicks) : Infinity;
  }

  /** What a part plays next begins here. */
  takeTurn(part: PartState): void {
    const { plan, song } = this;
    const { walk, cursor } = part;
    const before = cursor.pattern;
    const endTicks = walk!.nextTicks;
    if (!walk!.advance()) return;
    this.wear(part);
    const wanted = plan.wantedPattern(part);
    const gone = endTicks - cursor.anchorTicks;
    const rested = plan.isRest(before);
    const goesOn = wanted === before && !rested && !part.keepsOwnTempo && gone % before!.lengthTicks === 0;
    if (goesOn || (plan.isRest(wanted) && rested)) return;
    if (!rested && !part.ringsOver) this.voices.stopPattern(part);
    cursor.anchorTicks = part.keepsOwnTempo ? 0 : walk!.startTicks;
    part.locateAfter(song.frame, 0);
    cursor.choose(wanted, null);
    part.bindPattern();
    part.player.joinSerial = 0;
    // Its first hit is heard, though timing puts it a little before: by the song's clock the frame begins before the anchor.
    if (part.keepsOwnTempo) cursor.seek(0, true);
    else cursor.seek(song.clock.ticksRoundingTo(song.frame));
    plan.lookAtLanes(part);
  }

  /** Parts play in the tempo that it has come to. */
  followTempo(): void {
    const { song, voices } = this;
    const tempoBpm = song.followsOrder ? song.clock.tempoBpm : 0;
    voices.setTempo(song.clock.tempoBpm);
    for (const part of this.plan.ordered) {
      part.player.joinSerial = 0;
      if (part.keepsOwnTempo) continue;
      voices.retime(part, song.clock);
      for (const zone of part.zones.values()) {
        if (zone.followTempo(tempoBpm)) voices.retarget(zone, song.frame, song.clock.tempoBpm);
      }
    }
  }

  /** How parts may sound along it; what lay over them was taken off before. */
  takeLooks(all: readonly PartLooks[]): void {
    const byPart = new Map(all.map(({ partId, looks }) => [partId, looks]));
    for (const part of this.plan.parts.values()) {
      part.looks = byPart.get(part.fragment.id) ?? [];
      this.wear(part);
    }
  }

  takeOffLooks(): void {
    for (const part of this.plan.parts.values()) this.wear(part, null);
  }

  /** What its pattern has on where it is now; asked before anything is started there. */
  followChanges(part: PartState, clock: SongClock): void {
    const { changes, cursor, fragment } = part;
    if (!changes.concerns(cursor.pattern, fragment.changes)) {
      part.changeFrame = Infinity;
      return;
    }
    const { frame } = this.song;
    if (frame < part.changeFrame && !changes.isOther(cursor.pattern)) return;
    part.changeFrame = this.lookAtChanges(part, clock, clock.ticksAt(frame));
    // What comes within half a frame is heard on this one.
    if (part.changeFrame <= frame) {
      part.changeFrame = this.lookAtChanges(part, clock, clock.ticksAt(frame) + changes.leftTicks);
    }
    this.wear(part);
  }

  /** @returns the frame at which another one is put on */
  private lookAtChanges({ changes, cursor }: PartState, clock: SongClock, ticks: number): number {
    changes.look(cursor.pattern, cursor.ticksSinceBegun(ticks));
    return changes.leftTicks === Infinity ? Infinity : clock.frameAt(ticks + changes.leftTicks);
  }

  /** The song stands: parts sound as they do by themselves. */
  forgetChanges(): void {
    for (const part of this.plan.ordered) {
      part.changes.forget();
      part.changeFrame = Infinity;
      this.wear(part);
    }
  }

  /** Lets a part sound as it is wanted now, or as it does by itself. */
  private wear(part: PartState, wanted = part.wantedLook): void {
    if (wanted === part.look) return;
    if (part.look) this.plan.takeLook(part, part.look.off);
    if (wanted) this.plan.takeLook(part, wanted.on);
    part.look = wanted;
  }
}
