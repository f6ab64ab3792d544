<script setup lang="ts">
/** The selected strips of the pattern. */
import { computed } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { PatternEvent } from '#core/document/schema.ts';
import { eventValues, songValues } from '#core/queries/values.ts';
import { formatBarsBeats } from '#core/units/time.ts';
import { useEditing } from '../../stores/document/editing.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useStripEdits } from '../../stores/pattern/strip-edits.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import DetailCard from './DetailCard.vue';
import DetailHead from './DetailHead.vue';
import TogetherChoice from './TogetherChoice.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const strips = useStripEdits();
const events = computed(() => session.selectedEvents);
const first = computed(() => events.value[0]!);
const owners = computed<Owner[]>(() =>
  events.value.map(({ id }) => ({ kind: 'event', patternId: session.patternId, id })),
);
const isReversed = computed(() => events.value.every((event) => eventValues(event).reverse));
const isHeld = computed(() => events.value.every((event) => eventValues(event).hold));
const place = computed(() =>
  differs((event) => event.positionTicks)
    ? 'mixed'
    : formatBarsBeats(first.value.positionTicks, songValues(project.document!).beatsPerBar),
);
const SOUND = ['gainDb', 'tuneCents', 'pan', 'chancePercent', 'everyRounds'] as const;
const REPEATS = ['repeats', 'repeatPull', 'repeatGainDb', 'repeatCents'] as const;
const shownRepeats = computed(() =>
  REPEATS.slice(0, events.value.some((event) => eventValues(event).repeats > 1) ? REPEATS.length : 1),
);
const soundId = computed(() => (differs((event) => event.zoneId) ? null : first.value.zoneId));
const sounds = computed(() =>
  session.zones
    .filter(({ zone }) => zone.plays.kind === 'slice')
    .map(({ zone, at }) => ({ value: zone.id, words: at.slice.name || `${at.index + 1} ${at.slice.role}` })),
);

function differs(read: (event: PatternEvent) => unknown): boolean {
  return events.value.some((event) => read(event) !== read(first.value));
}
</script>

<template>
  <DetailHead
    :title="events.length === 1 ? 'Strip' : `${events.length} strips`"
    :note="eventValues(first).hold ? 'held' : ''"
  >
    <IconButton
      icon="backwards"
      words="backwards"
      action="reverse"
      :pressed="isReversed"
      @click="editing.reverseSelected()"
    />
    <IconButton
      icon="hold"
      words="hold"
      hint="Held strips stay when the pattern is dealt again"
      action="hold"
      :pressed="isHeld"
      @click="editing.holdSelected()"
    />
    <IconButton
      icon="remove"
      words="remove"
      hint="Remove what is selected"
      action="remove"
      @click="editing.removeSelected()"
    />
  </DetailHead>
  <TogetherChoice v-if="events.length > 1" />
  <DetailCard id="strip-place" title="Where" :note="place">
    <DocumentField
      label="length"
      :model-value="first.lengthTicks"
      :mixed="differs((event) => event.lengthTicks)"
      :min="7.5"
      :max="session.lengthTicks"
      :step="session.gridStepTicks ?? 60"
      unit="ticks"
      @put="editing.resize($event)"
    />
    <ChoiceField
      label="plays"
      hint="Another sound in the place of this one"
      :model-value="soundId"
      :choices="sounds"
      @put="strips.playInstead($event)"
    />
    <ParamField :owners="owners" param="onKey" :put="editing.setSelectedEvents" />
  </DetailCard>
  <DetailCard id="strip-repeats" title="Repeats" :note="`${eventValues(first).repeats}`">
    <ParamField
      v-for="param in shownRepeats"
      :key="param"
      :owners="owners"
      :param="param"
      :put="editing.setSelectedEvents"
    />
  </DetailCard>
  <DetailCard id="strip-sound" title="Sound">
    <ParamField :owners="owners" param="velocity" :put="editing.setSelectedEvents" />
    <div class="pair">
      <ParamField
        v-for="param in SOUND"
        :key="param"
        :owners="owners"
        :param="param"
        stacked
        :put="editing.setSelectedEvents"
      />
    </div>
  </DetailCard>
</template>
