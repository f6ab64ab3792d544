<script setup lang="ts">
/** The name of a section over its bars; chosen by a click, moved by the arrows with Alt. */
import { useTemplateRef } from 'vue';
import { useOrder, type ShownSection } from '../../stores/order/order.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import NameField from '../fields/NameField.vue';

const { shown } = defineProps<{ shown: ShownSection }>();
const order = useOrder();
const transport = useTransport();
const nameField = useTemplateRef('nameField');
</script>

<template>
  <v-btn
    class="section"
    :class="{ on: shown.section.id === order.sectionId, looped: shown.section.id === transport.loopedSectionId }"
    :style="{ left: `${shown.x}px`, width: `${shown.width - 2}px` }"
    :aria-pressed="shown.section.id === order.sectionId"
    :aria-label="`Section ${shown.section.name}`"
    data-tip="Click chooses it; double click renames it; Alt with the arrows moves it"
    data-testid="section"
    @click="order.choose(shown.section.id)"
    @dblclick="nameField?.edit()"
    @keydown.f2.stop.prevent="nameField?.edit()"
    @keydown.delete.stop.prevent="order.remove(shown.section.id)"
    @keydown.alt.left.stop.prevent="order.move(shown.section.id, -1)"
    @keydown.alt.right.stop.prevent="order.move(shown.section.id, 1)"
  >
    <NameField
      ref="nameField"
      class="name"
      :name="shown.section.name"
      what="section"
      @rename="order.rename(shown.section.id, $event)"
    />
    <span v-if="shown.repeats > 1" class="mono times">×{{ shown.repeats }}</span>
  </v-btn>
</template>

<style scoped>
.section.v-btn.v-btn--density-default {
  position: absolute;
  top: 3px;
  height: 30px;
  min-width: 0;
  padding: 0 8px;
  background: var(--paper);
  color: var(--ink);
  justify-content: flex-start;
  overflow: hidden;
}
.section.on.v-btn.v-btn--density-default {
  background: var(--sea);
  border-color: var(--sea);
  color: rgb(var(--v-theme-on-primary));
}
.section.looped {
  box-shadow: inset 0 -3px 0 0 var(--signal);
}
.section :deep(.v-btn__content) {
  width: 100%;
  display: flex;
  gap: 6px;
  justify-content: space-between;
}
.name {
  min-width: 0;
  text-align: left;
  font-weight: 640;
}
.times {
  font-size: 12px;
}
</style>
