/** What has to be rendered of a document, and in which order it will be heard. */
import type { Part, ProjectDocument } from '../../document/schema.ts';
import { eventsOf, patternLengthTicks } from '../../queries/patterns.ts';
import { slicesOfCut, type PlacedSlice } from '../../queries/slices.ts';
import { channelValues, zoneValues } from '../../queries/values.ts';
import { zonesOfPart, type PlacedZone } from '../../queries/zones.ts';
import { inOrderTempi } from '../../order/at-tempo.ts';
import { withEachTreatment } from '../../order/treated.ts';
import { derive } from '../../units/derive.ts';
import { readCut, type ReadCut } from './read-cut.ts';
import { keyRenderingSpec, renderingSpec, zoneSampleSettings, type RenderingSpec } from './renderings.ts';

interface CutInputs {
  cut: ReadCut;
  slices: readonly PlacedSlice[];
  placed: readonly PlacedZone[];
}

/** One a slice, then those of zones that play on to the end of the sound; none where slices play as they are. */
function cutRenderings({ cut, slices, placed }: CutInputs): RenderingSpec[] {
  const { retiming, frames, cutId } = cut;
  if (!retiming) return [];
  const specs = slices.map((at) => renderingSpec(cut, at, retiming));
  if (retiming.fill === 'ring') return specs;
  const longer = placed.filter(
    ({ zone, cut: { id } }) => id === cutId && zone.plays.kind === 'slice' && zoneValues(zone).runsOn,
  );
  return [...specs, ...longer.map(({ at }) => renderingSpec(cut, { ...at, endFrame: frames }, retiming))];
}

/** All keys' renderings of a part, from the root outwards: the nearest are played first. */
function keyRenderings({ placed, cuts }: { placed: readonly PlacedZone[]; cuts: readonly ReadCut[] }): RenderingSpec[] {
  const byId = new Map(cuts.map((cut) => [cut.cutId, cut]));
  return placed.flatMap(({ zone, at, keys, cut }) => {
    const settings = zoneSampleSettings(zone);
    if (!keys || settings.keepsLengthAtCents === null) return [];
    const all = Array.from({ length: keys.high - keys.low + 1 }, (_, place) => keys.low + place);
    all.sort((a, b) => Math.abs(a - keys.root) - Math.abs(b - keys.root));
    return all.flatMap((key) => keyRenderingSpec(settings, at, keys, byId.get(cut.id)!, key) ?? []);
  });
}

/** Of one document after another; worked out again only where something that it follows from is another. */
export class WantedRenderings {
  private readonly ofCuts = derive(cutRenderings);
  private readonly ofKeys = derive(keyRenderings);

  /** By the ids of cuts, then for the keys of parts: the same lists as long as nothing else is wanted. */
  lists(document: ProjectDocument): (readonly RenderingSpec[])[] {
    const parts = Object.values(document.parts);
    return [
      ...Object.keys(document.cuts).map((id) => this.ofCut(document, id)),
      ...parts.map((part) => this.forKeys(document, part)),
      ...this.forOrder(document),
    ];
  }

  /** Those for the tempi of the running order, and for the treatments that it puts on, cut by cut. */
  private forOrder(document: ProjectDocument): (readonly RenderingSpec[])[] {
    return [
      ...this.inTempi(document, Object.keys(document.cuts), ''),
      ...withEachTreatment(document).flatMap(({ partId, treatmentId, document: laid }) => {
        const part = laid.parts[partId]!;
        return [
          ...part.cutOrder.map((cutId) => this.ofCut(laid, cutId, ` ${treatmentId}`)),
          this.forKeys(laid, part, ` ${treatmentId}`),
          ...this.inTempi(laid, part.cutOrder, ` ${treatmentId}`),
        ];
      }),
    ];
  }

