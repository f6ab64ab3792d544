<script setup lang="ts">
/** Records what is played on keys into the pattern; how, in a menu. */
import { computed, defineAsyncComponent } from 'vue';
import { shortcuts } from '../../input/shortcuts.ts';
import { useRecording } from '../../stores/sound/recording.ts';
import { ICONS } from '../../theme/icons.ts';
import IconButton from '../shared/IconButton.vue';

const RecordCard = defineAsyncComponent(() => import('./RecordCard.vue'));
const recording = useRecording();
const words = computed(() => {
  const { count } = recording;
  return `Recording, ${count} ${count === 1 ? 'strip' : 'strips'} so far: press to end`;
});
</script>

<template>
  <div class="record">
    <v-btn
      class="button"
      :class="{ on: recording.isOn }"
      :icon="ICONS.record"
      :aria-pressed="recording.isOn"
      aria-label="Record"
      :data-tip="recording.isOn ? words : 'What is played on the keys of this part is recorded into its pattern'"
      :data-key="shortcuts.record"
      data-testid="record"
      @click="recording.toggle()"
    />
    <v-menu :close-on-content-click="false" location="top">
      <template #activator="{ props: menu }">
        <IconButton v-bind="menu" icon="down" words="How it is recorded" variant="text" class="opener" />
      </template>
      <RecordCard />
    </v-menu>
  </div>
</template>

<style scoped>
.record {
  display: flex;
  flex: none;
}
.button.v-btn--icon.v-btn--density-default {
  width: 38px;
  height: 42px;
}
.record .button :deep(.v-icon) {
  color: var(--over);
}
.record .button.on.on {
  background: var(--signal);
  border-color: var(--signal);
}
.record .button.on :deep(.v-icon) {
  color: #fff;
}
.opener.v-btn--icon.v-btn--density-default {
  width: 20px;
  height: 42px;
}
</style>
