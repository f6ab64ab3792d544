<script lang="ts">
/** What the rows are of, and in which order. */
export type RowOrder = 'role' | 'key' | 'source' | 'note';
</script>

<script setup lang="ts">
/** Above the rows: their order, the sound whose notes are shown, the bar that is shown, and what is drawn beside. */
import { computed } from 'vue';
import { useHomeDistance } from '../../stores/pattern/home-distance.ts';
import { useSession } from '../../stores/document/session.ts';
import { useStripEdits } from '../../stores/pattern/strip-edits.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import type { useMelody } from './use-melody.ts';

const { bars, melody, hiddenCount } = defineProps<{
  /** How many the pattern has, begun ones too. */
  bars: number;
  melody: ReturnType<typeof useMelody>;
  /** Sounds that lie on no key and play nothing here. */
  hiddenCount: number;
}>();
const order = defineModel<RowOrder>('order', { required: true });
/** Those too. */
const showsAll = defineModel<boolean>('showsAll', { required: true });
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
    <v-btn
      v-if="!isByNote && hiddenCount > 0"
      :aria-pressed="showsAll"
      data-tip="Sounds that lie on no key and play nothing in this pattern"
      @click="showsAll = !showsAll"
      >+ {{ hiddenCount }} without a key</v-btn
    >
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
        class="by-bar"
        :aria-pressed="shownBar !== null"
        aria-label="bar by bar"
        data-tip="One bar over the whole width, or all of them"
        :disabled="bars < 2"
        @click="shownBar = shownBar === null ? 0 : null"
      >
        <span v-if="shownBar === null">bar by bar</span>
        <span v-else data-testid="shown-bar">{{ Math.min(shownBar, bars - 1) + 1 }} of {{ bars }}</span>
      </v-btn>
      <!-- There all the time: what stands beside must not move. -->
      <span class="turn" :class="{ off: shownBar === null }">
        <IconButton icon="earlier" words="bar before" :disabled="!shownBar" @click="showBar(-1)" />
        <IconButton icon="later" words="next bar" :disabled="(shownBar ?? bars) >= bars - 1" @click="showBar(1)" />
      </span>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 8px;
  align-items: center;
  flex: none;
  padding-bottom: 6px;
}
.order {
  width: 106px;
  flex: none;
}
.sound {
  flex: 0 1 200px;
  min-width: 100px;
}
.single {
  /* The toolkit gives a label no width of its own beside its switch. */
  flex: none;
  width: 152px;
  /* Its knob stands out. */
  margin-right: 10px;
  white-space: nowrap;
}
.glide {
  flex: 0 1 124px;
  min-width: 92px;
}
.by-bar {
  width: 84px;
}
.turn {
  display: flex;
  gap: 4px;
}
.turn.off {
  visibility: hidden;
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
