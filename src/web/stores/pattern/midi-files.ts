/** A MIDI file that is being looked at, before it becomes a pattern of the open part. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { MidiSong } from '#core/formats/midi-file.ts';
import { layPattern } from '#core/project/commands/patterns.ts';
import { setValue } from '#core/project/commands/values.ts';
import { notesToStrips, type NoteMapping } from '#core/queries/pattern-notes.ts';
import { songValues } from '#core/queries/values.ts';
import { MAX_TEMPO_BPM, MIN_TEMPO_BPM, TICKS_PER_BEAT } from '#core/units/time.ts';
import { describeFailure } from '../../api/words.ts';
import type { MidiRequest } from '../../workers/midi.worker.ts';
import { WorkerClient } from '../../workers/rpc.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

/** As long as a pattern may be. */
const MAX_BARS = 64;

/** Reads a file in a worker: thousands of notes would hold the page up. */
async function readAway(bytes: Uint8Array<ArrayBuffer>): Promise<MidiSong> {
  const client = new WorkerClient<MidiRequest>(
    new Worker(new URL('../../workers/midi.worker.ts', import.meta.url), { type: 'module' }),
  );
  try {
    return await client.call<MidiSong>({ bytes }, { transfer: [bytes.buffer] });
  } finally {
    client.close();
  }
}

export const useMidiFiles = defineStore('midi-files', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const opened = shallowRef<{ fileName: string; song: MidiSong } | null>(null);
  const trackIndex = ref(0);
  const mapping = ref<NoteMapping>('key');
  const takesTempo = ref(false);

  const track = computed(() => opened.value?.song.tracks[trackIndex.value] ?? null);

  function stripsBy(by: NoteMapping) {
    const { document } = project;
    if (!track.value || !document || !session.part) return { strips: [], without: 0 };
    return notesToStrips(document, session.part, track.value.notes, by, session.selectedZones[0]?.zone.id);
  }
  const found = computed(() => stripsBy(mapping.value));

  /** Whole bars that the track takes. */
  const bars = computed(() => {
    if (!track.value || !project.document) return 0;
    const end = track.value.notes.reduce((most, note) => Math.max(most, note.positionTicks + note.lengthTicks), 0);
    const barTicks = songValues(project.document).beatsPerBar * TICKS_PER_BEAT;
    return Math.max(1, Math.ceil(end / barTicks - 1e-3));
  });
  /** Why no pattern can be made of it; null when it can. */
  const problem = computed(() => {
    if (found.value.strips.length === 0) return 'None of its notes finds a sound of this part.';
    return bars.value > MAX_BARS ? `Only its first ${MAX_BARS} of ${bars.value} bars fit into a pattern.` : null;
  });

  /** Reads a file; gives false for one that cannot be used, and says why. */
  async function open(file: File): Promise<boolean> {
    try {
      const song = await readAway(new Uint8Array(await file.arrayBuffer()));
      opened.value = { fileName: file.name, song };
      chooseTrack(0);
      takesTempo.value = false;
      return true;
    } catch (error) {
      notices.error(describeFailure(file.name, error));
      return false;
    }
  }

  /** A track, and the way in which more of its notes find a sound. */
  function chooseTrack(index: number): void {
    trackIndex.value = index;
    mapping.value = stripsBy('role').without < stripsBy('key').without ? 'role' : 'key';
  }

  /** Makes a pattern of it, with its tempo if that is wanted, in one step. */
  function lay(): void {
    const { part } = session;
    const { document } = project;
    if (!opened.value || !track.value || !part || !document) return;
    const { song, fileName } = opened.value;
    const lengthTicks = Math.min(MAX_BARS, bars.value) * songValues(document).beatsPerBar * TICKS_PER_BEAT;
    const strips = found.value.strips
      .filter(({ positionTicks }) => positionTicks < lengthTicks)
      .map((strip) => ({ ...strip, lengthTicks: Math.min(strip.lengthTicks, lengthTicks - strip.positionTicks) }));
    const name = track.value.name || fileName.replace(/\.\w+$/, '');
    project.step('pattern from a MIDI file', () => {
      project.run('', layPattern, { partId: part.id, name, lengthTicks, strips });
      if (!takesTempo.value || song.tempoBpm === null) return;
      const to = Math.max(MIN_TEMPO_BPM, Math.min(MAX_TEMPO_BPM, Math.round(song.tempoBpm * 100) / 100));
      project.run('', setValue, { owners: [{ kind: 'song' }], param: 'tempoBpm', change: { to } });
    });
    opened.value = null;
  }

  return { opened, track, trackIndex, mapping, takesTempo, found, bars, problem, open, chooseTrack, lay };
});
