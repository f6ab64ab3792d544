<script setup lang="ts">
/** The selected strips of the pattern. */
import { computed } from 'vue';
import { formatBarsBeats } from '#core/units/time.ts';
import type { PatternEvent } from '#core/project/schema.ts';
import type { EventSettings } from '#core/project/commands/events.ts';
import { tip } from '../../input/shortcuts.ts';
import { useEditing } from '../../stores/editing.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import DetailRows from '../fields/DetailRows.vue';
import DocumentField from '../fields/DocumentField.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const events = computed(() => session.selectedEvents);
const first = computed(() => events.value[0]!);

function differs(read: (event: PatternEvent) => unknown): boolean {
  return events.value.some((event) => read(event) !== read(first.value));
}

function put(label: string, settings: EventSettings): void {
  editing.setSelectedEvents(label, settings);
}
</script>

<template>
  <DetailRows :title="events.length === 1 ? 'Strip' : `${events.length} strips`" :note="first.held ? 'held' : ''">
    <div class="row">
      <span>at</span>
      <span class="mono">{{
        differs((e) => e.positionTicks) ? 'mixed' : formatBarsBeats(first.positionTicks, project.document!.beatsPerBar)
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
    <DocumentField
      label="velocity"
      :model-value="Math.round(first.velocity * 127)"
      :mixed="differs((e) => e.velocity)"
      :min="0"
      :max="127"
      :reset="127"
      @put="put('velocity', { velocity: $event / 127 })"
    />
    <DocumentField
      label="repeats"
      :model-value="first.repeats"
      :mixed="differs((e) => e.repeats)"
      :min="1"
      :max="32"
      :reset="1"
      unit="times"
      @put="put('repeats', { repeats: $event })"
    />
    <div class="buttons">
      <button
        class="push small"
        :aria-pressed="events.every((e) => e.reverse)"
        :title="tip('reverse')"
        @click="editing.reverseSelected()"
      >
        backwards
      </button>
      <button
        class="push small"
        :aria-pressed="events.every((e) => e.held)"
        :title="tip('hold', 'Held strips stay when the pattern is dealt again')"
        @click="editing.holdSelected()"
      >
        hold
      </button>
      <button class="push small" :title="tip('remove')" @click="editing.removeSelected()">remove</button>
    </div>
  </DetailRows>
</template>
