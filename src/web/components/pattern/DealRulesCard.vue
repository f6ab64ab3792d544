<script setup lang="ts">
/** The rules of dealing, each with its field: fetched when the menu is opened first. */
import { computed } from 'vue';
import { DEAL_ROWS, type DealValues } from '#core/params/deal-rows.ts';
import { fullValues, withValues } from '#core/params/row.ts';
import { useDealing } from '../../stores/dealing.ts';
import { useSession } from '../../stores/session.ts';
import NumberField from '../fields/NumberField.vue';
import ParamField from '../fields/ParamField.vue';
import RowField from '../fields/RowField.vue';

type RuleId = keyof DealValues;
const session = useSession();
const dealing = useDealing();
const values = computed(() => fullValues(DEAL_ROWS, session.dealRules));
const count = computed(() => Object.keys(session.dealRules).length);
/** Groups of rules under their titles; side by side what belongs together. */
const GROUPS: readonly { title: string; narrow?: boolean; ids: readonly RuleId[] }[] = [
  { title: 'Order', ids: ['sounds', 'unit', 'admitsOthers', 'busyPercent'] },
  {
    title: 'Stays',
    narrow: true,
    ids: ['keepsRoles', 'keepsFeel', 'keepsKicks', 'keepsSnares', 'keepsFirstBeats', 'keepsFirstBar', 'keepsLastBar'],
  },
  {
    title: 'Colour',
    ids: [
      'repeatsPercent',
      'mostRepeats',
      'repeatRates',
      'silencePercent',
      'pitchPercent',
      'intervals',
      'shortPercent',
      'backwardsPercent',
      'levelSpreadDb',
      'panSpread',
    ],
  },
];
const MOST_ROUNDS = 64;

/** Whole stretches change places only where sounds are exchanged, and only there the feel can go along. */
function isOfNoUse(id: RuleId): boolean {
  const isDrawn = values.value.sounds !== 'exchanged';
  if (id === 'admitsOthers') return values.value.sounds !== 'any';
  if (id === 'mostRepeats' || id === 'repeatRates') return values.value.repeatsPercent === 0;
  if (id === 'intervals') return values.value.pitchPercent === 0;
  return id === 'unit' ? isDrawn : id === 'keepsFeel' && (isDrawn || values.value.unit === 'strip');
}

function put(id: RuleId, value: unknown): void {
  session.dealRules = withValues(DEAL_ROWS, session.dealRules, { [id]: value });
}
</script>

<template>
  <v-card class="card" aria-label="Rules of dealing">
    <template v-for="{ title, narrow, ids } in GROUPS" :key="title">
      <h3>{{ title }}</h3>
      <div :class="narrow ? 'three' : 'two'">
        <RowField
          v-for="id in ids"
          :key="id"
          :row="DEAL_ROWS[id]"
          :model-value="values[id]"
          :disabled="isOfNoUse(id)"
          @put="put(id, $event)"
        />
        <v-checkbox
          v-if="title === 'Order'"
          v-model="dealing.onlyChosen"
          hide-details
          label="only chosen strips"
          data-tip="Where strips are chosen, only those take part"
        />
      </div>
    </template>
    <h3>When</h3>
    <div class="two">
      <ParamField :owners="[{ kind: 'song' }]" param="changesAt" test-id="changes-at" />
      <NumberField
        v-model="dealing.everyRounds"
        label="by itself every"
        hint="Deals again by itself every so many rounds while the song runs; 0 is never"
        unit="rounds"
        :min="0"
        :max="MOST_ROUNDS"
        :reset="0"
      />
    </div>
    <v-btn :disabled="count === 0" data-tip="Only the order is dealt" @click="session.dealRules = {}"
      >all back to nothing</v-btn
    >
  </v-card>
</template>

<style scoped>
.card {
  width: 500px;
  padding: 12px 14px;
  display: grid;
  gap: 6px;
}
h3 {
  font-size: 14px;
  font-weight: 600;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  align-items: center;
  gap: 6px 16px;
}
.two :deep(.label) {
  flex: none;
  min-width: 70px;
}
.three {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
}
</style>
