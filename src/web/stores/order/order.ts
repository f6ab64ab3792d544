/** The running order as it is worked on: what is chosen in it, how it is laid out on the screen, and what is done to it. */
import { useStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { sectionAt, type LaidSection } from '#core/order/layout.ts';
import {
  changePlacing,
  type PlacingChange,
  movePlacing,
  placePattern,
  removePlacing,
  splitPlacing,
  stretchPlacing,
} from '#core/project/commands/placings.ts';
import {
  addSection,
  copySection,
  moveSection,
  removeSection,
  renameSection,
  setSectionValue,
} from '#core/project/commands/sections.ts';
import type { SetValueArgs } from '#core/project/commands/values.ts';
import type { Placing } from '#core/document/schema.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { useProject } from '../document/project.ts';
import { useTransport } from '../sound/transport.ts';

export interface ShownSection extends LaidSection {
  /** Of what is drawn: each section once, however often it is played. */
  x: number;
  width: number;
  barTicks: number;
}

export const SNAPS = [
  { value: 1, words: '1 bar' },
  { value: 0.5, words: '1/2 bar' },
  { value: 0.25, words: '1/4 bar' },
  { value: 0.0625, words: '1/16 bar' },
];

export const useOrder = defineStore('order', () => {
  const project = useProject();
  const transport = useTransport();
  const barWidth = useStorage('yappa.order-bar', 44);
  /** In bars. */
  const snap = useStorage('yappa.order-snap', 1);
  const sectionId = ref<string | null>(null);
  const placingId = ref<string | null>(null);

  const shown = computed<ShownSection[]>(() => {
    let x = 0;
    return (transport.layout?.sections ?? []).map((laid) => {
      const width = laid.lengthBars * barWidth.value;
      const one = { ...laid, x, width, barTicks: laid.beatsPerBar * TICKS_PER_BEAT };
      x += width;
      return one;
    });
  });
  const width = computed(() => {
    const last = shown.value.at(-1);
    return last ? last.x + last.width : 0;
  });
  const section = computed(() => shown.value.find((one) => one.section.id === sectionId.value) ?? null);
  const placing = computed<Placing | null>(
    () => section.value?.section.placings.find(({ id }) => id === placingId.value) ?? null,
  );

  function choose(id: string | null, placed: string | null = null): void {
    sectionId.value = id;
    placingId.value = placed;
  }

  const ticksOf = (one: ShownSection, x: number) => ((x - one.x) / one.width) * one.roundTicks;
  /** The section under a place, and how far into it, snapped down to the grid. */
  function placeAt(x: number, isFree = false): { one: ShownSection; ticks: number } | null {
    const one = shown.value.find((each) => x >= each.x && x < each.x + each.width);
    if (!one) return null;
    const step = isFree ? TICKS_PER_BEAT / 4 : Math.max(1, Math.round(snap.value * one.barTicks));
    return { one, ticks: Math.floor(ticksOf(one, x) / step + 1e-9) * step };
  }

  /** Where a position of the song is drawn; null where there is none. */
  function xOf(ticks: number): number | null {
    if (!transport.layout || ticks < 0) return null;
    const laid = sectionAt(transport.layout, ticks);
    const one = laid && shown.value[laid.place];
    if (!one) return null;
    const within = Math.min(ticks - one.startTicks, one.roundTicks * one.repeats - 1);
    return one.x + ((within % one.roundTicks) / one.roundTicks) * one.width;
  }

  function add(withPlaying: boolean): void {
    const place = section.value ? section.value.place + 1 : undefined;
    if (!project.run('add a section', addSection, { place, withPlaying })) return;
    choose(project.document!.sectionOrder[place ?? project.document!.sectionOrder.length - 1] ?? null);
  }

  function copy(id: string): void {
    if (!project.run('copy a section', copySection, { sectionId: id })) return;
    const { sectionOrder } = project.document!;
    choose(sectionOrder[sectionOrder.indexOf(id) + 1] ?? null);
  }

  function remove(id: string): void {
    const place = project.document!.sectionOrder.indexOf(id);
    if (!project.run('remove a section', removeSection, { sectionId: id })) return;
    const { sectionOrder } = project.document!;
    choose(sectionOrder[Math.min(place, sectionOrder.length - 1)] ?? null);
  }

  /** @param isWhole from its beginning to the end of the section, in place of what else was placed there */
  function place(id: string, patternId: string, startTicks: number, isWhole = false): void {
    const lengthTicks = isWhole ? shown.value.find((one) => one.section.id === id)?.roundTicks : undefined;
    if (!project.run('place a pattern', placePattern, { sectionId: id, patternId, startTicks, lengthTicks })) return;
    const { placings } = project.document!.sections[id]!;
    choose(id, placings.find((one) => one.patternId === patternId && one.startTicks === startTicks)?.id ?? null);
  }

  const at = (one: Placing, id = sectionId.value!) => ({ sectionId: id, placingId: one.id });

  return {
    barWidth,
    snap,
    sectionId,
    placingId,
    shown,
    width,
    section,
    placing,
    choose,
    placeAt,
    xOf,
    add,
    copy,
    remove,
    place,
    move: (id: string, by: number) => project.run('move a section', moveSection, { sectionId: id, by }),
    rename: (id: string, name: string) => project.run('rename a section', renameSection, { sectionId: id, name }),
    set: (id: string, label: string, param: string, change: SetValueArgs['change']) =>
      project.run(`${label} of a section`, setSectionValue, { sectionId: id, param, change }, `section ${param}`),
    movePlacing: (from: string, one: Placing, toSectionId: string, startTicks: number, copies = false) =>
      project.run(copies ? 'copy a placed pattern' : 'move a placed pattern', movePlacing, {
        ...at(one, from),
        toSectionId,
        startTicks,
        copies,
      }),
    stretch: (id: string, one: Placing, startTicks: number, lengthTicks: number) =>
      project.run('stretch a placed pattern', stretchPlacing, { ...at(one, id), startTicks, lengthTicks }),
    split: (id: string, one: Placing, atTicks: number) =>
      project.run('cut a placed pattern', splitPlacing, { ...at(one, id), atTicks }),
    change: (one: Placing, change: PlacingChange, label: string) =>
      project.run(label, changePlacing, { ...at(one), ...change }),
    removePlacing: (one: Placing) => {
      if (project.run('take a pattern out', removePlacing, at(one))) placingId.value = null;
    },
    /** Plays from the beginning of a section on. */
    playFrom: (ticks: number) => {
      if (!transport.followsOrder) transport.followOrder(true);
      void transport.play(ticks);
    },
  };
});
