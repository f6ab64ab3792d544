<script setup lang="ts">
/** How the source is looked at: by likeness, how tall, in which unit, the whole of it; and choosing many slices. */
import type { RulerUnit } from '../../canvas/ruler.ts';
import { useSession } from '../../stores/document/session.ts';
import IconButton from '../shared/IconButton.vue';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import SelectMenu from './SelectMenu.vue';

const session = useSession();
const units: { value: RulerUnit; words: string }[] = [
  { value: 'bars', words: 'bars' },
  { value: 'seconds', words: 'seconds' },
  { value: 'frames', words: 'frames' },
];
</script>

<template>
  <ChoiceField
    class="unit"
    label="Ruler"
    hint="What the ruler counts"
    :show-label="false"
    test-id="ruler"
    :model-value="session.rulerUnitShown"
    :choices="units"
    @put="session.rulerUnit = $event"
  />
  <NumberField
    class="tall"
    label="height"
    hint="Draws the sound taller, so that quiet places can be seen"
    :show-label="false"
    :model-value="session.heightZoom"
    :min="1"
    :max="256"
    :digits="1"
    :reset="1"
    unit="× tall"
    logarithmic
    @update:model-value="session.heightZoom = $event"
  />
  <SelectMenu />
  <IconButton
    icon="likeness"
    words="likeness"
    hint="Lay the slices out by how they sound, to find what is alike"
    :pressed="session.byLikeness"
    @click="session.byLikeness = !session.byLikeness"
  />
  <IconButton icon="whole" words="whole" hint="Show the whole source" action="zoom-all" @click="session.seeWhole()" />
</template>

<style scoped>
.unit {
  width: 96px;
}
.tall {
  width: 92px;
}
@media (max-width: 1240px) {
  .tall,
  .unit {
    display: none;
  }
}
</style>
