<script setup lang="ts">
/** Chooses many slices at once. */
import { ALIKE_WITHIN } from '#core/analysis/likeness.ts';
import { selectByRule, type SelectionRule } from '#core/project/selection.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

const session = useSession();
const notices = useNotices();

const rules: { value: SelectionRule | 'alike'; words: string; needsOne: boolean }[] = [
  { value: 'all', words: 'all', needsOne: false },
  { value: 'none', words: 'none', needsOne: false },
  { value: 'invert', words: 'the others', needsOne: true },
  { value: 'same-role', words: 'of the same role', needsOne: true },
  { value: 'about-as-long', words: 'about as long', needsOne: true },
  { value: 'alike', words: 'that sound like this one', needsOne: true },
];

async function choose(event: Event): Promise<void> {
  const target = event.target as HTMLSelectElement;
  const value = target.value as SelectionRule | 'alike' | '';
  target.value = '';
  if (value === '') return;
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
  <select
    class="plain-select narrow"
    aria-label="Select slices"
    title="Select many slices at once"
    data-testid="select-menu"
    @change="choose"
  >
    <option value="">select …</option>
    <option
      v-for="rule in rules"
      :key="rule.value"
      :value="rule.value"
      :disabled="rule.needsOne && session.sliceIds.length === 0"
    >
      {{ rule.words }}
    </option>
  </select>
</template>

<style scoped>
.narrow {
  width: 88px;
}
</style>
