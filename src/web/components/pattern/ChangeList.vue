<script setup lang="ts">
/** The items of the menu that changes strips: fetched when it is opened first. */
import { computed } from 'vue';
import { TRANSFORM_IDS, TRANSFORMS } from '#core/patterns/transforms.ts';
import { isHome } from '#core/project/schema.ts';
import { shortcuts } from '../../input/shortcuts.ts';
import { useSession } from '../../stores/session.ts';
import { useDealing } from '../../stores/dealing.ts';
import { useStripEdits } from '../../stores/strip-edits.ts';

const session = useSession();
const strips = useStripEdits();
const dealing = useDealing();
const isNone = computed(() => session.events.length === 0);
const what = computed(() => {
  const count = session.eventIds.length;
  return count === 0 ? 'all strips' : count === 1 ? 'the chosen strip' : `${count} strips`;
});
</script>

<template>
  <v-list density="compact">
    <v-list-subheader>{{ what }}</v-list-subheader>
    <v-list-item
      v-for="id in TRANSFORM_IDS"
      :key="id"
      :title="TRANSFORMS[id].words"
      :data-tip="TRANSFORMS[id].hint"
      :disabled="isNone"
      @click="strips.transform(id)"
    />
    <v-divider />
    <v-list-item
      title="swap two sounds everywhere"
      data-tip="Choose two strips, or two sounds on their keys: they change places in the whole pattern"
      :disabled="strips.pair === null"
      @click="strips.swap()"
    />
    <v-list-item
      title="go home"
      data-tip="The beats of the chosen strips play what the loop itself plays there; held strips stay"
      :data-key="shortcuts['go-home']"
      :disabled="isHome(session.patternId)"
      @click="strips.home()"
    />
    <v-list-item
      title="deal these alone"
      data-tip="The chosen strips are dealt, all others stay"
      :data-key="shortcuts['deal-chosen']"
      :disabled="session.eventIds.length === 0"
      @click="dealing.chosenAgain()"
    />
    <v-divider />
    <v-list-item
      title="copy"
      :data-key="shortcuts['copy-strips']"
      data-tip="Copy the chosen strips"
      :disabled="session.eventIds.length === 0"
      @click="strips.copy()"
    />
    <v-list-item
      title="take out"
      :data-key="shortcuts['cut-strips']"
      data-tip="Take the chosen strips out, to put them down elsewhere"
      :disabled="session.eventIds.length === 0"
      @click="strips.cut()"
    />
    <v-list-item
      title="put down"
      :data-key="shortcuts['paste-strips']"
      data-tip="At the playhead, or after what was copied; in other patterns and parts, too"
      :disabled="strips.copied === null"
      @click="strips.paste(false)"
    />
    <v-list-item
      title="put down in place"
      :data-key="shortcuts['paste-in-place']"
      data-tip="Where the strips were, in this pattern"
      :disabled="strips.copied === null"
      @click="strips.paste(true)"
    />
  </v-list>
</template>
