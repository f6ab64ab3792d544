/**
 * Compiles a document and the audio of its sources into fragments, and tells what has changed since the last time. What
 * comes from the same records is not compiled again; a value alone becomes a change of that value.
 */
import type { AudioData } from '../../dsp/audio.ts';
import { EFFECT_ROWS } from '../../params/effects.ts';
import { DOUBLE_ROWS } from '../../params/double-rows.ts';
import { MODULATOR_ROWS, ROUTE_ROWS } from '../../params/modulators.ts';
import { packValues, type Rows } from '../../params/row.ts';
import { CHANNEL_ROWS, PART_ROWS, SEND_ROWS, SONG_ROWS, ZONE_ROWS } from '../../params/tables.ts';
import { homeId } from '../../document/home-id.ts';
import type { Part, ProjectDocument, Zone } from '../../document/schema.ts';
import { ownTempoBpm } from '../../queries/loops.ts';
import { eventsOf, patternLengthTicks } from '../../queries/patterns.ts';
import { audibleChannels, mainChannel } from '../../queries/channels.ts';
import { cutValues, zoneValues } from '../../queries/values.ts';
import { zonesOfPart } from '../../queries/zones.ts';
import { isSameList } from '../../units/same-list.ts';
import {
  emptyPatch,
  isEmptyPatch,
  type ChannelFragment,
  type DoubleFragment,
  type FragmentKind,
  type ModulatorFragment,
  type PartFragment,
  type PlanPatch,
  type PlanSource,
  type RenderPlan,
  type ValueChange,
  type ZoneFragment,
} from './fragments.ts';
import { doubleFragment, levelSources } from './double-fragments.ts';
import { beginPattern, followPattern, type KnownPattern } from './pattern-columns.ts';
import { modulatorFragment } from './modulator-fragments.ts';
import { NO_RENDERINGS, type Renderings } from './renderings.ts';
import { isSameZone, keySoundsOf, loopSettings, readCut, soundOf, zoneFragment } from './zone-fragments.ts';

/** What is compiled, beside the document. */
export interface PlanInputs {
  /** Audio by source id; zones whose audio is missing are silent. */
  assets: ReadonlyMap<string, AudioData>;
  /** Stretched slices and tails; where one is missing the slice plays as it is. */
  renderings?: Renderings;
  /** Only this part is heard, whatever is muted or soloed. */
  onlyPartId?: string;
}

interface KnownZone {
  from: readonly unknown[];
  fragment: ZoneFragment;
  values: Zone['values'];
}
interface KnownModulator {
  from: readonly unknown[];
  fragment: ModulatorFragment;
}
interface KnownValues {
  sparse: object;
  packed: Float64Array;
}

export class PlanCompiler {
  /** Fragments that were compiled so far: for tests of what a change costs. */
  compiledCount = 0;
  /** Samples that the plan plays, by the ids that zones name. */
  readonly sources = new Map<string, PlanSource>();
  private readonly zones = new Map<string, KnownZone>();
  /** What the zones of a part were compiled from last: while that is the same none of them is looked at. */
  private readonly zonesFrom = new Map<string, readonly unknown[]>();
  private readonly patterns = new Map<string, KnownPattern>();
  private readonly parts = new Map<string, PartFragment>();
  private readonly channels = new Map<string, { from: readonly unknown[]; fragment: ChannelFragment }>();
  private readonly values = new Map<string, KnownValues>();
  private readonly modulators = new Map<string, KnownModulator>();
  private modulatorsFrom: readonly unknown[] = [];
  private readonly doublesFrom = new Map<string, readonly unknown[]>();
  private partOrder: readonly string[] | null = null;
  private isFirst = true;

