<script setup lang="ts">
/** Dealing: the hands so far as little ribbons, the seed of the one on the table, and the next. */
import { computed, nextTick, ref, watch } from 'vue';
import { eventsOfHand, orderedEvents } from '#core/queries/patterns.ts';
import type { Hand } from '#core/project/schema.ts';
import { shortcuts } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { usePartSounds } from '../../stores/part-sounds.ts';
import { useSession } from '../../stores/session.ts';
import { ICONS } from '../../theme/icons.ts';
import NumberField from '../fields/NumberField.vue';
import IconButton from '../shared/IconButton.vue';
import DealRules from './DealRules.vue';
import HomeDistance from './HomeDistance.vue';
import { ribbonImage } from '../shared/ribbon.ts';

defineProps<{ isHome: boolean }>();
const session = useSession();
const sounds = usePartSounds();
const editing = useEditing();
const list = ref<HTMLElement | null>(null);

const MAX_SEED = 2 ** 31 - 1;

const hands = computed(() => {
  const { pattern } = session;
  if (!pattern) return [];
  const colourById = new Map(session.zones.map((placed) => [placed.zone.id, sounds.colourOf(placed)]));
  return pattern.handOrder.map((id, place) => {
    const hand = pattern.hands[id]!;
    const onTable = id === pattern.handId;
    const events = orderedEvents(onTable ? pattern.events : eventsOfHand(pattern, id));
    return { id, place, hand, onTable, ribbon: ribbonImage(events, session.lengthTicks, colourById) };
  });
});
const current = computed<Hand | null>(() => {
  const { pattern } = session;
  return pattern?.handId ? (pattern.hands[pattern.handId] ?? null) : null;
});
const currentPlace = computed(() => (current.value ? session.pattern!.handOrder.indexOf(current.value.id) : 0));

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
    <div class="about">
      <strong>Hands</strong>
      <span v-if="hands.length > 0" class="quiet small" data-testid="hand-count"
        >hand {{ currentPlace + 1 }} of {{ hands.length }}</span
      >
      <span v-else class="quiet small">none yet</span>
    </div>
    <HomeDistance />
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
    <DealRules />
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
      <v-btn
        v-for="{ id, place, hand, onTable, ribbon } in hands"
        :key="id"
        class="hand"
        :class="{ on: onTable }"
        :aria-pressed="onTable"
        :aria-label="`Hand ${place + 1}`"
        :data-tip="
          hand.seed === 0
            ? hand.fromHandId === null
              ? 'As it was before dealing'
              : `Hand ${place + 1}: changed by hand`
            : `Hand ${place + 1}: seed ${hand.seed}, reach ${hand.reachPercent}%`
        "
        @click="editing.takeHandAt(place)"
      >
        <span class="mono">{{ place + 1 }}{{ hand.starred ? '*' : '' }}</span
        ><span class="ribbon" :style="{ backgroundImage: ribbon }" />
      </v-btn>
      <p v-if="hands.length === 0" class="quiet small none">
        {{ isHome ? 'Deal shuffles a copy; this pattern stays.' : 'Hold the strips that must stay, then deal.' }}
      </p>
    </div>
    <IconButton
      v-if="current"
      icon="standard"
      :words="current.starred ? 'take the star away' : 'give it a star'"
      hint="Starred hands are never pushed out by newer ones"
      :pressed="current.starred === true"
      @click="editing.starHandOnTable()"
    />
    <IconButton
      icon="back"
      words="hand before"
      hint="Back to the hand before"
      action="hand-before"
      :disabled="currentPlace === 0"
      @click="editing.handBefore()"
    />
    <v-btn
      class="strong deal-again"
      :append-icon="ICONS.deal"
      data-tip="A new random variation of what is not held"
      :data-key="shortcuts.deal"
      data-testid="deal"
      @click="editing.dealAgain()"
      >Deal again</v-btn
    >
  </div>
</template>

<style scoped>
.deal {
  display: flex;
  align-items: center;
  gap: 10px;
  padding-top: 6px;
  min-height: 46px;
  flex: none;
}
.about {
  display: grid;
  line-height: 1.25;
  white-space: nowrap;
}
.reach {
  width: 104px;
  flex: none;
}
.seed {
  width: 144px;
  flex: none;
}
.hands {
  flex: 1;
  min-width: 0;
  display: flex;
  gap: 4px;
  overflow-x: auto;
  scrollbar-width: thin;
  padding: 2px;
}
.hand.v-btn.v-btn--density-default {
  flex: 0 0 96px;
  height: max(34px, var(--control));
  padding: 3px 5px;
  background: var(--paper);
  color: var(--ink);
}
.hand.on {
  outline: 2px solid var(--sea);
  outline-offset: -1px;
}
.hand :deep(.v-btn__content) {
  display: flex;
  gap: 5px;
  width: 100%;
  height: 100%;
  align-items: center;
  font-weight: 400;
}
.ribbon {
  flex: 1;
  height: 100%;
}
.none {
  white-space: nowrap;
}
.deal-again.v-btn.v-btn--density-default {
  height: max(38px, var(--control));
  padding: 0 14px;
}
@media (max-width: 1000px) {
  .seed,
  .about .quiet {
    display: none;
  }
}
</style>
