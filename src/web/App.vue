<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import { useTheme } from 'vuetify';
import { watchEffect } from 'vue';
import NoticeStack from './components/shared/NoticeStack.vue';
import { useImports } from './stores/imports.ts';
import { usePlayed } from './stores/played.ts';
import { useSaver } from './stores/saver.ts';
import { themeName } from './theme/theme.ts';

const route = useRoute();
const imports = useImports();
const saver = useSaver();
usePlayed();
const retryNow = () => saver.retryNow();
const theme = useTheme();
const dropping = ref(false);

watchEffect(() => theme.change(themeName.value === 'dark' ? 'night' : 'paper'));

function onDragOver(event: DragEvent): void {
  if (!event.dataTransfer?.types.includes('Files')) return;
  event.preventDefault();
  dropping.value = true;
}

function onDrop(event: DragEvent): void {
  if (!event.dataTransfer?.files.length) return;
  event.preventDefault();
  dropping.value = false;
  void imports.importFiles([...event.dataTransfer.files], route.name === 'bench');
}

function onDragLeave(event: DragEvent): void {
  if (event.relatedTarget === null) dropping.value = false;
}

function onLeave(event: BeforeUnloadEvent): void {
  saver.leave();
  // What is only waiting for its turn is sent now; what cannot be sent is worth a question.
  if (!saver.isAllSaved() && ['failed', 'refused', 'conflict'].includes(saver.state)) event.preventDefault();
}

onMounted(() => {
  window.addEventListener('dragover', onDragOver);
  window.addEventListener('drop', onDrop);
  window.addEventListener('dragleave', onDragLeave);
  window.addEventListener('beforeunload', onLeave);
  window.addEventListener('online', retryNow);
});
onBeforeUnmount(() => {
  window.removeEventListener('dragover', onDragOver);
  window.removeEventListener('drop', onDrop);
  window.removeEventListener('dragleave', onDragLeave);
  window.removeEventListener('beforeunload', onLeave);
  window.removeEventListener('online', retryNow);
});
</script>

<template>
  <v-app class="app">
    <RouterView />
    <div v-if="dropping" class="drop-here">
      <span>{{ route.name === 'bench' ? 'Drop to add as a part' : 'Drop to put on the shelf' }}</span>
    </div>
    <NoticeStack />
  </v-app>
</template>

<style>
.app.v-application {
  background: var(--paper);
  color: var(--ink);
  font-family: var(--sans);
}
.drop-here {
  position: fixed;
  inset: 10px;
  border: 3px dashed var(--sea);
  background: var(--sea-wash);
  display: grid;
  place-items: center;
  font-size: 22px;
  font-weight: 650;
  pointer-events: none;
  z-index: 3000;
}
</style>
