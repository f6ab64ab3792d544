<script setup lang="ts">
/** What cuts a sound off, how many there are of it at once, and what the strength of a press does. */
import { computed } from 'vue';
import { CHOKE_LETTERS } from '#core/params/zone-rows.ts';
import { setVelocities } from '#core/project/commands/zones.ts';
import { valueOf, type Owner } from '#core/project/commands/values.ts';
import type { VelocityRange } from '#core/document/schema.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import DetailCard from './DetailCard.vue';

const { owners } = defineProps<{ owners: readonly Owner[] }>();
const project = useProject();
const session = useSession();
const WIDTH = 100;
const HEIGHT = 46;
const POINTS = 24;

const first = computed(() => session.selectedZones[0] ?? null);
const velocities = computed<VelocityRange>(() => first.value?.zone.velocities ?? { low: 1, high: 127, fade: 0 });
const read = (param: string) => owners[0] && valueOf(project.document!, owners[0], param);
const note = computed(() => {
  const group = read('chokeGroup') as number;
  const { low, high } = velocities.value;
  return `${group > 0 ? `${CHOKE_LETTERS[group - 1]}, ` : ''}${low} to ${high}`;
});
/** Level by strength, as the engine works it out. */
const law = computed(() => {
  const share = (read('velocityShare') as number) ?? 1;
  const fixed = (read('fixedVelocity') as number) ?? 0;
  const kind = read('velocityLaw');
  return Array.from({ length: POINTS + 1 }, (_, i) => {
    const strength = fixed > 0 ? fixed / 127 : i / POINTS;
    const full = kind === 'linear' ? strength : kind === 'soft' ? Math.sqrt(strength) : strength ** 2;
    return `${(i / POINTS) * WIDTH},${HEIGHT - 2 - (1 - share * (1 - full)) * (HEIGHT - 4)}`;
  }).join(' ');
});

function put(change: Partial<VelocityRange>): void {
  project.run('strengths', setVelocities, {
    zoneIds: session.selectedZones.map(({ zone }) => zone.id),
    velocities: change,
  });
}
</script>

<template>
  <DetailCard id="zone-strength" title="Choke and strength" :note="note" folded>
    <div class="pair">
      <ParamField :owners="owners" param="chokeGroup" />
      <ParamField :owners="owners" param="voices" />
    </div>
    <ParamField :owners="owners" param="sameKey" />
    <ParamField :owners="owners" param="turn" />
    <div class="three">
      <DocumentField
        label="softest"
        stacked
        :model-value="velocities.low"
        :min="1"
        :max="velocities.high"
        undo="strengths"
        @put="put({ low: $event })"
      />
      <DocumentField
        label="hardest"
        stacked
        :model-value="velocities.high"
        :min="velocities.low"
        :max="127"
        undo="strengths"
        @put="put({ high: $event })"
      />
      <DocumentField
        label="fade"
        stacked
        unit="steps"
        hint="Over so many steps of strength it comes and goes"
        :model-value="velocities.fade"
        :min="0"
        :max="126"
        undo="strengths"
        @put="put({ fade: $event })"
      />
    </div>
    <div class="law">
      <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" aria-label="Level by strength" preserveAspectRatio="none">
        <polyline :points="law" />
      </svg>
      <div class="fields">
        <ParamField :owners="owners" param="velocityLaw" :show-label="false" />
        <ParamField :owners="owners" param="velocityShare" />
        <ParamField :owners="owners" param="fixedVelocity" />
      </div>
    </div>
    <div class="three">
      <ParamField :owners="owners" param="velocityCutoffCents" stacked />
      <ParamField :owners="owners" param="velocityStartMs" stacked />
      <ParamField :owners="owners" param="velocityAttackMs" stacked />
    </div>
    <ParamField :owners="owners" param="randomCents" label="off by chance" />
    <div class="pair">
      <ParamField :owners="owners" param="muted" />
      <ParamField :owners="owners" param="soloed" />
    </div>
  </DetailCard>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 5px;
}
.law {
  display: grid;
  grid-template-columns: 78px minmax(0, 1fr);
  gap: 8px;
}
.law svg {
  width: 100%;
  height: 100%;
  background: var(--paper);
}
.fields {
  display: grid;
  gap: 3px;
}
polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
  vector-effect: non-scaling-stroke;
}
</style>
