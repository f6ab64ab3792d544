/** Play, stop and single zones. Only what changes rarely is reactive; the playhead is read from the engine. */
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { patternLengthTicks } from '#core/queries/patterns.ts';
import { orderLayout } from '#core/order/layout.ts';
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
  /** The running order is played, if there is one; else rounds of the patterns that are chosen. */
  const wantsOrder = ref(false);
  /** A section that is played over and over. */
  const loopedSectionId = ref<string | null>(null);
  const layout = computed(() => (project.document ? orderLayout(project.document) : null));
  const hasOrder = computed(() => (layout.value?.sections.length ?? 0) > 0);
  const followsOrder = computed(() => wantsOrder.value && hasOrder.value);
  /** Patterns that wait for their bar line, by the part's id. */
  const waitingPatterns = ref<Readonly<Record<string, string>>>({});
  /** Parts of which another treatment, or transposition, waits. */
  const waitingSounds = ref<ReadonlySet<string>>(new Set());
  /** Counts plays and stops: only what the engine tells after the last of them says how it stands. */
  let order = 0;
  /** Silence before the song's start, so that others can be told of it in time. */
  const leadMs = ref(0);

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

  /** Where the song ends, or where it returns to from there. @param ticks where it is */
  function endAfter(ticks: number): { endTicks: number; returnTicks: number | null } {
    if (!followsOrder.value) return { endTicks: endTicksAfter(ticks), returnTicks: null };
    const { sections, lengthTicks } = layout.value!;
    const looped = sections.find(({ section }) => section.id === loopedSectionId.value);
    const loopEnd = looped ? looped.startTicks + looped.roundTicks * looped.repeats : lengthTicks;
    if (looped && ticks < loopEnd) return { endTicks: loopEnd, returnTicks: looped.startTicks };
    return { endTicks: lengthTicks, returnTicks: looping.value ? 0 : null };
  }

  function setLooping(value: boolean): void {
    looping.value = value;
    tellEnd();
  }

  function tellEnd(): void {
    engine.send({ type: 'end-at', ...endAfter(engine.positionTicksNow()) });
  }

  /** A section is played over and over, or no longer. */
  function loopSection(sectionId: string | null): void {
    loopedSectionId.value = sectionId;
    if (followsOrder.value) tellEnd();
  }

  /** The other way to play; what plays begins anew in it. */
  function followOrder(value: boolean): void {
    wantsOrder.value = value;
    if (playing.value) void play(0);
  }

  /** Rounds are played from now on; what plays goes on as it does until the next play. */
  function leaveOrder(): void {
    wantsOrder.value = false;
  }

  /** @param fromTicks without a count-in, from there on; else from its start */
  async function play(fromTicks?: number): Promise<void> {
    await engine.resume();
    const { document } = project;
    if (!document) return;
    planSender.send();
    engine.send({ type: 'stop-preview' });
    const { countInBars, beatsPerBar, tempoBpm } = songValues(document);
    const lead = (leadMs.value / 60_000) * tempoBpm * TICKS_PER_BEAT;
    const countIn = Math.max(lead, countInBars * beatsPerBar * TICKS_PER_BEAT);
    const section = layout.value?.sections.find((one) => one.section.id === loopedSectionId.value);
    const from = fromTicks ?? (followsOrder.value && section ? section.startTicks : -countIn);
    const { endTicks, returnTicks } = endAfter(Math.max(0, from));
    const way = { followsOrder: followsOrder.value, returnTicks };
    engine.send({ type: 'play', fromTicks: from, endTicks, order: ++order, way });
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

  return {
    leadMs,
    playing,
    looping,
    layout,
    hasOrder,
    followsOrder,
    followOrder,
    leaveOrder,
    loopedSectionId,
    loopSection,
    setLooping,
    roundTicks,
    waitingPatterns,
    waitingSounds,
    /** What the engine tells of an earlier play or stop holds no more. */
    orderNow: () => order,
    play,
    stop,
    toggle,
    playZone,
  };
});
