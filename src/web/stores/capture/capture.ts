/**
 * Capture: an input is listened to, hits fall out of it onto keys of a part; or all of it is recorded. What is recorded
 * reaches the disk while it comes.
 */
import { defineStore } from 'pinia';
import { computed, reactive, ref, watch } from 'vue';
import type { CaptureSettings } from '#core/capture/capture-session.ts';
import { CaptureInput, type InputChoice } from '../../audio/capture-input.ts';
import { roundTripMs } from '../../audio/round-trip.ts';
import { engine } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { formatSeconds } from '#core/units/time.ts';
import { BOX_SOUNDS } from '#core/capture/stand-in-sounds.ts';
import type { CaptureBlock, FromCapture, ToCapture } from '../../workers/capture-protocol.ts';
import { useNotices } from '../frame/notices.ts';
import { useBarRecording } from './bar-recording.ts';
import { useCaptureSettings, type Manner } from './capture-settings.ts';
import { useRecordings } from './recordings.ts';
import { useTakes } from './takes.ts';

/** Levels that are drawn: of so many seconds. */
export const SHOWN_SECONDS = 20;
const MOST_LEVELS = 16_384;
const BUSY = 'This machine may have been too busy: close what else runs, and record it again.';

export const useCapture = defineStore('capture', () => {
  const notices = useNotices();
  const settings = useCaptureSettings();
  const takes = useTakes();
  const recordings = useRecordings();
  const barRecording = useBarRecording();
  const input = new CaptureInput(engine);
  const choice = ref<InputChoice>({ kind: 'box', deviceId: '' });
  const devices = ref<readonly { id: string; name: string }[]>([]);
  const state = ref<'idle' | 'opening' | 'listening'>('idle');
  const floor = reactive({ floorDb: null as number | null, openDb: -50, closeDb: -56 });
  const isOpen = ref(false);
  const storedSeconds = ref(0);
  /** How often the input broke off, for how long together, and when first. */
  const gaps = reactive({ count: 0, seconds: 0, firstAtSeconds: 0 });
  const box = reactive({ floorDb: -58, levelDb: -2 });
  let recordingId = '';
  /** How the one that runs, or ran last, is captured: the choice may have changed since. */
  let manner: Manner = 'hits';
  let worker: Worker | null = null;
  /** Not reactive: read when drawing. The latest last, one a hop. */
  const levels = { db: new Float32Array(MOST_LEVELS), written: 0, hopFrames: 66, sampleRate: 44_100 };

  const lines = computed(() => ({
    openDb: settings.kept.openDb ?? floor.openDb,
    closeDb: Math.min(settings.kept.openDb ?? floor.openDb, settings.kept.closeDb ?? floor.closeDb),
  }));

  const gapWords = computed(() => {
    const { count, seconds, firstAtSeconds } = gaps;
    if (count === 0) return '';
    const at = `at ${formatSeconds(firstAtSeconds)}`;
    return count === 1
      ? `broke off for ${seconds.toFixed(2)} s ${at}`
      : `broke off ${count} times (${seconds.toFixed(2)} s), first ${at}`;
  });

  function settingsNow(): CaptureSettings {
    const { openDb, closeDb, leastPauseMs, preRollMs, isStereo, isLevelled } = settings.kept;
    return { openDb, closeDb, leastPauseMs, preRollMs, isStereo, isLevelled };
  }
  const tell = (message: ToCapture, transfer: Transferable[] = []) => worker?.postMessage(message, transfer);
  watch(
    () => settings.kept,
    () => {
      if (state.value === 'listening') tell({ type: 'settings', settings: settingsNow() });
    },
    { deep: true },
  );
  watch(box, () => {
    input.box?.setFloor(box.floorDb);
    input.box?.setLevel(box.levelDb);
  });

  /** Names of inputs are told once the browser may listen. */
  async function findDevices(): Promise<void> {
    const media = (navigator as { mediaDevices?: MediaDevices }).mediaDevices;
    const all = (await media?.enumerateDevices().catch(() => [])) ?? [];
    const inputs = all.filter(({ kind }) => kind === 'audioinput');
    devices.value = inputs.map(({ deviceId, label }, place) => ({ id: deviceId, name: label || `input ${place + 1}` }));
  }

  async function begin(): Promise<void> {
    if (state.value !== 'idle' || (settings.kept.manner === 'bars' && !barRecording.hasSong())) return;
    state.value = 'opening';
    recordings.currentId = recordingId = crypto.randomUUID();
    manner = settings.kept.manner;
    worker ??= new Worker(new URL('../../workers/capture.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromCapture>) => receive(data);
    levels.written = 0;
    levels.db.fill(-Infinity);
    storedSeconds.value = 0;
    gaps.count = gaps.seconds = 0;
    floor.floorDb = null;
    takes.setName ||= `${choice.value.kind === 'box' ? 'Quayside box' : 'Set'}, ${today()}`;
    // What comes before the rate is known waits: it is the first that is needed.
    const early: CaptureBlock[] = [];
    let isBegun = false;
    const hand = (block: CaptureBlock) => {
      if (!isBegun) early.push(block);
      else tell({ type: 'block', ...block }, [block.left.buffer, block.right.buffer]);
    };
    try {
      const sampleRate = await input.open(choice.value, hand, gone);
      levels.sampleRate = sampleRate;
      input.box?.setFloor(box.floorDb);
      input.box?.setLevel(box.levelDb);
      const finds = manner === 'hits';
      const mayBreakOff = choice.value.kind === 'device';
      tell({ type: 'begin', sampleRate, settings: settingsNow(), finds, recordingId, mayBreakOff });
      isBegun = true;
      for (const block of early) hand(block);
      state.value = 'listening';
      void findDevices();
      if (manner === 'bars') await barRecording.begin(recordingId, () => void end());
    } catch (error) {
      state.value = 'idle';
      notices.error(describeFailure('The input', error));
    }
  }

  function gone(): void {
    notices.error('The input is gone: what was recorded is kept. Plug it in again, or choose another one.');
    void end();
  }

  async function end(): Promise<void> {
    if (state.value !== 'listening') return;
    barRecording.leave();
    await input.close();
    tell({ type: 'end' });
    state.value = 'idle';
    isOpen.value = false;
  }

  const today = () => new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

  function receive(message: FromCapture): void {
    switch (message.type) {
      case 'events':
        for (const event of message.events) {
          if (event.kind === 'floor') Object.assign(floor, event);
          else if (event.kind === 'levels') drawLevels(event.levelsDb, event.hopFrames, event.isOpen);
          else notices.info('It does not fall silent: put the line at which it closes higher, or turn the input down.');
        }
        break;
      case 'take':
        takes.receive(message.take, message.facts);
        break;
      case 'stored':
        storedSeconds.value = message.seconds;
        break;
      case 'gap':
        if (gaps.count++ === 0) gaps.firstAtSeconds = message.atSeconds;
        gaps.seconds += message.seconds;
        break;
      case 'failed':
        notices.error(`The recording is not kept on the disk any more: ${message.reason}. Make room, and begin anew.`);
        void end();
        break;
      case 'ended':
        recordings.currentId = null;
        if (gaps.count > 0) notices.error(`The input ${gapWords.value}: it is silent there. ${BUSY}`);
        if (message.seconds === 0 || manner === 'hits') {
          void letGo(message.recordingId);
          break;
        }
        if (barRecording.isOf(message.recordingId)) void barRecording.fetch(message.firstFrame);
        else void recordings.fetchRecording(message.recordingId, 'recording');
    }
  }

  /** What the takes were taken from is kept as long as one of them has not reached the shelf. */
  async function letGo(id: string): Promise<void> {
    if ((await takes.landed()) === 0) await recordings.forgetLeft(id);
    else await recordings.findLeft();
  }

  function drawLevels(db: Float32Array, hopFrames: number, open: boolean): void {
    levels.hopFrames = hopFrames;
    for (const one of db) levels.db[levels.written++ % MOST_LEVELS] = one;
    if (isOpen.value !== open) isOpen.value = open;
  }

  function strike(pad: number, strength: number): void {
    const sound = BOX_SOUNDS[pad];
    if (!sound) return;
    if (input.box) input.box.strike(sound, strength);
    else notices.info('The box is an input: listen to it first.');
  }

  /** Sends a click round, and takes for the latency what it took. */
  async function measureLatency(): Promise<void> {
    if (state.value !== 'idle') return;
    state.value = 'opening';
    try {
      const latencyMs = await roundTripMs(engine, input, choice.value);
      if (latencyMs === null) {
        notices.info('The click did not come back: turn the loudspeaker up, or lead the output to the input.');
      } else {
        settings.kept.latencyMs = latencyMs;
        notices.info(`It came back after ${latencyMs} ms.`);
      }
    } catch (error) {
      notices.error(describeFailure('The input', error));
    } finally {
      state.value = 'idle';
    }
  }

  return {
    choice,
    devices,
    state,
    floor,
    lines,
    levels,
    isOpen,
    storedSeconds,
    gapWords,
    box,
    begin,
    end,
    findDevices,
    strike,
    measureLatency,
  };
});
