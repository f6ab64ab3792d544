/** The plan as the renderer has it: parts, zones, patterns and channels, and how they follow what is sent. */
import { DoubleTable } from './double-table.ts';
import type { OwnerValues } from './control/owner-values.ts';
import { ModulatorTable } from './control/modulator-table.ts';
import type { NoteWay } from './helpers/note-way.ts';
import type { MixGraph } from './mix/graph.ts';
import { OrderFollower, OVER_ORDER } from './order-follower.ts';
import { PART, PartState } from './part-state.ts';
import {
  emptyPatch,
  eventColumns,
  splicePattern,
  type FragmentKind,
  type LookPatch,
  type PatternFragment,
  type PlanPatch,
  type PlanSource,
  type ValueChange,
  type ZoneFragment,
} from './plan/fragments.ts';
import { plainTiming } from '../strips/timing.ts';
import { SONG, type SongState } from './song-state.ts';
import type { VoicePool } from './voice/pool.ts';
import { letWait } from './waiting-changes.ts';
import { ZONE, ZoneState } from './zone-state.ts';

/** Stands in for a pattern while a part rests. */
const REST: PatternFragment = {
  id: '',
  partId: '',
  handId: null,
  lengthTicks: 3840,
  zoneIds: [],
  events: eventColumns(0),
};

export class PlanState {
  readonly sources = new Map<string, PlanSource>();
  readonly parts = new Map<string, PartState>();
  readonly zones = new Map<string, ZoneState>();
  readonly patterns = new Map<string, PatternFragment>();
  readonly doubles: DoubleTable;
  readonly modulators: ModulatorTable;
  readonly order: OrderFollower;
  /** Parts in their order, and those that are gone and still fade. */
  ordered: PartState[] = [];
  /** Makes the way to the keys of a part; set by who plays them. */
  newWay: ((part: PartState) => NoteWay) | null = null;
  private leaving: PartState[] = [];
  private readonly leavingChannels = new Set<string>();

  constructor(
    private readonly song: SongState,
    private readonly voices: VoicePool,
    private readonly mix: MixGraph,
  ) {
    this.modulators = new ModulatorTable(song.sampleRate);
    this.doubles = new DoubleTable(song.sampleRate);
    this.order = new OrderFollower(this, song, voices);
  }

  /**
   * Takes what has changed; what sounds goes on.
   * @param waits how this part sounds is heard from where another pattern of it would take over
   */
  apply(whole: PlanPatch, waits: PartState | null = null): void {
    const patch = this.withoutWaiting(whole, waits);
    const { values, clock, frame } = this.song;
    const songTicks = clock.ticksAt(frame);
    const wasTempo = clock.tempoBpm;
    // What is put on lies over what comes, and is put over it again.
    if (patch.looks) this.order.takeOffLooks();
    if (patch.song) values.set(patch.song);
    if (patch.order !== undefined) this.order.take(patch.order);
    this.takeSongValues(patch.values);
    this.followSong();
    const gone = this.goneBy(patch);
    if (patch.channels.length > 0) this.mix.update(patch.channels, []);
    for (const { id } of patch.channels) this.leavingChannels.delete(id);
    this.takePatterns(patch, gone.patterns);
    this.takeParts(patch, gone.parts, songTicks);
    // A part's transposition may wait for a bar line: its zones must know before they take new samples.
    this.takeValues(patch.values);
    this.takeZones(patch, gone.zones, clock.tempoBpm === wasTempo, patch === whole ? null : waits);
    if (patch.parts.length > 0 || patch.zones.length > 0 || patch.removed.length > 0) {
      this.doubles.follow(this.parts.values(), patch.parts, this.zones);
    }
    this.doubles.lead((id) => this.mix.get(id));
    this.takeModulators(patch, gone.modulators);
    if (patch.looks) this.order.takeLooks(patch.looks);
    // Their channels are mixed until what is left has faded.
    for (const id of gone.channels) this.leavingChannels.add(id);
    this.choosePatterns();
  }

  /** Takes values alone, as when a field is dragged. @param waits see {@link apply} */
  setValues(changes: readonly ValueChange[], waits: PartState | null = null): void {
    const { values } = this.withoutWaiting({ ...emptyPatch(), values: [...changes] }, waits);
    if (this.takeSongValues(values)) this.followSong();
    this.takeValues(values);
  }

