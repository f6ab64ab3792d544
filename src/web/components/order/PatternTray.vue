<script setup lang="ts">
/** The patterns of the chosen part, to be dragged into its row; a click puts one into the chosen section. */
import { computed } from 'vue';
import { homeId } from '#core/document/home-id.ts';
import { eventsOf, nameOfPattern, patternLengthTicks } from '#core/queries/patterns.ts';
import { songValues } from '#core/queries/values.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { useOrder } from '../../stores/order/order.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import PatternMini from '../shared/PatternMini.vue';
import { useZoneColours } from '../shared/use-zone-colours.ts';
import { PATTERN_DRAG } from './pattern-drag.ts';

const order = useOrder();
const project = useProject();
const session = useSession();
const part = computed(() => session.part!);
const colourById = useZoneColours(() => part.value);
const uses = computed(() => {
  const counts = new Map<string, number>();
  for (const { placings } of Object.values(project.document!.sections)) {
    for (const { patternId } of placings) counts.set(patternId, (counts.get(patternId) ?? 0) + 1);
  }
  return counts;
});
const USED = ['not used yet', 'used once', 'used twice'];
const cards = computed(() => {
  const document = project.document!;
  const barTicks = songValues(document).beatsPerBar * TICKS_PER_BEAT;
  return [...part.value.cutOrder.map(homeId), ...part.value.patternOrder].map((id) => {
    const lengthTicks = patternLengthTicks(document, id);
    const count = uses.value.get(id) ?? 0;
    return {
      id,
      name: nameOfPattern(document, id),
      lengthTicks,
      events: eventsOf(document, id),
      bars: `${Number((lengthTicks / barTicks).toFixed(2))} bars`,
      used: USED[count] ?? `used ${count} times`,
    };
  });
});

function take(event: DragEvent, patternId: string): void {
  event.dataTransfer!.setData('text/plain', patternId);
  event.dataTransfer!.setData(PATTERN_DRAG + part.value.id, ' ');
  event.dataTransfer!.effectAllowed = 'copy';
}

/** Behind what the part plays in the section already, or from its beginning. */
function put(patternId: string): void {
  const { section } = order;
  if (!section) return;
  const own = section.section.placings.filter(({ partId, isFill }) => partId === part.value.id && !isFill);
  const end = Math.max(0, ...own.map(({ startTicks, lengthTicks }) => startTicks + lengthTicks));
  order.place(section.section.id, patternId, end >= section.roundTicks ? 0 : end);
}
</script>

<template>
  <section class="tray" aria-label="Patterns to place" data-testid="pattern-tray">
    <header>
      <h2>Patterns</h2>
      <span class="quiet one-line">of {{ part.name }}: drag one into its row, or click to put it into the section</span>
    </header>
    <div class="cards">
      <v-btn
        v-for="card in cards"
        :key="card.id"
        class="card"
        draggable="true"
        :aria-label="`Place ${card.name}`"
        :disabled="!order.section"
        data-testid="tray-pattern"
        @dragstart="take($event, card.id)"
        @click="put(card.id)"
      >
        <span class="one-line name">{{ card.name }}</span>
        <span class="mini"
          ><PatternMini :events="card.events" :length-ticks="card.lengthTicks" :colour-by-id="colourById"
        /></span>
        <span class="foot quiet"
          ><span>{{ card.bars }}</span
          ><span class="one-line">{{ card.used }}</span></span
        >
      </v-btn>
    </div>
  </section>
</template>

<style scoped>
.tray {
  flex: none;
  display: grid;
  gap: 4px;
}
header {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
h2 {
  font-size: 15px;
}
.cards {
  display: flex;
  gap: 8px;
  overflow-x: auto;
  scrollbar-width: thin;
  padding: 2px;
}
.card.v-btn.v-btn--density-default {
  flex: none;
  width: 158px;
  height: 84px;
  padding: 6px 9px;
  background: var(--sheet);
  color: var(--ink);
}
.card :deep(.v-btn__content) {
  width: 100%;
  height: 100%;
  display: grid;
  grid-template: auto 1fr auto / minmax(0, 1fr);
  gap: 4px;
}
.name {
  text-align: left;
  font-weight: 640;
}
.mini {
  height: 30px;
}
.foot {
  display: flex;
  justify-content: space-between;
  font-size: 12px;
  font-weight: 400;
}
</style>
