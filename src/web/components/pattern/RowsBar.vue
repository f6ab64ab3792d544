<script lang="ts">
/** What the rows are of, and in which order. */
export type RowOrder = 'role' | 'key' | 'source' | 'note';
</script>

<script setup lang="ts">
/** Above the rows: their order, the sound whose notes are shown, the bar that is shown, and what is drawn beside. */
import { computed } from 'vue';
import { useHomeDistance } from '../../stores/home-distance.ts';
import { useSession } from '../../stores/session.ts';
import { useStripEdits } from '../../stores/strip-edits.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import type { useMelody } from './use-melody.ts';

const { bars, melody } = defineProps<{
  /** How many the pattern has, begun ones too. */
  bars: number;
  melody: ReturnType<typeof useMelody>;
}>();
const order = defineModel<RowOrder>('order', { required: true });
/** Null: all of them. */
const shownBar = defineModel<number | null>('shownBar', { required: true });
const session = useSession();
const home = useHomeDistance();
const strips = useStripEdits();
const ORDERS: { value: RowOrder; words: string }[] = [
  { value: 'role', words: 'by role' },
  { value: 'key', words: 'by key' },
  { value: 'source', words: 'as in the loop' },
  { value: 'note', words: 'by note' },
];
const isByNote = computed(() => order.value === 'note');

function showBar(by: number): void {
  shownBar.value = Math.max(0, Math.min(bars - 1, (shownBar.value ?? 0) + by));
}
</script>

<template>
  <div class="bar">
    <ChoiceField
      class="order"
      label="Rows in order"
      :show-label="false"
      :model-value="order"
      :choices="ORDERS"
      @put="order = $event"
    />
    <IconButton
      icon="edit"
      words="write"
      hint="The pointer writes a strip into each step that it passes; begun on a strip, it takes strips away"
      action="write"
      :pressed="strips.isWriting"
      @click="strips.isWriting = !strips.isWriting"
    />
    <template v-if="isByNote && session.part">
      <ChoiceField
        class="sound"
        label="notes of"
        hint="The sound whose notes are shown; strips move up and down by semitones"
        :model-value="melody.placed.value?.zone.id ?? null"
        :choices="melody.sounds.value"
        @put="melody.choose($event)"
      />
      <ParamField class="single" :owners="[{ kind: 'part', id: session.part.id }]" param="oneAtATime" />
      <ParamField class="glide" :owners="[{ kind: 'part', id: session.part.id }]" param="glideMs" />
    </template>
    <div class="bars-shown">
      <v-btn
        v-if="!isByNote && home.distance"
        class="home"
        :class="{ on: home.isShown }"
        :aria-pressed="home.isShown"
        data-tip="Dashed: where the loop plays what is elsewhere now, or left out"
        @click="home.isShown = !home.isShown"
        >home</v-btn
      >
      <v-btn
        :aria-pressed="shownBar !== null"
        data-tip="One bar over the whole width, or all of them"
        :disabled="bars < 2"
        @click="shownBar = shownBar === null ? 0 : null"
        >bar by bar</v-btn
      >
      <template v-if="shownBar !== null">
        <IconButton icon="earlier" words="bar before" :disabled="shownBar === 0" @click="showBar(-1)" />
        <span class="mono" data-testid="shown-bar">{{ Math.min(shownBar, bars - 1) + 1 }} of {{ bars }}</span>
        <IconButton icon="later" words="next bar" :disabled="shownBar >= bars - 1" @click="showBar(1)" />
      </template>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  flex: none;
  padding-bottom: 6px;
}
.order {
  width: 134px;
  flex: none;
}
.sound {
  width: 200px;
  min-width: 120px;
}
.single {
  /* The toolkit gives a label no width of its own beside its switch. */
  width: 152px;
  flex: none;
  white-space: nowrap;
}
.glide {
  width: 124px;
  flex: none;
}
.bars-shown {
  margin-left: auto;
  flex: none;
  white-space: nowrap;
  display: flex;
  gap: 6px;
  align-items: center;
}
.home:not(.on) {
  color: var(--ink-quiet);
}
.home.on {
  border-style: dashed;
  border-color: var(--ink-quiet);
}
</style>