  /** A patch without what is heard later; the same one when nothing is. */
  private withoutWaiting(patch: PlanPatch, waits: PartState | null): PlanPatch {
    const clock = waits?.clockOr(this.song.clock);
    const atTicks = waits && this.song.changeTicksOf(clock!, waits.cursor);
    if (atTicks === null) {
      for (const part of this.ordered) part.waiting.drop(patch);
      return patch;
    }
    const songTicks = this.song.clock.ticksAt(clock!.frameAt(atTicks));
    return letWait(patch, waits!, { atTicks, songTicks }, (kind, id) =>
      kind === 'channel' ? this.mix.get(id) !== undefined : this.modulators.ids.includes(id),
    );
  }

  /** What waited for its line is heard. */
  applyWaiting(part: PartState): void {
    const { values, channels, modulators } = part.waiting.take();
    if (channels.length > 0) this.mix.update(channels, []);
    this.takeModulators({ ...emptyPatch(), channels: [...channels], modulators: [...modulators] }, []);
    this.takeValues(values);
    // A transposition that waits for a later line brings its samples along.
    if (part.changeTicks === Infinity) this.applyZoneSounds(part);
  }

  /** @returns true when there was one of the song */
  private takeSongValues(changes: readonly ValueChange[]): boolean {
    let isAny = false;
    for (const { kind, slot, value } of changes) {
      if (kind !== 'song') continue;
      this.song.values[slot] = value;
      isAny = true;
    }
    return isAny;
  }

  private followSong(): void {
    const { song, voices } = this;
    // What rings out after its end keeps the tempo of the order, until somebody says another.
    if (song.followsOrder && !song.playing) this.order.leave();
    if (song.follow()) {
      voices.setTempo(song.clock.tempoBpm);
      for (const part of this.ordered) {
        part.player.joinSerial = 0;
        if (!part.keepsOwnTempo) voices.retime(part, song.clock);
        // Renderings for the old tempo are of no use: what waited is heard at once.
        if (part.changeTicks !== Infinity) this.applyTransposition(part);
      }
    }
    for (const part of this.ordered) this.followTiming(part);
  }

  /** What is heard of a part in another way to sound. */
  takeLook(part: PartState, { values, channels, modulators, zones }: LookPatch): void {
    if (channels.length > 0) this.mix.update(channels, []);
    this.takeValues(values);
    // It is heard from here on, whatever line a hand's transposition would wait for.
    if (part.changeTicks !== Infinity) this.applyTransposition(part);
    const patch = { ...emptyPatch(), channels: [...channels], modulators: [...modulators], zones: [...zones] };
    this.takeZones(patch, [], true, null);
    this.takeModulators(patch, []);
  }

  /** Ids of what a patch takes away, by kind. */
  private goneBy(patch: PlanPatch): Record<FragmentKind, string[]> {
    const known = { parts: this.parts, zones: this.zones, patterns: this.patterns };
    const gone: Record<FragmentKind, string[]> = { parts: [], zones: [], modulators: [], patterns: [], channels: [] };
    if (!patch.isWhole) {
      for (const { kind, id } of patch.removed) {
        if (kind === 'modulators') gone.modulators.push(id);
        else if (kind === 'channels' ? this.mix.get(id) : known[kind].has(id)) gone[kind].push(id);
      }
      return gone;
    }
    const named = (list: readonly { id: string }[]) => new Set(list.map(({ id }) => id));
    for (const kind of ['parts', 'zones', 'patterns'] as const) {
      const names = named(patch[kind]);
      gone[kind] = [...known[kind].keys()].filter((id) => !names.has(id));
    }
    const modulators = named(patch.modulators);
    gone.modulators = this.modulators.ids.filter((id) => !modulators.has(id));
    const channels = named(patch.channels);
    gone.channels = this.mix.all().flatMap(({ id }) => (channels.has(id) ? [] : [id]));
    return gone;
  }

  private takePatterns(patch: PlanPatch, gone: readonly string[]): void {
    for (const id of gone) this.patterns.delete(id);
    for (const pattern of patch.patterns) this.patterns.set(pattern.id, pattern);
    for (const splice of patch.splices) {
      const known = this.patterns.get(splice.id);
      if (known) this.patterns.set(splice.id, splicePattern(known, splice));
    }
  }

