<script setup lang="ts">
/** Another sound for the project, from a file or from the shelf: as a part of its own, or on the free keys of the chosen one. */
import { useFileDialog } from '@vueuse/core';
import { computed, ref } from 'vue';
import { AUDIO_FILES, useImports } from '../../stores/shelf/imports.ts';
import { useActions } from '../../stores/frame/actions.ts';
import { useSession } from '../../stores/document/session.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import HearButton from '../shared/HearButton.vue';
import IconButton from '../shared/IconButton.vue';
import { usePreview } from '../../stores/sound/preview.ts';

const { isIcon = false } = defineProps<{ isIcon?: boolean }>();
const imports = useImports();
const shelf = useShelf();
const preview = usePreview();
const session = useSession();
const adding = ref(false);
const wanted = ref('');
const { open: pickFiles, onChange } = useFileDialog({ accept: AUDIO_FILES, multiple: true, reset: true });
onChange((files) => {
  adding.value = false;
  void imports.importFiles([...(files ?? [])], true, intoPartId(), where.value === 'instead');
});
/** Where it comes to, asked anew at each opening. */
const where = ref<'new' | 'chosen' | 'instead'>('new');
const intoPartId = () => (where.value === 'new' ? null : (session.part?.id ?? null));
const ways = computed(() => [
  { value: 'new' as const, words: 'as a part' },
  { value: 'chosen' as const, words: `onto ${session.part?.name ?? ''}` },
  { value: 'instead' as const, words: `in place of the loop of ${session.part?.name ?? ''}` },
]);
const found = computed(() =>
  shelf.sources.filter(({ name }) => name.toLowerCase().includes(wanted.value.toLowerCase())),
);

async function onOpen(isOpen: boolean): Promise<void> {
  wanted.value = '';
  where.value = 'new';
  if (isOpen && !shelf.loaded) await shelf.refresh();
}

function addFromShelf(id: string, name: string): void {
  adding.value = false;
  preview.stopPreview();
  void imports.addSource(id, name, intoPartId(), where.value === 'instead');
}
// Once is enough: the button with words and the one that is an icon do the same.
if (!isIcon) useActions().offer({ 'add-sound': () => pickFiles() });
</script>

<template>
  <v-menu v-model="adding" :close-on-content-click="false" location="right" @update:model-value="onOpen">
    <template #activator="{ props: menu }">
      <IconButton v-if="isIcon" v-bind="menu" icon="add" words="Add a part" variant="text" />
      <v-btn
        v-else
        v-bind="menu"
        variant="text"
        class="add"
        data-tip="From a file, or from the shelf; dropping files anywhere works too"
        >+ add a sound</v-btn
      >
    </template>
    <v-card min-width="300" max-width="380" class="adding">
      <ChoiceField
        v-if="session.part"
        label="Where it comes to"
        hint="As a part of its own; onto the free keys of the chosen part; or in place of its loop: settings, chain, treatments and patterns stay"
        :show-label="false"
        :model-value="where"
        :choices="ways"
        @put="where = $event"
      />
      <v-btn block class="strong" :prepend-icon="ICONS.import" @click="pickFiles()">From a file …</v-btn>
      <v-text-field
        v-model="wanted"
        :prepend-inner-icon="ICONS.search"
        placeholder="from the shelf"
        aria-label="Search the shelf"
        clearable
        @keydown.stop
      />
      <v-list class="list" aria-label="Sounds of the shelf">
        <v-list-item
          v-for="source in found"
          :key="source.id"
          :title="source.name"
          @click="addFromShelf(source.id, source.name)"
        >
          <template #prepend>
            <HearButton
              :name="source.name"
              :playing="preview.previewId === source.id"
              @click.stop="preview.preview(source.id)"
            />
          </template>
        </v-list-item>
      </v-list>
      <p v-if="shelf.loaded && shelf.sources.length === 0" class="quiet small">The shelf is empty.</p>
      <p v-else-if="shelf.loaded && found.length === 0" class="quiet small">Nothing on the shelf is called that.</p>
    </v-card>
  </v-menu>
</template>

<style scoped>
.add {
  color: var(--sea);
  justify-content: flex-start;
  padding: 0 7px;
  flex: none;
}
.adding {
  padding: 10px;
  display: grid;
  gap: 8px;
}
.list {
  max-height: 320px;
  overflow-y: auto;
  padding: 0;
}
.list :deep(.v-list-item__prepend) {
  margin-inline-end: 8px;
  width: auto;
}
</style>
