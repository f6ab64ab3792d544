/** Recordings as they lie on the disk: one that has ended becomes a sound, one that a crash has left is offered. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { AppError } from '#core/units/errors.ts';
import { joined } from '#core/dsp/joined.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import { library } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { eachPiece, forgetRecording, leftRecordings, type StoredRecording } from '../../workers/recordings.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { useProject } from '../document/project.ts';
import { useImports } from '../shelf/imports.ts';
import { useShelf } from '../shelf/shelf.ts';

/** No longer than this at once: a recording of hours must not have to fit into memory. About ten minutes. */
const PIECES_AT_ONCE = 1200;

/**
 * What lies on the disk of a recording.
 * @param first piece that is wanted @param count so many of them; an empty one when there are no more
 * @throws AppError `not-found`
 */
export async function readRecording(
  id: string,
  first = 0,
  count = Infinity,
): Promise<{ recording: StoredRecording; channels: Float32Array[] }> {
  const recording = (await leftRecordings()).find((one) => one.id === id);
  if (!recording) throw new AppError('not-found', 'this recording is not there any more');
  const pieces: Float32Array[][] = [[], []];
  const take = (left: Float32Array, right: Float32Array) => {
    if (recording.channels === 2) {
      pieces[0]!.push(left);
      pieces[1]!.push(right);
    } else pieces[0]!.push(left.map((x, i) => (x + right[i]!) / 2));
  };
  await eachPiece(id, take, first, count);
  return { recording, channels: pieces.slice(0, recording.channels).map((list) => joined(list)) };
}

export const useRecordings = defineStore('recordings', () => {
  const notices = useNotices();
  const project = useProject();
  const imports = useImports();
  const shelf = useShelf();
  const work = useWork();
  const left = ref<readonly StoredRecording[]>([]);
  /** The one that is being made: it is not left by anything. */
  const currentId = ref<string | null>(null);

  /**
   * What lies on the disk becomes a sound of the shelf, and of the open project; a long one several sounds, of the shelf
   * alone. It is forgotten when all of it is there, and not before.
   */
  async function fetchRecording(id: string, what: string): Promise<void> {
    const abort = new AbortController();
    const workId = work.begin({ kind: 'import', name: what, share: null, cancel: () => abort.abort() });
    try {
      const sounds: { sourceId: string; name: string }[] = [];
      let at = '';
      for (let first = 0; ; first += PIECES_AT_ONCE) {
        const { recording, channels } = await readRecording(id, first, PIECES_AT_ONCE);
        if (channels[0]!.length === 0) break;
        at = new Date(recording.at).toLocaleTimeString('en-GB').replaceAll(':', '.');
        const number = first === 0 ? '' : `, ${first / PIECES_AT_ONCE + 1}`;
        const bytes = writeWav({ sampleRate: recording.sampleRate, channels }, { encoding: 'float32' });
        const file = new File([bytes], `${what} ${at}${number}.wav`, { type: 'audio/wav' });
        const origin = `recorded ${new Date(recording.at).toLocaleString('en-GB')}`;
        const { source, name } = await library.importFile(file, { signal: abort.signal, origin });
        sounds.push({ sourceId: source.sourceId, name });
      }
      void shelf.refreshSourcesSoon().catch(() => undefined);
      const isCut = sounds.length === 1 && project.document !== null;
      if (isCut) await imports.addSource(sounds[0]!.sourceId, sounds[0]!.name);
      await forgetRecording(id);
      const words = sounds.length > 1 ? ` as ${sounds.length} sounds` : isCut ? ', cut and ready' : '';
      notices.info(`The recording of ${at} is on the shelf${words}.`);
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') notices.info('The recording stays where it is.');
      else notices.error(describeFailure('The recording', error));
    } finally {
      work.end(workId);
      await findLeft();
    }
  }

  /** What a crash has left on the disk. */
  async function findLeft(): Promise<void> {
    const all = await leftRecordings().catch(() => []);
    left.value = all.filter(({ id }) => id !== currentId.value);
  }

  async function forgetLeft(id: string): Promise<void> {
    await forgetRecording(id);
    await findLeft();
  }

  return { left, currentId, fetchRecording, findLeft, forgetLeft };
});
