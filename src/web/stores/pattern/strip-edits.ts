/** What is done to many strips at once: chosen by a rule, transformed, copied and put down elsewhere, brought home. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { snapToGrid } from '#core/patterns/grid.ts';
import { selectStrips, type StripRule } from '#core/patterns/strip-selection.ts';
import { TRANSFORMS, type TransformId } from '#core/patterns/transforms.ts';
import { setEventZone } from '#core/project/commands/events.ts';
import {
  goHome,
  placeEvents,
  swapSounds,
  transformEvents,
  type StripToPlace,
} from '#core/project/commands/transform.ts';
import { songValues } from '#core/queries/values.ts';
import type { PlacedZone } from '#core/queries/zones.ts';
import { countedBeatTicks, TICKS_PER_BEAT } from '#core/units/time.ts';
import { usePlayheadTicks } from '../sound/playhead-ticks.ts';
import { shiftedRows } from '../../canvas/rows-layout.ts';
import { NO_SHIFT, useEditing, type RowShift } from '../document/editing.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

/** What was copied: strips by their distance from the first, with what they play told in a way that other parts know. */
interface Copied {
  partId: string;
  patternId: string;
  fromTicks: number;
  strips: readonly StripToPlace[];
  playedBy: ReadonlyMap<string, PlacedZone>;
}

