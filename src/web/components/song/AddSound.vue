<script setup lang="ts">
/** Another sound for the project, from a file or from the shelf. */
import { ref } from 'vue';
import { useImports } from '../../stores/imports.ts';
import { useShelf } from '../../stores/shelf.ts';

const imports = useImports();
const shelf = useShelf();
const picker = ref<HTMLInputElement | null>(null);
const adding = ref(false);

function pickFiles(event: Event): void {
  const target = event.target as HTMLInputElement;
  void imports.importFiles([...(target.files ?? [])], true);
  target.value = '';
  adding.value = false;
}

async function openAdding(): Promise<void> {
  adding.value = !adding.value;
  if (adding.value && !shelf.loaded) await shelf.refresh();
}

function addFromShelf(id: string, name: string): void {
  adding.value = false;
  void imports.addSourceAsPart(id, name);
}
</script>

<template>
  <button class="add" title="From a file, or from the shelf; dropping files anywhere works too" @click="openAdding">
    + add a sound
  </button>
  <div v-if="adding" class="adding sheet">
    <button class="from-file" @click="picker?.click()">from a file …</button>
    <button v-for="source in shelf.sources" :key="source.id" @click="addFromShelf(source.id, source.name)">
      {{ source.name }}
    </button>
    <p v-if="shelf.loaded && shelf.sources.length === 0" class="quiet">the shelf is empty</p>
  </div>
  <input
    ref="picker"
    type="file"
    multiple
    hidden
    accept="audio/*,.wav,.flac,.mp3,.ogg,.aif,.aiff"
    data-testid="bench-files"
    @change="pickFiles"
  />
</template>

<style scoped>
.add {
  color: var(--sea);
  font-weight: 600;
  text-align: left;
  margin-top: 4px;
}
.adding {
  display: grid;
  grid-auto-rows: max-content;
  flex: none;
  max-height: 220px;
  overflow-y: auto;
  padding: 4px;
}
.adding button {
  text-align: left;
  padding: 3px 6px;
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.adding button:hover {
  background: var(--sea-wash);
}
.from-file {
  font-weight: 600;
}
</style>
