/** What stands on the way to the keys of the chosen part: which of it is chosen, and all that is done to it. */
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { HELPER_WORDS, MOST_HELPERS, type HelperKind } from '#core/params/helpers.ts';
import {
  addHelper,
  bypassHelper,
  copyHelper,
  drawStrengths,
  moveHelper,
  removeHelper,
  resetHelper,
  toggleInterval,
} from '#core/project/commands/helpers.ts';
import { helpersOf } from '#core/queries/helpers.ts';
import { engine } from '../../audio/services.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export const useHelpers = defineStore('helpers', () => {
  const project = useProject();
  const session = useSession();
  const chosenId = ref<string | null>(null);

  const list = computed(() => (project.document && session.part ? helpersOf(project.document, session.part) : []));
  const chosen = computed(() => list.value.find(({ id }) => id === chosenId.value) ?? null);
  const place = computed(() => list.value.findIndex(({ id }) => id === chosenId.value));
  const isFull = computed(() => list.value.length >= MOST_HELPERS);
  // Who chooses sounds or strips wants their settings; who plays keys goes on.
  watch([() => session.zoneIds, () => session.sliceIds, () => session.eventIds], () => {
    if (!session.isChosenByPlaying && session.detailsOf !== 'helper') chosenId.value = null;
  });

  function choose(id: string): void {
    chosenId.value = id;
    session.showDetailsOf('helper');
  }

  function add(kind: HelperKind): void {
    if (!session.part) return;
    const added = project.run(`add ${HELPER_WORDS[kind]}`, addHelper, { partId: session.part.id, kind });
    if (added) choose(added.made[0]!);
  }

  function duplicate(helperId: string): void {
    const copy = project.run('once more', copyHelper, { helperId });
    if (copy) choose(copy.made[0]!);
  }

  function move(helperId: string, to: number): void {
    project.run('move on the way', moveHelper, { helperId, place: to });
  }

  function remove(helperId: string): void {
    const at = list.value.findIndex(({ id }) => id === helperId);
    if (!project.run('take out', removeHelper, { helperId })) return;
    chosenId.value = (list.value[at] ?? list.value.at(-1))?.id ?? null;
    if (chosenId.value === null) session.detailsOf = 'part';
  }

  function toggle(helperId: string): void {
    const { bypassed, kind } = project.document!.helpers[helperId]!;
    const label = `${HELPER_WORDS[kind]} ${bypassed ? 'on' : 'off'}`;
    project.run(label, bypassHelper, { helperId, bypassed: !bypassed });
  }

  function reset(helperId: string): void {
    project.run('as a new one', resetHelper, { helperId });
  }

  function drawStrength(helperId: string, strengths: readonly number[]): void {
    project.run('draw strengths', drawStrengths, { helperId, strengths });
  }

  function toggleNote(helperId: string, semitones: number): void {
    project.run('notes of a chord', toggleInterval, { helperId, semitones });
  }

  /** How a helper stands as it plays; read outside Vue. */
  function statusOf(helperId: string) {
    for (const { helpers } of engine.status.parts) {
      const found = helpers?.find(({ id }) => id === helperId);
      if (found) return found;
    }
    return null;
  }

  return {
    list,
    chosen,
    chosenId,
    place,
    isFull,
    choose,
    add,
    duplicate,
    move,
    remove,
    toggle,
    reset,
    drawStrength,
    toggleNote,
    statusOf,
  };
});
