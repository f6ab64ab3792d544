<script setup lang="ts">
/** The grooves on the shelf. They are lifted out of parts and laid over parts on the bench. */
import { onMounted } from 'vue';
import { grooveWords } from '#core/patterns/groove.ts';
import { useGrooves } from '../../stores/grooves.ts';
import { usePreview } from '../../stores/preview.ts';
import EditableName from '../fields/EditableName.vue';
import GroovePicture from './GroovePicture.vue';
import HearButton from './HearButton.vue';
import ShelfSection from './ShelfSection.vue';

const grooves = useGrooves();
const preview = usePreview();
onMounted(() => void grooves.refresh());
</script>

<template>
  <ShelfSection title="Grooves" :level="2" test-id="grooves">
    <li v-for="one in grooves.list" :key="one.id" class="groove">
      <HearButton
        :name="one.groove.name"
        :playing="preview.previewId === `groove:${one.id}`"
        @click="preview.previewGroove(one)"
      />
      <span class="picture"><GroovePicture :groove="one.groove" /></span>
      <EditableName :name="one.groove.name" what="groove" :opens="false" @rename="grooves.rename(one, $event)" />
      <span class="quiet words">{{ grooveWords(one.groove) }}</span>
      <button
        class="push small"
        title="Parts that use it keep it"
        :aria-label="`Delete ${one.groove.name}`"
        @click="grooves.remove(one)"
      >
        delete
      </button>
    </li>
    <li v-if="grooves.loaded && grooves.list.length === 0" class="none quiet">
      No groove yet: on the bench, “lift its groove” keeps a part's timing and accents here, to lay over other parts.
    </li>
  </ShelfSection>
</template>

<style scoped>
.groove {
  grid-template-columns: 30px 200px minmax(0, 1fr) 330px auto;
}
.picture {
  height: 26px;
  border-bottom: 1px solid var(--ink);
}
@media (max-width: 900px) {
  .groove {
    grid-template-columns: 30px 100px minmax(0, 1fr) auto;
  }
  .words {
    display: none;
  }
}
</style>
