<script setup lang="ts">
/** A take: what it is taken for, where it fell, how loud and long it is; heard, thrown away, brought back. */
import { computed } from 'vue';
import { zonesOfPart } from '#core/queries/zones.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useProject } from '../../stores/document/project.ts';
import { useTakes, type TakeEntry } from '../../stores/capture/takes.ts';
import IconButton from '../shared/IconButton.vue';

const { take } = defineProps<{ take: TakeEntry }>();
const set = useTakes();
const project = useProject();
const loudest = computed(() => Math.max(1e-4, ...take.skyline));
const where = computed(() => {
  const zone = take.zoneId ? project.document?.zones[take.zoneId] : undefined;
  const part = zone && project.document?.parts[zone.partId];
  const placed = part && zonesOfPart(project.document!, part).find((one) => one.zone.id === zone.id);
  if (!placed?.keys) return 'on no key';
  const { low, high } = placed.zone.velocities;
  const layer = low > 1 || high < 127 ? ` ${low}–${high}` : '';
  return `${keyName(placed.keys.low)}${layer}`;
});
</script>

<template>
  <li class="take" :class="{ thrown: take.isThrown }" data-testid="take" :data-at="take.atSeconds">
    <svg viewBox="0 0 48 26" preserveAspectRatio="none" aria-hidden="true">
      <rect
        v-for="(peak, bar) in take.skyline"
        :key="bar"
        :x="bar * 2"
        :y="26 - (peak / loudest) * 26"
        width="1.6"
        :height="(peak / loudest) * 26"
      />
    </svg>
    <div class="about">
      <div class="line">
        <b class="one-line">{{ take.name }}</b>
        <span v-if="!take.isThrown" class="quiet">{{ where }}</span>
        <v-btn v-else variant="text" class="back" @click="set.bringBack(take)">bring it back</v-btn>
      </div>
      <div class="line mono quiet" :data-tip="`Taken at ${take.at}`">
        <span>{{ take.peakDb.toFixed(1) }} dB</span><span>{{ take.seconds.toFixed(2) }} s</span>
      </div>
    </div>
    <IconButton v-if="!take.isThrown" icon="hear" :words="`Hear ${take.name}`" variant="text" @click="set.hear(take)" />
    <IconButton
      v-if="!take.isThrown"
      icon="remove"
      :words="`Throw ${take.name} away`"
      variant="text"
      @click="set.throwAway(take)"
    />
  </li>
</template>

<style scoped>
.take {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
  list-style: none;
}
svg {
  width: 30px;
  height: 26px;
  flex: none;
  fill: var(--sea);
}
.about {
  flex: 1;
  min-width: 0;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 4px;
  font-size: 13px;
  white-space: nowrap;
}
.thrown b {
  text-decoration: line-through;
  font-weight: 400;
}
.thrown svg {
  fill: var(--ink-quiet);
}
.back {
  height: 18px;
  padding: 0;
  color: var(--sea);
}
.take :deep(.v-btn--icon) {
  width: 26px;
  height: 26px;
  min-width: 26px;
}
</style>
