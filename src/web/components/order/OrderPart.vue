<script setup lang="ts">
/** A part in the running order: its level and meter, and its patterns, of which one plays. */
import { computed, useTemplateRef } from 'vue';
import { choosePattern, movePattern } from '#core/project/commands/patterns.ts';
import { homeId, isHome } from '#core/document/home-id.ts';
import type { Part } from '#core/document/schema.ts';
import { eventsOf, nameOfHome, patternLengthTicks } from '#core/queries/patterns.ts';
import { channelValues, songValues } from '#core/queries/values.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { useReorder } from '../shared/use-reorder.ts';
import PatternMini from '../shared/PatternMini.vue';
import OrderHead from './OrderHead.vue';
import { useZoneColours } from '../shared/use-zone-colours.ts';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const session = useSession();
const transport = useTransport();
const colourById = useZoneColours(() => part);
const isSilent = computed(() => channelValues(project.document!.channels[part.channelId]!).muted);
const waiting = computed(() => transport.waitingPatterns[part.id] ?? null);

const barTicks = computed(() => songValues(project.document!).beatsPerBar * TICKS_PER_BEAT);
function cardOf(id: string, name: string) {
  const document = project.document!;
  const lengthTicks = patternLengthTicks(document, id);
  const bars = lengthTicks / barTicks.value;
  return {
    id,
    name,
    lengthTicks,
    events: eventsOf(document, id),
    words: `${Number(bars.toFixed(2))} ${bars === 1 ? 'bar' : 'bars'}`,
  };
}
const homes = computed(() => part.cutOrder.map((cutId) => cardOf(homeId(cutId), nameOfHome(project.document!, cutId))));
const patterns = computed(() => part.patternOrder.map((id) => cardOf(id, project.document!.patterns[id]!.name)));
const cards = computed(() => [...homes.value, ...patterns.value]);

function choose(patternId: string): void {
  session.choosePart(part.id);
  if (patternId !== part.activePatternId) {
    project.run('change pattern', choosePattern, { partId: part.id, patternId });
  }
}

const list = useTemplateRef<HTMLElement>('list');
useReorder(list, {
  fixed: '.home',
  onMoved: (from, to) => {
    const patternId = cards.value[from]!.id;
    project.run('move pattern', movePattern, { patternId, by: to - from });
  },
});
</script>

<template>
  <section
    class="part"
    :class="{ on: part.id === session.partId, silent: isSilent }"
    :aria-label="part.name"
    data-testid="order-part"
    @click="session.partId === part.id || session.choosePart(part.id)"
  >
    <OrderHead :part="part" />
    <div ref="list" class="cards">
      <v-btn
        v-for="card in cards"
        :key="card.id"
        class="card"
        :class="{ plays: card.id === part.activePatternId, waiting: card.id === waiting, home: isHome(card.id) }"
        :aria-pressed="card.id === part.activePatternId"
        :aria-label="`${part.name}: ${card.name}`"
        :data-tip="
          isHome(card.id) ? 'The loop in its own order' : 'Click puts it on at the next bar; dragging moves it'
        "
        @click.stop="choose(card.id)"
      >
        <span class="top"
          ><b class="one-line">{{ card.name }}</b
          ><span class="quiet">{{ card.id === waiting ? 'next bar' : card.words }}</span></span
        >
        <span class="mini"
          ><PatternMini :events="card.events" :length-ticks="card.lengthTicks" :colour-by-id="colourById"
        /></span>
      </v-btn>
    </div>
  </section>
</template>

<style scoped>
.part {
  display: grid;
  grid-template-columns: 206px minmax(0, 1fr);
  gap: 14px;
  padding: 9px 12px;
  border-bottom: 1px solid var(--rule);
}
.part.on {
  box-shadow: inset 4px 0 0 var(--sea);
  background: var(--paper);
}
.part.silent .cards {
  opacity: 0.45;
}
.cards {
  display: flex;
  gap: 6px;
  overflow-x: auto;
  scrollbar-width: thin;
  align-items: flex-start;
  padding: 2px;
}
.card.v-btn.v-btn--density-default {
  width: 168px;
  height: 74px;
  padding: 6px 9px;
  background: var(--sheet);
  color: var(--ink);
  flex: none;
}
.card.plays.v-btn {
  border-color: var(--sea);
  box-shadow: inset 0 0 0 1px var(--sea);
  background: var(--sea-wash);
}
.card.waiting {
  border-style: dashed;
  border-color: var(--sea);
}
.card :deep(.v-btn__content) {
  display: grid;
  grid-template-rows: auto 1fr;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  width: 100%;
  height: 100%;
}
.top {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  font-weight: 400;
}
.top b {
  font-weight: 640;
}
.mini {
  height: 34px;
}
@media (max-width: 859px) {
  .part {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
