<script setup lang="ts">
/** One modulator, or several that are set together: its course, its settings, and what it moves by how much. */
import { computed } from 'vue';
import { MAX_AMOUNT, MODULATOR_ROWS, MODULATOR_WORDS } from '#core/params/modulators.ts';
import { drawModulator, removeModulator, removeRoute, routeTo, setRoute } from '#core/project/commands/modulators.ts';
import { valueOf, type Owner } from '#core/project/commands/values.ts';
import type { Modulator, Route } from '#core/document/schema.ts';
import { movableBy, movedBy, wholeWay, type Movable } from '#core/queries/targets.ts';
import { useProject } from '../../stores/document/project.ts';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import ModulatorPicture from './ModulatorPicture.vue';

const { modulators } = defineProps<{ modulators: readonly Modulator[] }>();
const project = useProject();

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
  Object.values(project.document!.routes).flatMap((route) => {
    const moved = route.modulatorId === first.value.id ? movedBy(project.document!, route) : null;
    return moved ? [{ route, moved, whole: wholeWay(moved.row) }] : [];
  }),
);
/** What it could move, too; several that are set together only what each has. */
const free = computed(() =>
  movableBy(project.document!, first.value).filter(
    (one) => (modulators.length === 1 || one.target.id === null) && !routeTo(project.document!, first.value.id, one),
  ),
);

function setAmount({ target, paramId, row }: Movable, shown: number): void {
  const amount = shown / wholeWay(row).by;
  project.step('amount', () => {
    for (const { id } of modulators) project.run('', setRoute, { modulatorId: id, target, paramId, amount });
  });
}

function leaveAlone({ target, paramId }: Movable): void {
  project.step('move no more', () => {
    for (const { id } of modulators) {
      const route = routeTo(project.document!, id, { target, paramId });
      if (route) project.run('', removeRoute, { routeId: route.id });
    }
  });
}

/** Its way to the same setting, of all that are set together. */
function ownersOf({ target, paramId }: Route): Owner[] {
  return modulators.flatMap(({ id }): Owner[] => {
    const route = routeTo(project.document!, id, { target, paramId });
    return route ? [{ kind: 'route', id: route.id }] : [];
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
    <div v-for="{ route, moved, whole } in routes" :key="route.id" class="route">
      <span>{{ moved.words }}</span>
      <DocumentField
        :label="`${moved.words} by`"
        :show-label="false"
        :model-value="(route.values.amount ?? 0) * whole.by"
        :min="-MAX_AMOUNT * whole.by"
        :max="MAX_AMOUNT * whole.by"
        :digits="whole.digits"
        :unit="whole.unit"
        :reset="0"
        undo="amount"
        @put="setAmount(moved, $event)"
      />
      <v-menu :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <IconButton v-bind="menu" icon="more" :words="`How ${moved.words} follows`" variant="text" />
        </template>
        <v-sheet class="follows">
          <ParamField
            v-for="param in ['bend', 'least', 'most']"
            :key="param"
            :owners="ownersOf(route)"
            :param="param"
          />
        </v-sheet>
      </v-menu>
      <IconButton icon="close" :words="`Leave ${moved.words} alone`" variant="text" @click="leaveAlone(moved)" />
    </div>
    <v-menu v-if="free.length > 0" max-height="420">
      <template #activator="{ props: menu }"><v-btn v-bind="menu">moves also …</v-btn></template>
      <v-list>
        <v-list-item
          v-for="one in free"
          :key="`${one.target.kind} ${one.target.id} ${one.paramId}`"
          :title="one.words"
          @click="setAmount(one, wholeWay(one.row).by * 0.25)"
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
  grid-template-columns: minmax(70px, auto) minmax(0, 1fr) auto auto;
  align-items: center;
  gap: 6px;
  font-size: 13px;
}
.follows {
  display: grid;
  gap: 6px;
  width: 250px;
  padding: 12px;
}
</style>