  private takeParts(patch: PlanPatch, gone: readonly string[], songTicks: number): void {
    for (const id of gone) {
      const part = this.parts.get(id)!;
      this.parts.delete(id);
      this.voices.stopPart(part);
      part.isLeaving = true;
      this.leaving.push(part);
    }
    for (const fragment of patch.parts) {
      const channel = this.mix.get(fragment.channelId);
      if (!channel) continue;
      const known = this.parts.get(fragment.id);
      const part = known ?? new PartState(fragment, channel);
      part.fragment = fragment;
      const values = fragment.values.slice();
      part.waiting.holdBack({ kind: 'part', id: part.fragment.id }, part.values, values);
      part.values = values;
      part.channel = channel;
      this.parts.set(fragment.id, part);
      if (fragment.helpers.length > 0) part.way ??= this.newWay?.(part) ?? null;
      part.way?.take(fragment.helpers);
      part.keepTime(this.song.sampleRate, this.song.frame, songTicks);
      this.voices.retime(part, part.clockOr(this.song.clock));
      if (known && part.followTransposition(this.song.barTicks)) this.applyZoneSounds(part);
      this.followTiming(part);
    }
    if (patch.partOrder) this.ordered = patch.partOrder.flatMap((id) => this.parts.get(id) ?? []);
    else if (gone.length > 0) this.ordered = this.ordered.filter((part) => !part.isLeaving);
  }

  private takeZones(patch: PlanPatch, gone: readonly string[], isSameTempo: boolean, waits: PartState | null): void {
    const touched = new Set<PartState>();
    for (const id of gone) {
      const zone = this.zones.get(id)!;
      this.zones.delete(id);
      this.voices.stopZone(zone);
      const part = this.parts.get(zone.fragment.partId);
      part?.zones.delete(id);
      if (part) touched.add(part);
    }
    for (const fragment of patch.zones) {
      const part = this.parts.get(fragment.partId);
      if (!part) continue;
      const known = this.zones.get(fragment.id);
      if (known) this.takeZone(known, fragment, part, isSameTempo, part === waits);
      else {
        const zone = new ZoneState(fragment, this.sources);
        zone.part = part;
        this.zones.set(fragment.id, zone);
        part.zones.set(fragment.id, zone);
        touched.add(part);
      }
    }
    for (const part of touched) part.bindPattern();
    for (const part of new Set(patch.zones.map(({ partId }) => this.parts.get(partId)))) part?.followSolo();
    for (const part of touched) part.followSolo();
  }

  private takeModulators(patch: PlanPatch, gone: readonly string[]): void {
    const isOther = patch.modulators.length > 0 || gone.length > 0;
    this.modulators.take(patch.modulators, gone);
    if (isOther || patch.channels.length > 0 || patch.parts.length > 0) this.leadModulators();
    if (isOther) for (const zone of this.zones.values()) this.findModulators(zone);
    else for (const { id } of patch.zones) this.findModulators(this.zones.get(id));
  }

  private findModulators(zone: ZoneState | undefined): void {
    if (!zone) return;
    const { partId, id } = zone.fragment;
    zone.modulators = this.modulators.of(partId, id);
    zone.given = this.modulators.givenTo(partId, id);
  }

  private leadModulators(): void {
    this.modulators.leadBeside(
      (kind, id) => {
        if (kind === 'helper') return this.helperOwner(id);
        return kind === 'double' ? this.doubles.ownerOf(id) : this.mix.ownerOf(kind, id);
      },
      // Those of no pattern lie over a section.
      (ownerId) => this.patterns.get(ownerId)?.partId ?? OVER_ORDER,
    );
  }

  /** The settings of what stands on the way to a part's keys. */
  private helperOwner(id: string): OwnerValues | null {
    for (const { way } of this.parts.values()) {
      const owner = way?.ownerOf(id);
      if (owner) return owner;
    }
    return null;
  }

  /** Looks where the lanes of a part are, before anything is started there. */
  lookAtLanes(part: PartState): void {
    const { cursor } = part;
    const { frame, playing, clock } = this.song;
    const ticks = playing ? cursor.ticksSinceBegun(part.clockOr(clock).ticksAt(frame)) : NaN;
    this.modulators.beside.lookAtLanes(
      part.fragment.id,
      cursor.pattern?.id ?? '',
      ticks,
      cursor.pattern?.lengthTicks ?? REST.lengthTicks,
    );
  }

  private takeZone(
    zone: ZoneState,
    fragment: ZoneFragment,
    part: PartState,
    isSameTempo: boolean,
    waits: boolean,
  ): void {
    const before = zone.values;
    const isHeld = part.changeTicks !== Infinity && isSameTempo && zone.isTransposedBy(fragment);
    zone.take(fragment, isHeld || (waits && part.waiting.atTicks !== Infinity));
    part.waiting.holdBack({ kind: 'zone', id: fragment.id }, before, zone.values);
    zone.refreshLevel();
    this.voices.retarget(zone, this.song.frame, this.song.clock.tempoBpm);
    this.voices.followValues(zone);
  }