  /** What has changed of the plan since the last call; all of it at the first; null when nothing has. */
  update(document: ProjectDocument, inputs: PlanInputs): PlanPatch | null {
    const patch = emptyPatch();
    patch.isWhole = this.isFirst;
    this.compileSong(document, patch);
    this.compileChannels(document, inputs, patch);
    this.compileModulators(document, patch);
    const seen: Record<FragmentKind, Set<string>> = {
      parts: new Set(document.partOrder),
      zones: new Set(),
      modulators: new Set(Object.keys(document.modulators)),
      patterns: new Set(),
      channels: new Set(Object.keys(document.channels)),
    };
    for (const partId of document.partOrder) {
      const part = document.parts[partId]!;
      this.compilePart(document, part, inputs, patch);
      this.compileZones(document, part, inputs, patch, seen.zones);
      this.compilePatterns(document, part, patch, seen.patterns);
    }
    if (this.partOrder !== document.partOrder) patch.partOrder = this.partOrder = document.partOrder;
    for (const id of this.zonesFrom.keys()) if (!seen.parts.has(id)) this.zonesFrom.delete(id);
    this.forget(this.parts, 'parts', seen, patch);
    this.forget(this.zones, 'zones', seen, patch);
    this.forget(this.modulators, 'modulators', seen, patch);
    this.forget(this.patterns, 'patterns', seen, patch);
    this.forget(this.channels, 'channels', seen, patch);
    this.isFirst = false;
    return isEmptyPatch(patch) ? null : patch;
  }

  private forget(
    table: Map<string, unknown>,
    kind: FragmentKind,
    seen: Record<FragmentKind, ReadonlySet<string>>,
    patch: PlanPatch,
  ): void {
    if (table.size === seen[kind].size) return;
    for (const id of table.keys()) {
      if (seen[kind].has(id)) continue;
      table.delete(id);
      this.values.delete(`${kind} ${id}`);
      patch.removed.push({ kind, id });
    }
  }

  /**
   * The values of an owner as numbers; those that differ from the last time go into the patch.
   * @param name of the owner among all
   */
  private packed(
    name: string,
    owner: Pick<ValueChange, 'kind' | 'id'>,
    rows: Rows,
    sparse: object,
    patch: PlanPatch,
  ): Float64Array {
    const known = this.values.get(name);
    if (known?.sparse === sparse) return known.packed;
    const packed = packValues(rows, sparse);
    if (known) {
      for (let slot = 0; slot < packed.length; slot++) {
        if (packed[slot] !== known.packed[slot]) patch.values.push({ ...owner, slot, value: packed[slot]! });
      }
    }
    this.values.set(name, { sparse, packed });
    return packed;
  }

  private compileSong(document: ProjectDocument, patch: PlanPatch): void {
    const packed = this.packed('song', { kind: 'song', id: '' }, SONG_ROWS, document.song.values, patch);
    if (this.isFirst) patch.song = packed;
  }

  private compileChannels(document: ProjectDocument, { onlyPartId }: PlanInputs, patch: PlanPatch): void {
    const only = onlyPartId === undefined ? undefined : document.parts[onlyPartId]?.channelId;
    const audible = audibleChannels(document, only);
    const mainId = mainChannel(document).id;
    const sendsOf = grouped(Object.values(document.sends), ({ fromChannelId }) => fromChannelId);
    for (const channel of Object.values(document.channels)) {
      const { id } = channel;
      const outputId = id === mainId ? null : (channel.outputId ?? mainId);
      const values = this.packed(`channels ${id}`, { kind: 'channel', id }, CHANNEL_ROWS, channel.values, patch);
      const effects = channel.effectOrder.map((effectId) => {
        const { kind, bypassed, sideChannelId, values: sparse } = document.effects[effectId]!;
        const owner = { kind: 'effect', id: effectId } as const;
        const packed = this.packed(`effect ${effectId}`, owner, EFFECT_ROWS[kind], sparse, patch);
        return { id: effectId, kind, bypassed, sideChannelId, values: packed };
      });
      const sends = (sendsOf.get(id) ?? []).map((send) => {
        const packed = this.packed(`send ${send.id}`, { kind: 'send', id: send.id }, SEND_ROWS, send.values, patch);
        const { toChannelId } = send;
        return { id: send.id, toChannelId, isOpen: audible.isOpen(id, toChannelId), values: packed };
      });
      const isHeard = audible.heard.has(id);
      const isOutputOpen = outputId === null || audible.isOpen(id, outputId);
      const wiring = effects.flatMap((effect) => [effect.id, effect.bypassed, effect.sideChannelId]);
      const from = [outputId, isHeard, isOutputOpen, ...wiring, ...sends.flatMap((send) => [send.id, send.isOpen])];
      const known = this.channels.get(id);
      if (known && isSameList(known.from, from)) continue;
      const fragment: ChannelFragment = { id, outputId, isHeard, isOutputOpen, effects, sends, values };
      this.channels.set(id, { from, fragment });
      this.put(patch.channels, fragment);
    }
  }

