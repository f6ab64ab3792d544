<script setup lang="ts">
/** Mute and solo of a part. */
import { computed } from 'vue';
import type { Part } from '#core/document/schema.ts';
import { channelValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import IconButton from '../shared/IconButton.vue';
import { usePartActions } from './use-part-actions.ts';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const { toggle } = usePartActions(() => part);
const channel = computed(() => channelValues(project.document!.channels[part.channelId]!));
</script>

<template>
  <span class="pair">
    <IconButton icon="mute" words="mute" hint="Mute this part" :pressed="channel.muted" @click="toggle('muted')" />
    <IconButton
      icon="solo"
      words="solo"
      hint="Hear only soloed parts"
      :pressed="channel.soloed"
      @click="toggle('soloed')"
    />
  </span>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 3px;
  flex: none;
}
</style>
