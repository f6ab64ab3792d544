<script setup lang="ts">
/** A dial: its name, where it stands, and what it moves from where to where. */
import { computed, useTemplateRef } from 'vue';
import type { Macro } from '#core/queries/macros.ts';
import { positionOf } from '#core/queries/macros.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Gesture } from '../../stores/document/gesture.ts';
import { useProject } from '../../stores/document/project.ts';
import { useDials } from '../../stores/sound/dials.ts';
import { rangeWords } from '../../stores/sound/moved-ranges.ts';
import NameField from '../fields/NameField.vue';
import ParamField from '../fields/ParamField.vue';
import SettingPicker from '../fields/SettingPicker.vue';
import RangeFields from '../lanes/RangeFields.vue';
import IconButton from '../shared/IconButton.vue';

const { dial } = defineProps<{ dial: Macro }>();
const project = useProject();
const dials = useDials();
const name = useTemplateRef<InstanceType<typeof NameField>>('name');
let gesture: Gesture | null = null;

const owners = computed<Owner[]>(() => [{ kind: 'modulator', id: dial.id }]);
const settings = computed(() => dials.settingsOn(dial));
const position = computed(() => project.shownInstead?.(owners.value[0]!, 'position') ?? positionOf(dial));
/** What it may move, too: not itself. */
const free = computed(() => {
  const on = new Set(settings.value.map(({ route: { target, paramId } }) => `${target.kind} ${target.id} ${paramId}`));
  return dials.movable.filter(
    ({ target, paramId }) => target.id !== dial.id && !on.has(`${target.kind} ${target.id} ${paramId}`),
  );
});

function begin(): void {
  gesture = project.begin(dial.name);
}
function turn(to: number): void {
  if (gesture && !gesture.isOpen) return;
  project.run(dial.name, setValue, { owners: owners.value, param: 'position', change: { to } }, dial.id);
}
function end(): void {
  gesture?.commit();
  gesture = null;
}
</script>

<template>
  <section class="dial sheet" :aria-label="dial.name">
    <header>
      <NameField ref="name" class="name" :name="dial.name" what="dial" @rename="dials.rename(dial, $event)" />
      <ParamField :owners="owners" param="position" :show-label="false" class="number-field" />
      <v-menu>
        <template #activator="{ props: menu }">
          <IconButton v-bind="menu" icon="more" :words="`More for ${dial.name}`" variant="text" class="more" />
        </template>
        <v-list>
          <v-list-item title="Rename" @click="name?.edit()" />
          <v-list-item title="Remove" @click="dials.remove(dial)" />
        </v-list>
      </v-menu>
    </header>
    <v-slider
      :model-value="position"
      :min="0"
      :max="1"
      :step="0.01"
      :aria-label="dial.name"
      class="turn"
      hide-details
      @start="begin"
      @update:model-value="turn"
      @end="end"
    />
    <v-menu v-for="range in settings" :key="range.route.id" :close-on-content-click="false">
      <template #activator="{ props: menu }">
        <v-btn v-bind="menu" variant="text" class="moved" :data-tip="range.moved.words">
          <span class="one-line what">{{ range.moved.words }}</span>
          <span class="ends">{{ rangeWords(range, '→') }}</span>
        </v-btn>
      </template>
      <v-sheet class="fields">
        <RangeFields :range="range" />
        <v-btn @click="dials.takeOff(range)">take it off</v-btn>
      </v-sheet>
    </v-menu>
    <SettingPicker :settings="free" words="moves also …" @pick="dials.putOn(dial.place, $event, $event.words)" />
  </section>
</template>

<style scoped>
.dial {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
  gap: 2px;
  padding: 6px 10px 8px;
}
header {
  display: flex;
  align-items: center;
  gap: 6px;
}
.name {
  flex: 1;
  min-width: 0;
  font-weight: 620;
}
.number-field {
  width: 74px;
  flex: none;
}
.more {
  width: 24px;
  height: 24px;
}
.turn {
  margin: 2px 0 4px;
}
.turn :deep(.v-slider-track__background),
.turn :deep(.v-slider-track__fill) {
  height: 26px;
  border-radius: 2px;
}
.turn :deep(.v-slider-track__fill) {
  background: var(--sea);
  opacity: 0.45;
}
.turn :deep(.v-slider-track__background) {
  background: var(--rule);
  opacity: 0.6;
}
.turn :deep(.v-slider-thumb__surface) {
  width: 5px;
  height: 32px;
  border-radius: 2px;
  background: var(--ink);
}
.turn :deep(.v-slider-thumb__ripple) {
  display: none;
}
.moved {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  justify-content: stretch;
  height: 22px;
  padding: 0;
  font-weight: 400;
  font-size: 13px;
}
.moved :deep(.v-btn__content) {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
  width: 100%;
  text-align: left;
}
.ends {
  font: 13px var(--mono);
}
.fields {
  display: grid;
  gap: 8px;
  width: 250px;
  padding: 12px;
}
</style>