  private put<T>(list: T[], fragment: T): void {
    list.push(fragment);
    this.compiledCount++;
  }

  private compileModulators(document: ProjectDocument, patch: PlanPatch): void {
    const from = [document.modulators, document.routes];
    if (isSameList(this.modulatorsFrom, from)) return;
    this.modulatorsFrom = from;
    const routesOf = grouped(Object.values(document.routes), ({ modulatorId }) => modulatorId);
    for (const modulator of Object.values(document.modulators)) {
      const { id, kind } = modulator;
      const routes = routesOf.get(id) ?? [];
      const rows: Rows = MODULATOR_ROWS[kind];
      const values = this.packed(`modulators ${id}`, { kind: 'modulator', id }, rows, modulator.values, patch);
      const routeValues = routes.map((route) =>
        this.packed(`route ${route.id}`, { kind: 'route', id: route.id }, ROUTE_ROWS, route.values, patch),
      );
      const ways = routes.flatMap(({ id: routeId, target, paramId }) => [routeId, target.kind, target.id, paramId]);
      const made = [modulator.ownerId, modulator.steps, modulator.points, modulator.lengthTicks, ...ways];
      const known = this.modulators.get(id);
      if (known && isSameList(known.from, made)) continue;
      const fragment = modulatorFragment(document, modulator, values, routes, routeValues);
      this.modulators.set(id, { from: made, fragment });
      this.put(patch.modulators, fragment);
    }
  }

  private compilePart(document: ProjectDocument, part: Part, { assets }: PlanInputs, patch: PlanPatch): void {
    const { id, channelId, activePatternId, groove } = part;
    const ownTempo = ownTempoBpm(document, part);
    const values = this.packed(`parts ${id}`, { kind: 'part', id }, PART_ROWS, part.values, patch);
    const { from, make } = this.doublesOf(document, part, assets, patch);
    const known = this.parts.get(id);
    if (
      known?.channelId === channelId &&
      isSameList(this.doublesFrom.get(id) ?? [], from) &&
      known.activePatternId === activePatternId &&
      known.groove === groove &&
      known.ownTempoBpm === ownTempo
    ) {
      return;
    }
    const fragment = { id, channelId, activePatternId, groove, ownTempoBpm: ownTempo, doubles: make(), values };
    this.doublesFrom.set(id, from);
    this.parts.set(id, fragment);
    this.put(patch.parts, fragment);
  }

  /** What the doubles of a part are made from, and how. */
  private doublesOf(
    document: ProjectDocument,
    part: Part,
    assets: ReadonlyMap<string, AudioData>,
    patch: PlanPatch,
  ): { from: readonly unknown[]; make: () => DoubleFragment[] } {
    const { doubles } = part;
    if (!doubles) return { from: [], make: () => [] };
    const placed = new Map(zonesOfPart(document, part).map((one) => [one.zone.id, one]));
    const packed = doubles.map(({ id, values }) =>
      this.packed(`double ${id}`, { kind: 'double', id }, DOUBLE_ROWS, values, patch),
    );
    return {
      from: doubles.flatMap((one) => [one.id, one.zoneIds, one.soundId, ...levelSources(one, placed, assets)]),
      make: () => doubles.map((one, place) => doubleFragment(one, placed, assets, packed[place]!)),
    };
  }

