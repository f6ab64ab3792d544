/** Silence about to be left out of the chosen slices: below which level, and what that takes. Nothing goes before it is said. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { FrameRange } from '#core/analysis/analyse-source.ts';
import { trimSlices } from '#core/project/commands/slices.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export const useTrimming = defineStore('trimming', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  /** Null while nothing is about to be trimmed. */
  const levelDb = ref<number | null>(null);
  /** What stays of each chosen slice, by its id. */
  const kept = shallowRef<Readonly<Record<string, FrameRange>>>({});
  let ticket = 0;

  /** The silence, before and after what stays. */
  const leftOut = computed<FrameRange[]>(() =>
    session.selectedSlices.flatMap(({ slice, startFrame, endFrame }) => {
      const stays = kept.value[slice.id];
      if (!stays) return [];
      const around = [
        { startFrame, endFrame: stays.startFrame },
        { startFrame: stays.endFrame, endFrame },
      ];
      return around.filter((range) => range.endFrame > range.startFrame);
    }),
  );

  /** Looks for silence at the level that the sound's own noise suggests. */
  async function begin(): Promise<void> {
    const { cut } = session;
    if (!cut || session.selectedSlices.length === 0) return;
    try {
      const suggested = await library.silenceLevelDb(cut.sourceId);
      if (session.cut?.id === cut.id) await setLevel(suggested);
    } catch (error) {
      notices.error(describeFailure('Trimming', error));
    }
  }

  async function setLevel(next: number): Promise<void> {
    const { cut, selectedSlices } = session;
    if (!cut) return;
    levelDb.value = next;
    const own = ++ticket;
    try {
      const ranges = selectedSlices.map(({ startFrame, endFrame }) => ({ startFrame, endFrame }));
      const found = await library.trim(cut.sourceId, ranges, next);
      if (own !== ticket) return;
      kept.value = Object.fromEntries(selectedSlices.map((at, index) => [at.slice.id, found[index]!]));
    } catch (error) {
      notices.error(describeFailure('Trimming', error));
    }
  }

  function apply(): void {
    const { cut } = session;
    if (cut) project.run('trim silence', trimSlices, { cutId: cut.id, ranges: kept.value });
    giveUp();
  }

  function giveUp(): void {
    ticket++;
    levelDb.value = null;
    kept.value = {};
  }

  function toggle(): void {
    if (levelDb.value === null) void begin();
    else giveUp();
  }

  // It was about those that were chosen, where they lay.
  watch(
    () =>
      session.selectedSlices.map(({ slice, startFrame, endFrame }) => `${slice.id} ${startFrame} ${endFrame}`).join(),
    giveUp,
  );

  return { levelDb, leftOut, begin, setLevel, apply, giveUp, toggle };
});
