<script setup lang="ts">
/** The parts of the project, and the ways to other screens. */
import { computed, ref, watch } from 'vue';
import { renameProject } from '#core/project/commands/song.ts';
import { useProject } from '../../stores/project.ts';
import AddSound from './AddSound.vue';
import RailPart from './RailPart.vue';

const emit = defineEmits<{ bounce: []; slicesOut: []; versions: [] }>();
const project = useProject();
const projectName = ref('');

watch(
  () => project.document?.name,
  (name) => (projectName.value = name ?? ''),
  { immediate: true },
);

const saveWords = computed(
  () =>
    ({
      saved: 'saved',
      saving: 'saving …',
      waiting: 'saving …',
      failed: 'not saved yet: trying again',
      refused: 'not saved: see the message',
      conflict: 'changed in another window',
    })[project.saveState],
);

function rename(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  if (!project.run('rename project', renameProject, { name: value })) projectName.value = project.document?.name ?? '';
}
</script>

<template>
  <nav class="rail" aria-label="Parts">
    <RouterLink class="brand" to="/" title="To the shelf">yappa</RouterLink>
    <h1 class="unseen">{{ project.document!.name }}</h1>
    <input
      v-model="projectName"
      class="plain-input project-name"
      aria-label="Name of the project"
      maxlength="200"
      @change="rename"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
      @keydown.stop
    />
    <p class="quiet state" data-testid="save-state">{{ saveWords }}</p>
    <div v-if="project.saveState === 'conflict'" class="conflict" role="alert">
      <p>This project was changed elsewhere. The version that you do not take stays among the versions.</p>
      <button class="push small" @click="project.keepMine()">go on with mine</button>
      <button class="push small" @click="project.takeTheirs()">take the other</button>
    </div>
    <h2 class="list-title">Parts</h2>
    <ul class="parts">
      <RailPart v-for="id in project.document!.partOrder" :key="id" :part="project.document!.parts[id]!" />
    </ul>
    <AddSound />
    <div class="ways">
      <RouterLink to="/">Shelf</RouterLink>
      <button @click="emit('versions')">Versions</button>
      <button :disabled="project.document!.partOrder.length === 0" @click="emit('bounce')">Bounce</button>
      <button :disabled="project.document!.partOrder.length === 0" @click="emit('slicesOut')">Slices out</button>
    </div>
  </nav>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 14px 12px 14px 16px;
  background: var(--sheet);
  border-right: 1px solid var(--rule);
  min-height: 0;
  overflow-y: auto;
}
.brand {
  font-size: 25px;
  font-weight: 750;
  letter-spacing: -0.02em;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.1;
}
.project-name {
  font-weight: 650;
  font-size: 15px;
  border-bottom-color: transparent;
  text-overflow: ellipsis;
}
.state {
  font-size: 13px;
}
.conflict {
  font-size: 13px;
  display: grid;
  gap: 4px;
  border-left: 4px solid var(--signal);
  padding-left: 8px;
}
.list-title {
  font-size: 13px;
  color: var(--ink-quiet);
  margin-top: 10px;
}
.ways {
  margin-top: auto;
  padding-top: 14px;
  display: grid;
  gap: 6px;
  justify-items: start;
  font-weight: 620;
}
.ways a {
  color: var(--ink);
  text-decoration: none;
}
.ways a:hover,
.ways button:hover:not(:disabled) {
  color: var(--sea);
}
.ways button {
  font-weight: 620;
}
</style>
