<script setup lang="ts">
/** A sound that is no loop: a hit, ready for a key. It can be read as one all the same. */
import { setLoop } from '#core/project/commands/parts.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import DetailRows from '../fields/DetailRows.vue';

const project = useProject();
const session = useSession();

function readAsLoop(): void {
  project.run('read as a loop', setLoop, { cutId: session.cut!.id, loop: {} });
}
</script>

<template>
  <DetailRows title="Loop" data-testid="no-loop">
    <p class="quiet says">This sound is no loop: it plays from its key at its own speed, whatever the tempo.</p>
    <v-btn size="small" variant="outlined" @click="readAsLoop">read it as a loop</v-btn>
  </DetailRows>
</template>

<style scoped>
.says {
  font-size: 13px;
  padding-bottom: 8px;
}
</style>
