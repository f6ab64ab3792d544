<script setup lang="ts">
/** Dealing: the hands so far as little ribbons, the seed of the one on the table, and the next. */
import { computed, nextTick, ref, watch } from 'vue';
import { eventsOfHand, orderedEvents } from '#core/queries/patterns.ts';
import type { Hand } from '#core/project/schema.ts';
import { tip } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { useSession } from '../../stores/session.ts';
import NumberField from '../fields/NumberField.vue';

const props = defineProps<{ isHome: boolean }>();
const session = useSession();
const editing = useEditing();
const list = ref<HTMLElement | null>(null);

const MAX_SEED = 2 ** 31 - 1;

const hands = computed(() => {
  const { pattern } = session;
  if (!pattern) return [];
  const colourById = new Map([...session.sliceByZone].map(([zoneId, at]) => [zoneId, session.colours[at.index]!]));
  return pattern.handOrder.map((id, place) => {
    const hand = pattern.hands[id]!;
    const onTable = id === pattern.handId;
    const events = orderedEvents(onTable ? pattern.events : eventsOfHand(pattern, id));
    return { id, place, hand, onTable, ribbon: ribbonOf(events, colourById) };
  });
});
const current = computed<Hand | null>(() => {
  const { pattern } = session;
  return pattern?.handId ? (pattern.hands[pattern.handId] ?? null) : null;
});
const currentPlace = computed(() => (current.value ? session.pattern!.handOrder.indexOf(current.value.id) : 0));

/** A hand as stripes in slice colours: hard-edged colour stops, one pair a strip. */
function ribbonOf(events: ReturnType<typeof orderedEvents>, colourById: ReadonlyMap<string, string>): string {
  const total = session.lengthTicks || 1;
  const stops = events.flatMap((event) => {
    const from = ((event.positionTicks / total) * 100).toFixed(2);
    const to = (((event.positionTicks + event.lengthTicks * 0.86) / total) * 100).toFixed(2);
    const colour = colourById.get(event.zoneId) ?? 'transparent';
    return [`transparent ${from}%`, `${colour} ${from}%`, `${colour} ${to}%`, `transparent ${to}%`];
  });
  return stops.length > 0 ? `linear-gradient(to right, ${stops.join(', ')})` : 'none';
}

/** A seed while it is dragged: only the last one is dealt, or every step would push a kept hand out. */
const draftSeed = ref<number | null>(null);
function dealSeed(): void {
  const seed = draftSeed.value;
  draftSeed.value = null;
  if (seed !== null && seed !== current.value?.seed) editing.dealAgain(seed);
}

watch([() => session.pattern?.handId, list], async () => {
  await nextTick();
  list.value?.querySelector('[aria-pressed="true"]')?.scrollIntoView({ inline: 'nearest', block: 'nearest' });
});
</script>

<template>
  <div class="deal">
    <NumberField
      v-model="session.reachPercent"
      class="reach"
      label="reach"
      :min="0"
      :max="100"
      :step="5"
      :reset="60"
      unit="%"
      hint="Share of the free steps that take part in the next deal"
    />
    <NumberField
      v-if="current && current.seed > 0"
      class="seed"
      label="seed"
      :model-value="draftSeed ?? current.seed"
      :min="1"
      :max="MAX_SEED"
      hint="The seed of the hand on the table: type one to deal the same from what this one was dealt from"
      @update:model-value="draftSeed = $event"
      @commit="dealSeed"
      @cancel="draftSeed = null"
    />
    <div ref="list" class="hands">
      <button
        v-for="{ id, place, hand, onTable, ribbon } in hands"
        :key="id"
        class="hand"
        :aria-pressed="onTable"
        :aria-label="`Hand ${place + 1}`"
        :title="
          hand.seed === 0
            ? hand.fromHandId === null
              ? 'As it was before dealing'
              : `Hand ${place + 1}: changed by hand`
            : `Hand ${place + 1}: seed ${hand.seed}, reach ${hand.reachPercent}%`
        "
        @click="editing.takeHandAt(place)"
      >
        <span class="ribbon" :style="{ backgroundImage: ribbon }" />
      </button>
      <p v-if="hands.length === 0" class="quiet none">
        {{ props.isHome ? 'Deal shuffles a copy; this pattern stays.' : 'Hold the strips that must stay, then deal.' }}
      </p>
    </div>
    <span v-if="hands.length > 0" class="quiet count" data-testid="hand-count"
      >hand {{ currentPlace + 1 }} of {{ hands.length }}</span
    >
    <button class="push small" :disabled="currentPlace === 0" :title="tip('hand-before')" @click="editing.handBefore()">
      hand before
    </button>
    <button class="push strong" :title="tip('deal')" data-testid="deal" @click="editing.dealAgain()">Deal again</button>
  </div>
</template>

<style scoped>
.deal {
  display: flex;
  align-items: center;
  gap: 10px;
  padding-top: 6px;
  min-height: 42px;
}
.reach {
  width: 96px;
  flex: none;
}
.seed {
  width: 140px;
  flex: none;
}
.hands {
  flex: 1;
  min-width: 0;
  display: flex;
  gap: 5px;
  overflow-x: auto;
  scrollbar-width: thin;
  padding: 2px;
}
.hand {
  flex: 0 0 76px;
  height: 26px;
  padding: 3px;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 2px;
}
.hand[aria-pressed='true'] {
  outline: 2px solid var(--sea);
  outline-offset: -1px;
}
.ribbon {
  display: block;
  height: 100%;
}
.count,
.none {
  font-size: 13px;
  white-space: nowrap;
}
</style>
