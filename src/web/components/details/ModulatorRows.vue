<script setup lang="ts">
/** One modulator, or several that are set together: its course, its settings, and what it moves by how much. */
import { computed } from 'vue';
import {
  MAX_AMOUNT,
  MODULATION_TARGET_IDS,
  MODULATION_TARGETS,
  MODULATOR_ROWS,
  MODULATOR_WORDS,
  type ModulationTarget,
} from '#core/params/modulators.ts';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { drawModulator, removeModulator, removeRoute, setRoute } from '#core/project/commands/modulators.ts';
import { valueOf, type Owner } from '#core/project/commands/values.ts';
import type { Modulator } from '#core/project/schema.ts';
import { useProject } from '../../stores/project.ts';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import ModulatorPicture from './ModulatorPicture.vue';

const { modulators } = defineProps<{ modulators: readonly Modulator[] }>();
const project = useProject();

/** Amounts are shown in the unit of what they move; of the cutoff in octaves. */
const SHOWN: Record<ModulationTarget, { by: number; unit: string; digits: number }> = {
  tuneCents: { by: MODULATION_TARGETS.tuneCents / 100, unit: 'st', digits: 2 },
  gainDb: { by: MODULATION_TARGETS.gainDb, unit: 'dB', digits: 1 },
  pan: { by: 100, unit: '%', digits: 0 },
  cutoffHz: { by: MODULATION_TARGETS.cutoffHz / 1200, unit: 'oct', digits: 2 },
  resonance: { by: 100, unit: '%', digits: 0 },
  driveDb: { by: MODULATION_TARGETS.driveDb, unit: 'dB', digits: 1 },
  startOffsetMs: { by: MODULATION_TARGETS.startOffsetMs, unit: 'ms', digits: 0 },
};

const first = computed(() => modulators[0]!);
const owners = computed(() => modulators.map(({ id }): Owner => ({ kind: 'modulator', id })));
const read = (param: string) => valueOf(project.document!, owners.value[0]!, param);
/** Settings that say something as things are: a rate in Hz or in notes, a width for a pulse. */
const params = computed(() =>
  Object.keys(MODULATOR_ROWS[first.value.kind]).filter((param) => {
    if (param === 'rateHz') return read('rateBy') === 'hertz';
    if (param === 'rateNote') return read('rateBy') === 'notes';
    if (param === 'symmetry') return read('wave') === 'saw';
    if (param === 'width') return read('wave') === 'square';
    if (param === 'smooth') return first.value.kind === 'steps';
    return true;
  }),
);
const routes = computed(() =>
  Object.values(project.document!.routes).filter(({ modulatorId }) => modulatorId === first.value.id),
);
const free = computed(() => MODULATION_TARGET_IDS.filter((id) => !routes.value.some(({ paramId }) => paramId === id)));

function setAmount(paramId: ModulationTarget, shown: number): void {
  const amount = shown / SHOWN[paramId].by;
  project.step('amount', () => {
    for (const { id } of modulators) project.run('', setRoute, { modulatorId: id, paramId, amount });
  });
}

function leaveAlone(paramId: ModulationTarget): void {
  const ids = new Set(modulators.map(({ id }) => id));
  project.step('move no more', () => {
    for (const route of Object.values(project.document!.routes)) {
      if (ids.has(route.modulatorId) && route.paramId === paramId) project.run('', removeRoute, { routeId: route.id });
    }
  });
}

function remove(): void {
  project.step(`no ${MODULATOR_WORDS[first.value.kind]}`, () => {
    for (const { id } of modulators) project.run('', removeModulator, { modulatorId: id });
  });
}

function setStepCount(count: number): void {
  const steps = first.value.steps!;
  const next = Array.from({ length: Math.round(count) }, (_, i) => steps[i % steps.length]!);
  project.run('steps', drawModulator, { modulatorId: first.value.id, steps: next });
}
</script>

<template>
  <section class="modulator" :aria-label="MODULATOR_WORDS[first.kind]">
    <header>
      <b>{{ MODULATOR_WORDS[first.kind] }}</b>
      <span v-if="modulators.length > 1" class="quiet small">of {{ modulators.length }} sounds</span>
      <IconButton icon="remove" :words="`Remove ${MODULATOR_WORDS[first.kind]}`" variant="text" @click="remove" />
    </header>
    <ModulatorPicture :modulator="first" />
    <div class="two">
      <DocumentField
        v-if="first.kind === 'steps'"
        label="steps"
        stacked
        :model-value="first.steps!.length"
        :min="2"
        :max="32"
        undo="steps"
        @put="setStepCount"
      />
      <ParamField v-for="param in params" :key="param" class="wide" :owners="owners" :param="param" stacked />
    </div>
    <div v-for="route in routes" :key="route.id" class="route">
      <span>{{ ZONE_ROWS[route.paramId].label }}</span>
      <DocumentField
        :label="`${ZONE_ROWS[route.paramId].label} by`"
        :show-label="false"
        :model-value="route.amount * SHOWN[route.paramId].by"
        :min="-MAX_AMOUNT * SHOWN[route.paramId].by"
        :max="MAX_AMOUNT * SHOWN[route.paramId].by"
        :digits="SHOWN[route.paramId].digits"
        :unit="SHOWN[route.paramId].unit"
        :reset="0"
        undo="amount"
        @put="setAmount(route.paramId, $event)"
      />
      <IconButton
        icon="close"
        :words="`Leave ${ZONE_ROWS[route.paramId].label} alone`"
        variant="text"
        @click="leaveAlone(route.paramId)"
      />
    </div>
    <v-menu v-if="free.length > 0">
      <template #activator="{ props: menu }"><v-btn v-bind="menu">moves also …</v-btn></template>
      <v-list>
        <v-list-item
          v-for="id in free"
          :key="id"
          :title="ZONE_ROWS[id].label"
          @click="setAmount(id, SHOWN[id].by * 0.25)"
        />
      </v-list>
    </v-menu>
  </section>
</template>

<style scoped>
.modulator {
  display: grid;
  gap: 4px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--rule);
}
header {
  display: flex;
  align-items: center;
  gap: 6px;
}
header > :last-child {
  margin-left: auto;
}
.two {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  align-items: end;
  gap: 4px 8px;
}
.two :deep(.choice) {
  flex-direction: column;
  align-items: stretch;
  gap: 2px;
}
.route {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr) auto;
  align-items: center;
  gap: 6px;
  font-size: 13px;
}
</style>
