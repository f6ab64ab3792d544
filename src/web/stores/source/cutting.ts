/** Cutting again: a preview of the markers while a setting moves, then one undo step. */
import { defineStore } from 'pinia';
import { computed, shallowReactive, shallowRef } from 'vue';
import { MAX_SLICES } from '#core/analysis/slice-limit.ts';
import type { CutValues } from '#core/params/tables.ts';
import { recut, type CutSettings } from '#core/project/commands/cut.ts';
import { foundSlices } from '#core/project/new-part.ts';
import type { Cut } from '#core/document/schema.ts';
import { cutTempoBpm } from '#core/queries/loops.ts';
import { cutValues, songValues } from '#core/queries/values.ts';
import { formatSeconds } from '#core/units/time.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import type { CutRequest } from '../../workers/analysis-protocol.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export const useCutting = defineStore('cutting', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  /** Frames of the markers that a setting would give; null when none is being moved. */
  const preview = shallowRef<readonly number[] | null>(null);
  /** Settings as they are being moved. */
  const draft = shallowRef<CutSettings | null>(null);
  /** Settings that are being applied, by cut: its markers are not found yet. */
  const coming = shallowReactive(new Map<string, CutSettings>());
  /** The way that was chosen last, also while its markers are still being found; null when nothing is cut. */
  const method = computed(() => {
    const { cut } = session;
    return cut && (coming.get(cut.id)?.method ?? cutValues(cut).method);
  });
  let asked = 0;

  function requestFor(cut: Cut, settings: CutValues): CutRequest | null {
    const document = project.document!;
    const { frames } = document.sources[cut.sourceId]!;
    const { startFrame, endFrame } = cut.loop ?? { startFrame: 0, endFrame: frames };
    const tempoBpm = cutTempoBpm(document, cut) ?? songValues(document).tempoBpm;
    const { stepTicks, swingPercent } = settings;
    const ownBars = cut.loop?.barFrames ? cut.loop : undefined;
    const grid = { stepTicks, swingPercent, tempoBpm, startFrame, endFrame, ownBars };
    switch (settings.method) {
      case 'hits': {
        const { sensitivity, minGapMs, gridPullPercent } = settings;
        const pull = gridPullPercent > 0 ? { grid, percent: gridPullPercent } : undefined;
        return { method: 'hits', sensitivity, minGapMs, pull };
      }
      case 'grid':
        return { method: 'grid', ...grid };
      case 'equal':
        return { method: 'equal', count: settings.count, startFrame, endFrame };
      case 'pitch':
        return { method: 'pitch', minLengthMs: settings.minLengthMs };
      case 'file':
        return { method: 'file' };
      case 'taps':
        return null;
    }
  }

  function requestWith(change: CutSettings): { cut: Cut; request: CutRequest } | null {
    const { cut } = session;
    const request = cut && requestFor(cut, { ...cutValues(cut), ...change });
    return cut && request ? { cut, request } : null;
  }

  /** Shows what a change of the settings would give. */
  async function show(change: CutSettings): Promise<void> {
    const wanted = requestWith(change);
    draft.value = change;
    if (!wanted) return;
    const ticket = ++asked;
    try {
      const markers = await library.previewCut(wanted.cut.sourceId, wanted.request);
      if (ticket === asked && draft.value) preview.value = markers.map((marker) => marker.frame);
    } catch {
      // Said when the setting is applied.
    }
  }

  function forget(): void {
    asked++;
    draft.value = null;
    preview.value = null;
  }

  /** What is being applied to a cut is not wanted any more. */
  function giveUp(cutId: string): void {
    coming.delete(cutId);
    forget();
  }

  /**
   * Cuts again with changed settings; locked and hand-made markers stay. What is chosen before an earlier choice is
   * done joins it: the last word counts, in one step of undo.
   */
  async function apply(label: string, added: CutSettings): Promise<void> {
    const change: CutSettings = { ...coming.get(session.cut?.id ?? ''), ...added };
    const wanted = requestWith(change);
    if (!wanted) {
      forget();
      return;
    }
    const { cut, request } = wanted;
    const isWanted = () => coming.get(cut.id) === change;
    coming.set(cut.id, change);
    try {
      const found = await library.cut(cut.sourceId, request);
      if (!isWanted()) return;
      const slices = foundSlices(found.markers, found.facts);
      project.run(label, recut, { cutId: cut.id, settings: change, slices });
      sayWhereItEnds(found.uncutFrame, cut);
    } catch (error) {
      if (isWanted()) notices.error(describeFailure('Cutting', error));
    } finally {
      if (isWanted()) giveUp(cut.id);
    }
  }

  /** A cut that reached the most slices it may have says so. */
  function sayWhereItEnds(uncutFrame: number | null, cut: Cut): void {
    const source = project.document?.sources[cut.sourceId];
    if (uncutFrame === null || !source) return;
    const at = formatSeconds(uncutFrame / source.sampleRate);
    notices.info(`These are the first ${MAX_SLICES} slices: from ${at} on the sound is one slice. Cut it coarser.`);
  }

  return { preview, draft, method, giveUp, show, apply, forget, sayWhereItEnds };
});
