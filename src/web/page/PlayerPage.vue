<script setup lang="ts">
/** The page that plays: play, tempo, parts to switch, deal and mute, and the keys of one part on the letters. */
import { useEventListener } from '@vueuse/core';
import { computed, ref } from 'vue';
import { setValue } from '#core/project/commands/values.ts';
import { SONG_ROWS } from '#core/params/tables.ts';
import { partValues, songValues } from '#core/queries/values.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { sliceColours } from '../canvas/palette.ts';
import { lettersFrom, typingKeyOffset } from '../devices/typing-keys.ts';
import { ICONS } from '../theme/icons.ts';
import type { Held } from './held.ts';
import PagePart from './PagePart.vue';
import { usePlayer } from './player.ts';

const { held } = defineProps<{ held: Held }>();
const player = usePlayer(held);
const { document } = player;
// For who listens from outside, as in the application.
Object.assign(window, { yappa: { engine: player.engine, document: () => document.value } });

const parts = computed(() => document.value.partOrder.map((id) => document.value.parts[id]!));
const chosenId = ref(document.value.partOrder[0] ?? '');
const chosen = computed(() => document.value.parts[chosenId.value] ?? null);
const startKey = computed(() => (chosen.value ? partValues(chosen.value).startKey : 0));
const keys = computed(() => {
  if (!chosen.value) return [];
  const letters = lettersFrom(startKey.value);
  const zones = zonesOfPart(document.value, chosen.value).filter(({ keys: on }) => on !== null);
  const colours = sliceColours(zones.map(({ at }) => at.slice.brightnessHz));
  return zones.map(({ at, keys: on }, place) => ({
    key: on!.root,
    label: at.label,
    letter: letters.get(on!.root) ?? '',
    colour: colours[place]!,
  }));
});
const song = computed(() => songValues(document.value));
const tempo = ref(song.value.tempoBpm.toFixed(2));

function putTempo(): void {
  const to = Number(tempo.value.replace(',', '.'));
  const { min, max } = SONG_ROWS.tempoBpm;
  if (to >= min && to <= max) player.run(setValue, { owners: [{ kind: 'song' }], param: 'tempoBpm', change: { to } });
  tempo.value = song.value.tempoBpm.toFixed(2);
}

const isTyping = (event: KeyboardEvent) => event.target instanceof HTMLInputElement;
useEventListener(window, 'keydown', (event) => {
  if (isTyping(event) || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.code === 'Space') {
    event.preventDefault();
    if (player.playing.value) player.stop();
    else void player.play();
    return;
  }
  const offset = typingKeyOffset(event.code);
  if (offset !== null && chosen.value) player.press(event.code, chosen.value.id, startKey.value + offset);
});
useEventListener(window, 'keyup', ({ code }) => player.letGo(code));
useEventListener(window, 'blur', () => keys.value.forEach(({ key }) => player.letGo(`pad ${key}`)));
</script>

<template>
  <v-app class="page">
    <main>
      <header>
        <v-btn
          class="play"
          :icon="player.playing.value ? ICONS.stop : ICONS.play"
          :aria-label="player.playing.value ? 'Stop' : 'Play'"
          :aria-pressed="player.playing.value"
          data-testid="page-play"
          @click="player.playing.value ? player.stop() : player.play()"
        />
        <h1>{{ document.name }}</h1>
        <v-text-field
          v-model="tempo"
          class="tempo"
          aria-label="tempo"
          suffix="bpm"
          inputmode="decimal"
          @keydown.enter="putTempo"
          @blur="putTempo"
        />
        <v-btn
          v-if="player.hasOrder.value"
          :aria-pressed="player.followsOrder.value"
          @click="player.follow(!player.followsOrder.value)"
          >along the running order</v-btn
        >
        <span v-if="player.missing.value > 0" class="quiet"
          >{{ player.missing.value }} slices are still being made</span
        >
        <span class="quiet" role="status">{{ player.words.value }}</span>
      </header>
      <PagePart
        v-for="part in parts"
        :key="part.id"
        :part="part"
        :player="player"
        :chosen="part.id === chosenId"
        @choose="chosenId = part.id"
      />
      <section v-if="chosen" class="keys" :aria-label="`Keys of ${chosen.name}`">
        <p class="quiet">{{ chosen.name }} on the letters; Space plays and stops.</p>
        <div class="pads">
          <v-btn
            v-for="one in keys"
            :key="one.key"
            class="pad"
            :style="{ borderBottom: `5px solid ${one.colour}` }"
            :aria-label="`Play ${one.label}`"
            @pointerdown="player.press(`pad ${one.key}`, chosen.id, one.key)"
            @pointerup="player.letGo(`pad ${one.key}`)"
            @pointerleave="player.letGo(`pad ${one.key}`)"
          >
            <span class="letter">{{ one.letter }}</span>
            <span class="label">{{ one.label }}</span>
          </v-btn>
        </div>
      </section>
      <footer class="quiet">Made with yappa. Nothing of it leaves this page.</footer>
    </main>
  </v-app>
</template>

<style scoped>
.page {
  background: var(--paper);
  color: var(--ink);
}
main {
  max-width: 980px;
  margin: 0 auto;
  padding: 14px 16px 30px;
  width: 100%;
}
header {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
  padding-bottom: 12px;
  border-bottom: 2px solid var(--ink);
}
h1 {
  font-size: 24px;
  margin-right: auto;
}
.play.v-btn {
  width: 54px;
  height: 42px;
  background: var(--signal);
  color: #fff;
}
.tempo {
  flex: none;
  width: 120px;
}
.keys {
  padding-top: 14px;
}
.pads {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
}
.pad.v-btn.v-btn--density-default {
  width: 88px;
  height: 52px;
  padding: 2px 6px;
  background: var(--sheet);
  color: var(--ink);
  touch-action: none;
}
.pad :deep(.v-btn__content) {
  display: grid;
  width: 100%;
}
.letter {
  font-family: var(--mono);
  font-size: 15px;
}
.label {
  font-size: 11px;
  overflow: hidden;
  text-overflow: ellipsis;
}
footer {
  margin-top: 20px;
  font-size: 12px;
}
</style>
