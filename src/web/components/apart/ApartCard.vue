<script setup lang="ts">
/** What the chosen slice holds, and how it is shared out when it is taken apart. */
import { computed } from 'vue';
import { APART_ROWS, type ApartValues } from '#core/params/apart-rows.ts';
import { levelsOf } from '#core/unmix/results.ts';
import { useApart } from '../../stores/source/apart.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import DetailCard from '../details/DetailCard.vue';
import RowField from '../fields/RowField.vue';
import { layerColour } from './layer-looks.ts';

const apart = useApart();
const session = useSession();
const at = computed(() => session.selectedSlices[0]!);
const isOpen = computed(() => apart.at?.slice.id === at.value.slice.id);
const note = computed(() => {
  if (isOpen.value) return apart.layers.map(({ role }) => role).join(', ');
  const { role, secondRole } = at.value.slice;
  return secondRole && secondRole !== role ? `${role}, ${secondRole}?` : role;
});
/** Shares of the slice's power, in percent. */
const shares = computed(() => {
  const { result } = apart;
  if (!isOpen.value || !result) return [];
  const powers = result.layers.map((layer) => 10 ** (levelsOf(layer).rmsDb / 10));
  const all = powers.reduce((sum, power) => sum + power, 1e-20);
  return powers.map((power, place) => ({
    name: apart.layers[place]?.role ?? 'ring',
    colour: place < apart.layers.length ? layerColour(result.picture.upperPlace === place) : 'var(--moss)',
    percent: (100 * power) / all,
  }));
});
const rows = ['softEdgePercent', 'attacks'] as const;

function put(row: keyof ApartValues, value: number | string | boolean): void {
  apart.values = { ...apart.values, [row]: value };
}
</script>

<template>
  <DetailCard id="slice-apart" title="What is in it" :note="note">
    <template v-if="isOpen">
      <div class="bar" aria-hidden="true">
        <span v-for="one in shares" :key="one.name" :style="{ width: `${one.percent}%`, background: one.colour }" />
      </div>
      <p class="small shares">
        <span v-for="one in shares" :key="one.name"
          >{{ one.name }}
          <span class="mono">{{ one.percent < 1 ? one.percent.toFixed(1) : Math.round(one.percent) }}%</span></span
        >
      </p>
      <RowField
        v-for="row in rows"
        :key="row"
        :row="APART_ROWS[row]"
        :model-value="apart.values[row]"
        @put="put(row, $event)"
      />
    </template>
    <v-btn
      v-else
      block
      :prepend-icon="ICONS.cut"
      data-tip="Two drums struck together, or what of the hit before still rings, apart from each other"
      data-testid="open-apart"
      @click="apart.open(at)"
      >what is in it …</v-btn
    >
  </DetailCard>
</template>

<style scoped>
.bar {
  display: flex;
  height: 12px;
  background: var(--paper);
}
.shares {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 0;
}
</style>
