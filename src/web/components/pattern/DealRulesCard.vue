<script setup lang="ts">
/** The rules of dealing, each with its field: fetched when the menu is opened first. */
import { computed } from 'vue';
import { DEAL_ROWS, type DealValues } from '#core/params/deal-rows.ts';
import { fullValues, withValues, type NumberRow } from '#core/params/row.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';

type RuleId = keyof DealValues;
const session = useSession();
const values = computed(() => fullValues(DEAL_ROWS, session.dealRules));
const count = computed(() => Object.keys(session.dealRules).length);
const STAYS = ['keepsRoles', 'keepsFirstBeats', 'keepsKicks', 'keepsSnares'] as const;
const COLOURS = [
  'silencePercent',
  'backwardsPercent',
  'repeatsPercent',
  'mostRepeats',
  'pitchPercent',
  'intervals',
  'shortPercent',
  'levelSpreadDb',
  'panSpread',
] as const;
const numbers = COLOURS.filter((id) => DEAL_ROWS[id].kind === 'number').map(
  (id) => ({ id, row: DEAL_ROWS[id] as NumberRow }) as const,
);

function put<Id extends RuleId>(id: Id, value: DealValues[Id]): void {
  session.dealRules = withValues(DEAL_ROWS, session.dealRules, { [id]: value });
}
</script>

<template>
  <v-card class="card" aria-label="Rules of dealing">
    <h3>Stays</h3>
    <div class="stays">
      <v-checkbox
        v-for="id in STAYS"
        :key="id"
        hide-details
        :label="DEAL_ROWS[id].label"
        :data-tip="DEAL_ROWS[id].hint"
        :model-value="values[id]"
        @update:model-value="put(id, $event === true)"
      />
    </div>
    <h3>Colour</h3>
    <div class="colours">
      <NumberField
        v-for="{ id, row } in numbers"
        :key="id"
        :label="row.label"
        :hint="row.hint"
        :unit="row.unit"
        :model-value="(values[id] as number) * row.scale"
        :min="row.min * row.scale"
        :max="row.max * row.scale"
        :step="row.step"
        :digits="row.digits"
        :reset="row.default * row.scale"
        @update:model-value="put(id, $event / row.scale)"
      />
      <ChoiceField
        :label="DEAL_ROWS.intervals.label"
        :hint="DEAL_ROWS.intervals.hint"
        :model-value="values.intervals"
        :choices="DEAL_ROWS.intervals.choices"
        @put="put('intervals', $event)"
      />
    </div>
    <v-btn :disabled="count === 0" data-tip="Only the order is dealt" @click="session.dealRules = {}"
      >all back to nothing</v-btn
    >
  </v-card>
</template>

<style scoped>
.card {
  width: 440px;
  padding: 12px 14px;
  display: grid;
  gap: 8px;
}
h3 {
  font-size: 14px;
  font-weight: 600;
}
.stays {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.colours {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 16px;
}
</style>
