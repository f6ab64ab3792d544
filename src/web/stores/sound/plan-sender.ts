/** Sends the audio thread what has changed of the document, and has made what it lacks. */
import { defineStore } from 'pinia';
import { ref, watch } from 'vue';
import { PlanCompiler } from '#core/engine/plan/compile.ts';
import { engine, library, renderings } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { useHeldSounds } from './held-sounds.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useWork } from '../frame/work.ts';

/** Plans for finished renderings are sent no more often than this. */
const SEND_EVERY_MS = 60;

export const usePlanSender = defineStore('plan-sender', () => {
  const project = useProject();
  const heldSounds = useHeldSounds();
  const notices = useNotices();
  /** Counts up when a source has arrived, so that what draws it draws again. */
  const loadedCount = ref(0);
  /** How many stretched slices are still being made. */
  const rendering = ref(0);
  const work = useWork();
  let workId: number | null = null;
  let mostMissing = 0;

  /** Keeps the count, and the list of what is running. */
  function countRenderings(): void {
    const { missing } = renderings;
    rendering.value = missing;
    if (missing === 0) {
      if (workId !== null) work.end(workId);
      workId = null;
      mostMissing = 0;
      return;
    }
    mostMissing = Math.max(mostMissing, missing);
    workId ??= work.begin({ kind: 'stretch', name: 'slices', share: 0, cancel: () => renderings.giveUp() });
    work.update(workId, {
      share: 1 - missing / mostMissing,
      name: `${missing} ${missing === 1 ? 'slice' : 'slices'}`,
    });
  }

  let compiler = new PlanCompiler();
  let compiledId: string | null = null;
  /** See {@link inTime}. */
  let waitsOf: string | undefined;
  /** Sources that are on their way, or could not be had: they are not asked for at every edit. */
  const asked = new Set<string>();

  library.isNeeded = (id) =>
    [project.document, heldSounds.heard].some((one) => one !== null && Object.hasOwn(one.sources, id));
  library.onLetGo = (sourceIds) => {
    for (const id of sourceIds) asked.delete(id);
    engine.forgetSources(sourceIds);
  };

  /** Sends the document to the engine as it stands, and has made what it lacks. */
  function send(): void {
    const document = heldSounds.heard;
    if (!document) return;
    renderings.request(document, engine.positionTicksNow());
    countRenderings();
    post();
  }

  function post(): void {
    const document = heldSounds.heard;
    if (!document) return;
    if (document.id !== compiledId) {
      compiler = new PlanCompiler();
      compiledId = document.id;
      asked.clear();
    }
    const patch = compiler.update(document, { assets: library.audio, renderings });
    if (patch) engine.sendPatch(patch, compiler, waitsOf);
  }

  /** How a part sounds after a change is heard from where another pattern of it would take over. */
  function inTime(partId: string, change: () => void): void {
    waitsOf = partId;
    change();
    send();
    waitsOf = undefined;
  }

  renderings.onFailed = (error) => notices.error(describeFailure('Stretching a slice', error));
  let lastSent = 0;
  let later: ReturnType<typeof setTimeout> | undefined;
  // A slice that has been stretched is heard within a few hundredths of a second, but not each by a plan of its own.
  renderings.onReady = () => {
    countRenderings();
    clearTimeout(later);
    const wait = renderings.missing === 0 ? 0 : Math.max(0, SEND_EVERY_MS - (performance.now() - lastSent));
    later = setTimeout(() => {
      lastSent = performance.now();
      post();
    }, wait);
  };

  async function loadMissing(): Promise<void> {
    for (const sourceId of Object.keys(project.document?.sources ?? {})) {
      if (library.audio.has(sourceId) || asked.has(sourceId)) continue;
      asked.add(sourceId);
      try {
        await library.load(sourceId);
        loadedCount.value++;
        send();
      } catch (error) {
        const name = project.document?.sources[sourceId]?.name ?? 'A sound';
        notices.error(describeFailure(name, error), { label: 'Try again', run: () => tryAgain(sourceId) });
      }
    }
  }

  function tryAgain(sourceId: string): void {
    asked.delete(sourceId);
    void loadMissing();
  }

  watch(
    () => heldSounds.heard,
    () => {
      send();
      void loadMissing();
    },
    { immediate: true },
  );

  return { loadedCount, rendering, send, inTime };
});
