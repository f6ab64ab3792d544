<script setup lang="ts">
/** The grooves on the shelf. They are lifted out of parts and laid over parts on the bench. */
import { computed, onMounted } from 'vue';
import { grooveWords } from '#core/patterns/groove.ts';
import { useGrooves } from '../../stores/pattern/grooves.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import HearButton from '../shared/HearButton.vue';
import GroovePicture from './GroovePicture.vue';
import NamedList from './NamedList.vue';

const { wanted = '' } = defineProps<{ wanted?: string }>();
const grooves = useGrooves();
const preview = usePreview();
const items = computed(() => grooves.list.map((one) => ({ ...one, words: grooveWords(one.facts.groove) })));
const columns = [
  { title: 'hear', key: 'hear', sortable: false, width: 36, headerProps: { class: 'no-words' } },
  { title: 'picture', key: 'picture', sortable: false, width: 210, headerProps: { class: 'no-words' } },
  { title: 'name', key: 'name' },
  { title: 'what it does', key: 'words' },
];
onMounted(() => void grooves.refresh());
</script>

<template>
  <NamedList
    :items="items"
    :columns="columns"
    :wanted="wanted"
    what="groove"
    empty-words="No groove: on the bench, “lift its groove” keeps a part's timing and accents here, to lay over other parts."
    kept-words="Parts that use it keep it"
    @rename="(item, name) => void grooves.rename(item, name)"
    @remove="grooves.remove($event)"
  >
    <template #hear="{ item }">
      <HearButton
        :name="item.name"
        :playing="preview.previewId === `groove:${item.id}`"
        @click="preview.previewGroove(item)"
      />
    </template>
    <template #picture="{ item }">
      <span class="picture"><GroovePicture :groove="item.facts.groove" /></span>
    </template>
  </NamedList>
</template>

<style scoped>
.picture {
  display: block;
  height: 22px;
  width: 196px;
  border-bottom: 1px solid var(--ink);
}
</style>
