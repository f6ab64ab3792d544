/** What is switched while rounds play writes itself into the running order: a section of what was heard. */
import { defineStore } from 'pinia';
import { computed, onScopeDispose, ref } from 'vue';
import { laySection } from '#core/project/commands/sections.ts';
import { LONGEST_SECTION_BARS } from '#core/params/section-rows.ts';
import type { Placing } from '#core/document/schema.ts';
import type { EngineStatus } from '#core/engine/messages.ts';
import { soundsAs } from '#core/queries/treatments.ts';
import { channelValues, songValues } from '#core/queries/values.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { engine } from '../../audio/services.ts';
import { useProject } from '../document/project.ts';
import { useHeldSounds } from '../sound/held-sounds.ts';
import { useTransport } from '../sound/transport.ts';
import { useNotices } from '../frame/notices.ts';
import { useOrder } from './order.ts';

interface Heard {
  partId: string;
  patternId: string;
  /** How it sounded, where that is a treatment of the part. */
  treatmentId: string;
  fromTicks: number;
}

export const useWriteDown = defineStore('write-down', () => {
  const project = useProject();
  const transport = useTransport();
  const order = useOrder();
  const notices = useNotices();
  const isOn = ref(false);
  const heldSounds = useHeldSounds();
  /** Treatments that parts sound as, by their ids. */
  const sounding = computed(() => {
    const document = heldSounds.heard;
    const parts = document ? Object.values(document.parts) : [];
    return new Map(
      parts.map((part) => [part.id, part.treatments?.find((one) => soundsAs(document!, part, one))?.id ?? '']),
    );
  });
  let heard: Heard[] = [];
  let lastTicks = 0;

  const stopListening = engine.onStatus((status) => {
    if (!isOn.value) return;
    if (status.playing && !transport.followsOrder) note(status);
    else if (lastTicks > 0) finish();
  });
  onScopeDispose(stopListening);

  /** Each part's latest pattern, and how it sounds; what changes, changes on a beat. */
  function note({ parts, positionTicks }: EngineStatus): void {
    const { document } = project;
    if (!document || positionTicks < 0) return;
    lastTicks = positionTicks;
    for (const { partId, playing } of parts) {
      const part = document.parts[partId];
      const { muted } = part ? channelValues(document.channels[part.channelId]!) : { muted: true };
      const patternId = muted ? '' : (playing ?? '');
      const before = heard.findLast((one) => one.partId === partId);
      const waits = transport.waitingSounds.has(partId);
      const treatmentId = (waits ? before?.treatmentId : sounding.value.get(partId)) ?? '';
      if (before?.patternId === patternId && before.treatmentId === treatmentId) continue;
      const fromTicks = before ? Math.round(positionTicks / TICKS_PER_BEAT) * TICKS_PER_BEAT : 0;
      heard.push({ partId, patternId, treatmentId, fromTicks });
    }
  }

  /** Makes the section of what was heard, in whole bars. */
  function finish(): void {
    const written = heard;
    const ticks = lastTicks;
    heard = [];
    lastTicks = 0;
    const { document } = project;
    if (!document || ticks === 0) return;
    const barTicks = songValues(document).beatsPerBar * TICKS_PER_BEAT;
    const lengthBars = Math.max(1, Math.min(LONGEST_SECTION_BARS, Math.round(ticks / barTicks)));
    const end = lengthBars * barTicks;
    const placings = written.flatMap((one, place): Omit<Placing, 'id'>[] => {
      const next = written.find((other, at) => at > place && other.partId === one.partId);
      const endTicks = Math.min(end, next?.fromTicks ?? end);
      if (one.patternId === '' || endTicks <= one.fromTicks) return [];
      const { partId, patternId, treatmentId, fromTicks } = one;
      const at = { startTicks: fromTicks, lengthTicks: endTicks - fromTicks };
      return [{ partId, patternId, ...at, muted: false, isFill: false, ...(treatmentId ? { treatmentId } : {}) }];
    });
    if (project.run('write down what was played', laySection, { name: '', lengthBars, placings })) {
      order.choose(project.document!.sectionOrder.at(-1)!);
      notices.info(`What was played is a section of ${lengthBars} ${lengthBars === 1 ? 'bar' : 'bars'} now.`);
    }
  }

  function toggle(): void {
    isOn.value = !isOn.value;
    if (!isOn.value) finish();
    else if (transport.followsOrder) transport.followOrder(false);
  }

  return { isOn, toggle };
});
