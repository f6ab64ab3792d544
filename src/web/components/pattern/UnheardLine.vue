<script setup lang="ts">
/** Strips that are cut off as they begin, said with the way out. */
import { computed } from 'vue';
import { setValue } from '#core/project/commands/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import BandLine from './BandLine.vue';

const project = useProject();
const session = useSession();
const count = computed(() => session.unheard.size);

function playTogether(): void {
  const owners = [{ kind: 'part' as const, id: session.part!.id }];
  project.run('as many as there are', setValue, { owners, param: 'oneAtATime', change: { to: false } });
}
</script>

<template>
  <BandLine
    :words="`${count === 1 ? 'One strip is' : `${count} strips are`} not heard: another begins there, one at a time.`"
    tip="Another strip begins on the same step, and the part plays one at a time: the stronger one is heard"
    data-testid="unheard"
  >
    <v-btn data-tip="The part plays as many sounds at once as there are" @click="playTogether"
      >let them sound together</v-btn
    >
    <v-btn variant="text" @click="session.selectEvents([...session.unheard])">choose them</v-btn>
  </BandLine>
</template>
