<script setup lang="ts">
/** Takes the slices of a part away: each as a file, in one zip; or the source with its markers as cue points. */
import { computed, ref } from 'vue';
import {
  sliceFileNames,
  type SliceFileEncoding,
  type SliceFileOptions,
  type SliceToWrite,
} from '#core/formats/export-slices.ts';
import { AppError } from '#core/units/errors.ts';
import { describeFailure } from '../../api/words.ts';
import { saveFile } from '../../audio/save-file.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import type { ExportRequest } from '../../workers/export.worker.ts';
import { WorkerClient } from '../../workers/rpc.ts';
import DialogSheet from './DialogSheet.vue';
import NumberField from '../fields/NumberField.vue';

const open = defineModel<boolean>({ required: true });
const session = useSession();
const notices = useNotices();

const encoding = ref<SliceFileEncoding>('wav24');
const rate = ref<number>(0);
const mono = ref(false);
const fadeInMs = ref(0);
const fadeOutMs = ref(2);
const onlySelected = ref(false);
const namePattern = ref('{source} {number} {slice}');
const share = ref<number | null>(null);
let abort: AbortController | null = null;

const encodings: { value: SliceFileEncoding; words: string }[] = [
  { value: 'wav16', words: 'WAV, 16 bit' },
  { value: 'wav24', words: 'WAV, 24 bit' },
  { value: 'wav32', words: 'WAV, 32 bit float' },
  { value: 'flac16', words: 'FLAC, 16 bit' },
  { value: 'flac24', words: 'FLAC, 24 bit' },
];
const rates = [0, 22050, 44100, 48000, 88200, 96000];

const chosen = computed<SliceToWrite[]>(() => {
  const from = onlySelected.value ? session.selectedSlices : session.placed;
  return from.map(({ startFrame, endFrame, label }) => ({ startFrame, endFrame, name: label }));
});
const options = computed<SliceFileOptions>(() => ({
  encoding: encoding.value,
  fadeInMs: fadeInMs.value,
  fadeOutMs: fadeOutMs.value,
  mono: mono.value,
  sampleRate: rate.value || null,
  namePattern: namePattern.value,
}));
const sourceName = computed(() => session.part?.name ?? 'slices');
const firstName = computed(() => sliceFileNames(chosen.value.slice(0, 1), sourceName.value, options.value)[0] ?? '');

async function run(request: ExportRequest, fileName: string, type: string): Promise<void> {
  const client = new WorkerClient<ExportRequest>(
    new Worker(new URL('../../workers/export.worker.ts', import.meta.url), { type: 'module' }),
  );
  abort = new AbortController();
  share.value = 0;
  try {
    const bytes = await client.call<Uint8Array<ArrayBuffer>>(request, {
      signal: abort.signal,
      onProgress: (done) => (share.value = done),
    });
    saveFile(fileName, bytes, type);
    open.value = false;
  } catch (error) {
    if (!(error instanceof AppError && error.code === 'cancelled'))
      notices.error(describeFailure('Writing the slices', error));
  } finally {
    client.close();
    share.value = null;
    abort = null;
  }
}

function audio() {
  const { sampleRate, channels } = session.loaded!;
  return { sampleRate, channels };
}

function writeSlices(): void {
  void run(
    {
      kind: 'slices',
      audio: audio(),
      slices: chosen.value,
      sourceName: sourceName.value,
      options: { ...options.value },
    },
    `${sourceName.value.replace(/[\\/:*?"<>|]/g, ' ')} slices.zip`,
    'application/zip',
  );
}

function writeSource(): void {
  const { startFrame, endFrame } = session.cut!.loop ?? { startFrame: 0, endFrame: session.source!.frames };
  void run(
    { kind: 'source', audio: audio(), slices: chosen.value, loop: { startFrame, endFrame } },
    `${sourceName.value.replace(/[\\/:*?"<>|]/g, ' ')} with markers.wav`,
    'audio/wav',
  );
}
</script>

<template>
  <DialogSheet
    v-model="open"
    :title="`Slices of ${sourceName}`"
    :share="share"
    :max-width="500"
    @cancel="abort?.abort()"
  >
    <label class="line">
      <span class="quiet">files</span>
      <select v-model="encoding" class="plain-select">
        <option v-for="choice in encodings" :key="choice.value" :value="choice.value">{{ choice.words }}</option>
      </select>
      <select v-model="rate" class="plain-select" aria-label="Sample rate">
        <option v-for="hz in rates" :key="hz" :value="hz">
          {{ hz === 0 ? 'rate of the source' : `${hz / 1000} kHz` }}
        </option>
      </select>
    </label>
    <label class="line"
      ><span class="quiet">names</span><input v-model="namePattern" class="plain-input wide" maxlength="200"
    /></label>
    <p class="quiet example">{{ firstName }}</p>
    <div class="line">
      <NumberField v-model="fadeInMs" label="fade in" :min="0" :max="10" :step="0.5" :digits="1" :reset="0" unit="ms" />
      <NumberField
        v-model="fadeOutMs"
        label="fade out"
        :min="0"
        :max="10"
        :step="0.5"
        :digits="1"
        :reset="2"
        unit="ms"
      />
    </div>
    <label class="line"><input v-model="mono" type="checkbox" /> mixed down to mono</label>
    <label class="line"
      ><input v-model="onlySelected" type="checkbox" /> only the selected ({{ session.selectedSlices.length }})</label
    >
    <template #actions>
      <button
        class="push"
        :disabled="share !== null || !session.loaded"
        title="The whole source as WAV, markers as cue points with their names, the loop as a sampler loop"
        @click="writeSource"
      >
        source with markers
      </button>
      <button
        class="push strong"
        :disabled="share !== null || chosen.length === 0 || !session.loaded"
        data-testid="slices-run"
        @click="writeSlices"
      >
        {{ chosen.length }} files as a zip
      </button>
    </template>
  </DialogSheet>
</template>

<style scoped>
.wide {
  flex: 1;
}
.example {
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