  private compileZones(
    document: ProjectDocument,
    part: Part,
    { assets, renderings = NO_RENDERINGS }: PlanInputs,
    patch: PlanPatch,
    seen: Set<string>,
  ): void {
    const all = zonesOfPart(document, part);
    for (const { zone } of all) seen.add(zone.id);
    const ofCuts = part.cutOrder.flatMap((cutId) => {
      const cut = document.cuts[cutId]!;
      return [cut, document.sources[cut.sourceId], assets.get(cut.sourceId)];
    });
    const ofPart = [all, document.song.values, part.values, renderings, renderings.version, ...ofCuts];
    if (isSameList(this.zonesFrom.get(part.id) ?? [], ofPart)) return;
    this.zonesFrom.set(part.id, ofPart);
    const cuts = new Map(part.cutOrder.map((cutId) => [cutId, readCut(document, document.cuts[cutId]!)]));
    for (const placed of all) {
      const { zone } = placed;
      const values = this.packed(`zones ${zone.id}`, { kind: 'zone', id: zone.id }, ZONE_ROWS, zone.values, patch);
      const cut = cuts.get(placed.cut.id)!;
      const { retiming } = cut;
      const from = [
        placed.at.startFrame,
        placed.at.endFrame,
        placed.at.slice.role,
        placed.keys?.low,
        placed.keys?.high,
        placed.keys?.root,
        zone.velocities,
        zone.loop,
        zone.plays,
        ...loopSettings(zone),
        cutValues(placed.cut).follow,
        cutValues(placed.cut).tail,
        cut.sourceId,
        cut.tempoBpm,
        cut.isStretched,
        assets.get(cut.sourceId),
        (retiming || zoneValues(zone).keepsLength) && renderings.version,
        retiming?.fill,
        retiming?.times,
        retiming?.material,
        retiming?.transposeCents,
      ];
      const known = this.zones.get(zone.id);
      if (known && isSameList(known.from, from)) continue;
      const samples = { assets, renderings };
      const keep = (id: string, audio: AudioData) => this.keep(id, audio);
      const sound = soundOf(document, placed, cut, samples, keep);
      const keySounds = keySoundsOf(document, placed, cut, samples, keep);
      const fragment = zoneFragment(part, placed, cut, sound, keySounds, values);
      this.zones.set(zone.id, { from, fragment, values: zone.values });
      if (known && isSameZone(known.fragment, fragment)) continue;
      this.put(patch.zones, fragment);
    }
  }

  private keep(id: string, audio: AudioData): string {
    if (this.sources.get(id)?.channels !== audio.channels) this.sources.set(id, { id, ...audio });
    return id;
  }

  /** Ids of the samples that zones name now. */
  usedSourceIds(): Set<string> {
    const used = new Set<string>();
    for (const { fragment } of this.zones.values()) for (const id of soundIdsOf(fragment)) used.add(id);
    return used;
  }

  private compilePatterns(document: ProjectDocument, part: Part, patch: PlanPatch, seen: Set<string>): void {
    for (const id of [...part.cutOrder.map(homeId), ...part.patternOrder]) {
      seen.add(id);
      const events = eventsOf(document, id);
      const lengthTicks = patternLengthTicks(document, id);
      const known = this.patterns.get(id);
      const handId = document.patterns[id]?.handId ?? null;
      const { fragment } = known ?? {};
      if (known?.events === events && fragment?.lengthTicks === lengthTicks && fragment.handId === handId) continue;
      if (known) this.put(patch.splices, followPattern(known, events, { lengthTicks, handId }));
      else {
        const begun = beginPattern({ id, partId: part.id, handId, lengthTicks }, events);
        this.patterns.set(id, begun);
        this.put(patch.patterns, begun.fragment);
      }
    }
  }
}

/** Ids of all samples that a zone plays. */
export function soundIdsOf({ sound, keySounds }: ZoneFragment): string[] {
  return [sound, ...keySounds].flatMap((one) =>
    one ? [one.sourceId, one.loop?.sourceId].filter((id) => typeof id === 'string') : [],
  );
}

function grouped<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    const group = groups.get(key);
    if (group) group.push(item);
    else groups.set(key, [item]);
  }
  return groups;
}

/** A whole plan: for bouncing, the command line and tests. */
export function compilePlan(document: ProjectDocument, sampleRate: number, inputs: PlanInputs): RenderPlan {
  const compiler = new PlanCompiler();
  const patch = compiler.update(document, inputs)!;
  return { sampleRate, sources: [...compiler.sources.values()], patch };
}
