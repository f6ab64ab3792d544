<script setup lang="ts">
/** Dealing in full: the hand on the table, how far the next one goes, what stays, what chance may colour. */
import { computed } from 'vue';
import { DEAL_ROWS } from '#core/params/deal-rows.ts';
import { shortcuts } from '../../input/shortcuts.ts';
import { useDealing } from '../../stores/pattern/dealing.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import DetailCard from '../details/DetailCard.vue';
import DetailHead from '../details/DetailHead.vue';
import NumberField from '../fields/NumberField.vue';
import ParamField from '../fields/ParamField.vue';
import RowField from '../fields/RowField.vue';
import IconButton from '../shared/IconButton.vue';
import HandCard from './HandCard.vue';
import HandThreads from './HandThreads.vue';
import StepsFree from './StepsFree.vue';
import { useDealRules, type RuleId } from './use-deal-rules.ts';

const session = useSession();
const dealing = useDealing();
const { values, freeIds, isOfNoUse, put } = useDealRules();

const HOW_FAR: readonly RuleId[] = ['busyPercent', 'silencePercent', 'unit', 'sounds'];
/** What stays, as words on a button of its own. */
const STAYS: Partial<Record<RuleId, string>> = {
  keepsFirstBeats: 'first beats',
  keepsRoles: 'roles',
  keepsKicks: 'kicks',
  keepsSnares: 'snares',
  keepsFirstBar: 'first bar',
  keepsLastBar: 'last bar',
  keepsFeel: 'feel',
};
const COLOUR: readonly RuleId[] = [
  'repeatsPercent',
  'mostRepeats',
  'repeatRates',
  'backwardsPercent',
  'pitchPercent',
  'intervals',
  'shortPercent',
  'levelSpreadDb',
  'panSpread',
];
const shownColours = computed(() => COLOUR.filter((id) => !isOfNoUse(id)));
const MOST_ROUNDS = 64;

const count = computed(() => Object.keys(session.dealRules).length);
const stepCount = computed(() => session.events.length);
const chance = computed(() => (shownColours.value.some((id) => id in session.dealRules) ? '' : 'none'));
const note = computed(() => {
  const { pattern } = session;
  return dealing.hand && pattern ? `hand ${dealing.place + 1} of ${pattern.handOrder.length}` : '';
});
</script>

<template>
  <DetailHead title="Deal" :note="note">
    <template #picture><HandThreads /></template>
    <IconButton
      icon="standard"
      :words="dealing.hand?.starred ? 'take the star away' : 'give it a star'"
      hint="Starred hands are never pushed out by newer ones"
      :pressed="dealing.hand?.starred === true"
      :disabled="!dealing.hand"
      @click="dealing.star()"
    />
    <v-btn
      :disabled="!dealing.other"
      data-tip="A third hand: each step is as in this one or as in the marked one; Shift-click a hand to mark it"
      @click="dealing.breed()"
      >breed</v-btn
    >
    <IconButton
      icon="add"
      words="make it a pattern"
      hint="This hand becomes a pattern of its own"
      :disabled="!dealing.hand"
      @click="dealing.makePattern()"
    />
    <IconButton
      icon="refresh"
      words="all back to nothing"
      hint="No rules: only the order is dealt"
      :disabled="count === 0"
      @click="session.dealRules = {}"
    />
    <v-btn
      class="strong deal"
      aria-label="deal again"
      data-tip="A new random variation of what is not held"
      :data-key="shortcuts.deal"
      @click="dealing.again()"
      >deal</v-btn
    >
  </DetailHead>
  <DetailCard id="deal-far" title="How far" :note="`${freeIds.size} of ${stepCount} steps`">
    <NumberField
      v-model="session.reachPercent"
      label="reach"
      bar
      :min="0"
      :max="100"
      :step="5"
      :reset="60"
      unit="%"
      hint="Share of the free steps that take part in the next deal"
    />
    <StepsFree :free-ids="freeIds" />
    <RowField
      v-for="id in HOW_FAR"
      :key="id"
      bar
      :row="DEAL_ROWS[id]"
      :model-value="values[id]"
      :disabled="isOfNoUse(id)"
      @put="put(id, $event)"
    />
    <RowField
      v-if="!isOfNoUse('admitsOthers')"
      :row="DEAL_ROWS.admitsOthers"
      :model-value="values.admitsOthers"
      @put="put('admitsOthers', $event)"
    />
    <v-checkbox
      v-model="dealing.onlyChosen"
      hide-details
      label="only chosen strips"
      data-tip="Where strips are chosen, only those take part"
    />
  </DetailCard>
  <DetailCard id="deal-stays" title="What stays" :note="`${stepCount - freeIds.size} steps stay`">
    <div class="stays">
      <v-btn
        v-for="(words, id) in STAYS"
        :key="id"
        class="stay"
        role="checkbox"
        :class="{ on: values[id] }"
        :prepend-icon="values[id] ? ICONS.check : ICONS.dot"
        :aria-checked="values[id] === true"
        :aria-label="DEAL_ROWS[id].label"
        :data-tip="DEAL_ROWS[id].hint"
        :disabled="isOfNoUse(id)"
        @click="put(id, !values[id])"
        >{{ words }}</v-btn
      >
    </div>
  </DetailCard>
  <DetailCard id="deal-colour" title="Colour" :note="chance">
    <RowField
      v-for="id in shownColours"
      :key="id"
      bar
      :row="DEAL_ROWS[id]"
      :model-value="values[id]"
      @put="put(id, $event)"
    />
  </DetailCard>
  <DetailCard id="deal-when" title="When" :note="dealing.everyRounds > 0 ? 'by itself' : ''">
    <ParamField :owners="[{ kind: 'song' }]" param="changesAt" test-id="changes-at" />
    <NumberField
      v-model="dealing.everyRounds"
      label="by itself every"
      hint="Deals again by itself every so many rounds while the song runs; 0 is never"
      unit="rounds"
      stacked
      :min="0"
      :max="MOST_ROUNDS"
      :reset="0"
    />
  </DetailCard>
  <DetailCard id="deal-hand" title="This hand" :note="dealing.hand ? '' : 'none yet'"><HandCard /></DetailCard>
</template>

<style scoped>
.deal.v-btn {
  margin-left: auto;
  padding: 0 12px;
}
.stays {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 4px;
}
.stay.v-btn {
  justify-content: flex-start;
  font-weight: 400;
}
.stay.on {
  border-color: var(--sea);
  background: color-mix(in srgb, var(--sea) 14%, var(--sheet));
}
</style>
