<script setup lang="ts">
/** An empty bench: what to do first, and sounds of the shelf to try it with. */
import { useFileDialog } from '@vueuse/core';
import { computed, onMounted } from 'vue';
import { AUDIO_FILES, useImports } from '../../stores/shelf/imports.ts';
import { usePreview } from '../../stores/sound/preview.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { ICONS } from '../../theme/icons.ts';
import { tip } from '../../input/shortcuts.ts';
import HearButton from '../shared/HearButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';

const imports = useImports();
const shelf = useShelf();
const preview = usePreview();
const MAX_OFFERED = 4;
const { open, onChange } = useFileDialog({ accept: AUDIO_FILES, multiple: true, reset: true });
onChange((files) => void imports.importFiles([...(files ?? [])], true));
const offered = computed(() => shelf.sources.filter(({ facts }) => facts.tempo).slice(0, MAX_OFFERED));
onMounted(() => {
  if (!shelf.loaded) void shelf.refresh();
});

function take(id: string, name: string): void {
  preview.stopPreview();
  void imports.addSource(id, name);
}
</script>

<template>
  <div class="steps">
    <p class="big">Drop a loop here.</p>
    <v-btn class="strong" :prepend-icon="ICONS.import" data-testid="first-files" @click="open()">Choose files …</v-btn>
    <ol>
      <li>It is cut at its hits and read for its tempo. WAV, FLAC, MP3, Ogg and AIFF.</li>
      <li>{{ tip('play', 'Play') }}, and press letters: z, s, x, d … play its slices.</li>
      <li>{{ tip('deal', 'Deal') }} shuffles it into a new pattern; the old one stays.</li>
    </ol>
    <v-btn to="/guide">From a loop to a piece, on one page</v-btn>
    <template v-if="offered.length > 0">
      <p class="quiet">Or try one from the shelf:</p>
      <ul class="offers" data-testid="offers">
        <li v-for="source in offered" :key="source.id">
          <HearButton
            :name="source.name"
            :playing="preview.previewId === source.id"
            @click="preview.preview(source.id)"
          />
          <span class="sky"><SkylineMini :levels="source.facts.skyline" /></span>
          <v-btn :aria-label="`Cut ${source.name}`" @click="take(source.id, source.name)">
            <span class="one-line">{{ source.name }}</span>
          </v-btn>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.steps {
  flex: 1;
  display: grid;
  place-content: center;
  justify-items: center;
  gap: 14px;
  margin: 6px 0;
  border: 2px dashed var(--rule);
  padding: 20px;
  overflow-y: auto;
}
.big {
  font-size: 26px;
  font-weight: 680;
}
ol {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 4px;
}
.offers {
  display: grid;
  gap: 6px;
}
.offers li {
  display: grid;
  grid-template-columns: auto 140px minmax(120px, auto);
  gap: 10px;
  align-items: center;
}
.sky {
  height: 24px;
  border-bottom: 1px solid var(--ink);
}
</style>
