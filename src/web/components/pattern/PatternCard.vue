<script setup lang="ts">
/** The colour of the pattern, when another one takes over, and the keys of the part that switch. */
import { colourPattern } from '#core/project/commands/patterns.ts';
import { isHome } from '#core/document/home-id.ts';
import { PATTERN_MARKS } from '../../canvas/palette.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ParamField from '../fields/ParamField.vue';
import SwitchRows from './SwitchRows.vue';

const project = useProject();
const session = useSession();

function colour(place: number | null): void {
  project.run('colour a pattern', colourPattern, { patternId: session.patternId, colour: place });
}
</script>

<template>
  <v-card class="card" aria-label="Colour and keys of patterns">
    <template v-if="!isHome(session.patternId)">
      <h3>Colour of this pattern</h3>
      <div class="marks" role="group" aria-label="Colour of this pattern">
        <v-btn
          v-for="(mark, place) in PATTERN_MARKS"
          :key="mark"
          class="mark"
          :class="{ on: session.pattern?.colour === place }"
          :aria-label="`colour ${place + 1}`"
          :aria-pressed="session.pattern?.colour === place"
          :style="{ background: mark }"
          @click="colour(place)"
        />
        <v-btn :disabled="session.pattern?.colour === undefined" data-tip="No colour" @click="colour(null)">none</v-btn>
      </div>
    </template>
    <ParamField :owners="[{ kind: 'song' }]" param="changesAt" label="another takes over" />
    <h3>Keys and controllers that switch</h3>
    <SwitchRows />
  </v-card>
</template>

<style scoped>
.card {
  width: 470px;
  padding: 12px 14px;
  display: grid;
  gap: 8px;
}
h3 {
  font-size: 14px;
  font-weight: 600;
}
.marks {
  display: flex;
  gap: 6px;
}
.mark.v-btn {
  min-width: 30px;
  width: 30px;
  padding: 0;
}
.mark.on {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
</style>
