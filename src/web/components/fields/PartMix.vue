<script setup lang="ts">
/** Level and pan of a part: in the details with their names, in the narrow rail without. */
import { computed } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { Part } from '#core/project/schema.ts';
import ParamField from './ParamField.vue';

const { part, narrow = false } = defineProps<{ part: Part; narrow?: boolean }>();
const owners = computed<Owner[]>(() => [{ kind: 'channel', id: part.channelId }]);
</script>

<template>
  <ParamField :owners="owners" param="gainDb" :class="{ fader: narrow }" :show-label="!narrow" />
  <ParamField
    :owners="owners"
    param="pan"
    :class="{ fader: narrow }"
    :show-label="!narrow"
    :unit="narrow ? '% pan' : '%'"
  />
</template>

<style scoped>
.fader {
  flex: 1 0 60px;
}
</style>
