<script setup lang="ts">
/** What an effect is called, and whether it is on: it is chosen and dragged by this. */
import { computed } from 'vue';
import { EFFECT_WORDS } from '#core/params/effects.ts';
import type { Effect } from '#core/document/schema.ts';
import { useChain } from '../../stores/sound/chain.ts';
import IconButton from '../shared/IconButton.vue';

const { effect } = defineProps<{ effect: Effect; chosen: boolean }>();
const emit = defineEmits<{ choose: [] }>();
const chain = useChain();
const words = computed(() => EFFECT_WORDS[effect.kind]);
</script>

<template>
  <header class="head" :class="{ on: chosen }">
    <v-btn
      class="name"
      variant="text"
      :aria-current="chosen"
      :data-tip="`${words}: its settings; drag it to another place`"
      @click="emit('choose')"
      ><span class="one-line">{{ words }}</span></v-btn
    >
    <slot />
    <IconButton
      icon="power"
      :words="`${words} on`"
      :pressed="!effect.bypassed"
      variant="text"
      class="power"
      @click="chain.toggle(effect.id)"
    />
  </header>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 2px;
  cursor: grab;
}
.name {
  min-width: 0;
  flex: 1;
  justify-content: flex-start;
  padding-inline: 0;
  font-size: 13px;
  font-weight: 640;
}
.power.power {
  width: 24px;
  min-width: 24px;
  background: none;
  color: var(--ink-quiet);
}
.power[aria-pressed='true'] {
  color: var(--sea);
}
.name :deep(.v-btn__content) {
  min-width: 0;
  grid-column: 1 / -1;
}
.head.on .name {
  color: var(--sea);
}
</style>
