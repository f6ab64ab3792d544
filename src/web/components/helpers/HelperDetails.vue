<script setup lang="ts">
/** All of one helper: what can be done to it, and every setting of it. */
import { computed } from 'vue';
import { HELPER_ROWS, HELPER_WORDS, LEAST_STEPS, MOST_STEPS } from '#core/params/helpers.ts';
import { fullValues } from '#core/params/row.ts';
import type { Owner } from '#core/project/commands/values.ts';
import { intervalsOf } from '#core/queries/helpers.ts';
import { useHelpers } from '../../stores/keys/helpers.ts';
import DetailCard from '../details/DetailCard.vue';
import DetailHead from '../details/DetailHead.vue';
import LevelBars from '../fields/LevelBars.vue';
import NumberField from '../fields/NumberField.vue';
import ParamField from '../fields/ParamField.vue';
import { useGesture } from '../fields/use-gesture.ts';
import IconButton from '../shared/IconButton.vue';
import ChordKeys from './ChordKeys.vue';
import { sectionsOf } from './helper-words.ts';
import HelperPicture from './HelperPicture.vue';

const helpers = useHelpers();
const { begin, commit, cancel, isLeft } = useGesture('draw strengths');
const helper = computed(() => helpers.chosen!);
const words = computed(() => HELPER_WORDS[helper.value.kind]);
const title = computed(() => `${words.value[0]!.toUpperCase()}${words.value.slice(1)}`);
const owners = computed<Owner[]>(() => [{ kind: 'helper', id: helper.value.id }]);
const sections = computed(() => sectionsOf(helper.value));
const USUAL_STEPS = 8;
const isDrawn = computed(() => fullValues(HELPER_ROWS.runner, helper.value.values).strength === 'drawn');
/** As drawn; all whole where nothing is. */
const strengths = computed(() => {
  const { kind, strengths: drawn } = helper.value;
  if (kind === 'runner') return drawn ?? new Array<number>(USUAL_STEPS).fill(1);
  return intervalsOf(helper.value).map((_, place) => drawn?.[place] ?? 1);
});
const hasStrengths = (section: string) => section === 'chord-notes' || (section === 'runner-strength' && isDrawn.value);

function put(place: number, level: number): void {
  if (!isLeft()) helpers.drawStrength(helper.value.id, strengths.value.toSpliced(place, 1, level));
}

function setCount(count: number): void {
  const next = Array.from({ length: count }, (_, place) => strengths.value[place % strengths.value.length]!);
  helpers.drawStrength(helper.value.id, next);
}

/** The whole row by so many steps. */
function turn(by: number): void {
  const { length } = strengths.value;
  helpers.drawStrength(
    helper.value.id,
    strengths.value.map((_, place) => strengths.value[(place - by + length) % length]!),
  );
}

/** Some strengths, by chance. */
function deal(): void {
  helpers.drawStrength(
    helper.value.id,
    strengths.value.map(() => Math.round((0.25 + 0.75 * Math.random()) * 20) / 20),
  );
}
</script>

<template>
  <DetailHead :title="title" :note="`${helpers.place + 1} of ${helpers.list.length}`">
    <template #picture><HelperPicture :helper="helper" /></template>
    <IconButton icon="power" :words="`${words} on`" :pressed="!helper.bypassed" @click="helpers.toggle(helper.id)" />
    <IconButton
      icon="earlier"
      words="Earlier on the way"
      :disabled="helpers.place <= 0"
      @click="helpers.move(helper.id, helpers.place - 1)"
    />
    <IconButton
      icon="later"
      words="Later on the way"
      :disabled="helpers.place >= helpers.list.length - 1"
      @click="helpers.move(helper.id, helpers.place + 1)"
    />
    <IconButton
      icon="copy"
      words="Once more behind itself"
      :disabled="helpers.isFull"
      @click="helpers.duplicate(helper.id)"
    />
    <IconButton
      icon="undo"
      words="As a new one"
      hint="All its settings as a new one has them"
      @click="helpers.reset(helper.id)"
    />
    <IconButton icon="remove" words="Take it out" @click="helpers.remove(helper.id)" />
  </DetailHead>
  <DetailCard v-for="section in sections" :id="section.id" :key="section.id" :title="section.title">
    <ChordKeys v-if="section.id === 'chord-notes'" :helper="helper" />
    <ParamField v-for="param in section.params" :key="param" :owners="owners" :param="param" />
    <template v-if="hasStrengths(section.id)">
      <div v-if="section.id === 'chord-notes'" class="quiet small">strengths of its notes</div>
      <LevelBars
        :levels="strengths"
        label="Strengths"
        test-id="helper-strengths"
        @begin="begin"
        @put="put"
        @commit="commit"
        @cancel="cancel"
      />
      <div v-if="section.id === 'runner-strength'" class="buttons">
        <NumberField
          class="steps"
          label="steps"
          :model-value="strengths.length"
          :min="LEAST_STEPS"
          :max="MOST_STEPS"
          @update:model-value="setCount"
        />
        <IconButton icon="earlier" words="A step earlier" @click="turn(-1)" />
        <IconButton icon="later" words="A step later" @click="turn(1)" />
        <IconButton icon="deal" words="Deal strengths" hint="Some strengths, by chance" @click="deal" />
      </div>
    </template>
  </DetailCard>
</template>

<style scoped>
.small {
  font-size: 13px;
}
.steps {
  flex: 1;
}
</style>
