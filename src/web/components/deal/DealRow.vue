<script setup lang="ts">
/** Dealing: the hands so far as little ribbons, how far the next one reaches, and the next. */
import { computed, nextTick, ref, watch } from 'vue';
import { eventsOfHand, orderedEvents } from '#core/queries/patterns.ts';
import { shortcuts } from '../../input/shortcuts.ts';
import { useDealing } from '../../stores/pattern/dealing.ts';
import { usePartSounds } from '../../stores/sound/part-sounds.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { ICONS } from '../../theme/icons.ts';
import NumberField from '../fields/NumberField.vue';
import IconButton from '../shared/IconButton.vue';
import DealRules from './DealRules.vue';
import HandButton from './HandButton.vue';
import HomeDistance from './HomeDistance.vue';
import { ribbonImage } from '../shared/ribbon.ts';

const props = defineProps<{
  isHome: boolean;
  /** There is room for the hands' names. */
  tall: boolean;
}>();
const session = useSession();
const sounds = usePartSounds();
const dealing = useDealing();
const transport = useTransport();
const list = ref<HTMLElement | null>(null);

const hands = computed(() => {
  const { pattern } = session;
  if (!pattern) return [];
  return pattern.handOrder.map((id, place) => {
    const hand = pattern.hands[id]!;
    const onTable = id === pattern.handId;
    const events = orderedEvents(onTable ? pattern.events : eventsOfHand(pattern, id));
    return { id, place, hand, onTable, ribbon: ribbonImage(events, session.lengthTicks, sounds.colourById) };
  });
});
/** The details show what is left out here then. */
const isInDetails = computed(() => session.detailsOpen && session.detailsOf === 'deal');
/** The hand on the table has been chosen and waits for its turn. */
const waits = computed(() => {
  const { part, patternId } = session;
  return part !== null && transport.waitingPatterns[part.id] === patternId;
});

function pick(handId: string, marks: boolean): void {
  if (!marks) dealing.take(handId);
  else dealing.otherId = dealing.otherId === handId ? null : handId;
}

watch([() => session.pattern?.handId, list, isInDetails, () => props.tall], async () => {
  await nextTick();
  const chosen = list.value?.querySelector('[aria-pressed="true"]');
  if (!list.value || !chosen) return;
  if (isInDetails.value) return chosen.scrollIntoView({ block: 'nearest' });
  // In its row alone: in a narrow window the whole bench would scroll down to it.
  const [row, hand] = [list.value.getBoundingClientRect(), chosen.getBoundingClientRect()];
  list.value.scrollLeft += Math.min(0, hand.left - row.left) + Math.max(0, hand.right - row.right);
});
</script>

<template>
  <div class="deal">
    <div class="about">
      <div class="title">
        <strong>Hands</strong>
        <span v-if="hands.length > 0" class="quiet small" data-testid="hand-count"
          >{{ dealing.place + 1 }} of {{ hands.length }}</span
        >
      </div>
      <HomeDistance />
    </div>
    <div ref="list" class="hands">
      <HandButton
        v-for="{ id, place, hand, onTable, ribbon } in hands"
        :key="id"
        :hand
        :place
        :ribbon
        :on-table="onTable"
        :is-other="id === dealing.other?.id"
        :waits="onTable && waits"
        :tall="tall"
        @pick="pick"
      />
      <p v-if="hands.length === 0" class="quiet small none">
        {{ isHome ? 'Deal shuffles a copy; this pattern stays.' : 'Hold the strips that must stay, then deal.' }}
      </p>
    </div>
    <div v-if="dealing.hand" class="tools">
      <IconButton
        v-if="!isInDetails"
        icon="standard"
        :words="dealing.hand.starred ? 'take the star away' : 'give it a star'"
        hint="Starred hands are never pushed out by newer ones"
        :pressed="dealing.hand.starred === true"
        @click="dealing.star()"
      />
      <IconButton
        icon="compare"
        words="compare"
        hint="The marked hand and this one change places, while the song runs; Shift-click a hand to mark it"
        action="compare-hands"
        :disabled="!dealing.other"
        @click="dealing.compare()"
      />
      <IconButton
        icon="back"
        words="hand before"
        hint="Back to the hand before"
        action="hand-before"
        :disabled="dealing.place === 0"
        @click="dealing.before()"
      />
      <IconButton
        v-if="!isInDetails"
        icon="more"
        words="this hand"
        hint="Name, seed and rules of this hand; breed it"
        @click="session.showDetailsOf('deal')"
      />
    </div>
    <NumberField
      v-if="!isInDetails"
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
    <v-btn
      class="strong deal-again"
      :append-icon="ICONS.deal"
      data-tip="A new random variation of what is not held"
      :data-key="shortcuts.deal"
      data-testid="deal"
      @click="dealing.again()"
      >Deal</v-btn
    >
  </div>
</template>

<style scoped>
.deal {
  display: flex;
  align-items: center;
  gap: 8px;
  padding-top: 6px;
  min-height: 46px;
  flex: none;
}
.about {
  display: grid;
  line-height: 1.25;
  white-space: nowrap;
}
.title {
  display: flex;
  gap: 6px;
}
.reach {
  width: 100px;
  flex: none;
}
.tools {
  display: flex;
  gap: 4px;
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
.none {
  white-space: nowrap;
}
.deal-again.v-btn.v-btn--density-default {
  height: max(38px, var(--control));
  padding: 0 14px;
}
@media (max-width: 1000px) {
  .about .quiet {
    display: none;
  }
}
</style>
