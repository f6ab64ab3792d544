/** Cutting again: a preview of the markers while a setting moves, then one undo step. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import { recut } from '#core/project/commands/cut.ts';
import { foundSlices } from '#core/project/new-part.ts';
import type { Cut, CutSettings, Part } from '#core/project/schema.ts';
import { loopTempoBpm } from '#core/units/time.ts';
import { describeFailure } from '../api/words.ts';
import { library } from '../audio/services.ts';
import type { CutRequest } from '../workers/analysis-protocol.ts';
import { useNotices } from './notices.ts';
import { useProject } from './project.ts';
import { useSession } from './session.ts';

export const METHOD_WORDS: Record<Cut['method'], string> = {
  hits: 'at hits',
  grid: 'on a grid',
  parts: 'in equal parts',
  pitch: 'at notes',
  taps: 'by tapping',
  file: 'from the file',
};

export const useCutting = defineStore('cutting', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  /** Frames of the markers that a setting would give; null when none is being moved. */
  const preview = shallowRef<readonly number[] | null>(null);
  /** Settings as they are being moved. */
  const draft = shallowRef<Partial<CutSettings> | null>(null);
  let asked = 0;

  function requestFor(part: Part, settings: CutSettings): CutRequest | null {
    const { startFrame, endFrame, bars, beatsPerBar } = part.loop;
    const { sampleRate } = project.document!.sources[part.sourceId]!;
    const tempoBpm = loopTempoBpm(bars, beatsPerBar, endFrame - startFrame, sampleRate);
    const { stepTicks, swingPercent } = settings;
    const grid = { stepTicks, swingPercent, tempoBpm, startFrame, endFrame };
    switch (settings.method) {
      case 'hits': {
        const { sensitivity, minGapMs, gridPullPercent } = settings;
        const pull = gridPullPercent > 0 ? { grid, percent: gridPullPercent } : undefined;
        return { method: 'hits', sensitivity, minGapMs, pull };
      }
      case 'grid':
        return { method: 'grid', ...grid };
      case 'parts':
        return { method: 'parts', count: settings.count, startFrame, endFrame };
      case 'pitch':
        return { method: 'pitch', minLengthMs: settings.minLengthMs };
      case 'file':
        return { method: 'file' };
      case 'taps':
        return null;
    }
  }

  function settingsWith(change: Partial<CutSettings>): CutSettings | null {
    const cut = session.part && project.document?.cuts[session.part.id];
    if (!cut) return null;
    const { slices: _slices, ...settings } = cut;
    return { ...settings, ...change };
  }

  /** Shows what a change of the settings would give. */
  async function show(change: Partial<CutSettings>): Promise<void> {
    const { part } = session;
    const settings = settingsWith(change);
    const request = part && settings && requestFor(part, settings);
    draft.value = change;
    if (!part || !request) return;
    const ticket = ++asked;
    try {
      const markers = await library.previewCut(part.sourceId, request);
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

  /** Cuts again with changed settings; locked and hand-made markers stay. */
  async function apply(label: string, change: Partial<CutSettings>): Promise<void> {
    const { part } = session;
    const settings = settingsWith(change);
    const request = part && settings && requestFor(part, settings);
    if (!part || !request) {
      forget();
      return;
    }
    try {
      const found = await library.cut(part.sourceId, request);
      const slices = foundSlices(found.markers, found.facts);
      project.run(label, recut, { partId: part.id, settings: change, slices });
    } catch (error) {
      notices.error(describeFailure('Cutting', error));
    } finally {
      forget();
    }
  }

  return { preview, draft, show, apply, forget };
});
