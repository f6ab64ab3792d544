<script setup lang="ts">
/** Several tunings of a tuned effect in one gesture: treatments on keys, which play the processed loop like an instrument. */
import { computed, ref } from 'vue';
import { COMB_ROWS } from '#core/params/effect-rows/comb.ts';
import { fullValues } from '#core/params/row.ts';
import { layTunings } from '#core/project/commands/tunings.ts';
import type { Effect } from '#core/document/schema.ts';
import { keyName } from '../../canvas/key-names.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import DetailCard from '../details/DetailCard.vue';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';

const { effect } = defineProps<{ effect: Effect }>();
const project = useProject();
const session = useSession();
const notices = useNotices();

/** Semitones of one octave. */
const STEPS = {
  all: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11],
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  five: [0, 3, 5, 7, 10],
  octaves: [0],
} as const;
type Steps = keyof typeof STEPS;
const CHOICES: readonly { value: Steps; words: string }[] = [
  { value: 'all', words: 'semitones' },
  { value: 'major', words: 'major' },
  { value: 'minor', words: 'minor' },
  { value: 'five', words: 'steps of five' },
  { value: 'octaves', words: 'octaves' },
];
const steps = ref<Steps>('minor');
const count = ref(8);
const first = computed(() => fullValues(COMB_ROWS, effect.values as object).note as number);
const notes = computed(() => {
  const scale = STEPS[steps.value];
  return Array.from(
    { length: count.value },
    (_, i) => first.value + scale[i % scale.length]! + 12 * Math.floor(i / scale.length),
  ).filter((note) => note <= 127);
});

function lay(): void {
  const { part } = session;
  if (!part) return;
  const tunings = notes.value.map((note) => ({ note, name: keyName(note) }));
  if (!project.run('tunings on keys', layTunings, { partId: part.id, effectId: effect.id, tunings })) return;
  const keys = project.document!.parts[part.id]!.switches!.slice(-tunings.length).map(({ key }) => keyName(key!));
  notices.info(`They lie on ${keys[0]} to ${keys.at(-1)}, and are put on at once: play them over the loop.`);
}
</script>

<template>
  <DetailCard id="effect-tunings" title="Tunings on keys" :note="`from ${keyName(first)}`" folded>
    <ChoiceField label="steps" :model-value="steps" :choices="CHOICES" @put="steps = $event" />
    <NumberField v-model="count" label="how many" :min="1" :max="24" />
    <p class="mono small">{{ notes.map(keyName).join(' ') }}</p>
    <v-btn data-tip="One treatment a note, on free keys that follow each other" @click="lay">lay them on keys</v-btn>
  </DetailCard>
</template>
