<script setup lang="ts">
/** The chosen pattern in the running order: which, how it sounds, from where, how long, heard or not, only at the end. */
import { computed } from 'vue';
import { homeId } from '#core/document/home-id.ts';
import type { Placing } from '#core/document/schema.ts';
import { nameOfPattern } from '#core/queries/patterns.ts';
import { useOrder, type ShownSection } from '../../stores/order/order.ts';
import { useProject } from '../../stores/document/project.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';
import DetailCard from '../details/DetailCard.vue';

const { placing, shown } = defineProps<{ placing: Placing; shown: ShownSection }>();
const order = useOrder();
const project = useProject();
const part = computed(() => project.document!.parts[placing.partId]!);
const choices = computed(() =>
  [...part.value.cutOrder.map(homeId), ...part.value.patternOrder].map((value) => ({
    value,
    words: nameOfPattern(project.document!, value),
  })),
);
/** Ways to sound, if the part has kept some. */
const treatments = computed(() => [
  { value: '', words: 'as it does by itself' },
  ...(part.value.treatments ?? []).map(({ id: value, name }) => ({ value, words: name })),
]);
const fromBar = computed(() => placing.startTicks / shown.barTicks + 1);
const bars = computed(() => placing.lengthTicks / shown.barTicks);
const id = computed(() => shown.section.id);

function split(): void {
  const half = placing.startTicks + placing.lengthTicks / 2;
  order.split(id.value, placing, Math.round(half / shown.barTicks) * shown.barTicks || half);
}
</script>

<template>
  <DetailCard id="placing" title="Placed pattern" :note="part.name">
    <ChoiceField
      label="pattern"
      :model-value="placing.patternId"
      :choices="choices"
      @put="order.change(placing, { patternId: $event }, 'another pattern')"
    />
    <ChoiceField
      v-if="treatments.length > 1"
      label="sounds as"
      :model-value="placing.treatmentId ?? ''"
      :choices="treatments"
      @put="order.change(placing, { treatmentId: $event || null }, 'another treatment here')"
    />
    <NumberField
      label="from bar"
      :model-value="fromBar"
      :min="1"
      :max="shown.lengthBars + 1"
      :step="order.snap"
      :digits="2"
      @put="order.stretch(id, placing, ($event - 1) * shown.barTicks, placing.lengthTicks)"
    />
    <NumberField
      label="length"
      unit="bars"
      :model-value="bars"
      :min="0.0625"
      :max="shown.lengthBars"
      :step="order.snap"
      :digits="2"
      @put="order.stretch(id, placing, placing.startTicks, $event * shown.barTicks)"
    />
    <div class="buttons">
      <v-btn
        :aria-pressed="placing.muted"
        data-tip="It stays there and is not heard"
        @click="order.change(placing, { muted: !placing.muted }, placing.muted ? 'unmute' : 'mute')"
        >mute</v-btn
      >
      <v-btn
        :aria-pressed="placing.isFill"
        data-tip="Only in the last round of the section, in place of what else is played then"
        @click="order.change(placing, { isFill: !placing.isFill }, placing.isFill ? 'no fill' : 'fill')"
        >fill</v-btn
      >
      <v-btn data-tip="Cuts it in two, in the middle" @click="split">cut in two</v-btn>
      <v-btn data-tip="Takes it out (Delete)" @click="order.removePlacing(placing)">take out</v-btn>
    </div>
  </DetailCard>
</template>
