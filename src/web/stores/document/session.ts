/** What belongs to this window and is neither saved nor undone: selection, zoom, the grid in use. */
import { useMediaQuery, useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { DEAL_ROWS, type SparseDealValues } from '#core/params/deal-rows.ts';
import { soundValues } from '#core/params/row.ts';
import type { Cut, Part, PatternEvent } from '#core/document/schema.ts';
import { eventsOf, patternLengthTicks } from '#core/queries/patterns.ts';
import { slicesOfCut, type PlacedSlice } from '#core/queries/slices.ts';
import { unheardStrips } from '#core/queries/unheard.ts';
import { partValues } from '#core/queries/values.ts';
import { zonesBySlice, zonesOfPart, type PlacedZone } from '#core/queries/zones.ts';
import { feelStepTicks } from '#core/strips/feel-step.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { isSameList } from '#core/units/same-list.ts';
import { library } from '../../audio/services.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { themeName } from '../../theme/theme.ts';
import type { RulerUnit } from '../../canvas/ruler.ts';
import type { ViewWindow } from '../../canvas/view-window.ts';
import type { LoadedSource, SourceReading } from '../../workers/analysis-protocol.ts';
import { useProject } from './project.ts';

export type SnapTarget = 'attack' | 'zero' | 'grid' | 'nothing';

export type Band = 'source' | 'keys' | 'pattern';

/** What the details at the right are of. */
export type DetailScope = 'part' | 'slice' | 'strip' | 'deal' | 'helper';

/** At most: 48 dB. */
const MAX_HEIGHT_ZOOM = 256;

/** Projects whose rules of dealing are remembered in this browser. */
const MOST_PROJECTS_WITH_RULES = 100;

const NO_IDS: ReadonlySet<string> = new Set();

export const useSession = defineStore('session', () => {
  const project = useProject();
  const partId = ref<string | null>(null);
  const sliceIds = shallowRef<readonly string[]>([]);
  const eventIds = shallowRef<readonly string[]>([]);
  /** Zones that were chosen by themselves, on their keys; empty where slices were chosen. */
  const zoneIds = shallowRef<readonly string[]>([]);
  /** The chosen zones were played, not pointed at: nothing else is to move because of it. */
  const isChosenByPlaying = ref(false);
  /** The cut that is looked at, of a part that has several. */
  const shownCutId = ref<string | null>(null);
  const feelStep = computed(() => feelStepTicks(part.value ? partValues(part.value).feelStep : 'sixteenths'));
  /** Lines of the ruler from one beat to the next. */
  const linesABeat = computed(() => TICKS_PER_BEAT / feelStep.value);
  /** Null: free; undefined: nobody has chosen one, it is the one that the part's loop lies on. */
  const chosenGridTicks = ref<number | null>();
  const gridStepTicks = computed<number | null>({
    get: () => (chosenGridTicks.value === undefined ? feelStep.value : chosenGridTicks.value),
    set: (ticks) => (chosenGridTicks.value = ticks),
  });
  const reachPercent = ref(60);
  /** What stays and what colours when a pattern is dealt. */
  const rulesByProject = useStorage<Record<string, unknown>>('yappa.deal-rules', {});
  const dealRules = computed<SparseDealValues>({
    get: () => soundValues(DEAL_ROWS, rulesByProject.value[project.document?.id ?? '']),
    set: (rules) => {
      const id = project.document?.id;
      if (id === undefined) return;
      const { [id]: _before, ...others } = rulesByProject.value;
      // The latest last: those of projects of long ago go.
      const kept = Object.entries(others).slice(1 - MOST_PROJECTS_WITH_RULES);
      rulesByProject.value = Object.fromEntries([...kept, ...(Object.keys(rules).length > 0 ? [[id, rules]] : [])]);
    },
  });
  /** What a marker snaps to when it is set or dropped; Alt held down leaves it where it is. */
  const snapTo = ref<SnapTarget>('attack');
  /** The source band lays slices out by likeness instead of time. */
  const byLikeness = ref(false);
  const grownBand = ref<Band | null>(null);
  /** The slice that is taken apart, in the source's band. */
  const apartSliceId = ref<string | null>(null);
  const sourceWindow = shallowRef<ViewWindow | null>(null);
  /** How much taller than it is the sound is drawn, so that quiet places can be seen. */
  const heightZoom = ref(1);
  const rulerUnit = ref<RulerUnit>('bars');
  /** How a drag changes several at once that differ: all to the same, or each by as much. */
  const together = ref<'same' | 'each'>('each');
  /** Null: beside the place where there is room, and out of the way where there is not. */
  const detailsWanted = ref<boolean | null>(null);
  /** What the details are of. */
  const detailsOf = ref<DetailScope>('part');
  const hasRoom = useMediaQuery('(min-width: 1120px)');
  const detailsOpen = computed(() => detailsWanted.value ?? hasRoom.value);

  const part = computed<Part | null>(() => project.document?.parts[partId.value ?? ''] ?? null);
  const cuts = computed<readonly Cut[]>((before) => {
    const now = (part.value?.cutOrder ?? []).map((id) => project.document!.cuts[id]!);
    return before && isSameList(before, now) ? before : now;
  });
  /** The cut that is shown. */
  const cut = computed<Cut | null>(() => cuts.value.find(({ id }) => id === shownCutId.value) ?? cuts.value[0] ?? null);
  /** What is no loop has no bars. */
  const rulerUnitShown = computed<RulerUnit>(() =>
    rulerUnit.value === 'bars' && !cut.value?.loop ? 'seconds' : rulerUnit.value,
  );
  const source = computed(() => project.document?.sources[cut.value?.sourceId ?? ''] ?? null);
  const placed = computed<readonly PlacedSlice[]>(() =>
    project.document && cut.value ? slicesOfCut(project.document, cut.value.id) : [],
  );
  const zones = computed<readonly PlacedZone[]>(() =>
    project.document && part.value ? zonesOfPart(project.document, part.value) : [],
  );
  /** The zone that stands for each slice, by the slice's id. */
  const zoneBySlice = computed(() => zonesBySlice(zones.value));
  const zoneById = computed(() => new Map(zones.value.map((one) => [one.zone.id, one])));
  /** The slice that each zone plays, by the zone's id; none of other cuts than the one shown. */
  const sliceByZone = computed(() => {
    const cutId = cut.value?.id;
    return new Map(
      zones.value.flatMap(({ zone, at, cut: { id } }) =>
        id === cutId && at.index >= 0 ? [[zone.id, at] as const] : [],
      ),
    );
  });
  const patternId = computed(() => part.value?.activePatternId ?? '');
  const pattern = computed(() => project.document?.patterns[patternId.value] ?? null);
  const events = computed<readonly PatternEvent[]>(() =>
    project.document && part.value ? eventsOf(project.document, patternId.value) : [],
  );
  /** Strips that another one on their step cuts off at once. */
  const unheard = computed(() =>
    project.document && part.value ? unheardStrips(project.document, part.value, patternId.value) : NO_IDS,
  );
  const lengthTicks = computed(() =>
    project.document && part.value ? patternLengthTicks(project.document, patternId.value) : 0,
  );
  const selectedSlices = computed(() => {
    const chosen = new Set(sliceIds.value);
    return placed.value.filter((at) => chosen.has(at.slice.id));
  });
  /** The chosen zones: those chosen on their keys, or those that stand for the chosen slices. */
  const selectedZones = computed<readonly PlacedZone[]>(() =>
    zoneIds.value.length > 0
      ? zoneIds.value.flatMap((id) => zoneById.value.get(id) ?? [])
      : selectedSlices.value.flatMap(({ slice }) => zoneBySlice.value.get(slice.id) ?? []),
  );
  const selectedEvents = computed(() => {
    const chosen = new Set(eventIds.value);
    return events.value.filter((event) => chosen.has(event.id));
  });

  /** Colour of each slice, by its place. */
  const colours = computed(() =>
    sliceColours(
      placed.value.map((at) => at.slice.brightnessHz),
      themeName.value === 'dark' ? NIGHT_LIFT : 0,
    ),
  );

  /** Samples and readings of the part's source, once they are there. */
  const loaded = shallowRef<LoadedSource | null>(null);
  const reading = shallowRef<SourceReading | null>(null);
  watch(
    () => cut.value?.sourceId,
    async (sourceId) => {
      if (!sourceId || loaded.value?.sourceId === sourceId) return;
      loaded.value = null;
      reading.value = null;
      try {
        const source = await library.load(sourceId);
        if (cut.value?.sourceId !== sourceId) return;
        loaded.value = source;
        const read = await library.reading(sourceId);
        if (cut.value?.sourceId === sourceId) reading.value = read;
      } catch {
        // The plan sender tells of audio that cannot be loaded.
      }
    },
    { immediate: true },
  );

  /** Keeps a part chosen while there is one. */
  watch(
    () => project.document?.partOrder,
    (order) => {
      if (!order || order.includes(partId.value ?? '')) return;
      choosePart(order[0] ?? null);
    },
    { immediate: true },
  );
  watch(patternId, () => {
    // An edit of the home pattern has selected strips of the copy already.
    const there = new Set(events.value.map((event) => event.id));
    eventIds.value = eventIds.value.filter((id) => there.has(id));
  });

  function choosePart(id: string | null): void {
    partId.value = id;
    showCut(null);
  }

  /** Looks at another sound of the part. */
  function showCut(id: string | null): void {
    shownCutId.value = id;
    sliceIds.value = [];
    zoneIds.value = [];
    eventIds.value = [];
    sourceWindow.value = null;
  }

  /**
   * Selects zones where they lie on keys, and with them the slices of the sound that is shown.
   * @param byPlaying they were not pointed at, but played
   */
  function selectZones(ids: readonly string[], add = false, byPlaying = false): void {
    isChosenByPlaying.value = byPlaying;
    const known = selectedZones.value.map(({ zone }) => zone.id);
    const next = add ? [...known.filter((id) => !ids.includes(id)), ...ids.filter((id) => !known.includes(id))] : ids;
    const chosen = zones.value.filter(({ zone }) => next.includes(zone.id));
    const shown = zones.value.find(({ zone }) => zone.id === next.at(-1));
    if (shown && shown.cut.id !== cut.value?.id) showCut(shown.cut.id);
    eventIds.value = [];
    zoneIds.value = next;
    sliceIds.value = [
      ...new Set(chosen.flatMap(({ at, cut: { id } }) => (id === cut.value?.id && at.index >= 0 ? [at.slice.id] : []))),
    ];
  }

  /** Selects slices; with `add` they join or leave the selection. */
  function selectSlices(ids: readonly string[], add = false): void {
    eventIds.value = [];
    zoneIds.value = [];
    isChosenByPlaying.value = false;
    if (!add) sliceIds.value = ids;
    else
      sliceIds.value = [
        ...sliceIds.value.filter((id) => !ids.includes(id)),
        ...ids.filter((id) => !sliceIds.value.includes(id)),
      ];
  }

  /** Selects from the last selected slice to this one. */
  function selectSliceRange(id: string): void {
    const order = placed.value.map((at) => at.slice.id);
    const from = order.indexOf(sliceIds.value.at(-1) ?? id);
    const to = order.indexOf(id);
    const range = order.slice(Math.min(from, to), Math.max(from, to) + 1);
    sliceIds.value = from <= to ? range : range.reverse();
    eventIds.value = [];
    zoneIds.value = [];
  }

  /** Selects events and, with them, the slices they play. */
  function selectEvents(ids: readonly string[], add = false): void {
    if (add) {
      // What is chosen already is not chosen any more.
      const [before, more] = [new Set(eventIds.value), new Set(ids)];
      eventIds.value = [...eventIds.value.filter((id) => !more.has(id)), ...ids.filter((id) => !before.has(id))];
    } else eventIds.value = ids;
    zoneIds.value = [];
    const first = zones.value.find(({ zone }) => zone.id === selectedEvents.value[0]?.zoneId);
    if (first && first.cut.id !== cut.value?.id) {
      shownCutId.value = first.cut.id;
      sourceWindow.value = null;
    }
    const chosen = selectedEvents.value.flatMap((event) => sliceByZone.value.get(event.zoneId)?.slice.id ?? []);
    sliceIds.value = [...new Set(chosen)];
  }

  function toggleDetails(): void {
    const to = !detailsOpen.value;
    detailsWanted.value = to === hasRoom.value ? null : to;
  }

  function showDetailsOf(scope: DetailScope): void {
    detailsOf.value = scope;
    if (!detailsOpen.value) toggleDetails();
  }

  function seeWhole(): void {
    sourceWindow.value = null;
    heightZoom.value = 1;
  }

  function stretchHeight(factor: number): void {
    heightZoom.value = Math.max(1, Math.min(MAX_HEIGHT_ZOOM, heightZoom.value * factor));
  }

  function toggleBand(band: Band): void {
    grownBand.value = grownBand.value === band ? null : band;
  }

  return {
    partId,
    sliceIds,
    zoneIds,
    isChosenByPlaying,
    eventIds,
    gridStepTicks,
    linesABeat,
    reachPercent,
    dealRules,
    grownBand,
    apartSliceId,
    byLikeness,
    snapTo,
    sourceWindow,
    heightZoom,
    rulerUnit,
    rulerUnitShown,
    together,
    detailsOpen,
    toggleDetails,
    detailsOf,
    showDetailsOf,
    part,
    cuts,
    cut,
    source,
    placed,
    zones,
    zoneBySlice,
    zoneById,
    sliceByZone,
    patternId,
    pattern,
    events,
    unheard,
    lengthTicks,
    selectedSlices,
    selectedZones,
    selectedEvents,
    colours,
    loaded,
    reading,
    choosePart,
    showCut,
    selectZones,
    selectSlices,
    selectSliceRange,
    selectEvents,
    seeWhole,
    stretchHeight,
    toggleBand,
  };
});
