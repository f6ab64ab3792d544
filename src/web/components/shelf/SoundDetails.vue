<script setup lang="ts">
/** The sound under the cursor: what it is, its tags, how its loop is read, where it is used, and cutting it. */
import { computed, defineAsyncComponent, ref, shallowRef, watch } from 'vue';
import { USUAL_TAGS } from '#core/api/usual-tags.ts';
import { api, type SourceSummary, type SourceUse } from '../../api/client.ts';
import { keyName } from '../../canvas/key-names.ts';
import { secondsOf } from '../../audio/library.ts';
import { useListening } from '../../stores/shelf/listening.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import { useProject } from '../../stores/document/project.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { ICONS } from '../../theme/icons.ts';
import DetailCard from '../details/DetailCard.vue';
import DetailHead from '../details/DetailHead.vue';
import FactList from '../details/FactList.vue';
import IconButton from '../shared/IconButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import NameDialog from '../shared/NameDialog.vue';
import { countWords, whenWords } from './shelf-words.ts';
import { untilQuiet } from '../../when-quiet.ts';

const BreaksCard = defineAsyncComponent(() => untilQuiet().then(() => import('./BreaksCard.vue')));
const AlikeCard = defineAsyncComponent(() => untilQuiet().then(() => import('./AlikeCard.vue')));
// A large one; first the sound is shown.
const TagsField = defineAsyncComponent(() => untilQuiet().then(() => import('./TagsField.vue')));

const { source, chosen } = defineProps<{
  source: SourceSummary;
  /** The sounds that are chosen; what is done is done to all of them. */
  chosen: readonly SourceSummary[];
}>();
const emit = defineEmits<{ cut: [source: SourceSummary, asProject: boolean] }>();
const shelf = useShelf();
const listening = useListening();
const preview = usePreview();
const project = useProject();
const renaming = ref(false);
const uses = shallowRef<SourceUse[] | null>(null);

/** In shorter sounds there is nothing to look for. */
const LEAST_SECONDS = 12;
const isLong = computed(() => secondsOf(source) >= LEAST_SECONDS);
const several = computed(() => (chosen.length > 1 ? chosen : [source]));
const facts = computed(() => [
  { name: 'length', value: `${secondsOf(source).toFixed(3)} s` },
  { name: 'frames', value: source.frames.toLocaleString('en') },
  { name: 'rate', value: `${source.sampleRate / 1000} kHz` },
  { name: 'channels', value: source.channels === 1 ? 'mono' : 'stereo' },
  { name: 'size', value: `${(source.byteLength / 1e6).toFixed(1)} MB` },
  ...(source.facts.heard ? heardFacts(source.facts.heard) : []),
  { name: 'came', value: whenWords(source.createdAt) },
]);
function heardFacts({ role, midi, brightnessHz }: NonNullable<SourceSummary['facts']['heard']>) {
  return [
    { name: 'sounds like', value: role },
    ...(midi === null ? [] : [{ name: 'note', value: keyName(midi) }]),
    { name: 'brightness', value: `${(brightnessHz / 1000).toFixed(1)} kHz` },
  ];
}
const knownTags = computed(() => [...new Set([...USUAL_TAGS, ...shelf.sources.flatMap(({ tags }) => tags)])].sort());
/** Tags that all of them have. */
const tags = computed(() => source.tags.filter((tag) => several.value.every((one) => one.tags.includes(tag))));

function setTags(next: readonly string[]): void {
  const clean = next.map((tag) => tag.trim().toLowerCase().slice(0, 40)).filter(Boolean);
  for (const tag of clean) if (!tags.value.includes(tag)) void shelf.setTag(several.value, tag, true);
  for (const tag of tags.value) if (!clean.includes(tag)) void shelf.setTag(several.value, tag, false);
}

watch(
  () => source.id,
  async (id) => {
    uses.value = null;
    const found = await api.sourceUses(id).catch(() => []);
    if (source.id === id) uses.value = found;
  },
  { immediate: true },
);
</script>

<template>
  <DetailHead :title="source.name" :note="chosen.length > 1 ? `and ${chosen.length - 1} more` : ''">
    <template #picture><SkylineMini :levels="source.facts.skyline" /></template>
    <IconButton
      :icon="preview.previewId === source.id ? 'stop' : 'hear'"
      words="hear it"
      @click="listening.toggle(source.id)"
    />
    <IconButton icon="edit" :words="`Rename ${source.name}`" @click="renaming = true" />
    <IconButton
      icon="remove"
      :words="chosen.length > 1 ? `Delete ${chosen.length} sounds` : `Delete ${source.name}`"
      hint="Off the shelf; projects that play it keep it"
      @click="shelf.removeSources(several)"
    />
  </DetailHead>
  <v-btn class="strong cut" block :prepend-icon="ICONS.cut" @click="emit('cut', source, !project.document)">
    {{ project.document ? 'Cut it as a new part' : 'Cut it as a new project' }}
  </v-btn>
  <v-btn v-if="project.document" block class="cut" @click="emit('cut', source, true)">as a new project</v-btn>
  <BreaksCard
    v-if="isLong"
    :source="source"
    @cut="(found: SourceSummary, asProject: boolean) => emit('cut', found, asProject)"
  />
  <DetailCard id="sound-tags" title="Tags" :note="chosen.length > 1 ? `of ${chosen.length} sounds` : ''">
    <TagsField :tags="tags" :known="knownTags" @put="setTags" />
  </DetailCard>
  <DetailCard v-if="source.facts.tempo" id="sound-loop" title="Loop" note="by its length">
    <p class="small">
      <span class="mono">{{ source.facts.tempo.bars }}</span> {{ source.facts.tempo.bars === 1 ? 'bar' : 'bars' }} at
      <span class="mono">{{ source.facts.tempo.bpm.toFixed(2) }}</span> bpm
    </p>
    <p v-if="listening.songTempo" class="quiet small">
      heard in time at <span class="mono">{{ listening.songTempo.toFixed(2) }}</span> bpm,
      <span class="mono">{{ ((listening.songTempo / source.facts.tempo.bpm - 1) * 100).toFixed(1) }} %</span>
    </p>
  </DetailCard>
  <DetailCard id="sound-facts" title="Facts">
    <FactList :facts="facts" />
    <p v-if="source.facts.origin" class="quiet small" data-testid="origin">{{ source.facts.origin }}</p>
  </DetailCard>
  <AlikeCard :source="source" />
  <DetailCard id="sound-uses" title="Used in" :note="uses ? countWords(uses.length, 'project') : '…'">
    <ul v-if="uses && uses.length > 0" data-testid="uses">
      <li v-for="use in uses" :key="use.projectId">
        <v-btn variant="text" block class="use" :to="`/bench/${use.projectId}`"
          ><span class="one-line">{{ use.name }}</span></v-btn
        >
      </li>
    </ul>
    <p v-if="uses?.length === 0" class="quiet small">No project plays it yet.</p>
  </DetailCard>
  <NameDialog
    v-if="renaming"
    v-model="renaming"
    :name="source.name"
    what="sound"
    @rename="shelf.renameSource(source, $event)"
  />
</template>

<style scoped>
.cut.cut {
  margin-bottom: 6px;
  height: max(36px, var(--control));
}
.use {
  justify-content: flex-start;
  padding: 0 2px;
}
</style>