  /** Takes values of all but the song. */
  takeValues(changes: readonly ValueChange[]): void {
    for (const { kind, id, slot, value } of changes) {
      if (kind === 'zone') {
        const zone = this.zones.get(id);
        if (zone) this.setZoneValue(zone, slot, value);
      } else if (kind === 'channel') this.mix.get(id)?.setValue(slot, value);
      else if (kind === 'helper') this.helperOwner(id)?.set(slot, value);
      else if (kind === 'double') this.doubles.ownerOf(id)?.set(slot, value);
      else if (kind === 'effect' || kind === 'send') this.mix.ownerOf(kind, id)?.set(slot, value);
      else if (kind === 'modulator' || kind === 'route') this.modulators.setValue(kind, id, slot, value);
      else if (kind === 'part') {
        const part = this.parts.get(id);
        if (part) this.setPartValue(part, slot, value);
      }
    }
  }

  private setZoneValue(zone: ZoneState, slot: number, value: number): void {
    zone.setValue(slot, value);
    if (slot === ZONE.muted || slot === ZONE.soloed) {
      const part = this.parts.get(zone.fragment.partId);
      part?.followSolo();
      if (part) for (const one of part.zones.values()) if (!part.isHeard(one)) this.voices.stopZone(one);
    } else if (slot !== ZONE.attackMs) this.voices.followValues(zone);
  }

  private setPartValue(part: PartState, slot: number, value: number): void {
    part.values[slot] = value;
    if (slot === PART.transposeCents || slot === PART.transposeAt) {
      if (part.followTransposition(this.song.barTicks)) this.applyZoneSounds(part);
    } else this.followTiming(part);
  }

  /** Lets a part's cursor know how events are moved. */
  private followTiming(part: PartState): void {
    const swingPercent = this.song.values[SONG.swingPercent]!;
    part.cursor.setTiming(part.timing(swingPercent, plainTiming()), part.values[PART.startOffsetTicks]!);
  }

  isRest(pattern: PatternFragment | null): boolean {
    return pattern === REST;
  }

  /** What a part is to play: what a key holds, or else what is chosen. */
  wantedPattern(part: PartState): PatternFragment | null {
    const { heldPatternId, fragment } = part;
    if (heldPatternId === '') return REST;
    const held = heldPatternId === null ? undefined : this.patterns.get(heldPatternId);
    if (part.walk && !held) return this.patterns.get(part.walk.patternId) ?? REST;
    return held ?? this.patterns.get(fragment.activePatternId) ?? null;
  }

  /** Puts each part onto the pattern that it is to play, when changes are to be heard while the song runs. */
  choosePatterns(): void {
    for (const part of this.ordered) this.choosePattern(part);
  }

  private choosePattern(part: PartState): void {
    const { cursor } = part;
    const before = cursor.pattern;
    const playing = before && (before === REST ? REST : this.patterns.get(before.id));
    if (!playing) cursor.pattern = null;
    else if (playing.handId === before.handId) cursor.pattern = playing;
    const isOther = cursor.choose(
      this.wantedPattern(part),
      // What lies elsewhere in the running order is heard as it lies there.
      part.walk ? null : this.song.changeTicksOf(part.clockOr(this.song.clock), cursor),
    );
    if (cursor.pattern === before) return;
    part.bindPattern();
    this.voices.dropJoin(part.player.joinSerial);
    part.player.joinSerial = 0;
    part.isTakenOver ||= isOther && this.song.playing;
  }

  /** A transposition whose bar line has come. */
  applyTransposition(part: PartState): void {
    part.applyTransposition();
    this.applyZoneSounds(part);
  }

  /** What a part plays follows its transposition. */
  private applyZoneSounds(part: PartState): void {
    for (const zone of part.zones.values()) {
      zone.applyPending();
      this.voices.retarget(zone, this.song.frame, this.song.clock.tempoBpm);
    }
    part.player.joinSerial = 0;
  }

  /** Parts that are gone are forgotten when they have faded. */
  letLeave(): void {
    if (this.leaving.length === 0 && this.leavingChannels.size === 0) return;
    for (const part of this.leaving) if (this.voices.isSounding(part)) return;
    this.leaving = [];
    this.mix.update([], [...this.leavingChannels]);
    this.leadModulators();
    this.leavingChannels.clear();
  }
}
