<script setup lang="ts">
/** One sound in the table of the shelf: drawn anew only when something of it changes, since thousands scroll by. */
import type { SourceSummary } from '../../api/client.ts';
import { secondsOf } from '../../audio/library.ts';
import HearButton from '../shared/HearButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { whenWords } from './shelf-words.ts';

const { source, songTempo } = defineProps<{
  source: SourceSummary;
  isCursor: boolean;
  isChosen: boolean;
  isPlaying: boolean;
  /** Tempo that it is heard in, where that is another than its own. */
  songTempo: number | null;
}>();
defineEmits<{ choose: [event: MouseEvent]; hear: [] }>();

/** Half and double are told apart at two digits. */
const tempoWords = (bpm: number) => bpm.toFixed(2);
</script>

<template>
  <tr class="sound" :class="{ cursor: isCursor }" :aria-current="isCursor || undefined" :data-id="source.id">
    <td>
      <v-checkbox-btn
        :model-value="isChosen"
        density="compact"
        :aria-label="`Choose ${source.name}`"
        @click.stop="$emit('choose', $event)"
        @dblclick.stop
      />
    </td>
    <td>
      <HearButton :name="source.name" :playing="isPlaying" @click.stop="$emit('hear')" @dblclick.stop />
    </td>
    <td>
      <span class="sky"><SkylineMini :levels="source.facts.skyline" /></span>
    </td>
    <td>
      <b class="one-line name">{{ source.name }}</b>
    </td>
    <td>
      <span class="tags"
        ><span v-for="tag in source.tags" :key="tag" class="tag">{{ tag }}</span></span
      >
    </td>
    <td class="end mono">{{ source.facts.tempo?.bars ?? '' }}</td>
    <td class="end">
      <span v-if="source.facts.tempo" class="mono">
        <template v-if="songTempo !== null"
          ><span class="quiet">{{ tempoWords(source.facts.tempo.bpm) }} → </span
          ><b>{{ tempoWords(songTempo) }}</b></template
        ><template v-else>{{ tempoWords(source.facts.tempo.bpm) }}</template>
      </span>
    </td>
    <td class="end">
      <span class="mono">{{ secondsOf(source).toFixed(3) }}</span> s
    </td>
    <td class="end mono">{{ source.sampleRate / 1000 }}</td>
    <td class="end">{{ whenWords(source.createdAt) }}</td>
  </tr>
</template>

<style scoped>
.sound {
  cursor: default;
}
.sound:hover {
  background: var(--sea-wash);
}
.sound.cursor {
  background: var(--sea-wash);
  box-shadow: inset 0 0 0 1.5px var(--sea);
}
.end {
  text-align: end;
}
.sky {
  display: block;
  height: 20px;
  width: 84px;
  border-bottom: 1px solid var(--ink);
}
.name {
  display: block;
  font-weight: 600;
}
@media (max-width: 859px) {
  .name {
    max-width: 50vw;
  }
}
.tags {
  display: flex;
  gap: 4px;
}
/* Only told, not pressed: many rows of chips take their time. */
.tag {
  height: 20px;
  padding: 0 7px;
  border: 1px solid var(--rule);
  border-radius: 10px;
  font-size: 12px;
  line-height: 18px;
}
</style>