  private inTempi(document: ProjectDocument, cutIds: readonly string[], more: string): (readonly RenderingSpec[])[] {
    return inOrderTempi(document).flatMap(({ tempoBpm, document: there }) =>
      cutIds.map((cutId) => this.ofCut(there, cutId, `${more} ${tempoBpm}`)),
    );
  }

  /** @param more tells several wishes for a cut apart */
  ofCut(document: ProjectDocument, cutId: string, more = ''): readonly RenderingSpec[] {
    const cut = document.cuts[cutId]!;
    const placed = zonesOfPart(document, document.parts[cut.partId]!);
    return this.ofCuts.of(cutId + more, { cut: readCut(document, cut), slices: slicesOfCut(document, cutId), placed });
  }

  private forKeys(document: ProjectDocument, part: Part, more = ''): readonly RenderingSpec[] {
    const cuts = part.cutOrder.map((cutId) => readCut(document, document.cuts[cutId]!));
    return this.ofKeys.of(part.id + more, { placed: zonesOfPart(document, part), cuts });
  }

  /**
   * All that a document wants, each once, in the order in which it will be heard from a position of the song on. What no
   * playing pattern uses comes after that, silenced parts come last.
   */
  inOrder(document: ProjectDocument, positionTicks: number): RenderingSpec[] {
    const anySoloed = Object.values(document.channels).some((channel) => channelValues(channel).soloed);
    const waits = document.partOrder.flatMap((partId) => {
      const part = document.parts[partId]!;
      const { soloed, muted } = channelValues(document.channels[part.channelId]!);
      const isSilenced = anySoloed ? !soloed : muted;
      let ticksBySlice: ReadonlyMap<string, number> | null = null;
      return part.cutOrder.flatMap((cutId) => {
        const specs = this.ofCut(document, cutId);
        if (specs.length === 0) return [];
        ticksBySlice ??= ticksUntilHeard(document, part, positionTicks);
        const placed = slicesOfCut(document, cutId);
        return specs.map((spec, index) => {
          const ticks = ticksBySlice!.get(`${cutId} ${placed[index]?.slice.id}`) ?? Infinity;
          return { spec, order: isSilenced ? Infinity : Math.min(ticks, 1e12) };
        });
      });
    });
    waits.sort((a, b) => (a.order === b.order ? 0 : a.order - b.order));
    const forKeys = document.partOrder.flatMap((partId) => this.forKeys(document, document.parts[partId]!));
    return [
      ...new Map(
        [...waits.map(({ spec }) => spec), ...this.forOrder(document).flat(), ...forKeys].map((spec) => [
          spec.key,
          spec,
        ]),
      ).values(),
    ];
  }
}

/** All that a document wants now. */
export function wantedRenderings(document: ProjectDocument): RenderingSpec[] {
  return new WantedRenderings().inOrder(document, 0);
}

/**
 * For each slice of a part the ticks until its next event in the pattern that plays; missing for those not in it. One
 * that sounds is wanted before it ends, and the sooner the better: half of what is left of it counts.
 */
function ticksUntilHeard(document: ProjectDocument, part: Part, positionTicks: number): ReadonlyMap<string, number> {
  const zones = new Map(zonesOfPart(document, part).map((placed) => [placed.zone.id, placed]));
  const lengthTicks = patternLengthTicks(document, part.activePatternId) || 1;
  const within = positionTicks % lengthTicks;
  const bySlice = new Map<string, number>();
  for (const event of eventsOf(document, part.activePatternId)) {
    const placed = zones.get(event.zoneId);
    if (!placed) continue;
    const gone = (within - event.positionTicks + lengthTicks) % lengthTicks;
    const ahead = gone < event.lengthTicks ? (event.lengthTicks - gone) / 2 : lengthTicks - gone;
    const name = `${placed.cut.id} ${placed.at.slice.id}`;
    bySlice.set(name, Math.min(gone === 0 ? 0 : ahead, bySlice.get(name) ?? Infinity));
  }
  return bySlice;
}
