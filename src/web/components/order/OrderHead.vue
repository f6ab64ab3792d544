<script setup lang="ts">
/** A part at the left of what it plays: its name, level, pan and meter. */
import { computed } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { Part } from '#core/document/schema.ts';
import { engine } from '../../audio/services.ts';
import ParamField from '../fields/ParamField.vue';
import LevelMeter from '../frame/LevelMeter.vue';
import MuteSolo from '../parts/MuteSolo.vue';

const { part } = defineProps<{ part: Part }>();
const owners = computed<Owner[]>(() => [{ kind: 'channel', id: part.channelId }]);
const peak = () => [engine.status.parts.find(({ partId }) => partId === part.id)?.peak ?? 0];
</script>

<template>
  <div class="head">
    <div class="line">
      <h2 class="one-line name">{{ part.name }}</h2>
      <MuteSolo :part="part" />
    </div>
    <div class="line">
      <ParamField :owners="owners" param="gainDb" :show-label="false" />
      <ParamField :owners="owners" param="pan" :show-label="false" />
    </div>
    <LevelMeter :label="`Level of ${part.name}`" :read="peak" />
  </div>
</template>

<style scoped>
.head {
  display: grid;
  gap: 3px;
  align-content: center;
}
.line {
  display: flex;
  gap: 5px;
  align-items: center;
  justify-content: space-between;
}
.line > .number {
  flex: 1;
  min-width: 0;
}
.name {
  font-size: 14px;
  font-weight: 660;
  color: var(--ink);
}
</style>
