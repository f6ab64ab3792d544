/** The dials of the project: what is put on them, and where they stand. */
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { nameMacro, putOnMacro, type Setting } from '#core/project/commands/macros.ts';
import { removeModulator, removeRoute } from '#core/project/commands/modulators.ts';
import { macrosOf, movedTo, routesFrom, type Macro } from '#core/queries/macros.ts';
import { numberOf } from '#core/queries/setting-values.ts';
import { movableOfPart, type Movable } from '#core/queries/targets.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useMovedRanges, type MovedRange } from './moved-ranges.ts';

/** So many are shown at first. */
const USUAL_COUNT = 8;

export const useDials = defineStore('dials', () => {
  const project = useProject();
  const session = useSession();
  const { rangeShown } = useMovedRanges();

  const dials = computed(() => (project.document ? macrosOf(project.document) : []));
  /** One place more than is taken, eight at least. */
  const places = computed(() => {
    const taken = new Map(dials.value.map((dial) => [dial.place, dial]));
    const last = Math.max(-1, ...taken.keys());
    const count = Math.max(USUAL_COUNT, Math.min(64, last + 2));
    return Array.from({ length: count }, (_, place) => ({ place, dial: taken.get(place) ?? null }));
  });
  const freePlaces = computed(() => places.value.flatMap(({ place, dial }) => (dial ? [] : [place])));
  const movable = computed<Movable[]>(() =>
    project.document && session.part ? movableOfPart(project.document, session.part, 'macro') : [],
  );

  function settingsOn(dial: Macro): MovedRange[] {
    const routes = project.document ? routesFrom(project.document, dial.id) : [];
    return routes.flatMap((route) => rangeShown(route) ?? []);
  }

  function putOn(place: number, setting: Setting, words: string): boolean {
    // Upwards, or down from where there is no further up.
    const { document } = project;
    const row = movable.value.find((one) => one.paramId === setting.paramId)?.row;
    const value = document ? numberOf(document, setting.target, setting.paramId) : null;
    const isAtTop = row && value !== null && movedTo(row, value, 1) === value;
    const amount = isAtTop ? -1 : 1;
    return project.run(`${words} on a dial`, putOnMacro, { ...setting, place, amount }) !== null;
  }

  function takeOff({ route, moved }: MovedRange): void {
    project.run(`${moved.words} off its dial`, removeRoute, { routeId: route.id });
  }
  const rename = (dial: Macro, name: string) => project.run('name a dial', nameMacro, { macroId: dial.id, name });
  const remove = (dial: Macro) => project.run(`no ${dial.name}`, removeModulator, { modulatorId: dial.id });

  return { dials, places, freePlaces, movable, settingsOn, putOn, takeOff, rename, remove };
});
