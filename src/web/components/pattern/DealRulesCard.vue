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
const ORDER = ['sounds', 'unit', 'admitsOthers', 'busyPercent'] as const;
const STAYS = [
  'keepsRoles',
  'keepsFeel',
  'keepsKicks',
  'keepsSnares',
  'keepsFirstBeats',
  'keepsFirstBar',
  'keepsLastBar',
] as const;
/** Side by side what belongs together. */
const COLOURS = [
  'repeatsPercent',
  'mostRepeats',
  'repeatRates',
  'pitchPercent',
  'intervals',
  'silencePercent',
  'shortPercent',
  'backwardsPercent',
  'levelSpreadDb',
  'panSpread',
] as const;
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
    <h3>Order</h3>
    <div class="two">
      <RowField
        v-for="id in ORDER"
        :key="id"
        :row="DEAL_ROWS[id]"
        :model-value="values[id]"
        :disabled="isOfNoUse(id)"
        @put="put(id, $event)"
      />
      <v-checkbox
        v-model="dealing.onlyChosen"
        hide-details
        label="only chosen strips"
        data-tip="Where strips are chosen, only those take part"
      />
    </div>
    <h3>Stays</h3>
    <div class="three">
      <RowField
        v-for="id in STAYS"
        :key="id"
        :row="DEAL_ROWS[id]"
        :model-value="values[id]"
        :disabled="isOfNoUse(id)"
        @put="put(id, $event)"
      />
    </div>
    <h3>Colour</h3>
    <div class="two">
      <RowField
        v-for="id in COLOURS"
        :key="id"
        :row="DEAL_ROWS[id]"
        :model-value="values[id]"
        :disabled="isOfNoUse(id)"
        @put="put(id, $event)"
      />
    </div>
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
.three {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
}
</style>
