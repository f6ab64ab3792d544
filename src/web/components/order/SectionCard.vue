<script setup lang="ts">
/** The chosen section: how long, how often, in which tempo and metre, and who plays what in it. */
import { computed } from 'vue';
import { homeId } from '#core/document/home-id.ts';
import type { Owner, SetValueArgs } from '#core/project/commands/values.ts';
import { sectionValues } from '#core/order/layout.ts';
import { nameOfPattern } from '#core/queries/patterns.ts';
import type { Part } from '#core/document/schema.ts';
import { useOrder, type ShownSection } from '../../stores/order/order.ts';
import { useProject } from '../../stores/document/project.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import MetreField from '../fields/MetreField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import DetailCard from '../details/DetailCard.vue';

const { shown } = defineProps<{ shown: ShownSection }>();
const order = useOrder();
const project = useProject();
const transport = useTransport();
const id = computed(() => shown.section.id);
const owners = computed<Owner[]>(() => [{ kind: 'section', id: id.value }]);
const values = computed(() => sectionValues(shown.section));
const isLooped = computed(() => transport.loopedSectionId === id.value);
const isLast = computed(() => shown.place === order.shown.length - 1);

const RESTS = '';
const SEVERAL = '-';
const parts = computed(() => {
  const document = project.document!;
  return document.partOrder.map((partId) => {
    const part = document.parts[partId]!;
    const own = shown.section.placings.filter((one) => one.partId === partId && !one.isFill);
    const [only] = own;
    const isWhole = own.length === 1 && only!.startTicks === 0 && only!.lengthTicks >= shown.roundTicks;
    return { part, value: own.length === 0 ? RESTS : isWhole ? only!.patternId : SEVERAL, choices: choicesOf(part) };
  });
});
const playing = computed(() => parts.value.filter(({ value }) => value !== RESTS).length);

function choicesOf(part: Part) {
  const ids = [...part.cutOrder.map(homeId), ...part.patternOrder];
  return [
    { value: RESTS, words: 'rests' },
    { value: SEVERAL, words: 'as placed', disabled: true },
    ...ids.map((value) => ({ value, words: nameOfPattern(project.document!, value) })),
  ];
}

function put(label: string, param: string, change: SetValueArgs['change']): void {
  order.set(id.value, label, param, change);
}

function choose(part: Part, patternId: string): void {
  if (patternId !== RESTS) {
    order.place(id.value, patternId, 0, true);
    return;
  }
  const own = shown.section.placings.filter(({ partId }) => partId === part.id);
  project.step(`${part.name} rests`, () => own.forEach((one) => order.removePlacing(one)));
}
</script>

<template>
  <div class="buttons" role="group" aria-label="This section">
    <IconButton icon="play" words="play from here" @click="order.playFrom(shown.startTicks)" />
    <IconButton
      icon="round"
      words="over and over"
      hint="This section is played over and over, until it is let go"
      :pressed="isLooped"
      @click="transport.loopSection(isLooped ? null : id)"
    />
    <IconButton icon="copy" words="a copy after this one" @click="order.copy(id)" />
    <IconButton icon="earlier" words="earlier" :disabled="shown.place === 0" @click="order.move(id, -1)" />
    <IconButton icon="later" words="later" :disabled="isLast" @click="order.move(id, 1)" />
    <IconButton icon="remove" words="remove the section" @click="order.remove(id)" />
  </div>
  <DetailCard id="section-time" title="Time">
    <ParamField :owners="owners" param="lengthBars" :put="put" />
    <ParamField :owners="owners" param="repeats" :put="put" />
    <ParamField :owners="owners" param="tempoFrom" :put="put" />
    <ParamField v-if="values.tempoFrom === 'own'" :owners="owners" param="tempoBpm" test-id="section-tempo" />
    <ParamField
      v-if="shown.tempoBpm !== shown.tempoBefore || values.arriveBars > 0"
      :owners="owners"
      param="arriveBars"
    />
    <ParamField :owners="owners" param="metreFrom" :put="put" />
    <div v-if="values.metreFrom === 'own'" class="row">
      <span>own metre</span>
      <MetreField
        :model-value="values.beatsPerBar"
        :show-label="false"
        @put="put('metre', 'beatsPerBar', { to: $event })"
      />
    </div>
  </DetailCard>
  <DetailCard id="section-who" title="Who plays" :note="`${playing} of ${parts.length}`">
    <ChoiceField
      v-for="{ part, value, choices } in parts"
      :key="part.id"
      class="who"
      :label="part.name"
      :model-value="value"
      :choices="choices"
      @put="choose(part, $event)"
    />
  </DetailCard>
</template>

<style scoped>
.buttons {
  display: flex;
  gap: 4px;
  margin-bottom: 6px;
}
.who.who.who.who.choice {
  grid-template-columns: 108px minmax(0, 1fr);
}
.who :deep(.label) {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
