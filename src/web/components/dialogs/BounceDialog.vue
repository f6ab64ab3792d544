<script setup lang="ts">
/** Takes the song away as a WAV file: rendered in a worker, with progress, and given up at any time. */
import { computed, ref } from 'vue';
import { compilePlan } from '#core/engine/plan/compile.ts';
import { withValues } from '#core/params/row.ts';
import { SONG_ROWS } from '#core/params/tables.ts';
import { isHome } from '#core/project/schema.ts';
import { songValues } from '#core/queries/values.ts';
import type { WavEncoding } from '#core/formats/wav-write.ts';
import { AppError } from '#core/units/errors.ts';
import { formatSeconds, framesPerTick } from '#core/units/time.ts';
import { ENGINE_SAMPLE_RATE } from '../../audio/engine-host.ts';
import { library, renderings } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { saveFile } from '../../audio/save-file.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import type { BounceRequest } from '../../workers/bounce.worker.ts';
import { WorkerClient } from '../../workers/rpc.ts';
import DialogSheet from './DialogSheet.vue';
import NumberField from '../fields/NumberField.vue';

const open = defineModel<boolean>({ required: true });
const project = useProject();
const session = useSession();
const transport = useTransport();
const notices = useNotices();

const rounds = ref(1);
const encoding = ref<WavEncoding>('pcm24');
const ringOut = ref(true);
const onlyPart = ref(false);
const share = ref<number | null>(null);
let abort: AbortController | null = null;

const encodings: { value: WavEncoding; words: string }[] = [
  { value: 'pcm16', words: '16 bit' },
  { value: 'pcm24', words: '24 bit' },
  { value: 'float32', words: '32 bit float' },
];
const lengthTicks = computed(() => (onlyPart.value ? session.lengthTicks : transport.roundTicks()) * rounds.value);
const tempoBpm = computed(() => (project.document ? songValues(project.document).tempoBpm : 120));
const seconds = computed(
  () => (lengthTicks.value * framesPerTick(tempoBpm.value, ENGINE_SAMPLE_RATE)) / ENGINE_SAMPLE_RATE,
);

function fileName(): string {
  const { document, part } = { document: project.document!, part: session.part };
  const pattern = isHome(session.patternId) ? 'home' : (session.pattern?.name ?? '');
  const name = onlyPart.value && part ? `${document.name} - ${part.name} - ${pattern}` : document.name;
  return `${name.replace(/[\\/:*?"<>|]/g, ' ').trim() || 'bounce'}.wav`;
}

async function run(): Promise<void> {
  const document = project.document!;
  share.value = 0;
  // What is stretched must be there first.
  await renderings.complete(document);
  const song = { values: withValues(SONG_ROWS, document.song.values, { clickOn: false }) };
  const plan = compilePlan({ ...document, song }, ENGINE_SAMPLE_RATE, {
    assets: library.audio,
    renderings,
    onlyPartId: onlyPart.value ? session.part?.id : undefined,
  });
  const worker = new Worker(new URL('../../workers/bounce.worker.ts', import.meta.url), { type: 'module' });
  const client = new WorkerClient<BounceRequest>(worker);
  abort = new AbortController();
  try {
    const wav = await client.call<Uint8Array<ArrayBuffer>>(
      { plan, lengthTicks: lengthTicks.value, encoding: encoding.value, ringOut: ringOut.value },
      { signal: abort.signal, onProgress: (done) => (share.value = done) },
    );
    saveFile(fileName(), wav, 'audio/wav');
    open.value = false;
  } catch (error) {
    if (!(error instanceof AppError && error.code === 'cancelled')) notices.error(describeFailure('The bounce', error));
  } finally {
    worker.terminate();
    share.value = null;
    abort = null;
  }
}
</script>

<template>
  <DialogSheet v-model="open" title="Bounce to a WAV file" :share="share" @cancel="abort?.abort()">
    <NumberField v-model="rounds" label="rounds" :min="1" :max="999" :reset="1" :disabled="share !== null" />
    <label class="line">
      <span class="quiet">samples</span>
      <select v-model="encoding" class="plain-select" :disabled="share !== null">
        <option v-for="choice in encodings" :key="choice.value" :value="choice.value">{{ choice.words }}</option>
      </select>
    </label>
    <label class="line"
      ><input v-model="ringOut" type="checkbox" :disabled="share !== null" /> let the tail ring out</label
    >
    <label class="line"
      ><input v-model="onlyPart" type="checkbox" :disabled="share !== null" /> only this part:
      {{ session.part?.name }}</label
    >
    <p class="quiet">
      {{ formatSeconds(seconds) }} at 44.1 kHz, stereo,
      {{ ringOut ? 'and the tail' : 'cut at the end, so that it loops' }}. The click is left out.
    </p>
    <template #actions>
      <button class="push strong" :disabled="share !== null || lengthTicks === 0" data-testid="bounce-run" @click="run">
        Bounce
      </button>
    </template>
  </DialogSheet>
</template>
