<script setup lang="ts">
/** Strips that are cut off as they begin, said with the way out; nothing where all are heard. */
import { computed } from 'vue';
import { setValue } from '#core/project/commands/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

const project = useProject();
const session = useSession();
const count = computed(() => session.unheard.size);

function playTogether(): void {
  const owners = [{ kind: 'part' as const, id: session.part!.id }];
  project.run('as many as there are', setValue, { owners, param: 'oneAtATime', change: { to: false } });
}
</script>

<template>
  <p v-if="count > 0" class="unheard small" role="status" data-testid="unheard">
    <span
      class="one-line"
      data-tip="Another strip begins on the same step, and the part plays one at a time: the stronger one is heard"
      >{{ count === 1 ? 'One strip is' : `${count} strips are` }} not heard: another begins there, one at a time.</span
    >
    <v-btn data-tip="The part plays as many sounds at once as there are" @click="playTogether"
      >let them sound together</v-btn
    >
    <v-btn variant="text" @click="session.selectEvents([...session.unheard])">choose them</v-btn>
  </p>
</template>

<style scoped>
.unheard {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 0;
  padding: 3px 8px;
  border-top: 1px solid var(--rule);
  color: var(--ink);
}
.one-line {
  flex: 1;
  min-width: 0;
}
</style>
