<script setup lang="ts">
/** The selected strips of the pattern. */
import { computed } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { PatternEvent } from '#core/project/schema.ts';
import { eventValues, songValues } from '#core/queries/values.ts';
import { formatBarsBeats } from '#core/units/time.ts';
import { tip } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';
import ParamField from '../fields/ParamField.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const events = computed(() => session.selectedEvents);
const first = computed(() => events.value[0]!);
const owners = computed<Owner[]>(() =>
  events.value.map(({ id }) => ({ kind: 'event', patternId: session.patternId, id })),
);

function differs(read: (event: PatternEvent) => unknown): boolean {
  return events.value.some((event) => read(event) !== read(first.value));
}
</script>

<template>
  <DetailRows
    :title="events.length === 1 ? 'Strip' : `${events.length} strips`"
    :note="eventValues(first).hold ? 'held' : ''"
  >
    <div class="row">
      <span>at</span>
      <span class="mono">{{
        differs((e) => e.positionTicks)
          ? 'mixed'
          : formatBarsBeats(first.positionTicks, songValues(project.document!).beatsPerBar)
      }}</span>
    </div>
    <DocumentField
      label="length"
      :model-value="first.lengthTicks"
      :mixed="differs((e) => e.lengthTicks)"
      :min="7.5"
      :max="session.lengthTicks"
      :step="session.gridStepTicks ?? 60"
      :digits="0"
      unit="ticks"
      @put="editing.resize($event)"
    />
    <ParamField :owners="owners" param="velocity" :put="editing.setSelectedEvents" />
    <ParamField :owners="owners" param="repeats" unit="times" :put="editing.setSelectedEvents" />
    <div class="buttons">
      <button
        class="push small"
        :aria-pressed="events.every((e) => eventValues(e).reverse)"
        :title="tip('reverse')"
        @click="editing.reverseSelected()"
      >
        backwards
      </button>
      <button
        class="push small"
        :aria-pressed="events.every((e) => eventValues(e).hold)"
        :title="tip('hold', 'Held strips stay when the pattern is dealt again')"
        @click="editing.holdSelected()"
      >
        hold
      </button>
      <button class="push small" :title="tip('remove')" @click="editing.removeSelected()">remove</button>
    </div>
  </DetailRows>
</template>
