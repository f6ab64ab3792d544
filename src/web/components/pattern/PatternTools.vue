<script setup lang="ts">
/** Grid and length; choosing and changing many strips; copying, making and removing patterns. */
import { useFileDialog } from '@vueuse/core';
import { computed } from 'vue';
import { GRID_CHOICES } from '#core/patterns/grid.ts';
import { createPattern, removePattern, setPatternLength } from '#core/project/commands/patterns.ts';
import { isHome } from '#core/document/home-id.ts';
import { songValues } from '#core/queries/values.ts';
import { shortcuts } from '../../input/shortcuts.ts';
import { useActions } from '../../stores/frame/actions.ts';
import { useEditing } from '../../stores/document/editing.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { TICKS_PER_BEAT } from '#core/units/time.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import DocumentField from '../fields/DocumentField.vue';
import IconButton from '../shared/IconButton.vue';
import ChangeMenu from './ChangeMenu.vue';
import PatternMenu from './PatternMenu.vue';
import StripMenu from './StripMenu.vue';

const project = useProject();
const session = useSession();
const editing = useEditing();
const dialogs = useDialogs();
const FREE = 'free';
const grids = GRID_CHOICES.map(({ label, stepTicks }) => ({ value: stepTicks ?? FREE, words: label }));

const barTicks = computed(
  () => (session.cut?.loop?.beatsPerBar ?? songValues(project.document!).beatsPerBar) * TICKS_PER_BEAT,
);

const { open: pickFile, onChange } = useFileDialog({ accept: '.mid,.midi,audio/midi', multiple: false, reset: true });
onChange((list) => {
  if (list?.[0]) dialogs.midiFile = list[0];
});
useActions().offer({ 'import-midi': () => pickFile() });

/** A sixteenth. */
const SHORTEST_TICKS = 240;
const bars = computed(() => (session.pattern?.lengthTicks ?? 0) / barTicks.value);

function putLength(bars: number): void {
  project.run('length of the pattern', setPatternLength, {
    patternId: session.patternId,
    lengthTicks: Math.round(bars * barTicks.value),
  });
}
</script>

<template>
  <ChoiceField
    class="grid"
    label="grid"
    :show-label="false"
    hint="The grid: strips snap to this; with Alt held they move freely"
    test-id="grid"
    :model-value="session.gridStepTicks ?? FREE"
    :choices="grids"
    @put="session.gridStepTicks = $event === FREE ? null : Number($event)"
  />
  <DocumentField
    v-if="session.pattern"
    class="bars"
    label="bars"
    unit="bars"
    :show-label="false"
    data-testid="pattern-bars"
    hint="Length of this pattern; parts may differ, each goes round by itself"
    :model-value="bars"
    :min="SHORTEST_TICKS / barTicks"
    :max="64"
    :step="bars > 1 ? 1 : 0.25"
    :digits="bars < 1 ? 4 : 2"
    undo="length of the pattern"
    @put="putLength"
  />
  <StripMenu />
  <ChangeMenu />
  <PatternMenu />
  <IconButton
    icon="add"
    words="new pattern"
    hint="A new empty pattern as long as the loop"
    @click="project.run('new pattern', createPattern, { partId: session.part!.id })"
  />
  <v-menu>
    <template #activator="{ props: menu }"
      ><IconButton v-bind="menu" icon="more" words="more of patterns" hint="Copy, remove, from a MIDI file"
    /></template>
    <v-list>
      <v-list-item
        title="copy the pattern"
        :data-key="shortcuts['copy-pattern']"
        data-tip="The same once more, under another name"
        @click="editing.copyCurrentPattern()"
      />
      <v-list-item
        title="pattern from a MIDI file"
        data-tip="Its notes as strips of this part; or drop the file on the window"
        @click="pickFile()"
      />
      <v-list-item
        title="remove the pattern"
        data-tip="The home pattern always stays"
        :disabled="isHome(session.patternId)"
        @click="project.run('remove pattern', removePattern, { patternId: session.patternId })"
      />
    </v-list>
  </v-menu>
</template>

<style scoped>
.bars {
  width: 88px;
}
.grid {
  width: 124px;
}
@media (max-width: 1100px) {
  .grid {
    width: 92px;
  }
}
</style>
