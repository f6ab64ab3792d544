<script setup lang="ts">
/** The part: its name and level, how it keeps time, how its loop is read. */
import { computed } from 'vue';
import { renamePart } from '#core/project/commands/parts.ts';
import type { Owner } from '#core/project/commands/values.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import DetailRows from '../fields/DetailRows.vue';
import ParamField from '../fields/ParamField.vue';
import PartMix from '../fields/PartMix.vue';
import LoopDetails from './LoopDetails.vue';
import NoLoopDetails from './NoLoopDetails.vue';
import TimeDetails from './TimeDetails.vue';

const project = useProject();
const session = useSession();
const part = computed(() => session.part!);
const owners = computed<Owner[]>(() => [{ kind: 'part', id: part.value.id }]);

function rename(event: Event): void {
  project.run('rename part', renamePart, { partId: part.value.id, name: (event.target as HTMLInputElement).value });
}
</script>

<template>
  <DetailRows title="Part">
    <label class="row">
      <span>name</span>
      <input class="plain-input" :value="part.name" maxlength="200" @change="rename" @keydown.stop />
    </label>
    <PartMix :part="part" />
    <ParamField :owners="owners" param="stopFadeMs" />
  </DetailRows>
  <TimeDetails />
  <LoopDetails v-if="session.cut?.loop" />
  <NoLoopDetails v-else-if="session.cut" />
</template>

<style scoped>
.plain-input {
  width: 100%;
}
</style>
