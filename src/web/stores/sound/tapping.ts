/** The song's tempo by tapping. */
import { defineStore } from 'pinia';
import { setValue } from '#core/project/commands/values.ts';
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM } from '#core/units/time.ts';
import { TapTempo } from '../../devices/tap-tempo.ts';
import { useProject } from '../document/project.ts';

export const useTapping = defineStore('tapping', () => {
  const project = useProject();
  const tapper = new TapTempo();

  /** @param timeMs when it was tapped, on the page's clock: a busy page hears of it later */
  function tap(timeMs = performance.now()): void {
    const tempoBpm = tapper.tap(timeMs);
    if (tempoBpm === null) return;
    const to = Math.max(MIN_TEMPO_BPM, Math.min(MAX_TEMPO_BPM, tempoBpm));
    project.run('tap tempo', setValue, { owners: [{ kind: 'song' }], param: 'tempoBpm', change: { to } });
  }

  return { tap };
});
