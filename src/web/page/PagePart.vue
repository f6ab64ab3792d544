<script setup lang="ts">
/** A part: mute, its patterns, ways to sound, and a deal of its own. */
import { computed } from 'vue';
import { homeId, isHome } from '#core/document/home-id.ts';
import type { Part } from '#core/document/schema.ts';
import { deal } from '#core/project/commands/deal.ts';
import { takeHand } from '#core/project/commands/hands.ts';
import { choosePattern } from '#core/project/commands/patterns.ts';
import { putTreatmentOn } from '#core/project/commands/treatments.ts';
import { setValue } from '#core/project/commands/values.ts';
import { eventsOf, nameOfPattern, patternLengthTicks } from '#core/queries/patterns.ts';
import { channelValues } from '#core/queries/values.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { sliceColours } from '../canvas/palette.ts';
import PatternMini from '../components/shared/PatternMini.vue';
import type { Player } from './player.ts';

const { part, player, chosen } = defineProps<{ part: Part; player: Player; chosen: boolean }>();
defineEmits<{ choose: [] }>();
const REACH_PERCENT = 50;
const document = computed(() => player.document.value);
const isMuted = computed(() => channelValues(document.value.channels[part.channelId]!).muted);
const now = computed(() => player.heard.value[part.id]);
const playingId = computed(() => (player.playing.value && now.value?.playing) || part.activePatternId);
const colours = computed(() => {
  const zones = zonesOfPart(document.value, part);
  const found = sliceColours(zones.map(({ at }) => at.slice.brightnessHz));
  return new Map(zones.map(({ zone }, place) => [zone.id, found[place]!]));
});
const patterns = computed(() =>
  [...part.cutOrder.map(homeId), ...part.patternOrder].map((id) => ({
    id,
    name: nameOfPattern(document.value, id),
    events: eventsOf(document.value, id),
    lengthTicks: patternLengthTicks(document.value, id),
  })),
);
const pattern = computed(() => document.value.patterns[part.activePatternId]);
const hands = computed(() =>
  (pattern.value?.handOrder ?? []).map((id, place) => ({
    id,
    name: pattern.value!.hands[id]!.name ?? String(place + 1),
  })),
);

function mute(): void {
  const owners = [{ kind: 'channel' as const, id: part.channelId }];
  player.run(setValue, { owners, param: 'muted', change: { to: !isMuted.value } });
}
</script>

<template>
  <section class="part" :class="{ on: chosen }" :aria-label="part.name" data-testid="page-part">
    <div class="head">
      <v-btn variant="text" :aria-pressed="chosen" @click="$emit('choose')">{{ part.name }}</v-btn>
      <v-btn :aria-pressed="isMuted" @click="mute">mute</v-btn>
      <v-btn
        class="strong"
        data-testid="page-deal"
        @click="player.run(deal, { partId: part.id, reachPercent: REACH_PERCENT })"
        >deal</v-btn
      >
    </div>
    <div class="patterns">
      <v-btn
        v-for="one in patterns"
        :key="one.id"
        class="pattern"
        :class="{ plays: one.id === playingId, waits: one.id === now?.waiting, home: isHome(one.id) }"
        :aria-pressed="one.id === playingId"
        :aria-label="`${part.name}: ${one.name}`"
        @click="player.run(choosePattern, { partId: part.id, patternId: one.id })"
      >
        <span class="name">{{ one.name }}</span>
        <span class="mini"
          ><PatternMini :events="one.events" :length-ticks="one.lengthTicks" :colour-by-id="colours"
        /></span>
      </v-btn>
    </div>
    <div v-if="hands.length > 1 || (part.treatments ?? []).length > 0" class="more">
      <span v-if="hands.length > 1" class="quiet">hands</span>
      <template v-if="hands.length > 1">
        <v-btn
          v-for="hand in hands"
          :key="hand.id"
          :aria-pressed="hand.id === pattern?.handId"
          @click="player.run(takeHand, { patternId: pattern!.id, handId: hand.id })"
          >{{ hand.name }}</v-btn
        >
      </template>
      <span v-if="part.treatments?.length" class="quiet">sounds</span>
      <v-btn
        v-for="treatment in part.treatments ?? []"
        :key="treatment.id"
        @click="player.run(putTreatmentOn, { partId: part.id, treatmentId: treatment.id }, part.id)"
        >{{ treatment.name }}</v-btn
      >
    </div>
  </section>
</template>

<style scoped>
.part {
  display: grid;
  gap: 6px;
  padding: 10px 12px;
  border-bottom: 1px solid var(--rule);
}
.part.on {
  box-shadow: inset 4px 0 0 var(--sea);
}
.head,
.more {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
}
.head > :first-child {
  font-size: 16px;
  font-weight: 660;
  margin-right: auto;
}
.patterns {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.pattern.v-btn.v-btn--density-default {
  width: 158px;
  height: 58px;
  padding: 5px 9px;
  background: var(--sheet);
  color: var(--ink);
}
.pattern.plays.v-btn {
  border-color: var(--sea);
  background: var(--sea-wash);
}
.pattern.waits.v-btn {
  border-style: dashed;
}
.pattern :deep(.v-btn__content) {
  width: 100%;
  height: 100%;
  display: grid;
  grid-template: auto 1fr / minmax(0, 1fr);
  gap: 3px;
}
.name {
  text-align: left;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mini {
  height: 22px;
}
</style>
