<script setup lang="ts">
/** The settings of the chosen effect: what it listens to, its curve where it has one, and every number of it. */
import { computed, ref } from 'vue';
import { EFFECT_ROWS, EFFECT_WORDS } from '#core/params/effects.ts';
import { fullValues } from '#core/params/row.ts';
import { placeOf } from '#core/project/chain-order.ts';
import type { Owner } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import { nameOfChannel } from '#core/queries/channel-names.ts';
import { isTuned } from '#core/project/commands/tunings.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useChain } from '../../stores/sound/chain.ts';
import DetailCard from '../details/DetailCard.vue';
import DetailHead from '../details/DetailHead.vue';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import CatchButton from './CatchButton.vue';
import DuckingCurve from './DuckingCurve.vue';
import EffectCurve from './EffectCurve.vue';
import EffectPicture from './EffectPicture.vue';
import { fieldsOf, LISTENING } from './effect-words.ts';
import StepBars from './StepBars.vue';
import TakenAway from './TakenAway.vue';
import TuningsCard from './TuningsCard.vue';

const { effect } = defineProps<{ effect: Effect }>();
const project = useProject();
const session = useSession();
const chain = useChain();

const words = computed(() => EFFECT_WORDS[effect.kind]);
const title = computed(() => `${words.value[0]!.toUpperCase()}${words.value.slice(1)}`);
const at = computed(() => placeOf(chain.items, effect.id));
const place = computed(() => at.value.place);
/** How many stand where it stands. */
const count = computed(() => {
  const fork = chain.items.find((item) => item.effect.id === at.value.forkId);
  return fork ? fork.paths[at.value.path!]!.length : chain.items.length;
});

/** The line of the chain, and all paths of it. */
const IN_LINE = '';
const places = computed(() => {
  const forks = chain.items.filter((item) => item.effect.kind === 'paths');
  const paths = forks.flatMap((item, index) => {
    const paths = fullValues(EFFECT_ROWS.paths, item.effect.values).count;
    const which = forks.length > 1 ? ` of ${EFFECT_WORDS.paths} ${index + 1}` : '';
    return Array.from({ length: paths }, (_, path) => ({
      value: `${item.effect.id} ${path}`,
      words: `path ${path + 1}${which}`,
    }));
  });
  return [{ value: IN_LINE, words: 'in line' }, ...paths];
});
const stands = computed(() => (at.value.forkId === undefined ? IN_LINE : `${at.value.forkId} ${at.value.path}`));
function standIn(wanted: string): void {
  const [forkId, path] = wanted.split(' ');
  // Out of its path it comes right behind the fork.
  if (wanted === IN_LINE) chain.move(effect.id, { place: placeOf(chain.items, at.value.forkId!).place + 1 });
  else chain.move(effect.id, { forkId: forkId!, path: Number(path) });
}
const owners = computed<Owner[]>(() => [{ kind: 'effect', id: effect.id }]);
/** Of an equaliser: the point whose settings are shown. */
const point = ref('bell2');
const fields = computed(() => fieldsOf(effect.kind, effect.values, point.value));
const hasCurve = computed(() => effect.kind === 'equaliser' || effect.kind === 'filter');
const hasSteps = computed(() => effect.kind === 'gate' && effect.values.opens === 'steps');

/** What they take away is drawn over what comes in. */
const TAKING: ReadonlySet<Effect['kind']> = new Set(['compressor', 'limiter', 'ducking']);
/** Treatments are of a part: a bus has none. */
const isOfPart = computed(() => chain.channel?.id === session.part?.channelId);

/** Its own channel, and all others that it may listen to. */
const OWN = '';
const sides = computed(() => [
  { value: OWN, words: 'its own sound' },
  ...Object.keys(project.document!.channels)
    .filter((id) => id !== chain.channel?.id)
    .map((id) => ({ value: id, words: nameOfChannel(project.document!, id) })),
]);
</script>

<template>
  <DetailHead :title="title" :note="`${place + 1} of ${count}`">
    <template #picture><EffectPicture :effect="effect" class="picture" /></template>
    <IconButton icon="power" :words="`${words} on`" :pressed="!effect.bypassed" @click="chain.toggle(effect.id)" />
    <IconButton
      icon="earlier"
      words="Earlier in the chain"
      :disabled="place <= 0"
      @click="chain.move(effect.id, { ...at, place: place - 1 })"
    />
    <IconButton
      icon="later"
      words="Later in the chain"
      :disabled="place >= count - 1"
      @click="chain.move(effect.id, { ...at, place: place + 1 })"
    />
    <IconButton icon="copy" words="Once more behind itself" @click="chain.duplicate(effect.id)" />
    <IconButton icon="remove" words="Take it out" @click="chain.remove(effect.id)" />
  </DetailHead>
  <DetailCard
    v-if="LISTENING.has(effect.kind)"
    id="effect-side"
    :title="effect.kind === 'ducking' ? 'Gives way to' : 'Listens to'"
  >
    <ChoiceField
      label="channel"
      :model-value="effect.sideChannelId ?? OWN"
      :choices="sides"
      test-id="effect-side"
      @put="chain.listen(effect.id, $event || null)"
    />
  </DetailCard>
  <DetailCard id="effect-settings" title="Settings">
    <DuckingCurve v-if="effect.kind === 'ducking'" :effect="effect" />
    <TakenAway v-if="TAKING.has(effect.kind)" :effect="effect" />
    <EffectCurve v-if="hasCurve" v-model:point="point" :effect="effect" />
    <CatchButton v-if="effect.kind === 'catch'" :effect="effect" />
    <StepBars v-if="hasSteps" :effect="effect" />
    <ChoiceField
      v-if="places.length > 1 && effect.kind !== 'paths'"
      label="stands"
      :model-value="stands"
      :choices="places"
      test-id="effect-place"
      @put="standIn($event)"
    />
    <ParamField v-for="param in fields" :key="param" :owners="owners" :param="param" />
    <ParamField :owners="owners" param="wet" />
  </DetailCard>
  <TuningsCard v-if="isTuned(effect) && isOfPart" :effect="effect" />
</template>

<style scoped>
.picture {
  height: 46px;
}
</style>
