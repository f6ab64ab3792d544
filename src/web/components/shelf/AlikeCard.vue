<script setup lang="ts">
/** What on the shelf sounds like a slice of the sound under the cursor: the nearest slice of every other sound. */
import { watchDebounced } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import type { SourceSummary } from '../../api/client.ts';
import { useAlike } from '../../stores/shelf/alike.ts';
import { useListening } from '../../stores/shelf/listening.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import DetailCard from '../details/DetailCard.vue';
import NumberField from '../fields/NumberField.vue';
import HearButton from '../shared/HearButton.vue';
import { countWords } from './shelf-words.ts';

/** Farther ones are no likeness any more, in units of 10 dB (see core/analysis/likeness.ts). */
const FARTHEST = 1.5;

const { source } = defineProps<{ source: SourceSummary }>();
const alike = useAlike();
const shelf = useShelf();
const listening = useListening();
const preview = usePreview();
const number = ref(1);
const heardId = ref('');

onMounted(() => void alike.refresh().catch(() => undefined));
// Those that come while it is looked at are known a moment later.
watchDebounced(
  () => alike.isBehind,
  (isBehind) => isBehind && void alike.refresh().catch(() => undefined),
  { debounce: 400 },
);
watch(
  () => source.id,
  () => (number.value = 1),
);
const slices = computed(() => alike.slicesOf(source.id));
const names = computed(() => new Map(shelf.sources.map(({ id, name }) => [id, name])));
const found = computed(() =>
  alike.nearest(source.id, number.value - 1).flatMap((near) => {
    const name = names.value.get(near.id);
    if (name === undefined || near.distance > FARTHEST) return [];
    return [{ ...near, name, percent: Math.round(100 * (1 - near.distance / FARTHEST)) }];
  }),
);

async function hear({ id, startFrame, endFrame }: (typeof found.value)[number]): Promise<void> {
  if (heardId.value === id && preview.previewId === id) return preview.stopPreview();
  heardId.value = id;
  await preview.playRange(id, startFrame, endFrame, false);
}
</script>

<template>
  <DetailCard id="sound-alike" title="Sounds like this one" :note="countWords(found.length, 'sound')">
    <NumberField v-if="slices > 1" v-model="number" label="slice" :min="1" :max="slices" :reset="1" />
    <ul v-if="found.length > 0" data-testid="alike">
      <li v-for="near in found" :key="near.id">
        <HearButton
          :name="`slice ${near.place + 1} of ${near.name}`"
          :playing="preview.previewId === near.id && heardId === near.id"
          @click="hear(near)"
        />
        <v-btn variant="text" class="to" @click="listening.cursorId = near.id"
          ><span class="one-line">{{ near.name }}</span></v-btn
        >
        <span class="quiet small mono">{{ near.place + 1 }}</span>
        <span class="small mono percent">{{ near.percent }} %</span>
      </li>
    </ul>
    <p v-else-if="slices > 0" class="quiet small">Nothing on the shelf is like it.</p>
    <template v-if="alike.unheard.length > 0">
      <p class="quiet small">{{ countWords(alike.unheard.length, 'sound') }} came before they were listened to.</p>
      <v-btn block :disabled="alike.isListening" data-testid="listen" @click="alike.listen()">Listen to them</v-btn>
    </template>
  </DetailCard>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
}
li {
  display: flex;
  align-items: center;
  gap: 6px;
}
.to {
  flex: 1 1 auto;
  min-width: 0;
  justify-content: flex-start;
  padding: 0 2px;
}
.percent {
  flex: none;
  width: 42px;
  white-space: nowrap;
  text-align: right;
}
</style>