export const useStripEdits = defineStore('strip-edits', () => {
  const project = useProject();
  const session = useSession();
  const editing = useEditing();
  const notices = useNotices();
  const playheadTicks = usePlayheadTicks();
  const copied = shallowRef<Copied | null>(null);
  /** In rows, the pointer writes strips instead of choosing them. */
  const isWriting = ref(false);
  /** What moving the chosen strips so many rows down does to them; null while no rows are shown. */
  const shiftByRows = shallowRef<((rows: number) => RowShift) | null>(null);

  /** Edits the chosen strips, all where none is chosen, and chooses what has come of it. */
  function editStrips(label: string, edit: (patternId: string, eventIds: readonly string[]) => void): void {
    const hadChoice = session.eventIds.length > 0;
    editing.editPattern(label, (patternId, eventIds) => {
      const wanted = hadChoice ? eventIds : session.events.map(({ id }) => id);
      const others = new Set(session.events.map(({ id }) => id));
      for (const id of wanted) others.delete(id);
      edit(patternId, wanted);
      session.selectEvents(hadChoice ? session.events.flatMap(({ id }) => (others.has(id) ? [] : [id])) : []);
    });
  }

  function transform(name: TransformId): void {
    editStrips(TRANSFORMS[name].words, (patternId, eventIds) =>
      project.run('', transformEvents, { patternId, eventIds, transform: name, gridTicks: session.gridStepTicks }),
    );
  }

  function select(rule: StripRule): void {
    const beatTicks = countedBeatTicks(songValues(project.document!).beatsPerBar);
    const roleOf = (zoneId: string) => session.zones.find(({ zone }) => zone.id === zoneId)?.at.slice.role;
    session.selectEvents(selectStrips(session.events, session.eventIds, rule, beatTicks, roleOf));
  }

  function copy(): void {
    const { part, selectedEvents } = session;
    const first = selectedEvents[0];
    if (!part || !first) return;
    copied.value = {
      partId: part.id,
      patternId: session.patternId,
      fromTicks: first.positionTicks,
      strips: selectedEvents.map(({ zoneId, positionTicks, lengthTicks, values }) => ({
        zoneId,
        positionTicks: positionTicks - first.positionTicks,
        lengthTicks,
        values,
      })),
      playedBy: new Map(session.zones.map((placed) => [placed.zone.id, placed])),
    };
  }

  function cut(): void {
    copy();
    if (session.eventIds.length > 0) editing.removeSelected();
  }

  /** What plays a strip in this part: the sound itself, or else one on the same key, of the same role, in the same place. */
  function soundHere({ playedBy, partId }: Copied, zoneId: string): string | undefined {
    if (partId === session.part!.id) return session.zones.find(({ zone }) => zone.id === zoneId)?.zone.id;
    const from = playedBy.get(zoneId);
    const { zones } = session;
    const sameKey = zones.find(({ keys }) => keys !== null && keys.root === from?.keys?.root);
    const sameRole = zones.find(({ at }) => at.slice.role === from?.at.slice.role);
    const samePlace = zones[Math.max(0, from?.at.index ?? 0) % Math.max(1, zones.length)];
    return (sameKey ?? sameRole ?? samePlace)?.zone.id;
  }

  /** Where copied strips are put: where they were; else at the playhead, or after them where nothing plays. */
  function placeToPaste(from: Copied, inPlace: boolean): number {
    if (inPlace) return from.fromTicks;
    const grid = session.gridStepTicks;
    const playing = playheadTicks();
    if (playing !== null) return snapToGrid(playing, grid) % Math.max(1, session.lengthTicks);
    if (from.patternId !== session.patternId) return from.fromTicks;
    const span = Math.max(...from.strips.map(({ positionTicks, lengthTicks }) => positionTicks + lengthTicks));
    const step = grid ?? 1;
    return from.fromTicks + Math.ceil(span / step - 1e-6) * step;
  }

  function paste(inPlace: boolean): void {
    const from = copied.value;
    if (!from || !session.part) {
      notices.info('Nothing is copied yet: choose strips and copy them first.');
      return;
    }
    const at = placeToPaste(from, inPlace);
    const strips = from.strips.flatMap((strip) => {
      const zoneId = soundHere(from, strip.zoneId);
      return zoneId === undefined ? [] : [{ ...strip, zoneId, positionTicks: at + strip.positionTicks }];
    });
    if (strips.length === 0 || at >= session.lengthTicks) {
      notices.info('There is no room after them: make the pattern longer, or paste in place.');
      return;
    }
    const isElsewhere = from.partId !== session.part.id;
    editing.editPattern('paste strips', (patternId) => {
      const placed = project.run('', placeEvents, { patternId, strips });
      if (placed) session.selectEvents(placed.made);
    });
    if (isElsewhere) notices.info('The rhythm of the other part, played by the sounds of this one.');
  }

  /** Once more, so many ticks later, and in other rows. */
  function copyBy(byTicks: number, { byCents, zoneIds }: RowShift = NO_SHIFT): void {
    const { selectedEvents } = session;
    const strips = selectedEvents.map(({ id: _id, ...strip }) => ({
      ...strip,
      zoneId: zoneIds.get(strip.zoneId) ?? strip.zoneId,
      positionTicks: strip.positionTicks + byTicks,
      values: byCents === 0 ? strip.values : { ...strip.values, tuneCents: (strip.values.tuneCents ?? 0) + byCents },
    }));
    editing.editPattern('copy strips', (patternId) => {
      const placed = project.run('', placeEvents, { patternId, strips });
      if (placed) session.selectEvents(placed.made);
    });
  }

  /** Moves the chosen strips to the row above or below; where no rows are shown, to the next sound of the loop. */
  function moveRow(by: 1 | -1): void {
    if (session.eventIds.length === 0) return;
    const moved = session.selectedEvents.map(({ zoneId }) => zoneId);
    const byLoop = session.zones.filter(({ zone }) => zone.plays.kind === 'slice').map(({ zone }) => zone.id);
    const shift = shiftByRows.value?.(by) ?? { byCents: 0, zoneIds: shiftedRows(byLoop, moved, -by) };
    editing.move(0, shift);
  }

  /** The two sounds that are chosen, by their strips or on their keys; null unless there are two. */
  const pair = computed<readonly [string, string] | null>(() => {
    const byStrips = [...new Set(session.selectedEvents.map(({ zoneId }) => zoneId))];
    const [first, second, third] = byStrips.length > 0 ? byStrips : session.selectedZones.map(({ zone }) => zone.id);
    return first !== undefined && second !== undefined && third === undefined ? [first, second] : null;
  });

  function swap(): void {
    if (!pair.value) return;
    const [zoneId, otherId] = pair.value;
    editing.editPattern('swap sounds', (patternId) => project.run('', swapSounds, { patternId, zoneId, otherId }));
  }

  function playInstead(zoneId: string): void {
    editing.editPattern('another sound', (patternId, eventIds) =>
      project.run('', setEventZone, { patternId, eventIds, zoneId }),
    );
  }

  /** Brings the stretch of the chosen strips home, in whole beats; the whole pattern where none is chosen. */
  function home(): void {
    const { cut: from, selectedEvents, lengthTicks } = session;
    if (!from) return;
    const ends = selectedEvents.map((event) => event.positionTicks + event.lengthTicks);
    const isAll = selectedEvents.length === 0;
    const fromTicks = isAll ? 0 : Math.floor(selectedEvents[0]!.positionTicks / TICKS_PER_BEAT + 1e-6) * TICKS_PER_BEAT;
    const toTicks = isAll ? lengthTicks : Math.ceil(Math.max(...ends) / TICKS_PER_BEAT - 1e-6) * TICKS_PER_BEAT;
    editing.editPattern('go home', (patternId) =>
      project.run('', goHome, { patternId, cutId: from.id, fromTicks, toTicks }),
    );
    session.eventIds = [];
  }

  return {
    copied,
    isWriting,
    shiftByRows,
    moveRow,
    pair,
    transform,
    select,
    copy,
    cut,
    paste,
    copyBy,
    swap,
    playInstead,
    home,
  };
});
