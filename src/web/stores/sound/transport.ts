/** Play, stop and single zones. Only what changes rarely is reactive; the playhead is read from the engine. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { songValues } from '#core/queries/values.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { engine } from '../../audio/services.ts';
import { usePlanSender } from './plan-sender.ts';
import { useProject } from '../document/project.ts';

export const useTransport = defineStore('transport', () => {
  const project = useProject();
  const planSender = usePlanSender();
  const playing = ref(false);
  /** Goes round until stopped; otherwise every round is the last one. */
  const looping = ref(true);
  /** Patterns that wait for their bar line, by the part's id. */
  const waitingPatterns = ref<Readonly<Record<string, string>>>({});
  /** Parts of which another treatment, or transposition, waits. */
  const waitingSounds = ref<ReadonlySet<string>>(new Set());
  /** Counts plays and stops: only what the engine tells after the last of them says how it stands. */
  let order = 0;

  engine.onStatus((status) => {
    if (status.order === order && playing.value !== status.playing) playing.value = status.playing;
    const waiting = Object.fromEntries(
      status.parts.flatMap(({ partId, waiting: id }) => (id === null ? [] : [[partId, id]])),
    ) as Record<string, string>;
    if (JSON.stringify(waiting) !== JSON.stringify(waitingPatterns.value)) waitingPatterns.value = waiting;
    const sounds = status.parts.filter(({ awaitsSound }) => awaitsSound).map(({ partId }) => partId);
    const isSame = sounds.length === waitingSounds.value.size && sounds.every((id) => waitingSounds.value.has(id));
    if (!isSame) waitingSounds.value = new Set(sounds);
  });

  /** Length of one round: the longest pattern that plays. */
  function roundTicks(): number {
    const { document } = project;
    if (!document) return 0;
    const lengths = Object.values(document.parts).map((part) => patternLengthTicks(document, part.activePatternId));
    return Math.max(0, ...lengths);
  }

  /** The end of the round that a song position lies in; Infinity while going round. */
  function endTicksAfter(ticks: number): number {
    const round = roundTicks();
    return looping.value || round === 0 ? Infinity : (Math.floor(ticks / round) + 1) * round;
  }

  function setLooping(value: boolean): void {
    looping.value = value;
    const tempoBpm = project.document ? songValues(project.document).tempoBpm : 120;
    engine.send({ type: 'end-at', endTicks: endTicksAfter(engine.positionTicksNow(tempoBpm)) });
  }

  async function play(): Promise<void> {
    await engine.resume();
    const { document } = project;
    if (!document) return;
    planSender.send();
    engine.send({ type: 'stop-preview' });
    const { countInBars, beatsPerBar } = songValues(document);
    const countIn = countInBars * beatsPerBar * TICKS_PER_BEAT;
    engine.send({ type: 'play', fromTicks: -countIn, endTicks: endTicksAfter(0), order: ++order });
    playing.value = true;
  }

  function stop(): void {
    engine.send({ type: 'stop', order: ++order });
    playing.value = false;
  }

  function toggle(): void {
    if (playing.value) stop();
    else void play();
  }

  /** Plays a zone once. */
  function playZone(zoneId: string): void {
    void engine.resume();
    engine.send({ type: 'play-zone', zoneId, velocity: 1 });
  }

  return { playing, looping, setLooping, roundTicks, waitingPatterns, waitingSounds, play, stop, toggle, playZone };
});
