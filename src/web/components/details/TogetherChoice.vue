<script setup lang="ts">
/** How a drag changes several at once that differ. */
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';

const session = useSession();
const choices = [
  { value: 'each', words: 'each by as much' },
  { value: 'same', words: 'all the same' },
] as const;
</script>

<template>
  <ChoiceField
    class="wide together"
    label="Changing several"
    hint="What dragging does where they differ; a typed number is for all"
    spread
    :show-label="false"
    :model-value="session.together"
    :choices="choices"
    @put="session.together = $event"
  />
</template>

<style scoped>
.together {
  padding-bottom: 8px;
}
</style>
