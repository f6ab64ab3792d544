<script setup lang="ts">
/** A sound that is no loop: a hit, ready for a key. It can be read as one all the same. */
import { setLoop } from '#core/project/commands/parts.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import DetailCard from './DetailCard.vue';

const project = useProject();
const session = useSession();

function readAsLoop(): void {
  project.run('read as a loop', setLoop, { cutId: session.cut!.id, loop: {} });
}
</script>

<template>
  <DetailCard id="loop" title="Loop" note="none" data-testid="no-loop">
    <p class="quiet small">This sound is no loop: it plays from its key at its own speed, whatever the tempo.</p>
    <div class="buttons"><v-btn @click="readAsLoop">read it as a loop</v-btn></div>
  </DetailCard>
</template>
