<script setup lang="ts">
/** A hand in the row: its name or number, and a little ribbon of what it plays. */
import { computed } from 'vue';
import type { Hand } from '#core/document/schema.ts';

const { hand, place, ribbon, onTable, isOther, waits, tall } = defineProps<{
  hand: Hand;
  place: number;
  /** A CSS image. */
  ribbon: string;
  onTable: boolean;
  /** Marked, to be compared and bred with. */
  isOther: boolean;
  /** It has been chosen and waits for its turn. */
  waits: boolean;
  /** There is room for its name over its ribbon. */
  tall: boolean;
}>();
const emit = defineEmits<{ pick: [handId: string, marks: boolean] }>();

const tip = computed(() => {
  const { seed, fromHandId, reachPercent, withHandId, name } = hand;
  const title = name ?? `Hand ${place + 1}`;
  const about =
    seed === 0
      ? fromHandId === null
        ? 'as it was before dealing'
        : 'changed by hand'
      : withHandId !== undefined
        ? 'bred of two'
        : `seed ${seed}, reach ${reachPercent}%`;
  return `${title}: ${about}. Shift-click marks it to compare and breed with`;
});
</script>

<template>
  <v-btn
    class="hand"
    :class="{ on: onTable, other: isOther, waits, tall }"
    :aria-pressed="onTable"
    :aria-label="hand.name ?? `Hand ${place + 1}`"
    :data-tip="tip"
    @click="emit('pick', hand.id, $event.shiftKey)"
  >
    <span class="words one-line" :class="{ mono: hand.name === undefined }"
      >{{ hand.name ?? (tall ? `hand ${place + 1}` : place + 1) }}{{ hand.starred ? '*' : '' }}</span
    ><span class="ribbon" :style="{ backgroundImage: ribbon }" />
  </v-btn>
</template>

<style scoped>
.hand.v-btn.v-btn--density-default {
  flex: 0 0 84px;
  height: max(34px, var(--control));
  padding: 3px 5px;
  background: var(--paper);
  color: var(--ink);
}
.hand.other {
  outline: 2px dashed var(--sea);
  outline-offset: -1px;
}
.hand.waits {
  outline-style: dotted;
}
.hand.on {
  outline: 2px solid var(--sea);
  outline-offset: -1px;
}
.hand.on.waits {
  outline-style: dotted;
}
.hand :deep(.v-btn__content) {
  display: flex;
  gap: 5px;
  width: 100%;
  height: 100%;
  align-items: center;
  font-weight: 400;
}
.words {
  max-width: 34px;
}
.hand.tall.v-btn.v-btn--density-default {
  flex-basis: 104px;
  height: 54px;
}
.hand.tall :deep(.v-btn__content) {
  flex-direction: column;
  align-items: stretch;
  gap: 2px;
}
.tall .words {
  max-width: none;
  text-align: left;
}
.ribbon {
  flex: 1;
  height: 100%;
}
</style>
