<script setup lang="ts">
/** The tags of a sound: known ones are offered, others are written. */
const { tags, known } = defineProps<{ tags: readonly string[]; known: readonly string[] }>();
const emit = defineEmits<{ put: [tags: readonly string[]] }>();
</script>

<template>
  <v-combobox
    :model-value="tags"
    :items="known"
    multiple
    chips
    closable-chips
    density="compact"
    variant="outlined"
    hide-details
    aria-label="Tags"
    placeholder="break, bass …"
    data-testid="tags"
    @update:model-value="emit('put', $event as string[])"
    @keydown.stop
  />
</template>
