<script setup lang="ts">
/** Chooses many slices at once. */
import { ALIKE_WITHIN } from '#core/analysis/alike.ts';
import { computed } from 'vue';
import { removeSlices } from '#core/project/commands/cut.ts';
import { selectByRule, type SelectionRule } from '#core/project/selection.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import IconButton from '../shared/IconButton.vue';

const project = useProject();
const session = useSession();
const notices = useNotices();

const rules: { value: SelectionRule | 'alike'; words: string; needsOne: boolean }[] = [
  { value: 'all', words: 'all', needsOne: false },
  { value: 'none', words: 'none', needsOne: false },
  { value: 'invert', words: 'the others', needsOne: true },
  { value: 'same-role', words: 'of the same role', needsOne: true },
  { value: 'about-as-long', words: 'about as long', needsOne: true },
  { value: 'slivers', words: 'slivers', needsOne: false },
  { value: 'alike', words: 'that sound like this one', needsOne: true },
];

const slivers = computed(() => selectByRule(session.placed, [], 'slivers'));

function joinSlivers(): void {
  if (!session.cut) return;
  project.run('join slivers', removeSlices, { cutId: session.cut.id, sliceIds: slivers.value });
}

async function choose(value: SelectionRule | 'alike'): Promise<void> {
  if (value !== 'alike') {
    session.selectSlices(selectByRule(session.placed, session.sliceIds, value));
    return;
  }
  const first = session.selectedSlices[0];
  if (!first || !session.cut) return;
  try {
    const rows = await library.likeness(
      session.cut.sourceId,
      session.placed.map(({ startFrame, endFrame }) => ({ startFrame, endFrame })),
    );
    const near = session.placed.filter((at) => rows[first.index]![at.index]! < ALIKE_WITHIN);
    session.selectSlices(near.map((at) => at.slice.id));
  } catch (error) {
    notices.error(describeFailure('Comparing', error));
  }
}
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton
        v-bind="menu"
        icon="select"
        words="Select slices"
        hint="Select many slices at once"
        data-testid="select-menu"
      />
    </template>
    <v-list>
      <v-list-item
        v-for="rule in rules"
        :key="rule.value"
        :title="rule.words"
        :disabled="rule.needsOne && session.sliceIds.length === 0"
        @click="choose(rule.value)"
      />
      <v-divider role="presentation" />
      <v-list-item
        :title="slivers.length > 0 ? `join ${slivers.length} slivers` : 'no slivers to join'"
        data-tip="Slices far shorter than the others become part of the one before"
        :disabled="slivers.length === 0"
        @click="joinSlivers"
      />
    </v-list>
  </v-menu>
</template>
