<script setup lang="ts">
/** The hand on the table: its name, how it was dealt, and what can be made of it. */
import { computed, ref } from 'vue';
import { DEAL_ROWS } from '#core/params/deal-rows.ts';
import { formatValue, type Row } from '#core/params/row.ts';
import { useDealing } from '../../stores/pattern/dealing.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NumberField from '../fields/NumberField.vue';

const session = useSession();
const dealing = useDealing();
const MAX_SEED = 2 ** 31 - 1;
const hand = computed(() => dealing.hand);

/** A seed while it is dragged: only the last one is dealt, or every step would push a kept hand out. */
const draftSeed = ref<number | null>(null);
function dealSeed(): void {
  const seed = draftSeed.value;
  draftSeed.value = null;
  if (seed !== null && seed !== hand.value?.seed) dealing.again(seed);
}

const others = computed(() => {
  const { pattern } = session;
  if (!pattern) return [];
  return pattern.handOrder.flatMap((id, place) =>
    id === hand.value?.id ? [] : [{ value: id, words: pattern.hands[id]!.name ?? `hand ${place + 1}` }],
  );
});

function wordsOf(row: Row, value: unknown): string {
  if (row.kind === 'toggle') return row.label;
  if (row.kind === 'choice') return `${row.label} ${row.choices.find((one) => one.value === value)?.words ?? ''}`;
  return `${row.label} ${formatValue(row, value as number)}`;
}
/** How it came about, in words. */
const told = computed(() => {
  const one = hand.value;
  if (!one) return '';
  if (one.seed === 0) return one.fromHandId === null ? 'As it was before dealing.' : 'Changed by hand.';
  const place = session.pattern!.handOrder.indexOf(one.withHandId ?? '') + 1;
  if (one.withHandId !== undefined) return `Bred; ${one.reachPercent}% of hand ${place}.`;
  const rules = Object.entries(one.rules ?? {}).map(([id, value]) => wordsOf(DEAL_ROWS[id as 'unit'], value));
  const steps = one.onlyIds ? [`only ${one.onlyIds.length} chosen strips`] : [];
  return `Dealt: reach ${one.reachPercent}%${[...steps, ...rules].map((words) => `, ${words}`).join('')}${one.isEdited ? '; then changed by hand' : ''}.`;
});
</script>

<template>
  <div v-if="hand" class="card" role="group" aria-label="The hand on the table">
    <v-text-field
      aria-label="Name of the hand"
      maxlength="200"
      :placeholder="`hand ${dealing.place + 1}`"
      persistent-placeholder
      :model-value="hand.name ?? ''"
      @change="dealing.name(($event.target as HTMLInputElement).value)"
      @keydown.stop
      @keydown.enter="($event.target as HTMLInputElement).blur()"
    />
    <p class="small told">{{ told }}</p>
    <NumberField
      v-if="hand.seed > 0"
      label="seed"
      :model-value="draftSeed ?? hand.seed"
      :min="1"
      :max="MAX_SEED"
      hint="The seed of the hand on the table: type one to deal the same from what this one was dealt from"
      @update:model-value="draftSeed = $event"
      @commit="dealSeed"
      @cancel="draftSeed = null"
    />
    <v-btn
      v-if="hand.seed > 0 && hand.withHandId === undefined"
      data-tip="The next deal goes by the rules and the reach of this hand"
      @click="dealing.takeRules()"
      >deal by its rules</v-btn
    >
    <ChoiceField
      v-if="others.length > 0"
      label="the other"
      hint="The hand to compare and to breed with; a Shift-click in the row chooses it, too"
      none-words="none yet"
      :model-value="dealing.other?.id ?? null"
      :choices="others"
      @put="dealing.otherId = $event"
    />
  </div>
</template>

<style scoped>
.card {
  display: grid;
  gap: 6px;
}
.told {
  overflow-wrap: anywhere;
}
</style>
