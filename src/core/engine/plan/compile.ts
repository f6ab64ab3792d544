/**
 * Compiles a document and the audio of its sources into fragments, and tells what has changed since the last time. Every
 * fragment is derived from declared inputs: what comes from the same ones is not compiled again. Values are no inputs: one
 * alone becomes a change of that value.
 */
import type { AudioData } from '../../dsp/audio.ts';
import { EFFECT_ROWS } from '../../params/effects.ts';
import { DOUBLE_ROWS } from '../../params/double-rows.ts';
import { HELPER_ROWS } from '../../params/helpers.ts';
import { MODULATOR_ROWS, ROUTE_ROWS } from '../../params/modulators.ts';
import { CHANNEL_ROWS, PART_ROWS, SEND_ROWS, SONG_ROWS, ZONE_ROWS } from '../../params/tables.ts';
import { homeId } from '../../document/home-id.ts';
import type { Effect, Part, ProjectDocument } from '../../document/schema.ts';
import { ownTempoBpm } from '../../queries/loops.ts';
import { chainTree } from '../../document/chain-tree.ts';
import { eventsOf, patternLengthTicks } from '../../queries/patterns.ts';
import { audibleChannels, mainChannel, type Audible } from '../../queries/channels.ts';
import { zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import { derive } from '../../units/derive.ts';
import { grouped } from '../../units/grouped.ts';
import {
  emptyPatch,
  isEmptyPatch,
  type ChannelFragment,
  type EffectFragment,
  type FragmentKind,
  type PartFragment,
  type PlanPatch,
  type PlanSource,
  type RenderPlan,
  type SendFragment,
  type ValueChange,
} from './fragments.ts';
import { orderLayout } from '../../order/layout.ts';
import { inOrderTempi } from '../../order/at-tempo.ts';
import { treatmentsPutOn } from '../../order/treated.ts';
import { orderFragment, type OrderInputs } from './order-fragment.ts';
import { doubleInputs, doubleShape, type DoubleInputs } from './double-fragments.ts';
import { LookCompiler } from './looks.ts';
import { helperInputs, helperShape, type HelperInputs } from './helper-fragments.ts';
import { modulatorInputs, modulatorShape } from './modulator-fragments.ts';
import type { PlanInputs } from './plan-inputs.ts';
import { PackedValues } from './packed-values.ts';
import { beginPattern, followPattern, type KnownPattern } from './pattern-columns.ts';
import { readCut, type ReadCut } from './read-cut.ts';
import { NO_RENDERINGS, type Renderings } from './renderings.ts';
import { isSameZone, zoneInputs, zoneShape, type ZoneInputs, type ZoneShape } from './zone-fragments.ts';

/** Fragments without their values. */
type Shape<Fragment> = Omit<Fragment, 'values'>;
type EffectShape = Omit<EffectFragment, 'values' | 'paths'> & { paths: readonly (readonly EffectShape[])[] };
type ChannelShape = Shape<Omit<ChannelFragment, 'effects' | 'sends'>> & {
  effects: readonly EffectShape[];
  sends: readonly Shape<SendFragment>[];
};
type PartInputs = Omit<Shape<PartFragment>, 'doubles' | 'helpers'> & {
  doubles: readonly DoubleInputs[];
  helpers: readonly HelperInputs[];
};

interface PartZonesInputs {
  placed: readonly PlacedZone[];
  cuts: readonly ReadCut[];
  /** The same cuts in the tempi of the running order. */
  tempi: readonly { tempoBpm: number; cuts: readonly ReadCut[] }[];
  /** Of each cut. */
  audios: readonly (AudioData | undefined)[];
  renderings: Renderings;
  version: number;
}

/** What its zones follow from, in their order. */
function partZones({ placed, cuts, tempi, audios, renderings }: PartZonesInputs): ZoneInputs[] {
  const places = new Map(cuts.map(({ cutId }, place) => [cutId, place]));
  return placed.map((one) => {
    const place = places.get(one.cut.id)!;
    const others = tempi.map(({ tempoBpm, cuts: there }) => ({ tempoBpm, cut: there[place]! }));
    return zoneInputs(one, cuts[place]!, others, { audio: audios[place], renderings });
  });
}

/** Whose values those of a fragment are. */
const OWNER_OF = {
  parts: 'part',
  zones: 'zone',
  modulators: 'modulator',
  channels: 'channel',
} as const satisfies Record<Exclude<FragmentKind, 'patterns'>, ValueChange['kind']>;

export class PlanCompiler {
  /** Fragments that were compiled so far: for tests of what a change costs. */
  compiledCount = 0;
  private readonly values = new PackedValues();
  private readonly channels = derive((inputs: ChannelShape) => inputs);
  private readonly modulatorTables = derive(modulatorInputs);
  private readonly modulators = derive(modulatorShape);
  private readonly parts = derive(({ doubles, helpers, ...part }: PartInputs) => ({
    ...part,
    doubles: doubles.map(doubleShape),
    helpers: helpers.map(helperShape),
  }));
  /** While nothing of a part is another, none of its zones is looked at. */
  private readonly partZones = derive(partZones);
  private readonly zones = derive(
    (inputs: ZoneInputs, id): ZoneShape => zoneShape(inputs, id, (name, audio) => this.keep(name, audio)),
    isSameZone,
  );
  private readonly patterns = new Map<string, KnownPattern>();
  private readonly orders = derive((inputs: OrderInputs) => orderFragment(inputs));
  private partOrder: readonly string[] | null = null;
  private isFirst = true;
  private looks: LookCompiler | null = null;

  /**
   * @param sources samples that the plan plays, by the ids that zones name
   * @param isBeside it compiles ways to sound for another
   */
  constructor(
    readonly sources = new Map<string, PlanSource>(),
    private readonly isBeside = false,
  ) {}

  /** What has changed of the plan since the last call; all of it at the first; null when nothing has. */
  update(document: ProjectDocument, inputs: PlanInputs): PlanPatch | null {
    const patch = emptyPatch();
    patch.isWhole = this.isFirst;
    this.compileSong(document, patch);
    const tempi = this.compileOrder(document, patch);
    const only = inputs.onlyPartId === undefined ? undefined : document.parts[inputs.onlyPartId]?.channelId;
    const audible = audibleChannels(document, only);
    this.compileChannels(document, audible, patch);
    this.compileModulators(document, patch);
    const zoneIds = new Set<string>();
    const patternIds = new Set<string>();
    for (const partId of document.partOrder) {
      const part = document.parts[partId]!;
      this.compilePart(document, part, { ...inputs, isHeard: audible.heard.has(part.channelId) }, patch);
      this.compileZones(document, part, inputs, { patch, seen: zoneIds, tempi });
      this.compilePatterns(document, part, patch, patternIds);
    }
    if (this.partOrder !== document.partOrder) patch.partOrder = this.partOrder = document.partOrder;
    const partIds = new Set(document.partOrder);
    this.partZones.keepOnly(partIds);
    this.forget('parts', this.parts.keepOnly(partIds), patch);
    this.forget('zones', this.zones.keepOnly(zoneIds), patch);
    this.forget('modulators', this.modulators.keepOnly(new Set(Object.keys(document.modulators))), patch);
    this.forgetPatterns(patternIds, patch);
    this.forget('channels', this.channels.keepOnly(new Set(Object.keys(document.channels))), patch);
    if (!this.isBeside) this.compileLooks(document, inputs, patch);
    this.isFirst = false;
    return isEmptyPatch(patch) ? null : patch;
  }

  private forget(kind: keyof typeof OWNER_OF, gone: readonly string[], patch: PlanPatch): void {
    for (const id of gone) {
      this.values.forget({ kind: OWNER_OF[kind], id });
      patch.removed.push({ kind, id });
    }
  }

  private forgetPatterns(seen: ReadonlySet<string>, patch: PlanPatch): void {
    if (this.patterns.size === seen.size) return;
    for (const id of this.patterns.keys()) {
      if (seen.has(id)) continue;
      this.patterns.delete(id);
      patch.removed.push({ kind: 'patterns', id });
    }
  }

  private put<T>(list: T[], fragment: T): void {
    list.push(fragment);
    this.compiledCount++;
  }

  private compileSong(document: ProjectDocument, patch: PlanPatch): void {
    const packed = this.values.of({ kind: 'song', id: '' }, SONG_ROWS, document.song.values, patch);
    if (this.isFirst) patch.song = packed;
  }

  /** @returns the document in each tempo of the running order that is not the song's */
  private compileOrder(document: ProjectDocument, patch: PlanPatch): { tempoBpm: number; document: ProjectDocument }[] {
    const { sections, lengthTicks } = orderLayout(document);
    const before = this.orders.last('');
    const order = this.orders.of('', { sections, lengthTicks });
    if (order !== (before ?? null)) {
      patch.order = order;
      this.compiledCount++;
    }
    return inOrderTempi(document);
  }

  /** Ways to sound that the running order puts on; most documents have none. */
  private compileLooks(document: ProjectDocument, inputs: PlanInputs, patch: PlanPatch): void {
    if (!this.looks && treatmentsPutOn(document).length === 0) return;
    this.looks ??= new LookCompiler(new PlanCompiler(this.sources, true));
    const before = this.looks.latest;
    const looks = this.looks.update(document, inputs);
    if (looks !== before) patch.looks = looks;
  }

  private compileChannels(document: ProjectDocument, audible: Audible, patch: PlanPatch): void {
    const mainId = mainChannel(document).id;
    const sendsOf = grouped(Object.values(document.sends), ({ fromChannelId }) => fromChannelId);
    for (const channel of Object.values(document.channels)) {
      const { id } = channel;
      const outputId = id === mainId ? null : (channel.outputId ?? mainId);
      const effects = channel.effectOrder.map((effectId) => document.effects[effectId]!);
      const sends = sendsOf.get(id) ?? [];
      const values = {
        values: this.values.of({ kind: 'channel', id }, CHANNEL_ROWS, channel.values, patch),
        effects: new Map(
          effects.map(({ id: effectId, kind, values: sparse }) => [
            effectId,
            this.values.of({ kind: 'effect', id: effectId }, EFFECT_ROWS[kind], sparse, patch),
          ]),
        ),
        sends: sends.map((one) => this.values.of({ kind: 'send', id: one.id }, SEND_ROWS, one.values, patch)),
      };
      const before = this.channels.last(id);
      const shape = this.channels.of(id, {
        id,
        outputId,
        isHeard: audible.heard.has(id),
        isOutputOpen: outputId === null || audible.isOpen(id, outputId),
        effects: effectShapes(effects),
        sends: sends.map(({ id: sendId, toChannelId }) => ({
          id: sendId,
          toChannelId,
          isOpen: audible.isOpen(id, toChannelId),
        })),
      });
      if (shape === before) continue;
      this.put(patch.channels, {
        ...shape,
        effects: effectsWithValues(shape.effects, values.effects),
        sends: withValues(shape.sends, values.sends),
        values: values.values,
      });
    }
  }

  private compileModulators({ modulators, routes, effects, helpers }: ProjectDocument, patch: PlanPatch): void {
    const before = this.modulatorTables.last('');
    const tables = this.modulatorTables.of('', { modulators, routes, effects, helpers });
    if (tables === before) return;
    for (const inputs of tables) {
      const { id, kind } = inputs;
      const values = this.values.of({ kind: 'modulator', id }, MODULATOR_ROWS[kind], modulators[id]!.values, patch);
      const routeValues = inputs.routes.map((route) =>
        this.values.of({ kind: 'route', id: route.id }, ROUTE_ROWS, routes[route.id]!.values, patch),
      );
      const known = this.modulators.last(id);
      const shape = this.modulators.of(id, inputs);
      if (shape === known) continue;
      this.put(patch.modulators, { ...shape, routes: withValues(shape.routes, routeValues), values });
    }
  }

  private compilePart(
    document: ProjectDocument,
    part: Part,
    { assets, isHeard }: PlanInputs & { isHeard: boolean },
    patch: PlanPatch,
  ): void {
    const { id, channelId, activePatternId, groove, doubles = [], helperOrder } = part;
    const values = this.values.of({ kind: 'part', id }, PART_ROWS, part.values, patch);
    const doubleValues = doubles.map((one) =>
      this.values.of({ kind: 'double', id: one.id }, DOUBLE_ROWS, one.values, patch),
    );
    const helpers = helperOrder.map((helperId) => document.helpers[helperId]!);
    const helperValues = helpers.map((one) =>
      this.values.of({ kind: 'helper', id: one.id }, HELPER_ROWS[one.kind], one.values, patch),
    );
    const placed = new Map(doubles.length === 0 ? [] : zonesOfPart(document, part).map((one) => [one.zone.id, one]));
    const before = this.parts.last(id);
    const shape = this.parts.of(id, {
      id,
      channelId,
      activePatternId,
      groove,
      ownTempoBpm: ownTempoBpm(document, part),
      doubles: doubles.map((one) => doubleInputs(one, placed, assets, isHeard)),
      helpers: helpers.map(helperInputs),
      changes: Object.fromEntries(
        Object.entries(part.treatmentChanges ?? {}).map(([patternId, changes]) => [
          patternId,
          changes.map(({ at, treatmentId = '' }) => ({ at, treatmentId })),
        ]),
      ),
    });
    if (shape === before) return;
    this.put(patch.parts, {
      ...shape,
      doubles: withValues(shape.doubles, doubleValues),
      helpers: withValues(shape.helpers, helperValues),
      values,
    });
  }

  private compileZones(
    document: ProjectDocument,
    part: Part,
    { assets, renderings = NO_RENDERINGS }: PlanInputs,
    {
      patch,
      seen,
      tempi,
    }: { patch: PlanPatch; seen: Set<string>; tempi: readonly { tempoBpm: number; document: ProjectDocument }[] },
  ): void {
    const placed = zonesOfPart(document, part);
    for (const { zone } of placed) seen.add(zone.id);
    const cuts = part.cutOrder.map((cutId) => readCut(document, document.cuts[cutId]!));
    const audios = cuts.map(({ sourceId }) => assets.get(sourceId));
    const inTempi = tempi.map(({ tempoBpm, document: there }) => ({
      tempoBpm,
      cuts: part.cutOrder.map((cutId) => readCut(there, there.cuts[cutId]!)),
    }));
    const known = this.partZones.last(part.id);
    const inputs = this.partZones.of(part.id, {
      placed,
      cuts,
      tempi: inTempi,
      audios,
      renderings,
      version: renderings.version,
    });
    if (inputs === known) return;
    for (const [place, { zone }] of placed.entries()) {
      const { id } = zone;
      const values = this.values.of({ kind: 'zone', id }, ZONE_ROWS, zone.values, patch);
      const before = this.zones.last(id);
      const shape = this.zones.of(id, inputs[place]!);
      if (shape !== before) this.put(patch.zones, { ...shape, values });
    }
  }

  private keep(id: string, audio: AudioData): string {
    if (this.sources.get(id)?.channels !== audio.channels) this.sources.set(id, { id, ...audio });
    return id;
  }

  /** Ids of the samples that zones name now. */
  usedSourceIds(): Set<string> {
    return new Set([...this.zones.values, ...(this.looks?.zones ?? [])].flatMap(soundIdsOf));
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
export function soundIdsOf({ sound, keySounds, tempoSounds }: ZoneShape): string[] {
  return [sound, ...keySounds, ...tempoSounds.map((one) => one.sound)].flatMap((one) =>
    one ? [one.sourceId, one.loop?.sourceId].filter((id) => typeof id === 'string') : [],
  );
}

function effectShapes(effects: readonly Effect[]): EffectShape[] {
  return chainTree(effects).map(({ effect: { id, kind, bypassed, sideChannelId }, paths }) => ({
    id,
    kind,
    bypassed,
    sideChannelId,
    paths: paths.map(effectShapes),
  }));
}

function effectsWithValues(
  shapes: readonly EffectShape[],
  values: ReadonlyMap<string, Float64Array>,
): EffectFragment[] {
  return shapes.map(({ paths, ...shape }) => ({
    ...shape,
    paths: paths.map((path) => effectsWithValues(path, values)),
    values: values.get(shape.id)!,
  }));
}

/** Each with its values, which stand in the same order. */
function withValues<Shape>(
  shapes: readonly Shape[],
  values: readonly Float64Array[],
): (Shape & { values: Float64Array })[] {
  return shapes.map((shape, place) => ({ ...shape, values: values[place]! }));
}

/** A whole plan: for bouncing, the command line and tests. */
export function compilePlan(document: ProjectDocument, sampleRate: number, inputs: PlanInputs): RenderPlan {
  const compiler = new PlanCompiler();
  const patch = compiler.update(document, inputs)!;
  return { sampleRate, sources: [...compiler.sources.values()], patch };
}
