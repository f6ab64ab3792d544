/** A recording in time with the song: so many bars after its count-in, a part of it when they have come. */
import { defineStore } from 'pinia';
import { DEFAULT_SELECTION } from '#core/analysis/select-onsets.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { foundSlices } from '#core/project/new-part.ts';
import { addPart } from '#core/project/commands/parts.ts';
import { songValues } from '#core/queries/values.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { engine, library } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { forgetRecording } from '../../workers/recordings.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useTransport } from '../sound/transport.ts';
import { useCaptureSettings } from './capture-settings.ts';
import { readRecording, useRecordings } from './recordings.ts';

/** A little more is listened to, so that nothing lacks at the end. */
const AFTER_SECONDS = 0.2;

interface BarRun {
  recordingId: string;
  /** When the song's start was heard, by the audio clock; null until it is known. */
  songStartSeconds: number | null;
  seconds: number;
  bars: number;
  beatsPerBar: number;
  latencySeconds: number;
}

export const useBarRecording = defineStore('bar-recording', () => {
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const transport = useTransport();
  const recordings = useRecordings();
  const settings = useCaptureSettings();
  let run: BarRun | null = null;
  let stopWaiting: (() => void) | null = null;

  function hasSong(): boolean {
    if (project.document && project.document.partOrder.length > 0) return true;
    notices.info('There is no song to record to: open a project with a part first.');
    return false;
  }

  /**
   * The song begins, with its count-in.
   * @param whenDone the bars have come, or the song was stopped
   */
  async function begin(recordingId: string, whenDone: () => void): Promise<void> {
    if (!project.document) return;
    const { tempoBpm, beatsPerBar } = songValues(project.document);
    const { bars, latencyMs } = settings.kept;
    const seconds = (bars * beatsPerBar * 60) / tempoBpm;
    const latencySeconds = latencyMs / 1000;
    const now: BarRun = { recordingId, songStartSeconds: null, seconds, bars, beatsPerBar, latencySeconds };
    run = now;
    // So many bars of one tempo.
    transport.leaveOrder();
    await transport.play();
    stopWaiting = engine.onStatus(({ playing, order, timeSeconds, positionTicks }) => {
      if (order !== transport.orderNow()) return;
      if (playing) now.songStartSeconds ??= timeSeconds - ((positionTicks / TICKS_PER_BEAT) * 60) / tempoBpm;
      // A song that does not go round may be shorter than the recording; one that goes round was stopped by hand.
      const isStopped = !playing && transport.looping;
      const endSeconds = (now.songStartSeconds ?? Infinity) + seconds + latencySeconds + AFTER_SECONDS;
      if (!isStopped && timeSeconds < endSeconds) return;
      leave();
      if (playing) transport.stop();
      whenDone();
    });
  }

  /** It is not waited for any more. */
  function leave(): void {
    stopWaiting?.();
    stopWaiting = null;
  }

  const isOf = (recordingId: string) => run?.recordingId === recordingId && run.songStartSeconds !== null;

  /**
   * The bars out of what lies on the disk become a part: what came in late is put where it belongs.
   * @param firstFrame of the recording, by the audio clock
   */
  async function fetch(firstFrame: number): Promise<void> {
    if (!run) return;
    const { recordingId, songStartSeconds, seconds, bars, beatsPerBar, latencySeconds } = run;
    run = null;
    try {
      const { recording, channels: whole } = await readRecording(recordingId);
      const { sampleRate } = recording;
      const from = Math.round((songStartSeconds! + latencySeconds) * sampleRate) - firstFrame;
      const frames = Math.round(seconds * sampleRate);
      const channels = whole.map((all) => window(all, from, frames));
      const name = `recording ${new Date(recording.at).toLocaleTimeString('en-GB').replaceAll(':', '.')}`;
      const file = new File([writeWav({ sampleRate, channels }, { encoding: 'float32' })], `${name}.wav`);
      const { source } = await library.importFile(file, {
        origin: `recorded to ${project.document?.name ?? 'a song'}`,
      });
      const { markers, facts } = await library.cut(source.sourceId, { method: 'hits', ...DEFAULT_SELECTION });
      const args = {
        name,
        source: { id: source.sourceId, name, sampleRate, channels: channels.length, frames },
        loop: { startFrame: 0, endFrame: frames, bars, beatsPerBar },
        tempoReadings: [],
        slices: foundSlices(markers, facts),
        adoptTempo: false,
      };
      if (project.run(`record ${bars} bars`, addPart, args)) session.choosePart(project.document!.partOrder.at(-1)!);
      await forgetRecording(recordingId);
      notices.info(`${name} is a part of the song: ${bars} bars, cut and in time.`);
    } catch (error) {
      notices.error(describeFailure('The recording', error));
    } finally {
      await recordings.findLeft();
    }
  }

  return { hasSong, begin, leave, isOf, fetch };
});

/** Of a recording what lies in a window; silence where it was not listened. */
function window(all: Float32Array, from: number, frames: number): Float32Array {
  const out = new Float32Array(frames);
  const start = Math.max(0, from);
  if (start - from < frames) out.set(all.subarray(start, Math.max(start, from + frames)), start - from);
  return out;
}
